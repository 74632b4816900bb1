#pragma once

/// Photographs taken at a slant, made flat.

#include <string>
#include <vector>

#include "paint/cairo_owned.hpp"
#include "vast_turn/formats/read/course_sheet.hpp"

namespace vast_turn {

/// The board as seen from straight above.
struct Rectified {
    OwnedSurface image;
    double mm_per_px = 1.0;
    Vec2 board_mm;
    std::vector<std::string> notes; ///< how straight the board's border is, and what was done about the lens
};

/// Turns a photograph by the four points that keys.corners gives. The board is keys.board_mm large, else as large as
/// the corners reach. Throws InputError when the corners are no corners of a quadrangle, or the camera looked from the
/// board's back.
///
/// The plane is turned by the homography through the four points (R. Hartley, A. Zisserman: Multiple View Geometry in
/// Computer Vision, 2003, section 4.1). The lens bows by one number k: a point at distance r from the picture's middle,
/// in half diagonals, lay at r / (1 + k r^2) (A. W. Fitzgibbon: Simultaneous linear estimation of multiple view
/// geometry and lens distortion, CVPR 2001). keys.lens_bow gives k; else it is the one that makes the border between
/// the corners straightest, when a border can be seen there.
Rectified rectified(const std::string& path, cairo_surface_t* photograph, const DrawingKeys& keys);

} // namespace vast_turn
