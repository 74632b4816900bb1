#pragma once

/// Tunings whose best is known: what a run would do, as a formula.

#include <cstdint>
#include <functional>
#include <string>
#include <vector>

#include "vast_turn/tune/tune.hpp"

namespace fixtures {

struct PlantedTuning {
    std::string name;
    std::vector<vast_turn::TuneNumber> numbers;
    vast_turn::TuneValues start;
    std::size_t trips = 1;
    /// Time of a run on an ordinary day, seconds.
    std::function<double(const vast_turn::TuneValues&)> time_s;
    /// How many standard deviations of a day it is away from where runs begin to fail, of one trip; positive holds.
    std::function<double(const vast_turn::TuneValues&, std::size_t trip)> room;
    double best_s = 0.0;      ///< least time of all values of which 99 of 100 days hold
    double sure_room = 2.326; ///< of a day that is drawn from the normal distribution

    /// Drives the days: a day has its own luck, the same for all values, and each run a little of its own.
    vast_turn::TuneDrive drive(std::uint64_t world) const;
    /// The share of days on which the trip that fails most holds.
    double holds(const vast_turn::TuneValues& at) const;
};

/// Two smooth ones, two with plateaus, two with a cliff beside the best.
std::vector<PlantedTuning> planted_tunings();

/// A gentle edge, where what is sure is much slower than what mostly holds, and two trips whose best lies in a corner
/// between two cliffs.
std::vector<PlantedTuning> harder_tunings();

} // namespace fixtures
