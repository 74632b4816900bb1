#include "vast_turn/robot/array.hpp"

namespace vast_turn {

ArrayFacts array_facts(const Robot& robot) {
    ArrayFacts facts;
    for (const LineSensor& sensor : robot.sensors) {
        facts.adc_max.push_back(sensor.adc_max);
        facts.left_mm.push_back(sensor.at_mm.y);
    }
    return facts;
}

Vec2 array_middle(const Robot& robot) {
    Vec2 middle;
    for (const LineSensor& sensor : robot.sensors) {
        middle = middle + (1.0 / static_cast<double>(robot.sensors.size())) * sensor.at_mm;
    }
    return middle;
}

std::vector<double> position_weights(const Robot& robot) { return position_weights(array_facts(robot).left_mm); }

ArrayReader array_reader(const Robot& robot, const Calibration& calibration) {
    return ArrayReader(array_facts(robot).left_mm, calibration);
}

ArrayReader array_reader(const Robot& robot) {
    return array_reader(robot, calibration_of_readings(static_cast<int>(robot.sensors.size())));
}

Calibration ideal_calibration(const Robot& robot, const std::vector<double>& floor, const std::vector<double>& line) {
    Calibration calibration;
    for (std::size_t i = 0; i < robot.sensors.size(); ++i) {
        const double full = robot.sensors[i].adc_max * robot.sensors[i].gain;
        SensorLevels levels;
        levels.floor_counts = full * floor[i];
        levels.line_counts = full * line[i];
        calibration.sensors.push_back(levels);
    }
    return calibration;
}

std::vector<Channel> channels_of(const Robot& robot, const Faults& faults) {
    const std::vector<LineSensor>& sensors = robot.sensors;
    std::vector<Channel> channels;
    for (std::size_t number = 0; number < sensors.size(); ++number) {
        const std::size_t source = faults.source(number);
        const LineSensor& sensor = sensors[source];
        const SensorFault fault = faults.sensor(source);
        const double most = sensors[number].adc_max;
        // The noise is that at the converter that the sensor is wired to.
        Channel channel{source, most * sensor.gain, 0.0, most, sensor.noise * most / sensor.adc_max};
        if (fault.kind == SensorFaultKind::dim) {
            channel.scale *= fault.value;
        } else if (fault.kind != SensorFaultKind::none) {
            channel.scale = channel.noise = 0.0;
            channel.always = fault.kind == SensorFaultKind::stuck ? fault.value * most : 0.0;
        }
        channels.push_back(channel);
    }
    return channels;
}

} // namespace vast_turn
