#pragma once

/// Where a failed trip parted from the way that was expected, drawn.

#include <string>
#include <vector>

#include "vast_turn/trial/cures.hpp"
#include "vast_turn/view/picture.hpp"

namespace vast_turn {

/// The place of the deciding look, zoomed: the path taken, that of a run with the first cure (null for none), and the
/// array at the deciding look, each sensor full when it saw line. Beside it what there is to say. The result must have
/// a parting (asserted).
std::string draw_parting(const Scene& scene, const Pilot& pilot, const TripResult& failed, const Run* cured,
                         const std::vector<Cure>& cures, PictureFormat format);

} // namespace vast_turn
