#pragma once

/// Route tests: did the robot go where the trip says, and if not, where and why did it part?

#include <optional>
#include <string>
#include <vector>

#include "vast_turn/plan/plan.hpp"
#include "vast_turn/sim/run.hpp"

namespace vast_turn {

/// The moment that decided that a run went another way than the trip expected.
struct Parting {
    std::size_t look = 0; ///< index into Run::looks
    double t_s = 0.0;
    Vec2 at;                    ///< the point midway between the wheels
    std::string after;          ///< the place (or start) that was reached last as expected
    std::string expected;       ///< the place that should have come next, or how it should have ended
    std::string instead;        ///< the place that came, or how the run ended
    std::string junction;       ///< the junction at which the ways part; empty when it was at none
    std::string side;           ///< from where it came to it: "south"
    std::string expected_way;   ///< "right", "exit 2": by which it should have left; empty when it is not told
    std::string taken_way;      ///< by which it left
    int rule = -1;              ///< the rule that acted, index into Plan::rules(); -1 for none
    std::vector<int> called_by; ///< rules and items that called the blocks in hand, the innermost block's first
    Pattern pattern;            ///< what the array saw
    std::vector<int> held_too;  ///< rules of the same habit that held as well but stand behind it
};

/// What came of one trip.
struct TripResult {
    Trip trip;
    Run run;
    bool passed = false;
    std::vector<std::string> failures; ///< one sentence each; empty when it passed
    std::optional<Parting> parting;    ///< when it failed
};

/// Drives a trip with a plan once, from its first start, and judges it. The trip's start, time and off-course limit
/// replace those of `options`. Further starts, variants and repeats are for cases_of() and whoever drives them all.
/// Throws InputError as drive() does, and when the trip names a start, a place or a junction that the course lacks.
TripResult take_trip(const Scene& scene, const Plan& plan, const Trip& trip, const RunOptions& options = {});

/// The same without looking for what decided: no parting. For whoever only asks whether it passes.
TripResult judge_trip(const Scene& scene, const Plan& plan, const Trip& trip, const RunOptions& options = {});

/// As judge_trip(), but from look `from_look` on another plan decides, with the memory that it has after the looks so
/// far (it is asked at each, what it answers is not done). Both plans must ask for the same markers, colour sensors and
/// heard names, in the same order.
TripResult take_trip(const Scene& scene, const Plan& plan, const Plan& then, std::size_t from_look, const Trip& trip,
                     const RunOptions& options = {});

/// How far a result is as its trip expects: places or choices from the first on that came as expected, and one more
/// when it passed.
std::size_t as_expected(const Scene& scene, const TripResult& result);

/// What a parting says, as sentences for people: where and when, which rule, what else held.
std::vector<std::string> explain(const Plan& plan, const Parting& parting);

/// The looks up to the deciding one, pattern by pattern: the last five rows of equal looks, each with when it began,
/// how many looks it lasted, the pattern and the rule that acted. Empty without a parting.
std::vector<std::string> looks_before(const Plan& plan, const TripResult& result);

/// Places visited by a run, by name.
std::vector<std::string> route_of(const Course& course, const Run& run);

} // namespace vast_turn
