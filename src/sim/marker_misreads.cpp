#include "sim/marker_misreads.hpp"

#include <algorithm>
#include <cmath>
#include <limits>

namespace vast_turn {

namespace {

/// A plate and how far it is from a spot.
struct NearPlate {
    std::size_t plate = 0;
    double mm = std::numeric_limits<double>::infinity();
};

/// The plate of this colour, or of any other, that is nearest to a colour sensor.
NearPlate nearest_plate(const Scene& scene, const LookRecord& look, const std::string& colour, bool of_it) {
    const Vec2 ahead = direction(look.heading_deg);
    const std::vector<Marker>& plates = scene.course().markers;
    NearPlate best;
    for (const ColourSensor& sensor : scene.robot().colour_sensors) {
        const Vec2 at = from_robot(look.at, ahead, sensor.at_mm);
        for (std::size_t i = 0; i < plates.size(); ++i) {
            const double mm = distance_to(plates[i], at) - 0.5 * sensor.spot_mm;
            if ((plates[i].colour == colour) == of_it && mm < best.mm) {
                best = {i, mm};
            }
        }
    }
    return best;
}

/// Whether a colour sensor's spot lies over the edge of a line.
bool at_edge_of_line(const Scene& scene, const LookRecord& look) {
    const Vec2 ahead = direction(look.heading_deg);
    const std::vector<ColourSensor>& sensors = scene.robot().colour_sensors;
    return std::any_of(sensors.begin(), sensors.end(), [&](const ColourSensor& sensor) {
        return std::abs(scene.tape().beyond_edge(from_robot(look.at, ahead, sensor.at_mm))) <= 0.5 * sensor.spot_mm;
    });
}

} // namespace

std::vector<MarkerMisread> marker_misreads(const Scene& scene, const std::vector<std::string>& markers, const Run& run,
                                           std::size_t until) {
    std::vector<MarkerMisread> list;
    for (std::size_t number = 0; number < markers.size(); ++number) {
        const auto bit = static_cast<std::uint16_t>(1U << number);
        std::size_t open = list.size(); // of this marker, the last one
        for (std::size_t i = 0; i <= until && i < run.looks.size(); ++i) {
            if ((run.looks[i].markers & bit) == 0) {
                continue;
            }
            constexpr double rounding_mm = 4.0; // a round plate of a drawing is a box of equal moments here
            if (nearest_plate(scene, run.looks[i], markers[number], true).mm <= rounding_mm) {
                continue;
            }
            if (open < list.size() && list[open].last + 1 == i) {
                list[open].last = i;
                continue;
            }
            const NearPlate other = nearest_plate(scene, run.looks[i], markers[number], false);
            if (other.mm <= 0.0 || at_edge_of_line(scene, run.looks[i])) {
                open = list.size();
                list.push_back(
                    {number, other.mm <= 0.0 ? std::optional<std::size_t>(other.plate) : std::nullopt, i, i});
            }
        }
    }
    std::stable_sort(list.begin(), list.end(),
                     [](const MarkerMisread& a, const MarkerMisread& b) { return a.first < b.first; });
    return list;
}

} // namespace vast_turn
