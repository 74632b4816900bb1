#pragma once

#include "paint/drawing.hpp"

namespace vast_turn {

/// Of a picture, embedded or alone.
inline constexpr double most_pixels = 110e6;

std::unique_ptr<Drawing> read_png_drawing(const std::string& path, const std::string& bytes, const DrawingKeys& keys);
/// An SVG in a process of its own, see cage.hpp; and in this one.
std::unique_ptr<Drawing> read_caged_drawing(const std::string& path, const std::string& bytes, const DrawingKeys& keys);
/// One that was checked before is not asked again what it would cost, nor for what is not drawn.
enum class Checked : bool { no, yes };
std::unique_ptr<Drawing> read_svg_drawing(const std::string& path, const std::string& bytes, const DrawingKeys& keys,
                                          Checked checked);

} // namespace vast_turn
