#pragma once

/// Where and why a run parted from the way that its trip expects.

#include <cstddef>
#include <string>
#include <vector>

#include "vast_turn/base/geometry.hpp"
#include "vast_turn/sense/pattern.hpp"
#include "vast_turn/sim/run.hpp"
#include "vast_turn/trial/pilot.hpp"

namespace vast_turn {

/// A decision by which a run could have gone on as expected, had it been another.
struct Decision {
    std::size_t look = 0;  ///< index into Run::looks
    RuleId rule;           ///< the rule or item that decided; no_rule when none held
    RuleId better;         ///< acting in its place it brings the robot on; no_rule when it is something else that does
    std::string otherwise; ///< with what it goes on as expected: "line 10 acting in its place"
};

/// An `if` of an errand that was asked before a parting.
struct AskedIf {
    std::size_t look = 0; ///< index into Run::looks
    double t_s = 0.0;
    RuleId item; ///< in Plan::rules()
    bool holds = false;
    std::string because; ///< of one that did not hold: why, "nth is 1"
};

/// The moment that decided that a run went another way than the trip expected.
struct Parting {
    std::size_t look = 0;     ///< index into Run::looks
    std::size_t left_way = 0; ///< index of the last look on the expected way; of the deciding one when no way is told
    double t_s = 0.0;
    Vec2 at;                         ///< the point midway between the wheels
    std::string after;               ///< the place (or start) that was reached last as expected
    std::string expected;            ///< the place that should have come next, or how it should have ended
    std::string instead;             ///< the place that came, or how the run ended
    std::string junction;            ///< the junction at which the ways part; empty when it was at none
    std::string side;                ///< from where it came to it: "south"
    std::string expected_way;        ///< "right", "exit 2": by which it should have left; empty when it is not told
    std::string taken_way;           ///< by which it left
    RuleId rule;                     ///< the rule that acted; no_rule for none
    std::vector<RuleId> called_by;   ///< rules and items that called the blocks in hand, the innermost block's first
    Pattern pattern;                 ///< what the array saw
    RuleId better;                   ///< as in Decision
    std::string otherwise;           ///< likewise; empty when no decision was found that would have put it right
    std::vector<Decision> decisions; ///< those found; the one that is told is among them
    /// What was taken before for something else, as sentences: the edge of a plate for a marker of another colour, a
    /// plain line or a plate for a junction, a junction for two, a junction that was not counted.
    std::vector<std::string> misread;
    std::vector<AskedIf> asked;   ///< the last ifs before it, as they were asked
    std::vector<RuleId> held_too; ///< rules of the same habit that held as well but stand behind it
};

/// What a parting says, as sentences for people: where and when, which rule, what else held. Of own code no rules.
std::vector<std::string> explain(const Pilot& pilot, const Parting& parting);

/// The looks of a run up to the deciding one, pattern by pattern: the last five rows of equal looks, each with when it
/// began, how many looks it lasted, the pattern and the rule that acted. Empty when no looks were kept.
std::vector<std::string> looks_before(const Pilot& pilot, const Run& run, const Parting& parting);

/// The looks after the deciding one likewise, the first three rows.
std::vector<std::string> looks_after(const Pilot& pilot, const Run& run, const Parting& parting);

} // namespace vast_turn
