#pragma once

/// The kinds of drawings.

#include "paint/cairo_owned.hpp"
#include "paint/drawing.hpp"

namespace vast_turn {

/// Of a picture, embedded or alone.
inline constexpr double most_pixels = 110e6;

inline constexpr double most_pixels_a_side = 32'000;
/// Throws InputError when a picture has more of them.
void refuse_too_large(const std::string& path, double columns, double rows);

/// An empty picture; throws InputError when there is no room for it.
OwnedSurface make_picture(const std::string& path, int columns, int rows, cairo_format_t format = CAIRO_FORMAT_RGB24);

/// What was checked before is not asked again what it would cost, what is not drawn and how it is lit.
enum class Checked : bool { no, yes };

/// Reads a drawing of one kind in this process. Throws InputError.
using ReadDrawing = std::unique_ptr<Drawing>(const std::string& path, const std::string& bytes, const DrawingKeys& keys,
                                             Checked checked);
ReadDrawing read_jpeg_drawing;
ReadDrawing read_pdf_drawing;
ReadDrawing read_png_drawing;
ReadDrawing read_svg_drawing;

/// The one for what these bytes begin with; null when they are no drawing.
ReadDrawing* drawing_reader_for(const std::string& bytes);

/// Of pixels in memory.
std::unique_ptr<Drawing> make_picture_drawing(const std::string& path, OwnedSurface image, const DrawingKeys& keys,
                                              Checked checked);

/// Any of them in a process of its own, see cage.hpp.
std::unique_ptr<Drawing> read_caged_drawing(const std::string& path, std::string bytes, const DrawingKeys& keys,
                                            ReadDrawing* reader);

/// Throws InputError for what only a picture can have: its light, and corners.
void refuse_keys_of_pictures(const std::string& path, const char* kind, const DrawingKeys& keys);

} // namespace vast_turn
