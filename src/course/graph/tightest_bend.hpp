#pragma once

/// The tightest bend of a line.

#include <cstddef>
#include <limits>
#include <vector>

#include "vast_turn/base/geometry.hpp"

namespace vast_turn {

struct Bend {
    double radius_mm = std::numeric_limits<double>::infinity();
    Vec2 at;
};

/// How many points at the two ends of a path lead to what the line ends at and tell nothing of its bends.
struct Led {
    std::size_t begin = 0;
    std::size_t end = 0;
};

/// Of a path whose points lie 1 mm apart, `bridged` where it leads over what is missing, without what is led.
///
/// Bends are looked for over ways of several lengths: over a short one a narrow bend shows, over a longer one a gentle
/// bend stands out from half a cell of error; each length tells radii up to a bound. Where a bend shows, a circle is
/// laid through as much of the line round it as lies on one (I. Kasa: A circle fitting procedure and its error
/// analysis, IEEE Trans. Instrum. Meas. 25, 1976), so that a stray of the line over a short way does not count.
/// Where two thirds of that way lie on a smaller circle the bend tightens and eases again; how much smaller tells how
/// tight it is in between. One that goes on tightening up to an end of the line is tightest there.
Bend tightest_bend(const std::vector<Vec2>& path, const std::vector<bool>& bridged, Led led);

/// The radius of the circle on which a way lies, bridged points left out; infinite when it lies on
/// none to `most_off_mm`, root mean square.
double radius_round(const std::vector<Vec2>& path, const std::vector<bool>& bridged, std::size_t from, std::size_t to,
                    double most_off_mm);

} // namespace vast_turn
