#pragma once

/// Where on a course's lines a run was, look by look.

#include <limits>
#include <vector>

#include "sim/line_places.hpp"
#include "vast_turn/sim/run.hpp"

namespace vast_turn::vetting {

/// The place of the line that is nearest to the array's middle in one look.
struct LineSpot {
    StretchId stretch;                                        ///< none when no line is within reach
    double along_mm = 0.0;                                    ///< from where the stretch begins
    double away_mm = std::numeric_limits<double>::infinity(); ///< of the array's middle from the line's middle
    bool off = true;                                          ///< this line is nowhere under the array
    bool forward = true;                                      ///< the robot faces along the stretch, not against it
};

/// One spot a look. Where lines are equally near it stays on the one that it was on. A gap counts as line.
std::vector<LineSpot> walk_lines(const Scene& scene, const Run& run);

/// A time in which the line was nowhere under the array for three looks or more.
struct Loss {
    std::size_t last_on = 0; ///< the last look before
    std::size_t back = 0; ///< the first look after it, from which on it stays for five; as many as there are when never
};

/// All of a run, in order. A run that begins off its line has not lost it.
std::vector<Loss> losses_of(const std::vector<LineSpot>& spots);

} // namespace vast_turn::vetting
