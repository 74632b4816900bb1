#include "vast_turn/sim/bench.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <optional>

#include <fmt/format.h>

#include "sim/eyes.hpp"
#include "vast_turn/base/noise.hpp"
#include "vast_turn/base/problem.hpp"

namespace vast_turn {

namespace {

/// A straight piece of tape.
struct Strip {
    Vec2 from;
    Vec2 to;
    double width_mm = 0.0;

    Vec2 along() const { return (1.0 / length(to - from)) * (to - from); }
};

bool near_marker(const Course& course, Vec2 p, double away) {
    return std::any_of(course.markers.begin(), course.markers.end(), [&](const Marker& m) {
        const double reach = 0.5 * std::hypot(m.length_mm, m.across_mm);
        return length(p - m.at) < reach + away;
    });
}

/// The longest straight piece of tape clear of markers; its ends are drawn in by a tape's width.
std::optional<Strip> longest_strip(const Course& course) {
    std::optional<Strip> best;
    for (const Tape& tape : course.tapes) {
        for (const std::vector<Vec2>& piece : pieces_of(tape)) {
            for (std::size_t i = 1; i < piece.size(); ++i) {
                const Strip whole{piece[i - 1], piece[i], tape.width_mm};
                const double longest = best ? length(best->to - best->from) : 0.0;
                const double free = length(whole.to - whole.from) - 2.0 * tape.width_mm;
                const bool clear = !near_marker(course, whole.from, 0.0) && !near_marker(course, whole.to, 0.0) &&
                                   !near_marker(course, 0.5 * (whole.from + whole.to), 0.0);
                if (free > longest && clear) {
                    best = Strip{whole.from + tape.width_mm * whole.along(), whole.to - tape.width_mm * whole.along(),
                                 tape.width_mm};
                }
            }
        }
    }
    return best;
}

class Bench {
public:
    Bench(const Scene& scene, const BenchOptions& options)
        : scene_(scene), robot_(scene.robot()), course_(scene.course()), options_(options),
          eyes_(scene, scene.own_calibration(), options.seed, options.faults), strip_(found_strip()) {
        for (std::size_t i = 0; i < robot_.sensors.size(); ++i) {
            const std::string& channel = robot_.sensors[i].channel;
            out_.channels.push_back(channel.empty() ? fmt::format("sensor_{}", i + 1) : channel);
        }
    }

    BenchReadings run() {
        const Pose floor = free_floor();
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
    Strip found_strip() const {
        const std::optional<Strip> strip = longest_strip(course_);
        if (!strip) {
            throw InputError(course_.file, "the course has no straight tape to hold the array over",
                             "the longest straight must be more than twice as long as the tape is wide");
        }
        return *strip;
    }

    /// A number in 0..1, the next of the hand's own sequence.
    double any() {
        const Draw draw = random_draw(options_.seed, Stream::bench_hand, hand_++);
        return (static_cast<double>(draw[0]) + static_cast<double>(draw[1]) / 65536.0) / 65536.0;
    }
    double between(double low, double high) { return low + any() * (high - low); }

    Vec2 on_strip(double spot_mm) {
        const Vec2 along = strip_.along();
        const double slack = std::max(0.0, 0.35 * (strip_.width_mm - spot_mm));
        return strip_.from + any() * (strip_.to - strip_.from) + between(-slack, slack) * Vec2{-along.y, along.x};
    }

    static Vec2 in_marker(const Marker& m, double along, double across) {
        const Vec2 ahead = direction(m.heading_deg);
        return m.at + along * ahead + across * Vec2{-ahead.y, ahead.x};
    }

    Vec2 on_marker(const Marker& m, double spot_mm) {
        const double along = std::max(0.0, 0.5 * (m.length_mm - spot_mm) - 1.0);
        const double across = std::max(0.0, 0.5 * (m.across_mm - spot_mm) - 1.0);
        return in_marker(m, between(-along, along), between(-across, across));
    }

    /// Whether a point with this much around it is bare floor.
    bool bare(Vec2 p, double around) const {
        const bool on_board =
            p.x > around && p.y > around && p.x < course_.width_mm - around && p.y < course_.height_mm - around;
        double widest = 0.0;
        for (const Tape& tape : course_.tapes) {
            widest = std::max(widest, tape.width_mm);
        }
        return on_board && scene_.tape().distance(p) > 0.5 * widest + around && !near_marker(course_, p, around);
    }

    Pose free_floor() {
        constexpr int tries = 5000;
        for (int i = 0; i < tries; ++i) {
            const Pose pose{{between(0.0, course_.width_mm), between(0.0, course_.height_mm)}, between(0.0, 360.0)};
            const Vec2 ahead = direction(pose.heading_deg);
            const bool free = std::all_of(robot_.sensors.begin(), robot_.sensors.end(), [&](const LineSensor& s) {
                return bare(from_robot(pose.at, ahead, s.at_mm), s.spot_mm + 6.0);
            });
            if (free) {
                return pose;
            }
        }
        throw InputError(course_.file, "the course has no bare floor large enough for the array",
                         "calibrate on a course with more room");
    }

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
        const Vec2 ahead = direction(pose.heading_deg);
        for (int i = 0; i < options_.looks; ++i) {
            const Vec2 hand{between(-2.0, 2.0), between(-2.0, 2.0)};
            std::vector<Vec2> points;
            for (const LineSensor& sensor : robot_.sensors) {
                points.push_back(from_robot(pose.at + hand, ahead, sensor.at_mm));
            }
            record(under::floor, points, points.front());
        }
    }

