#pragma once

/// A log held against a plan: would the plan have done the same?

#include <cstddef>
#include <optional>
#include <vector>

#include "vast_turn/plan/explain/asker.hpp"

namespace vast_turn {

/// One logged look.
struct LoggedLook {
    Look look;
    std::optional<double> left_pct; ///< what was logged
    std::optional<double> right_pct;
};

/// What the plan decides in one logged look.
struct LogDecision {
    /// What the plan would have done.
    Answer answer;
    bool differs = false; ///< a logged power is farther off than the tolerance
};

struct LogCheck {
    std::vector<LogDecision> decisions; ///< look by look
    std::size_t compared = 0;           ///< looks with a logged power
    /// Of those, how many differ.
    std::size_t differing = 0;
    std::optional<std::size_t> first; ///< index of the first look that differs
    std::optional<Reply> first_reply; ///< that look in full
};

/// Carries the plan through the log from its beginning, computing with this kind of numbers. Powers that are not logged
/// are not compared.
LogCheck check_log(const Plan& plan, const std::vector<LoggedLook>& log, double tolerance_pct = 0.5,
                   runtime::NumberKind numbers = runtime::NumberKind::binary64);

} // namespace vast_turn
