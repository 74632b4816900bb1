#pragma once

/// The path language of SVG (SVG 1.1, chapter 8.3: all commands), flattened to polylines.

#include <cstddef>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "vast_turn/base/geometry.hpp"

namespace vast_turn {

/// One stroke of a path, drawn without lifting the pen.
struct SubPath {
    std::vector<Vec2> points;
    bool closed = false; ///< ended by Z; the first point is not repeated
};

/// What is wrong with a path, and where.
struct PathFault {
    std::size_t at = 0; ///< byte in the text
    std::string message;
    std::string cure;
};

struct PathResult {
    std::vector<SubPath> paths; ///< empty when there is a fault
    std::optional<PathFault> fault;
};

/// Reads path data. Curves are followed to `tolerance` (same unit as the data, > 0). Numbers must
/// lie within +-1e6 and a path must come to at most 200,000 points; otherwise there is a fault.
PathResult parse_svg_path(std::string_view text, double tolerance);

} // namespace vast_turn
