#pragma once

/// The route that the plates of a course tell, so that one trip holds on any course.

#include "vast_turn/sim/scene.hpp"
#include "vast_turn/trial/trip.hpp"

namespace vast_turn {

/// The same trip with the choices that the plates tell from its first start on, by Trip::plates, and without those;
/// a trip without plates as it is.
///
/// The last plate before a junction counts, on the line that leads there; behind a junction it counts for the next one.
/// Plates that mean their side count when they lie beside the line and within 60 mm of the junction. Where no plate
/// tells anything the way is straight on. It ends at the first plate that means the end, where the robot has to halt
/// (Trip::ends_near): its array or one of its colour sensors over the plate, and 40 mm to spare. A way that comes to
/// where it has been is driven once, then `laps` times round.
///
/// Throws InputError, at the trip's place: where the way that is told is none at that junction, where none leads
/// straight on, at the end of a line when there should be a plate that means the end, and when the start is on no line.
Trip told_by_plates(const Scene& scene, const Trip& trip);

} // namespace vast_turn
