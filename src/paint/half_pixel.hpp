#pragma once

/// Edges of a coarse picture, told to a small part of a pixel.

#include <string>

#include "paint/cairo_owned.hpp"

namespace vast_turn {

/// Whether it is worth the time to look between pixels of that size: in small ones nothing of it is seen, and of very
/// many it would take seconds.
bool are_coarse(double mm_a_pixel, cairo_surface_t* picture);

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
