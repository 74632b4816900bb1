#pragma once

/// Edges of a coarse picture, told to a small part of a pixel.

#include <string>

#include "paint/cairo_owned.hpp"

namespace vast_turn {

/// In smaller pixels nothing of that is seen, and a picture may have a hundred million of them.
inline constexpr double coarse_pixel_mm = 0.75;

/// A picture one column and one row larger, whose pixels lie midway between those of `picture`: the first half a pixel
/// to the left of the first one and above it. Throws InputError when there is no room for it.
///
/// A pixel on an edge has the colours of both sides in parts as it is covered. Values between pixels, taken straight
/// from the four nearest, put an edge up to 0.09 px off its place, to and fro along the edge with how it lies in the
/// pixels: a gentle bend of a photographed line seems to wave. The mean of the two pixels of either side, or of the
/// four, with any part of these in between, is half way from one side to the other just where the edge is. From the
/// two alone what is as thin as a pixel would fade; one and a half times them less half of the four keeps more of it.
OwnedSurface half_a_pixel_off(const std::string& path, cairo_surface_t* picture);

} // namespace vast_turn
