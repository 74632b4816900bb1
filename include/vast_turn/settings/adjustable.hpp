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

/// A let that is reckoned from others.
struct ReckonedLet {
    std::string name;
    double value = 0.0; ///< in `unit`, as Mind::set_var() takes it
    std::string unit;   ///< "mm", "deg/ms"; empty of a plain number, a side (-1 left, 1 right) and a truth (0, 1)
};

/// A plan whose adjustable lets are vars that nothing in it changes: it decides as the plan does until one of them is
/// given another value from outside.
struct AdjustablePlan {
    Plan plan;
    std::vector<AdjustableLet> lets; ///< in their order; each is a var of the plan
    /// Lets that are reckoned from those, vars too. Who gives one of `lets` another value gives these what
    /// reckoned_with() says.
    std::vector<ReckonedLet> reckoned;
    /// Lets whose comments allow other values and that must stay as they are: they, or others that are reckoned from
    /// them, stand where the language wants a constant.
    std::vector<std::string> fixed;
};

/// Makes one of a plan's text. Throws InputError when the text does not compile, or a comment allows what is no range
/// of numbers. Warnings of the plan as it is written are appended.
AdjustablePlan adjustable_plan(const std::string& text, const std::string& file,
                               std::vector<Problem>* warnings = nullptr);

/// What the lets that are reckoned from adjustable ones come to when these are set: as `reckoned` of the text with the
/// settings written into it. Throws InputError when it does not compile with them, a division by zero for example, and
/// when a setting names none of its lets.
std::vector<ReckonedLet> reckoned_with(const std::string& text, const std::string& file,
                                       const std::vector<Setting>& settings);

} // namespace vast_turn
