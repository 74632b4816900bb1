#pragma once

/// What a course's surface shows, for courses that are drawn or scanned.

#include "vast_turn/course/board/course.hpp"

namespace vast_turn {

/// What a surface shows most.
struct FoundColours {
    Rgb floor; ///< the most frequent colour
    /// Of the five most frequent ones that clearly differ from it and are none of the palette, the one with most
    /// strokes as wide as tape; the most frequent when none has any.
    Rgb line;
};

/// From the part of a surface that shows floor and line. Where nothing differs clearly from the floor, `line` is the
/// floor's colour.
FoundColours find_colours(const Surface& surface, const std::map<std::string, Rgb>& palette, const Area& within);

/// Where on a course lines and plates are looked for: its board.
Area area_of(const Course& course);

/// Appends the course's palette-coloured patches as markers that are drawn already: centre, and the box with the same
/// second moments. Patches of less than 60 mm2 are no markers; of what was seen in pixels of 1 to 3 mm less is enough,
/// down to 30 mm2 at 2 mm, since a plate's rim is mixed there with what lies round it. `pixel_mm` is 0 when it was not.
void find_markers(Course& course, double pixel_mm = 0.0);

/// Appends the lines of the course's graph as tapes that are drawn already.
void find_tapes(Course& course);

} // namespace vast_turn
