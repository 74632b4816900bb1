#pragma once

/// What in a plan would have made a failed trip pass, tried by driving.

#include <string>
#include <vector>

#include "vast_turn/trial/trip.hpp"
#include "vast_turn/trial/trip_case.hpp"

namespace vast_turn {

/// One change of a plan's text with which a failed trip goes as expected.
struct Cure {
    std::string change;              ///< "line 10 moved above line 9", "line 5: inside = 21 becomes 27.3"
    std::string text;                ///< the whole plan, changed
    bool passes = false;             ///< driven from the start with the change the trip passes
    bool from_there = false;         ///< changed only at the deciding look it goes on as expected, farther than without
    std::vector<std::string> breaks; ///< trips that pass without the change and fail with it
    std::vector<std::string> mends;  ///< other trips that fail without it and pass with it
};

/// Tries changes among the plan's own rules and numbers, each from the deciding look on and then from the start of the
/// failed trip; those with which it passes then over all other trips. Tried for the deciding rule and for every rule or
/// item that called its block: every other rule of its block moved directly above it, it taken out, and its sides
/// exchanged; and each number of the plan's lets and of those lines times 0.6, 0.8, 1.25 and 1.6 and with the other
/// sign. What passes and breaks no trip comes first, then what breaks fewer, then what goes right only from the
/// deciding look on; among equals the order above. The same for any number of threads (0: as many as there are).
std::vector<Cure> find_cures(const Scene& scene, const Plan& plan, const TripResult& failed,
                             const std::vector<TripCase>& others, const RunOptions& options = {}, int threads = 0);

/// The same with the trips of the scene's course as the others.
std::vector<Cure> find_cures(const Scene& scene, const Plan& plan, const TripResult& failed,
                             const RunOptions& options = {}, int threads = 0);

} // namespace vast_turn
