#pragma once

/// Courses drawn from a known graph: what must be found again.

#include <cstdint>
#include <vector>

#include "vast_turn/course/board/course.hpp"

namespace fixtures {

struct KnownStretch {
    int from = 0;
    int to = 0;
    double length_mm = 0.0;
};

struct KnownGraph {
    vast_turn::Course course;           ///< painted
    std::vector<vast_turn::Vec2> nodes; ///< where other than two lines meet
    std::vector<int> degrees;           ///< of each
    std::vector<KnownStretch> stretches;
};

/// The same seed gives the same course: 3 to 15 spots on a shaken grid, joined by straight or bent tape of one
/// width between 10 and 30 mm; no two lines leave a spot at less than 35 degrees. At a spot of two the tape goes on.
KnownGraph random_course(std::uint32_t seed);

} // namespace fixtures
