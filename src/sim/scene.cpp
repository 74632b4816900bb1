#include "vast_turn/sim/scene.hpp"

#include <algorithm>
#include <cassert>

#include "vast_turn/sense/pattern.hpp"

namespace vast_turn {

namespace {

Calibration calibrate_on(const Course& course, const Robot& robot) {
    Calibration calibration;
    for (const LineSensor& sensor : robot.sensors) {
        SensorLevels levels;
        levels.floor_counts = sensor.adc_max * sensor.gain * reflectance(course.floor, sensor.light);
        levels.line_counts = sensor.adc_max * sensor.gain * reflectance(course.line, sensor.light);
        calibration.sensors.push_back(levels);
    }
    return calibration;
}

} // namespace

Scene::Scene(const Course& course, const Robot& robot)
    : course_(&course), robot_(&robot), tape_(course), calibration_(calibrate_on(course, robot)) {
    assert(!robot.sensors.empty() && robot.sensors.size() <= static_cast<std::size_t>(max_sensors));
    assert(course.surface.columns > 0);
    std::map<std::pair<Light, double>, std::shared_ptr<const SpotMap>> made;
    for (const LineSensor& sensor : robot.sensors) {
        std::shared_ptr<const SpotMap>& map = made[{sensor.light, sensor.spot_mm}];
        if (!map) {
            map = std::make_shared<const SpotMap>(course.surface, sensor.light, sensor.spot_mm);
        }
        maps_.push_back(map);
    }
    double widest_tape = 0.0;
    for (const Tape& tape : course.tapes) {
        widest_tape = std::max(widest_tape, tape.width_mm);
    }
    for (const LineSensor& sensor : robot.sensors) {
        middle_ = middle_ + (1.0 / static_cast<double>(robot.sensors.size())) * sensor.at_mm;
    }
    double outermost = 0.0;
    for (const LineSensor& sensor : robot.sensors) {
        outermost = std::max(outermost, length(sensor.at_mm - middle_) + 0.5 * sensor.spot_mm);
    }
    reach_mm_ = outermost + 0.5 * widest_tape;
}

const RouteGraph& Scene::graph() const {
    std::call_once(graph_->once, [this] { graph_->graph = find_route_graph(*course_); });
    return graph_->graph;
}

} // namespace vast_turn
