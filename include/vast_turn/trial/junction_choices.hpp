#pragma once

/// Which way a plan goes at each junction from each side, and where that leads.

#include <cstdint>
#include <string>
#include <vector>

#include "vast_turn/course/graph/route_graph.hpp"
#include "vast_turn/plan/plan.hpp"
#include "vast_turn/sim/run.hpp"
#include "vast_turn/trial/matched_route.hpp"

namespace vast_turn {

/// What came of one robot set before a junction.
enum class ArmEnd : std::uint8_t {
    exit,   ///< it left by an exit
    halted, ///< the plan ended there
    lost,   ///< it drove off, was lost or touched something
    stayed, ///< in the time given it left by none, or its route is not told
};

/// One side from which a junction (or an end) can be come to.
struct Arm {
    NodeId node;            ///< the junction or end
    ExitId from;            ///< the exit by which the robot comes to it
    std::vector<int> taken; ///< how many robots left by each exit
    int halted = 0;         ///< robots whose plan ended there
    int lost = 0;           ///< likewise, as ArmEnd says
    int stayed = 0;         ///< likewise
    /// That were set there: the sum of all above.
    int robots = 0;
    ArmEnd usual = ArmEnd::stayed; ///< what came most often; exits before the rest, lower exits first
    ExitId usual_exit;             ///< none when it does not leave
    double share = 0.0;            ///< of the robots that did the usual
    bool in_rounds = false;        ///< told by rounds from the starts (rounds.hpp), not by robots that were set there
    /// Of a plan that does not always the same there, in rounds: its exits in order until they come again; none where
    /// it ended there.
    std::vector<ExitId> by_turns{};
    std::string stayed_because{}; ///< of the first robot that stayed: where it stands, or why its route is not told
};

struct ChoiceOptions {
    RunOptions run{};  ///< seed, calibration, faults, step; start, pose and time are set for each robot
    int repeats = 8;   ///< robots a side
    bool days = false; ///< each robot drives a day of its own, from run.day on (1 when that is 0)
    /// How far before the junction the array is set, or half of a shorter line; not in a gap, and before the plates
    /// that lie on the line where there is room.
    double before_mm = 150.0;
    double aside_mm = 3.0;  ///< one standard deviation of where it is set, to the side
    double askew_deg = 2.0; ///< and of its heading
    /// Each robot drives this long; 0: as long as the way to the junction and 400 mm behind it take at a seventh of the
    /// robot's top speed, and 5 s more, at least 8 s and at most 60.
    double time_s = 0.0;
    double round_s = 120.0; ///< how long a round of a plan that remembers takes at most, see find_routes()
    int threads = 0;        ///< 0: as many as there are
};

/// The options of the n-th robot's run: with the seed or on the day of its own.
RunOptions run_of_robot(const ChoiceOptions& options, std::uint64_t n);

/// Works out `usual`, `usual_exit` and `share` from what was counted.
void settle(Arm& arm);

/// Sets robots before every junction of the scene's graph on every side, and before every end, and lets them drive,
/// with nothing in their way but walls. The plan begins anew for each. The same for any number of threads. Throws
/// InputError as drive() does.
std::vector<Arm> find_choices(const Scene& scene, const Plan& plan, const ChoiceOptions& options = {});

/// On which side of a node an exit lies: "east", "north-east" ...
const char* side_of(const Node& node, ExitId exit);

/// The same, with the node at the other end of the line where two exits lie on one side: "north, mist room".
std::string arm_name(const RouteGraph& graph, NodeId node, ExitId exit);

/// "left 8/8", "halts 7/8".
std::string describe(const RouteGraph& graph, const Arm& arm);

/// Where a robot comes to when it does the usual at every junction.
struct Reach {
    /// Name of the start.
    std::string start;
    std::vector<NodeId> nodes;   ///< in order
    bool circles = false;        ///< it comes back to where it has been, for ever
    std::size_t loop_from = 0;   ///< the first of the nodes that it circles over
    ArmEnd end = ArmEnd::stayed; ///< of the last node, when it does not circle
    double share = 1.0;          ///< product of the shares on the way
    /// Of a round that ended between nodes: the one that it was on its way to, and how far from it, straight. None when
    /// it came to the last of `nodes` and ended there.
    NodeId towards;
    double to_go_mm = 0.0;
    std::string in_place; ///< likewise: the course's place in which it ended, if any
};

/// From each start of the course. A start that is on no line has no nodes.
std::vector<Reach> find_reach(const Course& course, const RouteGraph& graph, const std::vector<Arm>& arms);

} // namespace vast_turn
