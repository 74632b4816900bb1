#include "vast_turn/robot/array.hpp"

namespace vast_turn {

namespace {

double powered(double light, double curve) { return curve < 1.0 || curve > 1.0 ? std::pow(light, curve) : light; }

} // namespace

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

ArrayReader array_reader(const Robot& robot, const Calibration& calibration, runtime::NumberKind numbers) {
    return ArrayReader(array_facts(robot).left_mm, calibration, numbers);
}

ArrayReader array_reader(const Robot& robot) {
    return array_reader(robot, calibration_of_readings(static_cast<int>(robot.sensors.size())));
}

Calibration ideal_calibration(const Robot& robot, const std::vector<double>& floor, const std::vector<double>& line) {
    Calibration calibration;
    for (std::size_t i = 0; i < robot.sensors.size(); ++i) {
        const LineSensor& sensor = robot.sensors[i];
        const Channel channel{i, sensor.adc_max * powered(sensor.gain, sensor.curve), 0.0, 0.0, 0.0, sensor.curve};
        SensorLevels levels;
        levels.floor_counts = channel.counts(floor[i]);
        levels.line_counts = channel.counts(line[i]);
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
        Channel channel{source, most * powered(sensor.gain, sensor.curve), 0.0,
                        most,   sensor.noise * most / sensor.adc_max,      sensor.curve};
        if (fault.kind == SensorFaultKind::dim) {
            channel.scale *= powered(fault.value, sensor.curve);
        } else if (fault.kind != SensorFaultKind::none) {
            channel.scale = channel.noise = 0.0;
            channel.always = fault.kind == SensorFaultKind::stuck ? fault.value * most : 0.0;
        }
        channels.push_back(channel);
    }
    return channels;
}

} // namespace vast_turn
