#include "vast_turn/plan/mind.hpp"

namespace vast_turn {

Mind::Mind(const Plan& plan)
    : plan_(plan), watches_(plan.tables().watches.size()), machine_(plan_.tables().view(), watches_.data()) {}

Mind::Mind(const Mind& other) : plan_(other.plan_), watches_(other.watches_), machine_(other.machine_) {
    machine_.attach(watches_.data());
    machine_.follow(nullptr);
}

Mind& Mind::operator=(const Mind& other) {
    if (this != &other) {
        plan_ = other.plan_;
        watches_ = other.watches_;
        machine_ = other.machine_;
        machine_.attach(watches_.data());
        machine_.follow(nullptr);
    }
    return *this;
}

} // namespace vast_turn
