#pragma once

#include "files/drawing.hpp"

namespace vast_turn {

std::unique_ptr<Drawing> read_png_drawing(const std::string& path, const std::string& bytes, const DrawingKeys& keys);
std::unique_ptr<Drawing> read_svg_drawing(const std::string& path, const std::string& bytes, const DrawingKeys& keys);

} // namespace vast_turn
