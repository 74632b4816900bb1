#pragma once

/// A chip as it is named in a call.

#include <string>

#include "vast_turn/emit/chip_cost.hpp"

namespace vast_turn {

/// `8-bit` or `32-bit`, and what else is known of it, between commas: its clock (`16MHz`), the flash and then the
/// memory that a plan may take (`24kB`, `1500B`; a kB is 1,024 bytes). `8-bit,16MHz,24kB,1.5kB`. Throws InputError that
/// names the part which cannot be read.
ChipRoom parse_chip(const std::string& text);

} // namespace vast_turn
