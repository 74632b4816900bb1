#pragma once

/// The struct in which a plan's C keeps what it remembers, and how large it is on a chip.

#include <string>
#include <vector>

#include "emit/shape.hpp"

namespace vast_turn::emit {

/// A field of a struct; several of them when it is an array.
struct CField {
    std::string type; ///< its names still open
    std::string name;
    int count = 0; ///< of an array; 0 for one that is none
    std::string about;
};

struct CStruct {
    std::string name; ///< its `@` still open
    std::vector<CField> fields;
};

/// The structs of the state, those that it holds first.
std::vector<CStruct> state_structs(const Shape& shape);

/// The text of a struct, and of all of them.
std::string struct_text(const Shape& shape, const CStruct& one);
std::string state_text(const Shape& shape);

/// Bytes of the last of some structs, which may hold those before it, on a chip of this kind.
std::size_t bytes_of(const std::vector<CStruct>& structs, NumberKind numbers, ChipKind chip);

} // namespace vast_turn::emit
