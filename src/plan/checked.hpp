#pragma once

/// A plan whose names, types and units are right, laid out for compiling.

#include <string>
#include <vector>

#include "plan/syntax.hpp"

namespace vast_turn::lang {

/// A habit with its twins written out and the rules of other habits in place of `as`.
struct LaidBlock {
    std::string name;
    std::vector<Rule> rules;
};

struct CheckedPlan {
    std::string name;
    int sensors = 0;
    std::vector<std::string> markers;
    std::vector<double> weights; // empty when the plan gives none
    std::vector<LaidBlock> blocks;
    Source source;

    explicit CheckedPlan(const Source& text) : source(text) {}
};

/// Checks names, types, units and structure; fills `out` as far as it can. Without an error in
/// `problems` it can be compiled.
void check(PlanTree tree, CheckedPlan& out, Problems& problems);

/// The twin of a checked rule: left and right exchanged.
Rule mirror_image(const Rule& rule, int sensors);

} // namespace vast_turn::lang
