#pragma once

#include "paint/drawing.hpp"

namespace vast_turn {

/// Of a picture, embedded or alone.
inline constexpr double most_pixels = 110e6;

std::unique_ptr<Drawing> read_png_drawing(const std::string& path, const std::string& bytes, const DrawingKeys& keys);
std::unique_ptr<Drawing> read_svg_drawing(const std::string& path, const std::string& bytes, const DrawingKeys& keys);

} // namespace vast_turn
