/// Where drives end by a rule of the line alone, and how fast they are.
#include <algorithm>

#include "plan/check/checked.hpp"
#include "vet/drive_reader.hpp"

namespace vast_turn::vetting {

void DriveReader::fastest(const Drive& drive) {
    const std::vector<LookRecord>& looks = drive.run.looks;
    const auto apart = static_cast<std::size_t>(std::max(1.0, 300.0 / std::max(0.1, scene_.robot().look_ms)));
    for (std::size_t i = apart; i < looks.size(); i += apart) {
        const double way = static_cast<double>(looks[i].way_mm - looks[i - apart].way_mm);
        into_.fastest_mm_s = std::max(into_.fastest_mm_s, way / (looks[i].t_s - looks[i - apart].t_s));
    }
}

/// Whether the array is over a line away from all that may look otherwise: junctions, ends, plates, pads, and named
/// places.
bool DriveReader::is_plain_line(const LineSpot& spot, Vec2 array) const {
    const Stretch& line = scene_.graph().stretch(spot.stretch);
    const double room = scene_.array_outermost_mm() + 0.5 * line.width_mm + 25.0;
    if (line.widest_mm > 1.5 * line.narrowest_mm) {
        return false; // a pad may be part of it
    }
    const auto near = [&](Vec2 at, double reach) { return length(at - array) < reach + room; };
    for (const Node& node : scene_.graph().nodes) {
        if (near(node.at, 0.0)) {
            return false;
        }
    }
    for (const NotLine& area : scene_.graph().not_lines) {
        const Vec2 off = area.at - array;
        if (std::abs(off.x) < 0.5 * area.size_mm.x + room && std::abs(off.y) < 0.5 * area.size_mm.y + room) {
            return false;
        }
    }
    const Course& course = scene_.course();
    return std::none_of(course.markers.begin(), course.markers.end(),
                        [&](const Marker& plate) { return distance_to(plate, array) < room; }) &&
           std::none_of(course.places.begin(), course.places.end(),
                        [&](const CoursePlace& place) { return near(place.at, place.radius_mm); });
}

void DriveReader::halts(const Reading& reading) {
    const Run& run = reading.drive.run;
    if (run.ending != Ending::halted || run.looks.empty() || reading.end < reading.spots.size()) {
        return;
    }
    const LookRecord& look = run.looks.back();
    const LineSpot& spot = reading.spots.back();
    if (look.rule == no_rule || !rules_.halts_by_line[look.rule.index()] || look.line_bits == 0 || spot.off ||
        !spot.stretch || plan_.checked().blocks[look.block].is_errand) {
        return;
    }
    const Vec2 array = array_at(scene_, look);
    if (!is_plain_line(spot, array)) {
        return;
    }
    HaltOnLine& here = into_.halts[look.rule.index()];
    if (here.drives++ == 0) {
        here.bits = look.line_bits;
        here.at = array;
        here.line = spot.stretch;
    }
}

} // namespace vast_turn::vetting
