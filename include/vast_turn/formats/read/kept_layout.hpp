#pragma once

/// A layout of a shuffled course, kept as a course of its own.

#include <string>
#include <string_view>

#include "vast_turn/course/board/course.hpp"

namespace vast_turn {

/// The text of a course file whose layout is fixed: that of the shuffled course with `layout` in place of `shuffled`,
/// all else (comments, trips) as it is. It names the same pieces, so it belongs into the same folder. `course` is one
/// layout of it. Throws InputError when the text is none of a shuffled course.
std::string kept_layout(std::string_view text, const Course& course);

} // namespace vast_turn
