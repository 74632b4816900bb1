#include "trial/line_under.hpp"

namespace vast_turn {

OnLine line_under(const RouteGraph& graph, const Pose& pose) {
    constexpr double reach_mm = 90.0;
    double best = reach_mm;
    OnLine found;
    for (std::size_t s = 0; s < graph.stretches.size(); ++s) {
        const std::vector<Vec2>& path = graph.stretches[s].path;
        double along = 0.0;
        for (std::size_t i = 1; i < path.size(); ++i) {
            const Vec2 nearest = nearest_on_segment(pose.at, path[i - 1], path[i]);
            const double away = length(nearest - pose.at);
            if (away < best) {
                best = away;
                found = {StretchId(s), dot(path[i] - path[i - 1], direction(pose.heading_deg)) >= 0.0,
                         along + length(nearest - path[i - 1])};
            }
            along += length(path[i] - path[i - 1]);
        }
    }
    return found;
}

} // namespace vast_turn
