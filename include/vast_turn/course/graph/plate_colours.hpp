#pragma once

/// The colours of plates on a drawing of which nobody has said what colours there are.

#include <map>
#include <string>

#include "vast_turn/course/board/course.hpp"

namespace vast_turn {

/// Colours, with names by their hue ("green", "amber"), of patches that look like plates: strongly coloured, compact,
/// 60 to 14,400 mm2, at most 60 mm from something of the line's colour. At most eight, the most frequent first counted.
/// The course's floor and line colours must be known, and its surface painted.
std::map<std::string, Rgb> find_plate_colours(const Course& course);

} // namespace vast_turn
