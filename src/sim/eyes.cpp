#include "sim/eyes.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <tuple>

#include "vast_turn/base/noise.hpp"
#include "vast_turn/robot/array.hpp"

namespace vast_turn {

Eyes::Eyes(const Scene& scene, const Calibration& calibration, std::uint64_t seed, const Faults& faults,
           const CourseDay& day)
    : reader_(array_reader(scene.robot(), calibration)), seed_(seed), track_mm_(scene.robot().skid_track_mm()),
      faded_(day.line_faded), lights_(scene.course().lights) {
    const std::vector<LineSensor>& sensors = scene.robot().sensors;
    noisy_ = std::any_of(sensors.begin(), sensors.end(), [](const LineSensor& s) { return s.noise > 0.0; });
    for (const Channel& channel : channels_of(scene.robot(), faults)) {
        const LineSensor& sensor = sensors[channel.source];
        Eye eye{sensor.at_mm,       channel, &scene.seen_by(channel.source), 0.0, sensor.response_ms / 1000.0, 0.0,
                sensor.drift / 60.0};
        eye.before_s = scene.robot().apart_ms / 1000.0 * static_cast<double>(sensors.size() - 1 - eyes_.size());
        eye.outside = lights_.empty() ? 0.0 : sensor.outside;
        eye.bare = reflectance(scene.course().floor, sensor.light);
        perfect_ = perfect_ && !(faded_ > 0.0) &&
                   !(eye.before_s + eye.response_s + eye.outside + std::abs(eye.drift_a_s) > 0.0);
        eyes_.push_back(eye);
    }
    for (std::size_t i = 0; i < lights_.size(); ++i) {
        lights_[i].phase += static_cast<double>(random_draw(seed, Stream::outside_light, i)[0]) / 65536.0;
    }
}

void Eyes::noise(std::uint64_t look_number, double* counts) const {
    static_assert(std::tuple_size_v<Draw> >= max_sensors);
    const NormalQuantile& normal = NormalQuantile::table();
    const Draw draw = random_draw(seed_, Stream::line_sensors, look_number);
    for (std::size_t i = 0; i < eyes_.size(); ++i) {
        counts[i] = eyes_[i].channel.noise * normal(draw[i]);
    }
}

/// Where a sensor was some time before now, if the robot's speed and turning of now held meanwhile.
Vec2 Eyes::place_before(const Eye& eye, const Body& body, double before_s) const {
    const double angle = -before_s * (body.right_mm_s - body.left_mm_s) / track_mm_;
    const double way = before_s * 0.5 * (body.left_mm_s + body.right_mm_s);
    const auto faced = [&body](double by) {
        const auto [sine, cosine] = sine_and_cosine(by);
        return turned(body.ahead, sine, cosine);
    };
    return from_robot(body.at - way * faced(0.5 * angle), faced(angle), eye.at_mm);
}

/// What comes back from the floor there of a light of 1.
double Eyes::shade(const Eye& eye, Vec2 p) const {
    const double value = SpotMap::value(eye.surface->locate(p));
    return value + faded_ * (eye.bare - value);
}

void Eyes::imperfect_counts(const Body& body, double t_s, std::uint64_t look_number, double* counts) const {
    // What a first-order lag has of the light is the mean of the past, weighted by exp(-s / lag): Gauss-Laguerre
    // quadrature with three points (Abramowitz and Stegun, "Handbook of Mathematical Functions", 1964, 25.4.45).
    struct PastPoint {
        double at;
        double weight;
    };
    constexpr std::array<PastPoint, 3> past = {
        {{0.415774556783, 0.711093009929}, {2.294280360279, 0.278517733569}, {6.289945082937, 0.010389256502}}};
    std::array<double, max_sensors> noise_counts{};
    if (noisy_) {
        noise(look_number, noise_counts.data());
    }
    for (std::size_t i = 0; i < eyes_.size(); ++i) {
        const Eye& eye = eyes_[i];
        const double lag_s = eye.response_s;
        double seen = 0.0;
        for (std::size_t k = 0; k < (lag_s > 0.0 ? past.size() : 1); ++k) {
            const double weight = lag_s > 0.0 ? past[k].weight : 1.0;
            seen += weight * shade(eye, place_before(eye, body, eye.before_s + past[k].at * lag_s));
        }
        if (eye.outside > 0.0) { // it changes less from place to place than the floor does: once, at the lag's mean
            const double mean_s = eye.before_s + lag_s;
            seen *= 1.0 + eye.outside * light_at(lights_, place_before(eye, body, mean_s), t_s - mean_s);
        }
        seen *= std::max(0.0, 1.0 + eye.drift_a_s * t_s);
        counts[i] = std::round(std::clamp(eye.channel.counts(seen) + noise_counts[i], 0.0, eye.channel.most));
    }
}

void Eyes::raw_counts(const Body& body, double t_s, std::uint64_t look_number, double* counts) const {
    if (!perfect_) {
        imperfect_counts(body, t_s, look_number, counts);
        return;
    }
    Spots spots;
    const Vec2 at = body.at;
    const Vec2 ahead = body.ahead;
    const std::size_t n = eyes_.size();
    for (std::size_t i = 0; i < n; ++i) {
        spots[i] = eyes_[i].surface->locate(from_robot(at, ahead, eyes_[i].at_mm));
    }
    count(spots, look_number, counts);
}

void Eyes::held_over(const std::vector<Vec2>& points, std::uint64_t look_number, double* counts) const {
    Spots spots;
    for (std::size_t i = 0; i < eyes_.size(); ++i) {
        spots[i] = eyes_[i].surface->locate(points[eyes_[i].channel.source]);
    }
    count(spots, look_number, counts);
}

void Eyes::count(const Spots& spots, std::uint64_t look_number, double* counts) const {
    std::array<double, max_sensors> noise_counts{};
    if (noisy_) {
        noise(look_number, noise_counts.data());
    }
    const Eye* eye = eyes_.data();
    const std::size_t n = eyes_.size();
    for (std::size_t i = 0; i < n; ++i, ++eye) {
        const double value = eye->channel.counts(SpotMap::value(spots[i])) + noise_counts[i];
        const double above = value > 0.0 ? value : 0.0;
        counts[i] = static_cast<int>((above < eye->channel.most ? above : eye->channel.most) + 0.5);
    }
}

void Eyes::look(const Body& body, double t_s, std::uint64_t look_number, Look& out, LookRecord& record) {
    raw_counts(body, t_s, look_number, out.raw);
    reader_.from_counts(out);
    record.line_bits = out.line_bits;
    for (std::size_t i = 0; i < eyes_.size(); ++i) {
        record.raw[i] = static_cast<std::uint16_t>(out.raw[i]);
    }
}

} // namespace vast_turn
