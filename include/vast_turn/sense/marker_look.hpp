#pragma once

/// How markers look: to line sensors, and to a colour sensor.

#include <cstdint>
#include <string>
#include <vector>

#include "vast_turn/sense/bench_readings.hpp"
#include "vast_turn/sense/calibration.hpp"

namespace vast_turn {

/// What a line sensor takes a marker for. Unsure: noise alone decides.
enum class SeenAs : std::uint8_t { line, floor, unsure };

/// "line", "floor", "unsure".
const char* name_of(SeenAs seen);

/// One marker's colour as one line sensor takes it.
struct MarkerSeen {
    SeenAs as = SeenAs::unsure;
    double reading = 0.0;         ///< mean, 0 floor .. 1 line, not clamped
    double margin_counts = 0.0;   ///< from the threshold; positive on the side of line
    double margin_in_noise = 0.0; ///< the same as a multiple of its deviation; unsure within +-3
};

/// One marker colour as the whole array takes it.
struct MarkerLook {
    std::string colour;
    /// How often it was looked at.
    int looks = 0;
    std::vector<MarkerSeen> seen; ///< by sensor
};

/// A rule that tells one colour from the others by one channel's part of all light.
struct MarkerRule {
    std::string colour;
    int channel = 0;     ///< 0 red, 1 green, 2 blue
    double low = 0.0;    ///< the ratio lies between these; 0 and 9 when open
    double high = 9.0;   ///< channel by clear has no unit
    double margin = 0.0; ///< deviations between the colour and the nearest thing it must be told from
    std::string nearest; ///< that thing
    std::vector<std::string> not_told_from; ///< markers that fulfil the rule too

    /// Whether counts of a colour sensor fulfil the rule; false without light.
    bool holds(const ColourCounts& counts) const;
};

/// Names of the channels of ColourCounts, in their order.
inline constexpr const char* colour_channel_names[4] = {"red", "green", "blue", "clear"};

/// How each marker colour of a recording looks to each sensor. `usable` as in calibrate.
std::vector<MarkerLook> marker_looks(const BenchReadings& readings, const Calibration& calibration,
                                     const std::vector<bool>& usable);

/// The best rule for each marker colour of a recording with colour readings: the ratio of a channel to
/// clear whose margin to line, floor and the other colours is largest; when no ratio tells it from the
/// other colours by 3 deviations, the one that tells it best from line and floor.
std::vector<MarkerRule> marker_rules(const BenchReadings& readings);

} // namespace vast_turn
