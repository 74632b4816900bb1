#pragma once

/// One trip driven once: did the robot go where the trip says, and if not, where and why did it part?

#include <cstddef>
#include <optional>
#include <string>
#include <vector>

#include "vast_turn/sim/run.hpp"
#include "vast_turn/trial/matched_route.hpp"
#include "vast_turn/trial/parting.hpp"
#include "vast_turn/trial/pilot.hpp"
#include "vast_turn/trial/trip.hpp"

namespace vast_turn {

/// What came of one trip.
struct TripResult {
    /// As it was given.
    Trip trip;
    Run run;
    /// Whether all was as the trip says.
    bool passed = false;
    std::vector<std::string> failures; ///< one sentence each; empty when it passed
    /// The run matched to the lines; only where judging or explaining it needed that.
    std::optional<MatchedRoute> route;
    /// How far it went as expected: places and choices from the first on that came as expected, and one more when it
    /// passed. For comparing runs of one trip.
    std::size_t as_expected = 0;
    /// What decided. None when it passed, when it was not asked for, and when the run ended before its first look (a
    /// start off the tape, say).
    std::optional<Parting> parting;
};

/// Drives a trip once, from its first start, judges it, and finds what decided when it failed. The trip's start, time
/// and off-course limit replace those of `options`. Further starts, variants and repeats are for cases_of() and
/// take_trips().
/// Throws InputError as drive() does, and when the trip names a start, a place or a junction that the course lacks.
TripResult take_trip(const Scene& scene, const Pilot& pilot, const Trip& trip, const RunOptions& options = {});

/// The same without finding what decided: for whoever only asks whether it passes.
TripResult try_trip(const Scene& scene, const Pilot& pilot, const Trip& trip, const RunOptions& options = {});

/// Takes what came of a trip by the number of its options; it is the taker's.
using TakeTrip = std::function<void(std::size_t number, TripResult& result)>;

/// try_trip() with each of the options, several side by side on this thread: each is given away when it is over, in no
/// order. What each is does not depend on the others. `goes_on` is asked before each of them begins.
void try_trips(const Scene& scene, const Pilot& pilot, const Trip& trip, const std::vector<RunOptions>& options,
               const TakeTrip& take, const std::function<bool()>& goes_on = {});

/// So many runs further on each: nth_run() from `first` on.
std::vector<RunOptions> runs_from(const RunOptions& options, std::uint64_t first, std::size_t count);

/// Drives a trip and judges it; from look `from_look` on another plan decides, with the memory that it has after the
/// looks so far (it is asked at each, what it answers is not done). Both plans must ask for the same markers, colour
/// sensors and heard names, in the same order.
TripResult try_trip_changed(const Scene& scene, const Plan& plan, const Plan& then, std::size_t from_look,
                            const Trip& trip, const RunOptions& options = {});

/// Judges a run that was made in some other way, a recorded one say: places, choices, ending. Its looks are needed
/// where the trip expects choices. Throws InputError when the trip names a place or a junction that the course lacks.
TripResult judge(const Scene& scene, const Trip& trip, Run run);

/// Finds what decided in a failed run with its looks, and puts it into the result. `options` are those with which the
/// run was made. Does nothing when it passed or has no looks.
///
/// `thorough`: a plan is driven again with other decisions, hundreds of times, to find which it was (under a second);
/// otherwise that is told by nearness alone. `threads` 0: as many as there are; the result is the same.
void find_parting(const Scene& scene, const Pilot& pilot, TripResult& result, const RunOptions& options = {},
                  bool thorough = true, int threads = 0);

/// Places visited by a run, by name.
std::vector<std::string> route_of(const Course& course, const Run& run);

} // namespace vast_turn
