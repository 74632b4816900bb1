#pragma once

/// Which way a run took: its path matched to the lines of the course.

#include <string>
#include <vector>

#include "vast_turn/course/graph/route_graph.hpp"
#include "vast_turn/robot/robot.hpp"
#include "vast_turn/sim/run.hpp"

namespace vast_turn {

/// What a robot does at a junction.
enum class Turn : std::uint8_t { left, straight, right, back };

/// "left", "straight", "right", "back".
const char* name_of(Turn turn);

/// One stretch driven from a node to a node; at its begin and end perhaps in part.
struct Leg {
    StretchId stretch;
    bool forward = true; ///< along the stretch's path
    /// When it came onto the stretch, and when it left it.
    double begin_s = 0.0;
    double end_s = 0.0;
};

/// A choice at a node: between two legs.
struct Choice {
    NodeId node;
    ExitId from; ///< by which it came
    ExitId to;   ///< by which it left
    Turn turn = Turn::straight;
    double t_s = 0.0; ///< when it came nearest to the node
};

struct MatchedRoute {
    std::vector<Leg> legs;
    std::vector<Choice> choices; ///< at junctions, in order; turning back at an end or on the way is none
    bool told = true;            ///< whether the route is sure
    std::string why_not;         ///< when it is not
    double off_from_s = -1.0;    ///< from when on it was off every line until its end; -1 when it was not
};

/// The choice that lies between two exits of a node. Straight on is the exit nearest to straight ahead when that is
/// within 40 degrees and no other is within 20 degrees of it; else left and right by the side on which it lies.
Turn turn_between(const Node& node, ExitId from, ExitId to);

/// The number of an exit for who comes in by `from`: 1 for the leftmost of the others; 0 for `from` itself.
int exit_number(const Node& node, ExitId from, ExitId to);

/// What the choice is called: its turn, or "exit 2" where several exits lie to that side.
std::string way_name(const Node& node, ExitId from, ExitId to);

/// Points of a path: where the middle of the array was.
struct PathPoint {
    Vec2 at;
    double t_s = 0.0;
};

/// The path of a run's array.
std::vector<PathPoint> array_path(const Run& run, const Robot& robot);

/// Matches a path to the lines: the likeliest way along them, by a hidden Markov model over points of the lines about
/// 10 mm apart (P. Newson, J. Krumm: Hidden Markov map matching through noise and sparseness, ACM GIS 2009): far from a
/// line is unlikely (normal, 18 mm), so is a way along the lines that differs in length from that of the path. Wobble,
/// search and U-turns stay on their stretch; looking into another stretch by less than `least_mm` and coming back is no
/// choice.
///
/// Between two points the way along the lines is at most 60 mm. Where the path leaves every line by more than `off_mm`
/// it may come back anywhere; when that is on a stretch that does not follow, the route is not told.
MatchedRoute match_route(const RouteGraph& graph, const std::vector<PathPoint>& path, double off_mm = 70.0,
                         double least_mm = 60.0);

/// Matches a run over a scene's course. A robot that turns on the spot at a junction first drives its axle onto it, so
/// its array looks into the line beyond by as much as it stands ahead: that is no choice either.
MatchedRoute match_run(const Scene& scene, const Run& run);

/// "fork left, crossing 1 straight, bench exit 4": the choices at junctions.
std::string describe(const RouteGraph& graph, const MatchedRoute& route);

} // namespace vast_turn
