#pragma once

/// Readings taken on the bench: the array held over known surfaces.

#include <array>
#include <optional>
#include <string>
#include <vector>

#include "vast_turn/sense/pattern.hpp"

namespace vast_turn {

/// What lies under the array has these names; every other name is that of a marker's colour.
namespace under {
inline constexpr const char* line = "line";
inline constexpr const char* floor = "floor";
/// The array is slid across the tape so that the tape passes from its left end to its right end.
inline constexpr const char* sweep = "sweep";
/// The same, from its right end to its left end.
inline constexpr const char* sweep_back = "sweep-back";
} // namespace under

/// What a colour sensor reports, counts: red, green, blue, clear (all light).
using ColourCounts = std::array<double, 4>;

/// One look on the bench.
struct BenchLook {
    /// One of the names above, or that of a marker's colour.
    std::string under;
    std::array<double, max_sensors> counts{}; ///< raw counts; those of the array come first
    std::optional<ColourCounts> colour;
};

/// A bench recording. Looks stand in the order in which they were taken.
struct BenchReadings {
    std::vector<std::string> channels; ///< what the sensors are called, from the left, one to eight
    std::vector<BenchLook> looks;

    /// How many sensors there are.
    int sensors() const { return static_cast<int>(channels.size()); }
};

/// What is known of the array beforehand. Empty lists when nothing is.
struct ArrayFacts {
    std::vector<double> adc_max; ///< counts at the end of each sensor's range
    std::vector<double> left_mm; ///< place of each sensor to the left of the robot's middle
};

/// The facts of an array with the ends of the ranges filled in where they are not known: the smallest
/// of 8, 10, 12, 14 and 16 bits that holds half of the array's largest readings, or a larger one for a
/// sensor that reads more than that.
ArrayFacts with_ranges(ArrayFacts facts, const BenchReadings& readings);

} // namespace vast_turn
