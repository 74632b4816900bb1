#include "trial/edge_misreads.hpp"

#include <algorithm>

#include <fmt/format.h>

#include "sim/marker_misreads.hpp"

namespace vast_turn {

std::vector<std::pair<std::size_t, std::string>> edge_misreads(const Scene& scene, const Plan& plan, const Run& run,
                                                               std::size_t until) {
    const std::vector<MarkerMisread> found = marker_misreads(scene, plan.markers(), run, until);
    constexpr std::size_t most = 3;
    std::vector<std::pair<std::size_t, std::string>> lines;
    for (std::size_t i = found.size() - std::min(most, found.size()); i < found.size(); ++i) {
        const MarkerMisread& one = found[i];
        const LookRecord& look = run.looks[one.first];
        const Marker* plate = one.plate ? &scene.course().markers[*one.plate] : nullptr;
        const Vec2 at = plate != nullptr ? plate->at : look.at;
        const std::size_t looks = one.last - one.first + 1;
        lines.emplace_back(one.first,
                           fmt::format("{:.2f} s: the edge of {} {:.0f},{:.0f} mm was taken for {}, for {} look{}",
                                       look.t_s, plate != nullptr ? plate->colour + " at" : "the line, the robot at",
                                       at.x, at.y, plan.markers()[one.marker], looks, looks == 1 ? "" : "s"));
    }
    return lines;
}

} // namespace vast_turn
