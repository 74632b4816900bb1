#pragma once

/// What a trip expects at a junction: "fork left", "potting bench exit 2".

#include <cstddef>
#include <string>
#include <vector>

#include "vast_turn/course/board/course.hpp"
#include "vast_turn/trial/matched_route.hpp"
#include "vast_turn/trial/trip.hpp"

namespace vast_turn {

struct WantedWay {
    NodeId node;
    Turn turn = Turn::straight;
    int exit = 0; ///< counted from the left as seen by who comes in; 0: by its turn
};

/// Throws InputError, at the trip's place, when the words name no junction or no way.
WantedWay wanted_way(const Course& course, const RouteGraph& graph, const Trip& trip, const std::string& words);

/// All that a trip expects, in order.
std::vector<WantedWay> wanted_ways(const Course& course, const RouteGraph& graph, const Trip& trip);

/// Whether a choice is what was wanted.
bool is_wanted(const RouteGraph& graph, const WantedWay& wanted, const Choice& choice);

/// The exit of its node that is wanted by who comes in by `from`; none when there is none or more than one.
ExitId wanted_exit(const RouteGraph& graph, const WantedWay& wanted, ExitId from);

/// How many choices of a route, from the first on, are as wanted.
std::size_t matched_choices(const RouteGraph& graph, const std::vector<WantedWay>& wanted, const MatchedRoute& route);

} // namespace vast_turn
