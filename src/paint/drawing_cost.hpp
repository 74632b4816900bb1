#pragma once

/// How long a drawing would take to draw, told before anything is drawn.

#include <optional>
#include <string>

#include <pugixml.hpp>

#include "vast_turn/base/problem.hpp"

namespace vast_turn {

/// Why an SVG is not drawn: it would take more than some seconds, or more memory than there is. Nothing when it may be
/// drawn. `cells` is how many it will be drawn to.
///
/// Estimated in microseconds: shapes, with all that `use` repeats; points of paths, and how often they must cross
/// themselves (from the length of the path and the room in which it lies); what is drawn aside first (filters, masks,
/// opacity of groups) by the cells that it takes; embedded pictures by their size.
std::optional<Problem> too_costly(const pugi::xml_document& document, const std::string& path, double cells);

} // namespace vast_turn
