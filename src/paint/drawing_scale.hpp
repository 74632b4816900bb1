#pragma once

/// How large a drawing is on the floor, and where on it the board lies.

#include <optional>
#include <string>
#include <vector>

#include "paint/drawing.hpp"

namespace vast_turn {

/// What a drawing says of its own size.
struct OwnSize {
    Vec2 units;                   ///< pixels of a picture; user units of an SVG; points of a PDF
    std::optional<Vec2> mm;       ///< when it is said in physical units
    const char* unit = "a pixel"; ///< "a pixel", "a user unit", "a point"
};

/// The size in millimetres by what the course file says (mm_per_px, measured, the board's size), else by what the
/// drawing says. Warns when the shape is not the board's. Throws InputError when nothing tells, when what comes is no
/// course, or when the board lies beside the drawing.
OnFloor place_on_floor(const std::string& path, const OwnSize& own, const DrawingKeys& keys,
                       std::vector<Problem>& warnings);

} // namespace vast_turn
