#pragma once

#include "paint/cairo_owned.hpp"
#include "paint/drawing.hpp"

namespace vast_turn {

/// Of a picture, embedded or alone.
inline constexpr double most_pixels = 110e6;

inline constexpr double most_pixels_a_side = 32'000;
/// Throws InputError when a picture has more of them.
void refuse_too_large(const std::string& path, double columns, double rows);

/// Of pixels in memory.
std::unique_ptr<Drawing> make_picture_drawing(const std::string& path, OwnedSurface image, const DrawingKeys& keys);
std::unique_ptr<Drawing> read_jpeg_drawing(const std::string& path, const std::string& bytes, const DrawingKeys& keys);
std::unique_ptr<Drawing> read_png_drawing(const std::string& path, const std::string& bytes, const DrawingKeys& keys);
/// An SVG in a process of its own, see cage.hpp; and in this one.
std::unique_ptr<Drawing> read_caged_drawing(const std::string& path, const std::string& bytes, const DrawingKeys& keys);
/// One that was checked before is not asked again what it would cost, nor for what is not drawn.
enum class Checked : bool { no, yes };
std::unique_ptr<Drawing> read_svg_drawing(const std::string& path, const std::string& bytes, const DrawingKeys& keys,
                                          Checked checked);

} // namespace vast_turn
