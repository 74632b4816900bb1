#pragma once

/// What stands around the functions of a plan's blocks: arithmetic, memory, blocks in hand, the look itself.

#include <string>

#include "emit/shape.hpp"

namespace vast_turn::emit {

/// Functions that others name, each written when another that is written does.
struct Helper {
    std::string name; ///< with its `@`
    std::string text; ///< with its names open
};

/// From the bottom up: one uses only those before it.
std::vector<Helper> arithmetic_helpers(const Shape& shape);
std::vector<Helper> memory_helpers(const Shape& shape);
std::vector<Helper> block_helpers(const Shape& shape);

/// Asks the innermost block until something acts; guards that take the look.
std::string decide_functions(const Shape& shape);

/// What comes before: where the robot stands, what is fresh, limits of what waits.
std::string before_functions(const Shape& shape);

/// The two functions that the header declares.
std::string look_functions(const Shape& shape);

} // namespace vast_turn::emit
