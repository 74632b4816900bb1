#include "sim/surroundings.hpp"

#include <algorithm>
#include <cmath>
#include <limits>

namespace vast_turn {

namespace {

constexpr double nowhere = std::numeric_limits<double>::infinity();

/// Way along a ray to a segment; infinite when it misses. `along` is a unit vector.
double way_to_segment(Vec2 from, Vec2 along, Vec2 a, Vec2 b) {
    const Vec2 ab = b - a;
    const double turned = cross(along, ab);
    if (!(std::abs(turned) > 1e-12)) { // along the wall: its ends are hit by no thin ray
        return nowhere;
    }
    const double way = cross(a - from, ab) / turned;
    const double part = cross(a - from, along) / turned;
    return way >= 0.0 && part >= 0.0 && part <= 1.0 ? way : nowhere;
}

/// Way along a ray to a box with sides parallel to the board; 0 from within.
double way_to_box(Vec2 from, Vec2 along, const Thing& thing) {
    const Vec2 half = 0.5 * thing.size_mm;
    const Vec2 off = from - thing.at;
    if (std::abs(off.x) <= half.x && std::abs(off.y) <= half.y) {
        return 0.0;
    }
    const Vec2 a = thing.at - half;
    const Vec2 c = thing.at + half;
    const Vec2 b{c.x, a.y};
    const Vec2 d{a.x, c.y};
    return std::min({way_to_segment(from, along, a, b), way_to_segment(from, along, b, c),
                     way_to_segment(from, along, c, d), way_to_segment(from, along, d, a)});
}

double squared(double x) { return x * x; }

double apart(const std::array<double, 3>& light, Rgb colour) {
    return squared(255.0 * light[0] - colour.r) + squared(255.0 * light[1] - colour.g) +
           squared(255.0 * light[2] - colour.b);
}

} // namespace

Surroundings::Surroundings(const Scene& scene, const RunOptions& options, const std::vector<std::string>& marker_names)
    : scene_(scene), options_(options), degrees_per_mm_(360.0 / (pi * scene.robot().wheel_mm)) {
    const Course& course = scene.course();
    colours_.push_back({course.floor, 0});
    colours_.push_back({course.line, 0});
    unsigned next = 0;
    for (const auto& [name, rgb] : course.palette) {
        unsigned number = next++;
        if (!marker_names.empty()) {
            const auto at = std::find(marker_names.begin(), marker_names.end(), name);
            number = static_cast<unsigned>(at - marker_names.begin());
            number = at == marker_names.end() ? 16 : number;
        }
        colours_.push_back({rgb, static_cast<std::uint16_t>(number < 16 ? 1U << number : 0U)});
    }
}

double Surroundings::range(const Body& body, double t_s) const {
    const RangeSensor& sensor = *scene_.robot().range_sensor;
    const Vec2 from = from_robot(body.at, body.ahead, sensor.at_mm);
    const double angle = to_radians(sensor.heading_deg);
    const Vec2 along = from_robot({}, body.ahead, {std::cos(angle), std::sin(angle)});
    double nearest = sensor.max_mm;
    for (const Thing& thing : scene_.course().things) {
        if (is_there(thing, t_s)) {
            nearest = std::min(nearest, way_to_box(from, along, thing));
        }
    }
    for (const Wall& wall : scene_.course().walls) {
        nearest = std::min(nearest, way_to_segment(from, along, wall.from, wall.to));
    }
    return nearest;
}

std::uint16_t Surroundings::markers(const Body& body) const {
    unsigned in_view = 0;
    for (const ColourSensor& sensor : scene_.robot().colour_sensors) {
        const Vec2 p = from_robot(body.at, body.ahead, sensor.at_mm);
        const bool near =
            std::any_of(scene_.course().markers.begin(), scene_.course().markers.end(), [&](const Marker& marker) {
                const double reach = 0.5 * (std::hypot(marker.length_mm, marker.across_mm) + sensor.spot_mm);
                return dot(p - marker.at, p - marker.at) < reach * reach;
            });
        if (near) {
            const std::array<double, 3> light = light_under(scene_.course().surface, p, sensor.spot_mm);
            const auto best = std::min_element(colours_.begin(), colours_.end(), [&](const Known& a, const Known& b) {
                return apart(light, a.rgb) < apart(light, b.rgb);
            });
            in_view |= best->bit;
        }
    }
    return static_cast<std::uint16_t>(in_view);
}

bool Surroundings::button(double t_s) const {
    return std::any_of(options_.button_s.begin(), options_.button_s.end(),
                       [t_s](const std::pair<double, double>& held) { return t_s >= held.first && t_s < held.second; });
}

void Surroundings::look(const Body& body, double t_s, Look& out) const {
    out.heading_deg = to_degrees(body.turned_rad);
    const double half_turn_mm = 0.5 * scene_.robot().track_mm * body.turned_rad;
    out.left_deg = degrees_per_mm_ * (body.way_mm - half_turn_mm);
    out.right_deg = degrees_per_mm_ * (body.way_mm + half_turn_mm);
    if (scene_.robot().range_sensor) {
        out.range_mm = range(body, t_s);
    }
    if (!scene_.robot().colour_sensors.empty()) {
        out.markers = markers(body);
    }
    out.button = button(t_s);
}

} // namespace vast_turn