    void over_line() {
        for (int i = 0; i < options_.looks; ++i) {
            std::vector<Vec2> points;
            for (const LineSensor& sensor : robot_.sensors) {
                points.push_back(on_strip(sensor.spot_mm));
            }
            record(under::line, points, on_strip(strip_.width_mm)); // a colour sensor's spot wants the very middle
        }
    }

    void over_marker(const std::string& colour) {
        std::vector<const Marker*> markers;
        for (const Marker& marker : course_.markers) {
            if (marker.colour == colour) {
                markers.push_back(&marker);
            }
        }
        for (int i = 0; i < options_.looks && !markers.empty(); ++i) {
            const Marker& marker = *markers[static_cast<std::size_t>(i) % markers.size()];
            std::vector<Vec2> points;
            for (const LineSensor& sensor : robot_.sensors) {
                points.push_back(on_marker(marker, sensor.spot_mm));
            }
            record(colour.c_str(), points, on_marker(marker, 30.0));
        }
    }

    /// From where the tape lies left of the whole array to where it lies right of it.
    void slide() {
        double reach = 0.0;
        double spot = 0.0;
        for (const LineSensor& sensor : robot_.sensors) {
            reach = std::max(reach, std::abs(sensor.at_mm.y - scene_.array_middle().y));
            spot = std::max(spot, sensor.spot_mm);
        }
        const double edge = reach + 0.5 * strip_.width_mm + spot + 5.0;
        const double step = 2.0 * edge / options_.sweep_looks;
        const double waver = between(11.0, 37.0);
        double left = -edge; // of the array's middle, from the tape
        for (int i = 0; i < options_.sweep_looks; ++i) {
            left += step * (1.0 + 0.07 * std::sin(i / waver)); // a hand's pace
            const Vec2 ahead = strip_.along();
            const Vec2 on_tape = 0.5 * (strip_.from + strip_.to);
            const Vec2 at = from_robot(on_tape, ahead, Vec2{0.0, left} - scene_.array_middle());
            std::vector<Vec2> points;
            for (const LineSensor& sensor : robot_.sensors) {
                points.push_back(from_robot(at, ahead, sensor.at_mm));
            }
            record(under::sweep, points, std::nullopt);
        }
    }

    const Scene& scene_;
    const Robot& robot_;
    const Course& course_;
    const BenchOptions& options_;
    Eyes eyes_;
    Strip strip_;
    std::uint64_t hand_ = 0;
    std::uint64_t look_ = 0;
    BenchReadings out_;
};

} // namespace

BenchReadings simulate_bench(const Scene& scene, const BenchOptions& options) { return Bench(scene, options).run(); }

} // namespace vast_turn
