#pragma once

/// What a plan that is being carried out remembers, for people to read.

#include <string>
#include <utility>
#include <vector>

#include "vast_turn/plan/mind.hpp"

namespace vast_turn {

/// A block in hand.
struct BlockState {
    std::string block;
    std::vector<std::pair<std::string, std::string>> arguments; ///< names and values with their units
    double ms = 0.0;                                            ///< since it began, without what a `hold` took
    double way_mm = 0.0;                                        ///< net way since then
    double turned_deg = 0.0;                                    ///< net turn since then, counter-clockwise
    RuleId item;          ///< of an errand: the item in hand; no_rule behind the last, and of a habit
    std::string progress; ///< of an item with `over`: "35mm of 60mm"
};

/// A pid of a block in hand.
struct PidState {
    std::string text;   ///< as written
    int line = 0;       ///< of the plan's text, from 1
    double error = 0.0; ///< when it was asked last
    double sum = 0.0;   ///< its integral: error times seconds
    double value = 0.0; ///< what it gave last
};

/// All of it behind a look.
struct PlanState {
    std::vector<BlockState> blocks;                        ///< the first block first; none before the first look
    std::vector<std::pair<std::string, std::string>> vars; ///< names and values with their units
    std::vector<PidState> pids;                            ///< that were asked at least once
};

/// As the mind stands behind its last look, which is given.
PlanState state_of(const Mind& mind, const Look& look);

} // namespace vast_turn
