#include "vast_turn/sense/array_reader.hpp"

#include <algorithm>

namespace vast_turn {

namespace {

Calibration half_way(int sensors) {
    return Calibration{std::vector<SensorLevels>(static_cast<std::size_t>(sensors), SensorLevels{0.0, 1.0, 0.5, 0.0})};
}

} // namespace

ArrayReader::ArrayReader(const Robot& robot, const Calibration& calibration)
    : reader_(calibration), weights_(position_weights(robot)) {
    note_sides(array_facts(robot).left_mm);
}

ArrayReader::ArrayReader(const Robot& robot) : ArrayReader(robot, half_way(static_cast<int>(robot.sensors.size()))) {}

ArrayReader::ArrayReader(int sensors) : reader_(half_way(sensors)), weights_(even_weights(sensors)) {
    note_sides(weights_);
}

void ArrayReader::note_sides(const std::vector<double>& left_mm) {
    const int count = static_cast<int>(left_mm.size());
    for (int bits = 0; bits < pattern_count(count); ++bits) {
        side_.push_back(side_of_line(static_cast<std::uint8_t>(bits), left_mm.data(), count, 0.0));
    }
}

void ArrayReader::from_readings(Look& look) {
    for (int i = 0; i < sensors(); ++i) {
        look.sensor[i] = std::clamp(look.sensor[i], 0.0, 1.0);
    }
    finish(look, reader_.bits_of(look.sensor));
}

void ArrayReader::from_pattern(Look& look, Pattern pattern) {
    for (int i = 0; i < pattern.count; ++i) {
        look.sensor[i] = (pattern.bits >> i) & 1;
    }
    finish(look, pattern);
}

} // namespace vast_turn
