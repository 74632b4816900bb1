#pragma once

/// How large a drawing is on the floor.

#include <optional>
#include <string>
#include <vector>

#include "vast_turn/base/geometry.hpp"
#include "vast_turn/base/problem.hpp"
#include "vast_turn/formats/read/course_sheet.hpp"

namespace vast_turn {

/// What a drawing says of its own size.
struct OwnSize {
    Vec2 units;                   ///< pixels of a picture; user units of an SVG
    std::optional<Vec2> mm;       ///< when it is said in physical units
    const char* unit = "a pixel"; ///< "a pixel", "a user unit"
};

/// The size in millimetres by what the course file says (mm_per_px, measured, the board's size), else by what the
/// drawing says. Warns when the shape is not the board's. Throws InputError when nothing tells, or what comes is no
/// course.
Vec2 size_on_floor(const std::string& path, const OwnSize& own, const DrawingKeys& keys,
                   std::vector<Problem>& warnings);

} // namespace vast_turn
