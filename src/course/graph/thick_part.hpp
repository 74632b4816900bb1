#pragma once

/// Lines that a thin frame hangs on.

#include <cstdint>
#include <vector>

#include "course/floor/cell_runs.hpp"
#include "course/graph/line_mask.hpp"

namespace vast_turn {

/// Takes off what is thin of a shape that is as thick as a line in part: keeps what lies as deep as the middle of a
/// line, what is as near to that as a line's rim, and of that the pieces that are long enough. Whether there are any;
/// else nothing is changed. `deep` is depths() of the mask and is brought along.
bool keep_thick_part(LineMask& mask, std::vector<std::uint8_t>& deep, const CellRuns& found, std::uint32_t shape,
                     double line_mm);

} // namespace vast_turn
