#pragma once

/// What in a plan would have made a failed trip pass, tried by driving.

#include <string>
#include <vector>

#include "vast_turn/trial/trip.hpp"

namespace vast_turn {

/// One change of a plan's text with which the trip passes.
struct Cure {
    std::string change;              ///< "line 10 moved above line 9", "line 5: inside = 21 becomes 27.3"
    std::string text;                ///< the whole plan, changed
    std::vector<std::string> breaks; ///< trips that pass without the change and fail with it
    std::vector<std::string> mends;  ///< other trips that fail without it and pass with it
};

/// Tries changes among the plan's own rules and numbers, each from the start of the failed trip; those with which it
/// passes then over all trips of the course. Tried are: every rule of the deciding block moved directly above the
/// deciding rule, the deciding rule taken out, and each number of the plan's lets and of the deciding rule times 0.6,
/// 0.8, 1.25 and 1.6 and with the other sign. Cures that break no trip come first, then those that break fewer; among
/// equals the order above. The same for any number of threads (0: as many as there are).
std::vector<Cure> find_cures(const Scene& scene, const Plan& plan, const TripResult& failed,
                             const RunOptions& options = {}, int threads = 0);

} // namespace vast_turn
