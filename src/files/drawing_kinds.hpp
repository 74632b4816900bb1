#pragma once

#include "files/drawing.hpp"

namespace vast_turn {

std::unique_ptr<Drawing> read_png_drawing(const std::string& path, const std::string& bytes,
                                          std::optional<double> mm_per_px);
std::unique_ptr<Drawing> read_svg_drawing(const std::string& path, const std::string& bytes,
                                          std::optional<double> mm_per_px);

} // namespace vast_turn
