#pragma once

/// What kind of place along the lines an array is over.

#include <cstdint>
#include <optional>

#include "vast_turn/course/graph/route_graph.hpp"
#include "vast_turn/sim/run.hpp"
#include "vast_turn/sim/scene.hpp"

namespace vast_turn {

/// The middle of the array in a look of a run, mm.
Vec2 array_at(const Scene& scene, const LookRecord& look);

/// Whether the array, over this line, is away from all that may look otherwise: junctions, ends, plates, pads.
bool is_plain_line(const Scene& scene, StretchId line, Vec2 array);

/// What a plan that looks for a junction stands at.
enum class LinePlace : std::uint8_t {
    junction, ///< in reach of where three lines or more meet
    plate,    ///< over one, and at no junction
    plain,    ///< is_plain_line(), no other line in reach, and no corner, which looks like a branch
    other,    ///< neither, or nowhere near a line
};

LinePlace line_place(const Scene& scene, Vec2 array);

/// The plate under the array, or nearly, by its number in the course; none where none is.
std::optional<std::size_t> plate_under(const Scene& scene, Vec2 array);

/// The junction that is nearest by air; none when the course has none.
NodeId nearest_junction(const RouteGraph& graph, Vec2 at);

} // namespace vast_turn
