#include "sim/eyes.hpp"

#include <algorithm>

#include "vast_turn/base/noise.hpp"
#include "vast_turn/sense/line_position.hpp"

namespace vast_turn {

Eyes::Eyes(const Scene& scene, const Calibration& calibration, std::uint64_t seed)
    : scene_(scene), reader_(calibration), seed_(seed), weights_(position_weights(scene.robot())) {
    const std::vector<LineSensor>& sensors = scene.robot().sensors;
    noisy_ = std::any_of(sensors.begin(), sensors.end(), [](const LineSensor& s) { return s.noise > 0.0; });
    for (const LineSensor& sensor : sensors) {
        left_mm_.push_back(sensor.at_mm.y);
    }
}

void Eyes::raw_counts(const Body& body, std::uint64_t look_number, double* counts) const {
    const std::vector<LineSensor>& sensors = scene_.robot().sensors;
    std::array<std::uint32_t, 4> bits{};
    for (std::size_t i = 0; i < sensors.size(); ++i) {
        const LineSensor& sensor = sensors[i];
        double value = sensor.adc_max * scene_.seen_by(i).at(from_robot(body.at, body.ahead, sensor.at_mm));
        if (noisy_) {
            if (i % 4 == 0) {
                bits = random_bits(seed_, Stream::line_sensors, look_number, static_cast<std::uint32_t>(i / 4));
            }
            value += sensor.noise * normal_from(bits[i % 4]);
        }
        const double kept = std::clamp(value, 0.0, static_cast<double>(sensor.adc_max));
        counts[i] = static_cast<double>(static_cast<int>(kept + 0.5));
    }
}

void Eyes::look(const Body& body, std::uint64_t look_number, Look& out, LookRecord& record) {
    raw_counts(body, look_number, out.raw);
    const Pattern pattern = reader_.read(out.raw, out.sensor);
    out.sensors = static_cast<std::uint8_t>(pattern.count);
    out.line_bits = pattern.bits;
    out.offset = weighted_position(out.sensor, weights_.data(), pattern.count, out.offset);
    out.last_side = side_of_line(pattern.bits, left_mm_.data(), pattern.count, out.last_side);
    record.line_bits = pattern.bits;
    for (std::size_t i = 0; i < static_cast<std::size_t>(pattern.count); ++i) {
        record.raw[i] = static_cast<std::uint16_t>(out.raw[i]);
    }
}

} // namespace vast_turn
