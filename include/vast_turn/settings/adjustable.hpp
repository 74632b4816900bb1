#pragma once

/// Numbers of a plan that can be changed on the running robot, without building its program anew.

#include <string>
#include <vector>

#include "vast_turn/plan/plan.hpp"
#include "vast_turn/settings/setting.hpp"

namespace vast_turn {

/// A `let` whose comment says what it may be: `let cruise = 47 // may be 36..84`.
struct AdjustableLet {
    std::string name;
    WrittenNumber now;   ///< as the plan has it
    double least = 0.0;  ///< what its comment allows, in the unit in which it is written
    double most = 0.0;   ///< likewise
    double factor = 1.0; ///< mm, ms or degrees of one of its unit; 1 of a plain number
};

/// A plan whose adjustable lets are vars that nothing in it changes: it decides as the plan does until one of them is
/// given another value from outside.
struct AdjustablePlan {
    Plan plan;
    std::vector<AdjustableLet> lets; ///< in their order; each is a var of the plan
    /// Lets whose comments allow other values and that must stay as they are: others are reckoned from them, or they
    /// stand where the language wants a constant.
    std::vector<std::string> fixed;
};

/// Makes one of a plan's text. Throws InputError when the text does not compile, or a comment allows what is no range
/// of numbers. Warnings of the plan as it is written are appended.
AdjustablePlan adjustable_plan(const std::string& text, const std::string& file,
                               std::vector<Problem>* warnings = nullptr);

} // namespace vast_turn
