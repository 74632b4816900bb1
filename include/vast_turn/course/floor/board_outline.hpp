#pragma once

/// A board on a page: drawings come with margins, titles and legends round them.

#include <optional>
#include <vector>

#include "vast_turn/base/geometry.hpp"
#include "vast_turn/course/floor/surface.hpp"

namespace vast_turn {

/// Finds the outline of a board on a surface that shows a whole page, mm: a rectangle of another colour than the page's
/// rim, or one that a thin line frames, with at least three tenths of the page within it and a quarter of all that is
/// not bare paper. Of several the smallest. Lines as wide as tape frame nothing: a course may run in a rectangle.
/// `line_widths_mm` are the widths of tape, as far as they are known. Nothing where the page has no margin of one
/// colour.
std::optional<Area> find_board_outline(const Surface& page, const std::vector<double>& line_widths_mm);

} // namespace vast_turn
