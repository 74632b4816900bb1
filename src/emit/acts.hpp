#pragma once

/// What a rule, a guard or an item does, as statements.

#include <string>

#include "emit/c_function.hpp"
#include "emit/shape.hpp"

namespace vast_turn::emit {

/// Where acts stand.
struct ActsAt {
    Where where;
    std::string at;             ///< frame of the block: "at", or "-1" for the plan
    std::string guard;          ///< number of the guard that does it, or "$NO_RULE"
    bool always_begins = false; ///< an item: what happens once happens whenever it is carried out
};

/// Writes the acts whose code begins at `code`; true when the last of them returns.
bool write_acts(Lines& lines, const Shape& shape, std::uint16_t code, const ActsAt& at);

} // namespace vast_turn::emit
