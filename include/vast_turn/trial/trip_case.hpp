#pragma once

/// A trip as it is driven: from one start, over one variant of its course.

#include <vector>

#include "vast_turn/sim/scene.hpp"
#include "vast_turn/trial/trip.hpp"

namespace vast_turn {

struct TripCase {
    /// With one start and one variant. Its name says which when the trip has several: "water the ferns, from north
    /// door, no can".
    Trip trip;
    const Scene* scene = nullptr; ///< of that variant
};

/// Every trip from each of its starts over each of its variants, in this order. `scenes` are those of the course's
/// variants that the trips need, with one robot; they must outlive the cases. Throws InputError when a trip names a
/// variant of which there is no scene.
std::vector<TripCase> cases_of(const std::vector<const Scene*>& scenes, const std::vector<Trip>& trips);

/// The same over one scene: the trips that run over its variant.
std::vector<TripCase> cases_of(const Scene& scene, const std::vector<Trip>& trips);

} // namespace vast_turn
