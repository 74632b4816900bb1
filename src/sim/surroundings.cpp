#include "sim/surroundings.hpp"

#include <algorithm>
#include <cmath>
#include <iterator>
#include <limits>

#include "vast_turn/base/noise.hpp"

namespace vast_turn {

namespace {

constexpr double nowhere = std::numeric_limits<double>::infinity();

/// Way along a ray to a segment; infinite when it misses. `along` is a unit vector.
/// So does one that it meets too much at a slant: with less than `least` of it along the normal.
double way_to_segment(Vec2 from, Vec2 along, Vec2 a, Vec2 b, double least) {
    const Vec2 ab = b - a;
    const double turned = cross(along, ab);
    if (!(std::abs(turned) > 1e-12)) { // along the wall: its ends are hit by no thin ray
        return nowhere;
    }
    if (least > 0.0 && std::abs(turned) < least * length(ab)) {
        return nowhere;
    }
    const double way = cross(a - from, ab) / turned;
    const double part = cross(a - from, along) / turned;
    return way >= 0.0 && part >= 0.0 && part <= 1.0 ? way : nowhere;
}

/// Way along a ray to a box; 0 from within.
double way_to_box(Vec2 from, Vec2 along, const Thing& thing, double least) {
    const Vec2 half = 0.5 * thing.size_mm;
    const Vec2 off = seen_from(thing, from);
    if (std::abs(off.x) <= half.x && std::abs(off.y) <= half.y) {
        return 0.0;
    }
    const std::vector<Vec2> corners = corners_of(thing);
    double nearest = nowhere;
    for (std::size_t i = 0; i < corners.size(); ++i) {
        nearest = std::min(nearest, way_to_segment(from, along, corners[i], corners[(i + 1) % corners.size()], least));
    }
    return nearest;
}

} // namespace

Surroundings::Surroundings(const RunGround& ground)
    : scene_(ground.scene), options_(ground.options), heard_names_(ground.names.heard),
      turns_(ground.scene, ground.start.pose.heading_deg, ground.options.numbers),
      colours_(ground.scene, ground.names, ground.seed, ground.day) {
    if (const std::optional<RangeSensor>& sensor = scene_.robot().range_sensor) {
        least_head_on_ = sensor->slant_deg < 90.0 ? std::cos(to_radians(sensor->slant_deg)) : 0.0;
        const bool is_beam = sensor->beam_deg > 0.0;
        constexpr int over_a_beam = 9;
        for (int i = 0; i < (is_beam ? over_a_beam : 1); ++i) {
            const double aside = is_beam ? sensor->beam_deg * (static_cast<double>(i) / (over_a_beam - 1) - 0.5) : 0.0;
            const double angle = to_radians(sensor->heading_deg + aside);
            rays_.push_back({std::cos(angle), std::sin(angle)});
        }
    }
}

/// The nearest that sends an echo to a thin ray.
double Surroundings::echo(Vec2 from, Vec2 along, double t_s, const ThingsThere& there) const {
    const RangeSensor& sensor = *scene_.robot().range_sensor;
    double nearest = sensor.max_mm;
    const std::vector<Thing>& things = there.list();
    for (std::size_t i = 0; i < things.size(); ++i) {
        if (there.is_there(i, t_s)) {
            nearest = std::min(nearest, way_to_box(from, along, things[i], least_head_on_));
        }
    }
    for (const Wall& wall : scene_.course().walls) {
        nearest = std::min(nearest, way_to_segment(from, along, wall.from, wall.to, least_head_on_));
    }
    return nearest;
}

double Surroundings::range(const Body& body, double t_s, const Chances& chances, const ThingsThere& things) const {
    const RangeSensor& sensor = *scene_.robot().range_sensor;
    const Vec2 from = from_robot(body.at, body.ahead, sensor.at_mm);
    double nearest = sensor.max_mm;
    for (const Vec2 ray : rays_) {
        nearest = std::min(nearest, echo(from, from_robot({}, body.ahead, ray), t_s, things));
    }
    if (sensor.noise_mm > 0.0 && nearest < sensor.max_mm) {
        nearest += sensor.noise_mm * NormalQuantile::table()(chances.range());
    }
    if (sensor.step_mm > 0.0) {
        nearest = sensor.step_mm * std::round(nearest / sensor.step_mm);
    }
    return std::clamp(nearest, sensor.min_mm, sensor.max_mm);
}

/// A name is heard in the first look at or after its time; in one that is lost nobody listens.
std::uint16_t Surroundings::heard(double t_s) {
    constexpr double all_but_s = 1e-9;
    unsigned bits = 0;
    for (const Heard& heard : options_.hears) {
        const bool now = heard.at_s <= t_s + all_but_s && heard.at_s > listened_s_ + all_but_s;
        const auto at = std::find(heard_names_.begin(), heard_names_.end(), heard.name);
        if (now && at != heard_names_.end()) {
            bits |= 1U << static_cast<unsigned>(at - heard_names_.begin());
        }
    }
    listened_s_ = t_s;
    return static_cast<std::uint16_t>(bits);
}

bool Surroundings::button(double t_s) const {
    return std::any_of(options_.button_s.begin(), options_.button_s.end(),
                       [t_s](const std::pair<double, double>& held) { return t_s >= held.first && t_s < held.second; });
}

void Surroundings::look(const Body& body, double t_s, std::uint64_t number, const Chances& chances,
                        const ThingsThere& things, Look& out) {
    turns_.look(body, t_s, chances, out);
    if (const std::optional<RangeSensor>& sensor = scene_.robot().range_sensor) {
        if (range_.is_over(t_s, sensor->rate_ms)) {
            range_.value = range(body, t_s, chances, things);
        }
        out.range_mm = range_.value;
    }
    if (!scene_.robot().colour_sensors.empty()) {
        colours_.look(body, t_s, number, out);
    }
    out.button = button(t_s);
    if (!heard_names_.empty()) {
        out.heard = heard(t_s);
    }
}

void Surroundings::go_on_from(const Surroundings& other) {
    listened_s_ = other.listened_s_;
    turns_.go_on_from(other.turns_);
    colours_.go_on_from(other.colours_);
    range_ = other.range_;
}

} // namespace vast_turn
