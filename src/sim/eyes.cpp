#include "sim/eyes.hpp"

#include <algorithm>
#include <array>
#include <tuple>

#include "vast_turn/base/noise.hpp"
#include "vast_turn/robot/array.hpp"

namespace vast_turn {

Eyes::Eyes(const Scene& scene, const Calibration& calibration, std::uint64_t seed, const Faults& faults)
    : reader_(array_reader(scene.robot(), calibration)), seed_(seed) {
    const std::vector<LineSensor>& sensors = scene.robot().sensors;
    noisy_ = std::any_of(sensors.begin(), sensors.end(), [](const LineSensor& s) { return s.noise > 0.0; });
    for (const Channel& channel : channels_of(scene.robot(), faults)) {
        eyes_.push_back({sensors[channel.source].at_mm, channel, &scene.seen_by(channel.source)});
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

void Eyes::raw_counts(const Body& body, std::uint64_t look_number, double* counts) const {
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
        const double value = eye->channel.always + eye->channel.scale * SpotMap::value(spots[i]) + noise_counts[i];
        const double above = value > 0.0 ? value : 0.0;
        counts[i] = static_cast<int>((above < eye->channel.most ? above : eye->channel.most) + 0.5);
    }
}

void Eyes::look(const Body& body, std::uint64_t look_number, Look& out, LookRecord& record) {
    raw_counts(body, look_number, out.raw);
    reader_.from_counts(out);
    record.line_bits = out.line_bits;
    for (std::size_t i = 0; i < eyes_.size(); ++i) {
        record.raw[i] = static_cast<std::uint16_t>(out.raw[i]);
    }
}

} // namespace vast_turn
