#pragma once

/// Markers that a run saw where there is no such plate.

#include <cstddef>
#include <optional>
#include <string>
#include <vector>

#include "vast_turn/sim/run.hpp"
#include "vast_turn/sim/scene.hpp"

namespace vast_turn {

/// Looks on end in which a colour sensor told a marker although no plate of that colour lies under its spot: the
/// mixture at the edge of another plate, or of a line, looks like it.
struct MarkerMisread {
    std::size_t marker = 0;           ///< among the plan's
    std::optional<std::size_t> plate; ///< under the spot, among the course's markers; none at the edge of a line
    std::size_t first = 0;            ///< look
    std::size_t last = 0;
};

/// All of a run up to and with a look, by their first looks. `markers` are the plan's, as the run was driven with.
std::vector<MarkerMisread> marker_misreads(const Scene& scene, const std::vector<std::string>& markers, const Run& run,
                                           std::size_t until);

} // namespace vast_turn
