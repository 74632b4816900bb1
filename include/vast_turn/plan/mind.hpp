#pragma once

/// A plan that is being carried out, as a callable.

#include <vector>

#include "vast_turn/plan/plan.hpp"
#include "vast_turn/runtime/machine.hpp"

namespace vast_turn {

/// Carries out a plan: `void(const Look&, Answer&)`, one call a look. Holds the memory that the
/// runtime needs and keeps the plan alive. Each run wants a Mind of its own; a copy goes on from
/// where the original stands.
///
///     Mind mind(plan);
///     Answer answer;
///     mind(look, answer); // then drive answer.left_pct and answer.right_pct
///
/// A look takes no heap and cannot fail; what cannot be decided is an event of the answer.
class Mind {
public:
    /// Before the first look of a plan; `numbers` says how it computes.
    explicit Mind(const Plan& plan, runtime::NumberKind numbers = runtime::NumberKind::binary64);
    /// A copy with memory of its own.
    Mind(const Mind& other);
    Mind& operator=(const Mind& other);
    /// One that was moved from may only be assigned to, or go.
    Mind(Mind&& other) noexcept;
    Mind& operator=(Mind&& other) noexcept;
    ~Mind() = default;

    /// Decides one look; looks must come in the order of their clocks.
    void operator()(const Look& in, Answer& out) { machine_.look(in, out); }

    /// What it carries out, and the machine that does; both as long as the mind lives.
    const Plan& plan() const { return plan_; }
    const runtime::Machine& machine() const { return machine_; }
    /// Gives a var another value, in mm, ms and degrees; a truth is 1 or 0, a side 1 (left) or -1. `var` is its number
    /// in Plan::vars().
    void set_var(std::size_t var, double value);
    /// See runtime::Machine::follow; a copy of this mind follows nothing.
    void follow(runtime::Follower* follower) { machine_.follow(follower); }

private:
    /// Views of the memory below.
    runtime::Storage storage();

    Plan plan_;
    /// The machine's memory.
    std::vector<runtime::WatchState> watches_;
    std::vector<runtime::Frame> frames_;
    std::vector<double> cells_;
    runtime::Machine machine_;
};

} // namespace vast_turn
