#include "vast_turn/plan/mind.hpp"

#include <utility>

namespace vast_turn {

namespace {

runtime::Program program_of(const Plan& plan, runtime::NumberKind numbers) {
    runtime::Program program = plan.tables().view();
    program.numbers = numbers;
    return program;
}

} // namespace

Mind::Mind(const Plan& plan, runtime::NumberKind numbers)
    : plan_(plan), watches_(plan.tables().watches.size()), frames_(plan.tables().frames), cells_(plan.tables().cells),
      machine_(program_of(plan_, numbers), storage()) {}

Mind::Mind(const Mind& other)
    : plan_(other.plan_), watches_(other.watches_), frames_(other.frames_), cells_(other.cells_),
      machine_(other.machine_) {
    machine_.attach(storage());
    machine_.follow(nullptr);
}

Mind& Mind::operator=(const Mind& other) {
    if (this != &other) {
        plan_ = other.plan_;
        watches_ = other.watches_;
        frames_ = other.frames_;
        cells_ = other.cells_;
        machine_ = other.machine_;
        machine_.attach(storage());
        machine_.follow(nullptr);
    }
    return *this;
}

Mind::Mind(Mind&& other) noexcept
    : plan_(std::move(other.plan_)), watches_(std::move(other.watches_)), frames_(std::move(other.frames_)),
      cells_(std::move(other.cells_)), machine_(other.machine_) {
    machine_.attach(storage());
    machine_.follow(nullptr);
}

Mind& Mind::operator=(Mind&& other) noexcept {
    if (this != &other) {
        plan_ = std::move(other.plan_);
        watches_ = std::move(other.watches_);
        frames_ = std::move(other.frames_);
        cells_ = std::move(other.cells_);
        machine_ = other.machine_;
        machine_.attach(storage());
        machine_.follow(nullptr);
    }
    return *this;
}

void Mind::set_var(std::size_t var, double value) {
    const bool is_short = machine_.program().numbers == runtime::NumberKind::binary32;
    cells_.at(var) = is_short ? static_cast<double>(static_cast<float>(value)) : value;
}

runtime::Storage Mind::storage() { return {watches_.data(), frames_.data(), cells_.data()}; }

} // namespace vast_turn
