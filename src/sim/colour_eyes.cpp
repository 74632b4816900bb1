#include "sim/colour_eyes.hpp"

#include <algorithm>
#include <cmath>

#include "sim/lately.hpp"
#include "vast_turn/base/noise.hpp"

namespace vast_turn {

namespace {

double squared(double x) { return x * x; }

double apart(const std::array<double, 3>& light, Rgb colour) {
    return squared(255.0 * light[0] - colour.r) + squared(255.0 * light[1] - colour.g) +
           squared(255.0 * light[2] - colour.b);
}

} // namespace

ColourEyes::ColourEyes(const Scene& scene, const AskedNames& names, std::uint64_t seed, const CourseDay& day)
    : scene_(scene), seed_(seed), plates_faded_(day.plates_faded) {
    const std::vector<ColourSensor>& sensors = scene.robot().colour_sensors;
    held_.resize(sensors.size());
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
    for (std::size_t k = 0; day.plates_off_mm > 0.0 && k < course.markers.size(); ++k) {
        const Draw draw = random_draw(seed, Stream::plates_place, k);
        const NormalQuantile& normal = NormalQuantile::table();
        plates_off_.push_back(day.plates_off_mm * Vec2{normal(draw[0]), normal(draw[1])});
    }
}

/// Of each channel by itself, as a part of full white.
void ColourEyes::add_noise(std::size_t sensor, std::uint64_t number, std::array<double, 3>& light) const {
    const ColourSensor& which = scene_.robot().colour_sensors[sensor];
    constexpr std::uint64_t most_sensors = 64; // draws of a look
    const NormalQuantile& normal = NormalQuantile::table();
    const Draw draw = random_draw(seed_, Stream::colour_sensor, number * most_sensors + sensor);
    for (std::size_t channel = 0; channel < light.size(); ++channel) {
        light[channel] = std::clamp(light[channel] + which.noise / which.adc_max * normal(draw[channel]), 0.0, 1.0);
    }
}

/// What is there, a plate that was put down elsewhere with it.
std::array<double, 3> ColourEyes::light_at(const ColourSensor& sensor, Vec2 p) const {
    if (!plates_off_.empty()) {
        const std::vector<Marker>& plates = scene_.course().markers;
        std::size_t nearest = 0;
        double least = HUGE_VAL;
        for (std::size_t k = 0; k < plates.size(); ++k) {
            const double mm = distance_to(plates[k], p - plates_off_[k]);
            if (mm < least) {
                least = mm;
                nearest = k;
            }
        }
        p = p - plates_off_[nearest];
    }
    return light_under(scene_.course().surface, p, sensor.spot_mm);
}

/// The bit of the colour that a colour sensor sees; none away from all plates.
std::uint16_t ColourEyes::colour_under(std::size_t which, const Body& body, std::uint64_t number) const {
    const ColourSensor& sensor = scene_.robot().colour_sensors[which];
    const Lately lately(body, scene_.robot().skid_track_mm());
    const Vec2 p = from_robot(body.at, body.ahead, sensor.at_mm);
    const double exposure_s = sensor.exposure_ms / 1000.0;
    const double came_mm = exposure_s > 0.0 ? length(p - lately.place(sensor.at_mm, exposure_s)) : 0.0;
    std::size_t plate = 0;
    const std::vector<Marker>& plates = scene_.course().markers;
    const bool near = std::any_of(plates.begin(), plates.end(), [&](const Marker& marker) {
        const Vec2 off = plates_off_.empty() ? Vec2{} : plates_off_[plate++];
        const double reach = 0.5 * (std::hypot(marker.length_mm, marker.across_mm) + sensor.spot_mm) + came_mm;
        const Vec2 away = p - marker.at - off;
        return dot(away, away) < reach * reach;
    });
    if (!near) {
        return 0;
    }
    std::array<double, 3> light{};
    if (!(exposure_s > 0.0)) {
        light = light_at(sensor, p);
    } else {
        // Gauss-Legendre quadrature with three points (Abramowitz and Stegun, 1964, 25.4.29).
        constexpr std::array<std::array<double, 2>, 3> points = {
            {{0.112701665379, 5.0 / 18.0}, {0.5, 4.0 / 9.0}, {0.887298334621, 5.0 / 18.0}}};
        for (const auto& [at, weight] : points) {
            const std::array<double, 3> there = light_at(sensor, lately.place(sensor.at_mm, at * exposure_s));
            for (std::size_t channel = 0; channel < light.size(); ++channel) {
                light[channel] += weight * there[channel];
            }
        }
    }
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

void ColourEyes::look(const Body& body, double t_s, std::uint64_t number, Look& out) {
    out.markers = 0;
    std::fill(std::begin(out.markers_at), std::end(out.markers_at), std::uint16_t{0});
    const std::vector<ColourSensor>& sensors = scene_.robot().colour_sensors;
    for (std::size_t i = 0; i < sensors.size(); ++i) {
        if (held_[i].is_over(t_s, sensors[i].rate_ms)) {
            held_[i].value = colour_under(i, body, number);
        }
        out.markers = static_cast<std::uint16_t>(out.markers | held_[i].value);
        for (std::size_t place = 0; place < sensor_of_.size(); ++place) {
            if (sensor_of_[place] == i) {
                out.markers_at[place] = held_[i].value;
            }
        }
    }
}

void ColourEyes::look_anew(const Body& body, double t_s, std::uint64_t number, Look& out) {
    for (std::size_t i = 0; i < held_.size(); ++i) {
        held_[i].value = colour_under(i, body, number);
    }
    look(body, t_s, number, out);
}

} // namespace vast_turn
