#pragma once

/// What is swept: numbers by their names, each over several values.

#include <cstddef>
#include <cstdint>
#include <string>
#include <string_view>
#include <vector>

#include "vast_turn/settings/setting.hpp"

namespace vast_turn {

/// One number and its values.
struct Axis {
    Setting number;             ///< by its name; its value means nothing
    std::vector<double> values; ///< in the order written; of a range without steps its two ends
    bool has_steps = true;      ///< false: a range without steps, which only a fill can be taken from
    std::string unit;           ///< written behind each value: "mm"

    /// This number with a value.
    Setting at(double value) const;
};

/// Reads "cruise=36..60:4" (from, to, step), "near=90mm..180mm:15", "cruise=38,44,52" or, for a fill, "cruise=36..60".
/// Throws InputError for anything else, and for more than 10,000 values.
Axis parse_axis(std::string_view text);

/// A point: a value for each axis.
using SweepValues = std::vector<double>;

/// The most points of one sweep.
inline constexpr std::size_t most_sweep_points = 200000;

/// Every value of each axis with every one of the others; the last axis changes fastest. Throws InputError for an axis
/// without steps, or more points than most_sweep_points.
std::vector<SweepValues> grid_of(const std::vector<Axis>& axes);

/// So many points that fill the ranges between the least and the greatest value of each axis evenly, whatever their
/// number: Halton's sequence (J. H. Halton, On the efficiency of certain quasi-random sequences of points, Numerische
/// Mathematik 2, 1960), shifted by the seed. At most 12 axes (InputError).
std::vector<SweepValues> fill_of(const std::vector<Axis>& axes, std::size_t points, std::uint64_t seed);

} // namespace vast_turn
