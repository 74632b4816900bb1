#pragma once

/// What each kind of work costs on a chip: by bench/chip/prices.py.

#include "emit/c_work.hpp"
#include "vast_turn/emit/c_source.hpp"

namespace vast_turn::emit {

using Prices = std::array<double, work_kinds>;

/// Cycles or instructions, and bytes of flash: each time that a kind of work stands in the source, and for being there
/// at all, since with the first product comes what multiplies.
struct ChipPrices {
    Prices time;
    Prices flash;
    Prices flash_once;
};

const ChipPrices& prices_of(ChipKind chip);

} // namespace vast_turn::emit
