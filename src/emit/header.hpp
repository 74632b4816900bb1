#pragma once

#include <string>
#include <vector>

#include "emit/shape.hpp"
#include "emit/state.hpp"

namespace vast_turn::emit {

/// What a robot's program includes: the look, the answer, the state, and the two functions; the end of its guard is
/// still missing.
std::string header_text(const Shape& shape);

/// The struct of what the plan answers.
CStruct answer_struct(const Shape& shape);

/// Names of the fields of the look.
std::vector<std::string> look_fields(const Shape& shape);

/// What stands at the head of both files: which plan it is of, whose it is.
std::string file_head(const Shape& shape, const char* about);

/// Constants and structs that only the source needs.
std::string source_constants(const Shape& shape);

} // namespace vast_turn::emit
