/// Where drives end by a rule of the line alone, and how fast they are.
#include <algorithm>

#include "plan/check/checked.hpp"
#include "sim/line_places.hpp"
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
    const double room = scene_.array_outermost_mm() + 0.5 * scene_.graph().stretch(spot.stretch).width_mm + 25.0;
    const std::vector<CoursePlace>& places = scene_.course().places;
    const bool at_place = std::any_of(places.begin(), places.end(), [&](const CoursePlace& place) {
        return length(place.at - array) < place.radius_mm + room;
    });
    if (at_place || !is_plain_line(scene_, spot.stretch, array)) {
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
