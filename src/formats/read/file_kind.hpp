#pragma once

/// What a file is, by what stands in it: people give files in the wrong order, or a drawing for its course.

#include <string_view>

namespace vast_turn {

/// The kinds of file that are read, and some that are given in their place.
enum class FileKind { unknown, plan, course, robot, calibration, trips, pieces, readings, log, svg, png, jpeg, pdf };

/// By the first bytes, else by keys that only one kind has. Unknown when it might be anything.
FileKind kind_of(std::string_view text);

/// Throws InputError when the text is surely of another kind: says what it is, and in which order files stand.
void expect_kind(std::string_view text, std::string_view file, FileKind wanted);

} // namespace vast_turn
