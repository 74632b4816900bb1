#include "sim/bench_places.hpp"

#include <algorithm>
#include <cmath>
#include <optional>

#include "vast_turn/base/noise.hpp"
#include "vast_turn/base/problem.hpp"

namespace vast_turn {

namespace {

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

Strip found_strip(const Course& course) {
    const std::optional<Strip> strip = longest_strip(course);
    if (!strip) {
        throw InputError(course.file, "the course has no straight tape to hold the array over",
                         "the longest straight must be more than twice as long as the tape is wide");
    }
    return *strip;
}

} // namespace

BenchPlaces::BenchPlaces(const Scene& scene, std::uint64_t seed)
    : scene_(scene), seed_(seed), strip_(found_strip(scene.course())) {}

double BenchPlaces::any() {
    const Draw draw = random_draw(seed_, Stream::bench_hand, hand_++);
    return (static_cast<double>(draw[0]) + static_cast<double>(draw[1]) / 65536.0) / 65536.0;
}

double BenchPlaces::between(double low, double high) { return low + any() * (high - low); }

Vec2 BenchPlaces::on_strip(double spot_mm) {
    const Vec2 along = strip_.along();
    const double slack = std::max(0.0, 0.35 * (strip_.width_mm - spot_mm));
    return strip_.from + any() * (strip_.to - strip_.from) + between(-slack, slack) * Vec2{-along.y, along.x};
}

std::vector<Vec2> BenchPlaces::over_line() {
    std::vector<Vec2> points;
    for (const LineSensor& sensor : scene_.robot().sensors) {
        points.push_back(on_strip(sensor.spot_mm));
    }
    return points;
}

bool BenchPlaces::bare(Vec2 p, double around) const {
    const Course& course = scene_.course();
    const bool on_board =
        p.x > around && p.y > around && p.x < course.width_mm - around && p.y < course.height_mm - around;
    double widest = 0.0;
    for (const Tape& tape : course.tapes) {
        widest = std::max(widest, tape.width_mm);
    }
    return on_board && scene_.tape().distance(p) > 0.5 * widest + around && !near_marker(course, p, around);
}

std::vector<Vec2> BenchPlaces::standing(Vec2 at, Vec2 ahead) const {
    std::vector<Vec2> points;
    for (const LineSensor& sensor : scene_.robot().sensors) {
        points.push_back(from_robot(at, ahead, sensor.at_mm));
    }
    return points;
}

Pose BenchPlaces::free_floor() {
    constexpr int tries = 5000;
    const Course& course = scene_.course();
    for (int i = 0; i < tries; ++i) {
        const Pose pose{{between(0.0, course.width_mm), between(0.0, course.height_mm)}, between(0.0, 360.0)};
        const Vec2 ahead = direction(pose.heading_deg);
        const std::vector<LineSensor>& sensors = scene_.robot().sensors;
        const bool free = std::all_of(sensors.begin(), sensors.end(), [&](const LineSensor& s) {
            return bare(from_robot(pose.at, ahead, s.at_mm), s.spot_mm + 6.0);
        });
        if (free) {
            return pose;
        }
    }
    throw InputError(course.file, "the course has no bare floor large enough for the array",
                     "calibrate on a course with more room");
}

std::vector<Vec2> BenchPlaces::over_floor(const Pose& pose) {
    const double x = between(-2.0, 2.0); // a hand is never quite still
    const Vec2 hand{x, between(-2.0, 2.0)};
    return standing(pose.at + hand, direction(pose.heading_deg));
}

std::vector<const Marker*> BenchPlaces::plates(const std::string& colour) const {
    std::vector<const Marker*> plates;
    for (const Marker& marker : scene_.course().markers) {
        if (marker.colour == colour) {
            plates.push_back(&marker);
        }
    }
    return plates;
}

Vec2 BenchPlaces::on_marker(const Marker& marker, double spot_mm) {
    const double along = std::max(0.0, 0.5 * (marker.length_mm - spot_mm) - 1.0);
    const double across = std::max(0.0, 0.5 * (marker.across_mm - spot_mm) - 1.0);
    const Vec2 ahead = direction(marker.heading_deg);
    const double forth = between(-along, along);
    return marker.at + forth * ahead + between(-across, across) * Vec2{-ahead.y, ahead.x};
}

double BenchPlaces::beyond_mm() const {
    double reach = 0.0;
    double spot = 0.0;
    for (const LineSensor& sensor : scene_.robot().sensors) {
        reach = std::max(reach, std::abs(sensor.at_mm.y - scene_.array_middle().y));
        spot = std::max(spot, sensor.spot_mm);
    }
    return reach + 0.5 * strip_.width_mm + spot + 5.0;
}

std::vector<Vec2> BenchPlaces::across(double right_mm) const {
    const Vec2 ahead = strip_.along();
    const Vec2 on_tape = 0.5 * (strip_.from + strip_.to);
    return standing(from_robot(on_tape, ahead, Vec2{0.0, right_mm} - scene_.array_middle()), ahead);
}

} // namespace vast_turn
