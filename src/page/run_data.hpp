#pragma once

#include "formats/write/json_text.hpp"
#include "vast_turn/page/page.hpp"

namespace vast_turn {

/// One run as a page takes it: how it ended, its plan's text and rules, its moments, and all numbers of its looks as
/// Columns. Throws InputError when a quantity cannot be asked of its plan.
Json run_data(const Scene& scene, const PageRun& one, const PageOptions& options);

} // namespace vast_turn
