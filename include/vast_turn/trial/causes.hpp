#pragma once

/// What breaks a trip: which of the quantities that differ from day to day tell the days on which it failed.

#include <cstddef>
#include <string>
#include <vector>

#include "vast_turn/robot/variation.hpp"

namespace vast_turn {

/// A day and what came of it.
struct DayOutcome {
    std::vector<DayValue> values; ///< of the same quantities each day, in the same order
    bool passed = false;
};

/// A quantity, or what two of them make together, day by day.
struct DaySeries {
    std::string name; ///< "left motor", "left motor against the right one"
    std::string unit;
    double usual = 1.0;
    const char* lower = ""; ///< "weaker than"
    const char* higher = "";
    std::vector<double> values; ///< by day
};

/// All quantities of some days, and the ratios of both motors and of both wheels where both vary.
std::vector<DaySeries> series_of_days(const std::vector<DayOutcome>& days);

/// A quantity that tells days of failure from others.
struct Cause {
    std::string quantity;   ///< "left motor", "left motor against the right one"
    bool is_high = false;   ///< failures lie above `bound`, else below it
    bool both_ways = false; ///< failures lie farther than `bound` from `usual`, to either side
    double usual = 1.0;     ///< on an ideal day
    double bound = 0.0;
    std::string unit;
    std::size_t failures = 0;    ///< beyond the bound
    std::size_t passes = 0;      ///< beyond it
    std::size_t of_failures = 0; ///< in all that no earlier cause explains
    std::size_t of_passes = 0;
    double chance = 1.0; ///< that outcomes dealt out to the days at random are told so well
    std::string words;   ///< "weaker than", before the bound
};

/// Finds them, the one that tells most first; the next is sought among the days that lie within the bounds of those
/// before it. Each is a bound beyond which failures are frequenter: the one with the largest likelihood ratio (Wilks,
/// 1938) over all bounds of all quantities, and of the ratios of both motors and of both wheels. One is told only when
/// outcomes dealt out to the days at random are told as well in less than one of a hundred deals (a permutation test;
/// Fisher, "The design of experiments", 1935).
std::vector<Cause> find_causes(const std::vector<DayOutcome>& days);

/// "11 of the 12 failures: left motor weaker than 0.94 (of the other days 3 of 180 are so)".
std::string describe(const Cause& cause);

} // namespace vast_turn
