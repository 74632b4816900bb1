#pragma once

/// A plan that is being carried out, as a callable.

#include <vector>

#include "vast_turn/plan/plan.hpp"
#include "vast_turn/runtime/machine.hpp"

namespace vast_turn {

/// Carries out a plan: `void(const Look&, Answer&)`, one call a look. Holds the memory that the
/// runtime needs and keeps the plan alive. Each run wants a Mind of its own; a copy goes on from
/// where the original stands.
class Mind {
public:
    explicit Mind(const Plan& plan);
    Mind(const Mind& other);
    Mind& operator=(const Mind& other);
    ~Mind() = default;

    void operator()(const Look& in, Answer& out) { machine_.look(in, out); }

    const Plan& plan() const { return plan_; }
    const runtime::Machine& machine() const { return machine_; }
    /// See runtime::Machine::follow; a copy of this mind follows nothing.
    void follow(runtime::Follower* follower) { machine_.follow(follower); }

private:
    runtime::Storage storage();

    Plan plan_;
    std::vector<runtime::WatchState> watches_;
    std::vector<runtime::Frame> frames_;
    std::vector<double> cells_;
    runtime::Machine machine_;
};

} // namespace vast_turn
