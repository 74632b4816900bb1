#include "vast_turn/sim/bench.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <optional>

#include <fmt/format.h>

#include "sim/bench_places.hpp"
#include "sim/eyes.hpp"
#include "vast_turn/base/noise.hpp"

namespace vast_turn {

namespace {

class Bench {
public:
    Bench(const Scene& scene, const BenchOptions& options)
        : robot_(scene.robot()), course_(scene.course()), options_(options),
          eyes_(scene, scene.own_calibration(), options.seed, options.faults), places_(scene, options.seed) {
        for (std::size_t i = 0; i < robot_.sensors.size(); ++i) {
            const std::string& channel = robot_.sensors[i].channel;
            out_.channels.push_back(channel.empty() ? fmt::format("sensor_{}", i + 1) : channel);
        }
    }

    BenchReadings run() {
        const Pose floor = places_.free_floor();
        over_floor(floor);
        over_line();
        for (const auto& [colour, rgb] : course_.palette) {
            over_marker(colour);
        }
        slide();
        over_line();
        over_floor(floor);
        return std::move(out_);
    }

private:
    void record(const char* what, const std::vector<Vec2>& points, std::optional<Vec2> colour_point) {
        BenchLook look;
        look.under = what;
        eyes_.held_over(points, look_, look.counts.data());
        if (colour_point && !robot_.colour_sensors.empty()) {
            look.colour = colour_counts(*colour_point);
        }
        ++look_;
        out_.looks.push_back(look);
    }

    ColourCounts colour_counts(Vec2 p) const {
        const ColourSensor& sensor = robot_.colour_sensors.front();
        const Draw draw = random_draw(options_.seed, Stream::colour_sensor, look_);
        const std::array<double, 3> light = light_under(course_.surface, p, sensor.spot_mm);
        const std::array<double, 4> shares{light[0] / 3.0, light[1] / 3.0, light[2] / 3.0,
                                           (light[0] + light[1] + light[2]) / 3.0};
        ColourCounts counts{};
        for (std::size_t i = 0; i < counts.size(); ++i) {
            const double value = sensor.adc_max * shares[i] + sensor.noise * NormalQuantile::table()(draw[i]);
            counts[i] = std::round(std::clamp(value, 0.0, static_cast<double>(sensor.adc_max)));
        }
        return counts;
    }

    void over_floor(const Pose& pose) {
        for (int i = 0; i < options_.looks; ++i) {
            const std::vector<Vec2> points = places_.over_floor(pose);
            record(under::floor, points, points.front());
        }
    }

    void over_line() {
        for (int i = 0; i < options_.looks; ++i) {
            const std::vector<Vec2> points = places_.over_line();
            // A colour sensor's spot wants the very middle.
            record(under::line, points, places_.on_strip(places_.strip().width_mm));
        }
    }

    void over_marker(const std::string& colour) {
        const std::vector<const Marker*> markers = places_.plates(colour);
        for (int i = 0; i < options_.looks && !markers.empty(); ++i) {
            const Marker& marker = *markers[static_cast<std::size_t>(i) % markers.size()];
            std::vector<Vec2> points;
            for (const LineSensor& sensor : robot_.sensors) {
                points.push_back(places_.on_marker(marker, sensor.spot_mm));
            }
            record(colour.c_str(), points, places_.on_marker(marker, 30.0));
        }
    }

    /// From where the tape lies left of the whole array to where it lies right of it.
    void slide() {
        const double edge = places_.beyond_mm();
        const double step = 2.0 * edge / options_.sweep_looks;
        const double waver = places_.between(11.0, 37.0);
        double left = -edge; // of the array's middle, from the tape
        for (int i = 0; i < options_.sweep_looks; ++i) {
            left += step * (1.0 + 0.07 * std::sin(i / waver)); // a hand's pace
            record(under::sweep, places_.across(left), std::nullopt);
        }
    }

    const Robot& robot_;
    const Course& course_;
    const BenchOptions& options_;
    Eyes eyes_;
    BenchPlaces places_;
    std::uint64_t look_ = 0;
    BenchReadings out_;
};

} // namespace

BenchReadings simulate_bench(const Scene& scene, const BenchOptions& options) { return Bench(scene, options).run(); }

} // namespace vast_turn
