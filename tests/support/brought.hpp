#pragma once

/// One course as people bring it: on a page with titles, as a PDF, a JPEG, a photograph at a slant.

#include <string>
#include <vector>

#include "support/mixed_course.hpp"

namespace fixtures {

/// A drawing and the course file beside it, which names it.
struct Brought {
    std::string name; ///< of the drawing
    std::string bytes;
    std::string sheet;
    vast_turn::Vec2 offset; ///< of the course's corner in the frame that comes of it
    double mm_a_pixel = 0.0;
};

/// The course file with another drawing, and lines of its own before its first table.
std::string sheet_for(const MixedCourse& mixed, const std::string& name, const std::string& lines);

/// On paper with a margin, a title block, dimension lines, a legend with plates; the board in an outline. When `told`
/// the course file says where the board is.
Brought on_page(const MixedCourse& mixed, std::uint32_t seed, bool told);

/// The second page of a PDF.
Brought as_pdf(const MixedCourse& mixed);

/// A sheet of 841 x 594 mm on which the course is drawn at half its size, with a title, benches and letters on the
/// board, a legend and dimensions beside it. A PDF.
std::string sheet_of_paper(const MixedCourse& mixed, const std::string& title);

/// As a scanner or a paint program writes it.
Brought as_jpeg(const MixedCourse& mixed, double mm_a_pixel, int quality);

/// Photographed from above under a lamp far off or near, or half of it in the shade; with the camera's grain.
Brought in_uneven_light(const MixedCourse& mixed, std::uint32_t seed);

/// How a photograph is taken.
struct Camera {
    double tilt_deg = 25.0; ///< 0 looks straight down
    double turn_deg = 8.0;  ///< the board in the picture
    double bow = 0.0;       ///< of the lens: k of the division model
    int columns = 1800;
    int rows = 1350;
    double gloom = 1.0; ///< light at the darkest corner of the board; 1: even
};

/// A JPEG from a camera; its corners stand in the course file, to a tenth of a pixel.
Brought photographed(const MixedCourse& mixed, const Camera& camera);

/// The same course with everything moved.
MixedCourse moved(MixedCourse mixed, vast_turn::Vec2 by);

/// A JPEG of pixels 0xRRGGBB.
std::string jpeg_of(const std::vector<std::uint32_t>& pixels, int columns, int rows, int quality);

} // namespace fixtures
