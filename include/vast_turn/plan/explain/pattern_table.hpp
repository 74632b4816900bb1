#pragma once

/// The pattern table of a plan: for every pattern that the array can see, what each habit does.

#include <optional>
#include <string>
#include <vector>

#include "vast_turn/plan/plan.hpp"
#include "vast_turn/sense/pattern.hpp"

namespace vast_turn {

/// Wheel powers in percent, positive forward.
struct Wheels {
    /// -100 to 100, kept within that.
    double left_pct = 0.0;
    double right_pct = 0.0;

    friend constexpr bool operator==(const Wheels&, const Wheels&) = default;
};

/// One thing that may happen for a pattern.
struct TableEntry {
    RuleId rule;                  ///< which acts
    std::string when;             ///< what else must hold; empty when the pattern alone decides
    std::string does;             ///< the acts as written
    std::optional<Wheels> wheels; ///< powers, when they do not depend on anything measured
    /// Powers when each sensor reads exactly 0 or 1, where they depend on the readings alone.
    std::optional<Wheels> crisp;
    bool halts = false;        ///< the plan ends
    bool keeps_motion = false; ///< the rule gives no motion, or `keep`
    /// Where the look goes on in another block: its name, and of an errand the item with which it begins, as written.
    std::string goes_to;
    std::string begins_with;
    /// The powers of that item, when they do not depend on anything measured.
    std::optional<Wheels> begins_wheels;
};

/// All that may happen for a pattern, in the order in which it is tested. The last entry has an
/// empty `when`, unless no rule is sure to hold.
struct TableRow {
    Pattern pattern;
    std::vector<TableEntry> entries;
    bool may_be_unanswered = false; ///< there is a case in which no rule holds
};

struct HabitTable {
    /// Its name in the plan.
    std::string habit;
    std::vector<TableRow> rows; ///< every pattern once, by the number of sensors that see line, then from the left
};

/// Tables of all habits in the order of the plan; errands and guards have none. `weights` are those of the sensors for
/// `offset` (position_weights of a robot); evenly spaced sensors when there are none.
std::vector<HabitTable> pattern_tables(const Plan& plan, const std::vector<double>& weights = {});

/// How many entries stand first in every row alike, each with a `when`: what comes before all else whatever is seen,
/// and is told once for a whole table.
std::size_t common_cases(const HabitTable& table);

/// Rows in which the same happens for the same reasons.
struct RowGroup {
    std::vector<Pattern> patterns; ///< in the order of the table
    const TableRow* row = nullptr; ///< one of them; lives as long as the table
};

/// The rows of a table by what happens, in the order in which each first comes. Powers that depend on
/// the readings set rows apart.
std::vector<RowGroup> grouped(const HabitTable& table);

/// The rules of the block of rule `acting` that hold for this pattern too but stand behind it: only
/// their place in the text kept them from acting. Rules that need more than the pattern are left out.
std::vector<RuleId> also_holding(const Plan& plan, RuleId acting, Pattern pattern);

/// The powers that a rule gives when they are constant.
std::optional<Wheels> constant_wheels(const Plan& plan, RuleId rule);

} // namespace vast_turn
