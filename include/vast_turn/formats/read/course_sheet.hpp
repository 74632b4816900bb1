#pragma once

/// What a course file says, before anything is painted (`*.course.toml`; docs/files.md).

#include <array>
#include <cstdint>
#include <functional>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "vast_turn/base/geometry.hpp"
#include "vast_turn/base/problem.hpp"
#include "vast_turn/course/board/course.hpp"
#include "vast_turn/course/pieces/piece.hpp"
#include "vast_turn/trial/trip.hpp"

namespace vast_turn {

/// Two points of a drawing, in its own units from its top left (pixels, or user units of an SVG), and how far apart
/// they are on the floor.
struct MeasuredDistance {
    Vec2 from;
    Vec2 to;
    double mm = 0.0;
};

/// A point of a photograph and where it lies on the board.
struct CornerOfPicture {
    Vec2 px; ///< from the photograph's top left
    Vec2 mm; ///< on the board
};

/// A box of a PDF's page (ISO 32000-1, 14.11.2): what a viewer shows, the sheet, what is left of it when it is bound,
/// when it is cut, and its content.
enum class PageBox : std::uint8_t { crop, media, bleed, trim, art };

/// Their names, in that order.
inline constexpr std::array<const char*, 5> page_box_names{"crop", "media", "bleed", "trim", "art"};

/// What the course file says about its drawing. Of its scale the first that is given holds; a picture needs one of
/// them, an SVG one when it has no physical units.
struct DrawingKeys {
    std::optional<double> mm_per_px;          ///< millimetres of one of its units
    std::optional<MeasuredDistance> measured; ///< in place of that
    std::optional<Vec2> board_mm;             ///< the board's size, to which it is fitted without changing its shape
    std::optional<Area> board;                ///< which part of it is the board, in its units; all of it
    bool is_page = false;                     ///< it was said that the board is all of it: no outline is looked for
    std::optional<int> page;                  ///< of a PDF, from 1; the first
    std::optional<PageBox> page_box;          ///< what of that page; its crop box
    std::vector<CornerOfPicture> corners;     ///< of a picture taken at a slant: four, or none
    std::optional<double> lens_bow;           ///< of such a picture, see docs/files.md; found when not given
    std::optional<bool> even_light;           ///< of a picture; when not given, uneven light is left and told
};

/// Finds the drawing that a course file names: returns its size in mm, appends what of it is not drawn, and throws
/// InputError when it cannot be used. The path is as the working folder sees it.
using FindDrawing =
    std::function<Vec2(const std::string& path, const DrawingKeys& keys, std::vector<Problem>& warnings)>;

/// Finds the pieces that a course file names. The path is as the working folder sees it.
using FindPieces = std::function<PieceSet(const std::string& path)>;

/// Pieces, and where they lie.
struct LaidPieces {
    PieceSet set;
    Layout layout;
};

/// A course as its file says, and what belongs beside it.
struct CourseSheet {
    Course course;                  ///< without its surface, and without what is found in its drawing
    std::vector<Trip> trips;        ///< that stand in the same file
    double cell_mm = 1.0;           ///< of the surface that is to be painted
    bool floor_given = false;       ///< the file gives the floor's colour; else a drawing does
    bool line_given = false;        ///< likewise the line's
    std::optional<LaidPieces> laid; ///< when it is laid out of pieces
    bool find_board = false;        ///< nobody has said which part of the drawing is the board
};

/// Reads the text of a course file in one of its variants; `file` is what faults call it, and drawings lie beside it.
/// Of a shuffled course "layout 17" is one; as drawn it is the first of them.
/// Throws InputError with every fault found, when there is no such variant, or when a drawing is named and
/// `find_drawing` is empty. Pieces without drawings are read when `find_pieces` is empty.
CourseSheet parse_course_sheet(std::string_view text, std::string_view file, std::string_view variant = as_drawn,
                               const FindDrawing& find_drawing = {}, const FindPieces& find_pieces = {});

} // namespace vast_turn
