#pragma once

/// How odd a plan is in itself.

#include "vast_turn/plan/plan.hpp"

namespace vast_turn {

/// Counts what is seldom meant: patterns that no rule answers, rules that no pattern reaches, a pattern to whose mirror
/// image the plan does something else than the mirror image, wheels that steer away from the line that is seen,
/// powers written with a minus, vars that are never set, ifs that ask what an earlier one of their errand asks. Plans
/// of people have some of each; of two changes that both mend a trip, one that makes the plan less odd is likelier the
/// slip undone, and one that makes it odder less likely.
int oddness(const Plan& plan);

/// How little of a plan's text repeats what stands before it: the number of its words' parts of which each is the
/// shortest not seen before (Lempel and Ziv, On the complexity of finite sequences, IEEE Transactions on Information
/// Theory 22, 1976). Left and right are one word, and so are all markers: there repeating is the slip. Of two changes
/// the one with which a plan says more of the same in the same words is likelier meant.
int irregularity(const Plan& plan);

} // namespace vast_turn
