#pragma once

/// Courses of pieces in an order that nobody knows beforehand.

#include <cstdint>

#include "vast_turn/course/pieces/piece.hpp"

namespace vast_turn {

/// How courses are shuffled.
struct ShuffleRules {
    int pieces = 12; ///< on the way, the first and the last included; 2 to 400
    int columns = 0; ///< at most so many; 0: as many as make a square grid three times as large as the way
    int rows = 0;    ///< likewise
};

/// Lays out one fitting course: a way from a piece that is a start through `pieces` - 2 others to one that is an end,
/// each in a place of its own, drawn by weight and turned as it fits. Who comes into a piece by a side leaves it by the
/// side that it leads to. Lines that are not on the way meet lines or a stub, or bare floor when the set has no stubs.
/// The grid is cut down to what lies in it. The same for the same set, rules and seed. Throws InputError when the set
/// has no start, no end or no way, and when nothing that fits is found among some millions of candidates.
Layout shuffle_pieces(const PieceSet& set, const ShuffleRules& rules, std::uint64_t seed);

} // namespace vast_turn
