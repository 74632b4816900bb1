#pragma once

/// Whole courses as rule books and teams draw them: rounds with corners, lattices, trees, zigzags, waves, spirals,
/// figures that cross themselves; drawn as strokes, as strips that meet in seams, as filled shapes, with a rim.

#include <cstdint>
#include <string>

#include "support/mixed_course.hpp"

namespace fixtures {

/// The same seed gives the same course; with the name of a kind ("lattice", "spiral", ...) one of that.
MixedCourse whole_course(std::uint32_t seed, const std::string& kind = {});

} // namespace fixtures
