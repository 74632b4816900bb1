#include "sim/surroundings.hpp"

#include <algorithm>
#include <cmath>
#include <iterator>
#include <limits>

#include "vast_turn/base/noise.hpp"

namespace vast_turn {

namespace {

constexpr double all_but_s = 1e-9;
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

double squared(double x) { return x * x; }

/// Neither too large nor too small, neither scrubbing nor sliding, and counted as finely as can be told.
bool has_true_wheels(const Robot& robot) {
    const auto is_one = [](double part) { return !(part < 1.0) && !(part > 1.0); };
    return !robot.drive && !(robot.encoder_counts > 0.0) && is_one(robot.motors.left.wheel) &&
           is_one(robot.motors.right.wheel) && is_one(robot.skid);
}

double apart(const std::array<double, 3>& light, Rgb colour) {
    return squared(255.0 * light[0] - colour.r) + squared(255.0 * light[1] - colour.g) +
           squared(255.0 * light[2] - colour.b);
}

} // namespace

Surroundings::Surroundings(const Scene& scene, const RunOptions& options, const AskedNames& names,
                           const ThingsThere& things, const Pose& start, const CourseDay& day)
    : scene_(scene), options_(options), things_(things), heard_names_(names.heard),
      start_heading_deg_(start.heading_deg), plates_faded_(day.plates_faded),
      degrees_per_mm_(360.0 / (pi * scene.robot().wheel_mm)), counts_true_(has_true_wheels(scene.robot())) {
    const std::vector<ColourSensor>& sensors = scene.robot().colour_sensors;
    held_colours_.resize(sensors.size());
    for (const std::string& place : names.places) {
        const auto at =
            std::find_if(sensors.begin(), sensors.end(), [&](const ColourSensor& s) { return s.name == place; });
        sensor_of_.push_back(static_cast<std::size_t>(at - sensors.begin()));
    }
    const std::vector<std::string>& marker_names = names.markers;
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

/// The nearest that sends an echo to a thin ray.
double Surroundings::echo(Vec2 from, Vec2 along, double t_s) const {
    const RangeSensor& sensor = *scene_.robot().range_sensor;
    const double least = sensor.slant_deg < 90.0 ? std::cos(to_radians(sensor.slant_deg)) : 0.0;
    double nearest = sensor.max_mm;
    const std::vector<Thing>& things = scene_.course().things;
    for (std::size_t i = 0; i < things.size(); ++i) {
        if (things_.is_there(i, t_s)) {
            nearest = std::min(nearest, way_to_box(from, along, things[i], least));
        }
    }
    for (const Wall& wall : scene_.course().walls) {
        nearest = std::min(nearest, way_to_segment(from, along, wall.from, wall.to, least));
    }
    return nearest;
}

double Surroundings::range(const Body& body, double t_s, std::uint64_t number) const {
    const RangeSensor& sensor = *scene_.robot().range_sensor;
    const Vec2 from = from_robot(body.at, body.ahead, sensor.at_mm);
    constexpr int rays = 9; // over a beam
    double nearest = sensor.max_mm;
    for (int i = 0; i < (sensor.beam_deg > 0.0 ? rays : 1); ++i) {
        const double aside =
            sensor.beam_deg > 0.0 ? sensor.beam_deg * (static_cast<double>(i) / (rays - 1) - 0.5) : 0.0;
        const double angle = to_radians(sensor.heading_deg + aside);
        const Vec2 along = from_robot({}, body.ahead, {std::cos(angle), std::sin(angle)});
        nearest = std::min(nearest, echo(from, along, t_s));
    }
    if (sensor.noise_mm > 0.0 && nearest < sensor.max_mm) {
        nearest +=
            sensor.noise_mm * NormalQuantile::table()(random_draw(options_.seed, Stream::range_sensor, number)[0]);
    }
    if (sensor.step_mm > 0.0) {
        nearest = sensor.step_mm * std::round(nearest / sensor.step_mm);
    }
    return std::clamp(nearest, sensor.min_mm, sensor.max_mm);
}

/// Of each channel by itself, as a part of full white.
void Surroundings::add_noise(std::size_t sensor, std::uint64_t number, std::array<double, 3>& light) const {
    const ColourSensor& which = scene_.robot().colour_sensors[sensor];
    constexpr std::uint64_t most_sensors = 64; // draws of a look
    const NormalQuantile& normal = NormalQuantile::table();
    const Draw draw = random_draw(options_.seed, Stream::colour_sensor, number * most_sensors + sensor);
    for (std::size_t channel = 0; channel < light.size(); ++channel) {
        light[channel] = std::clamp(light[channel] + which.noise / which.adc_max * normal(draw[channel]), 0.0, 1.0);
    }
}

/// The bit of the colour that a colour sensor sees; none away from all plates.
std::uint16_t Surroundings::colour_under(std::size_t which, const Body& body, std::uint64_t number) const {
    const ColourSensor& sensor = scene_.robot().colour_sensors[which];
    const Vec2 p = from_robot(body.at, body.ahead, sensor.at_mm);
    const bool near =
        std::any_of(scene_.course().markers.begin(), scene_.course().markers.end(), [&](const Marker& marker) {
            const double reach = 0.5 * (std::hypot(marker.length_mm, marker.across_mm) + sensor.spot_mm);
            return dot(p - marker.at, p - marker.at) < reach * reach;
        });
    if (!near) {
        return 0;
    }
    std::array<double, 3> light = light_under(scene_.course().surface, p, sensor.spot_mm);
    const Rgb floor = scene_.course().floor;
    const std::array<double, 3> bare = {floor.r / 255.0, floor.g / 255.0, floor.b / 255.0};
    for (std::size_t channel = 0; channel < light.size(); ++channel) {
        light[channel] += plates_faded_ * (bare[channel] - light[channel]);
        light[channel] *= sensor.white[channel];
    }
    if (sensor.noise > 0.0) {
        add_noise(which, number, light);
    }
    const auto best = std::min_element(colours_.begin(), colours_.end(), [&](const Known& a, const Known& b) {
        return apart(light, a.rgb) < apart(light, b.rgb);
    });
    return best->bit;
}

void Surroundings::markers(const Body& body, double t_s, std::uint64_t number, Look& out) {
    out.markers = 0;
    std::fill(std::begin(out.markers_at), std::end(out.markers_at), std::uint16_t{0});
    const std::vector<ColourSensor>& sensors = scene_.robot().colour_sensors;
    for (std::size_t i = 0; i < sensors.size(); ++i) {
        Held<std::uint16_t>& held = held_colours_[i];
        if (t_s + all_but_s >= held.until_s) {
            held = {t_s + sensors[i].rate_ms / 1000.0, colour_under(i, body, number)};
        }
        out.markers = static_cast<std::uint16_t>(out.markers | held.value);
        for (std::size_t place = 0; place < sensor_of_.size(); ++place) {
            if (sensor_of_[place] == i) {
                out.markers_at[place] = held.value;
            }
        }
    }
}

/// A name is heard in the first look at or after its time.
std::uint16_t Surroundings::heard(double t_s) const {
    const double look_s = scene_.robot().look_ms / 1000.0;
    unsigned bits = 0;
    for (const Heard& heard : options_.hears) {
        const bool now = heard.at_s <= t_s + 1e-9 && heard.at_s > t_s + 1e-9 - look_s;
        const auto at = std::find(heard_names_.begin(), heard_names_.end(), heard.name);
        if (now && at != heard_names_.end()) {
            bits |= 1U << static_cast<unsigned>(at - heard_names_.begin());
        }
    }
    return static_cast<std::uint16_t>(bits);
}

bool Surroundings::button(double t_s) const {
    return std::any_of(options_.button_s.begin(), options_.button_s.end(),
                       [t_s](const std::pair<double, double>& held) { return t_s >= held.first && t_s < held.second; });
}

/// They count turns of wheels, and know nothing of their size, nor that they scrub or slide.
void Surroundings::encoders(const Body& body, Look& out) const {
    const Robot& robot = scene_.robot();
    if (counts_true_) {
        out.heading_by_wheels_deg = to_degrees(body.turned_rad);
        const double half_turn_mm = 0.5 * robot.track_mm * body.turned_rad;
        out.left_deg = degrees_per_mm_ * (body.way_mm - half_turn_mm);
        out.right_deg = degrees_per_mm_ * (body.way_mm + half_turn_mm);
        out.way_mm = body.way_mm;
        return;
    }
    const double half_turn_mm = 0.5 * robot.skid_track_mm() * body.turned_rad;
    const double left_way_mm = robot.drive ? body.left_counted_mm : body.way_mm - half_turn_mm;
    const double right_way_mm = robot.drive ? body.right_counted_mm : body.way_mm + half_turn_mm;
    const double count_mm = robot.encoder_counts > 0.0 ? 360.0 / (robot.encoder_counts * degrees_per_mm_) : 0.0;
    const auto counted = [count_mm](double mm) { return count_mm > 0.0 ? count_mm * std::floor(mm / count_mm) : mm; };
    const double left_mm = counted(left_way_mm / robot.motors.left.wheel);
    const double right_mm = counted(right_way_mm / robot.motors.right.wheel);
    out.heading_by_wheels_deg = to_degrees((right_mm - left_mm) / robot.track_mm);
    out.left_deg = degrees_per_mm_ * left_mm;
    out.right_deg = degrees_per_mm_ * right_mm;
    out.way_mm = 0.5 * (left_mm + right_mm);
}

/// Each source tells what it can know of the turn; one that the robot lacks tells nothing.
void Surroundings::turns(const Body& body, double t_s, std::uint64_t number, Look& out) const {
    const Robot& robot = scene_.robot();
    const double turned_deg = to_degrees(body.turned_rad);
    if (robot.has_encoders) {
        encoders(body, out);
    }
    if (robot.has_gyro) {
        out.heading_by_gyro_deg = robot.gyro_scale * turned_deg + robot.gyro_drift_deg_s * t_s;
    }
    if (robot.has_compass) {
        out.heading_by_compass_deg = start_heading_deg_ + turned_deg + robot.compass_bias_deg;
        if (robot.compass_noise_deg > 0.0) {
            const Draw draw = random_draw(options_.seed, Stream::compass, number);
            out.heading_by_compass_deg += robot.compass_noise_deg * NormalQuantile::table()(draw[0]);
        }
    }
    out.heading_deg = robot.has_gyro      ? out.heading_by_gyro_deg
                      : robot.has_compass ? out.heading_by_compass_deg
                                          : out.heading_by_wheels_deg;
}

void Surroundings::look(const Body& body, double t_s, std::uint64_t number, Look& out) {
    turns(body, t_s, number, out);
    if (scene_.robot().range_sensor) {
        if (t_s + all_but_s >= held_range_.until_s) {
            held_range_ = {t_s + scene_.robot().range_sensor->rate_ms / 1000.0, range(body, t_s, number)};
        }
        out.range_mm = held_range_.value;
    }
    if (!scene_.robot().colour_sensors.empty()) {
        markers(body, t_s, number, out);
    }
    out.button = button(t_s);
    if (!heard_names_.empty()) {
        out.heard = heard(t_s);
    }
}

} // namespace vast_turn
