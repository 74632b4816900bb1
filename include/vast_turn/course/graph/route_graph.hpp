#pragma once

/// The lines of a course as a graph, found from its surface alone: so it is the same for tape, a drawing or
/// a scan.

#include <cstddef>
#include <cstdint>
#include <string>
#include <vector>

#include "vast_turn/base/id.hpp"
#include "vast_turn/course/board/course.hpp"

namespace vast_turn {

struct Node;
struct Stretch;
struct Exit;
/// Numbers of nodes and stretches of one graph, and of the exits of one node.
using NodeId = Id<Node>;
using StretchId = Id<Stretch>;
using ExitId = Id<Exit>;

/// Where stretches meet or end.
enum class NodeKind : std::uint8_t {
    end,      ///< one stretch ends here
    seam,     ///< a stretch that closes on itself without any junction begins and ends here
    fork,     ///< three meet
    crossing, ///< four
    star,     ///< five or more
};

/// "end", "seam", "fork", "crossing", "star".
const char* name_of(NodeKind kind);

/// One way out of a node.
struct Exit {
    StretchId stretch;
    bool forward = true;      ///< whether it leaves along the stretch or against it
    double heading_deg = 0.0; ///< leaving; course frame, -0.5 up to 359.5
};

struct Node {
    /// The name of the place it lies in; else by its kind and number from the top left: "fork 2".
    std::string name;
    /// By how many stretches end here. One that closes on itself ends here twice.
    NodeKind kind = NodeKind::end;
    Vec2 at;
    std::vector<Exit> exits; ///< counter-clockwise by heading

    const Exit& exit(ExitId id) const { return exits[id.index()]; }
};

/// A piece that is missing from a line and can be driven over: its ends face each other.
struct Bridge {
    double from_mm = 0.0; ///< along the stretch
    double length_mm = 0.0;
    std::string marker; ///< the colour that lies over the line there; empty for bare floor
};

/// A line between two nodes.
struct Stretch {
    NodeId from;
    NodeId to; ///< the same as `from` for a loop
    /// The middle of the line from node to node, points about 2 mm apart, bridges included.
    std::vector<Vec2> path;
    double length_mm = 0.0; ///< along the path
    double width_mm = 0.0;  ///< median
    /// The least and the most along it, but for the outermost fiftieth of what was measured.
    double narrowest_mm = 0.0;
    double widest_mm = 0.0;
    double tightest_mm = 0.0; ///< smallest radius of a bend, up to 800; infinite when straight
    Vec2 tightest_at;
    std::vector<Bridge> bridges;
    std::vector<int> markers; ///< of the course, that lie on it
    std::vector<int> things;  ///< of the course, that stand on it at some time
};

/// What a dark shape is that is no line.
enum class NotLineKind : std::uint8_t {
    dark_area, ///< wider than lines are: a bench, a tank
    lettering, ///< small strokes, one or several side by side
    thin_line, ///< long and narrower than lines are: a frame, a grating
    speck,     ///< small all round
    mark,      ///< as wide as lines, hardly longer than wide, and by itself
};

/// "dark area", "lettering", "thin line", "speck", "mark".
const char* name_of(NotLineKind kind);

/// A dark shape of a drawing that was not taken for line. The robot sees it all the same.
struct NotLine {
    NotLineKind kind = NotLineKind::speck;
    Vec2 at;        ///< the middle of the box round it
    Vec2 size_mm;   ///< of that box, along x and y
    int pieces = 1; ///< letters of a word, bars of a grating
    /// How near its box comes to the middle of a line; infinite where no line is within 200 mm
    /// and for frames.
    double from_line_mm = std::numeric_limits<double>::infinity();
};

/// Whether it is likely a frame round something: its box is not where it lies.
bool is_hollow(const NotLine& it);

/// More of them are not told; of those the largest are.
inline constexpr std::size_t most_not_lines = 2000;

/// All lines of a course. Who follows them goes from exit to exit:
///
///     const Exit& exit = graph.node(at).exit(chosen);
///     at = graph.end_of(exit);
///
/// Ids are those of this graph alone: another course, or another variant of it, numbers anew.
struct RouteGraph {
    std::vector<Node> nodes; ///< by rows from the top left
    std::vector<Stretch> stretches;
    std::vector<NotLine> not_lines; ///< of a drawing, from the top

    /// By their numbers, which must be of this graph.
    const Node& node(NodeId id) const { return nodes[id.index()]; }
    Node& node(NodeId id) { return nodes[id.index()]; }
    const Stretch& stretch(StretchId id) const { return stretches[id.index()]; }
    Stretch& stretch(StretchId id) { return stretches[id.index()]; }
    /// Where an exit leads, and the node that it leaves.
    NodeId end_of(const Exit& exit) const {
        return exit.forward ? stretch(exit.stretch).to : stretch(exit.stretch).from;
    }
    NodeId begin_of(const Exit& exit) const {
        return exit.forward ? stretch(exit.stretch).from : stretch(exit.stretch).to;
    }
};

/// The path of a stretch as it leads away from a node by one of its exits: its first point lies at the node, its last
/// at the node at the other end. A copy.
std::vector<Vec2> path_leaving(const RouteGraph& graph, const Exit& exit);

struct RouteGraphOptions {
    double longest_bridge_mm = 120.0; ///< two ends farther apart are two ends
    double widest_turn_deg = 35.0;    ///< by how much the two ends of a bridge may be out of line, each; in a bend more
};

/// Finds the graph of the course's surface. Line is what is nearer to the course's line colour than to its floor and
/// lies between the two (a coloured plate does not), and, on a drawing, is as wide as lines are (RouteGraph::not_lines
/// is the rest); lines narrower than 3 mm are dirt.
///
/// Lines are thinned to one cell of 1 mm (Z. Guo, R. W. Hall: Parallel thinning with two-subiteration algorithms,
/// Comm. ACM 32, 1989), the skeleton is traced, and each point is then moved to the middle of the
/// line's profile across. A junction stands where the lines through its arms meet, by least squares, or where an arc
/// and a straight line touch. Throws InputError when there are more than 100,000 pieces of line: then the surface is
/// noise.
RouteGraph find_route_graph(const Course& course, const RouteGraphOptions& options = {});

} // namespace vast_turn
