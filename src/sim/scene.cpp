#include "vast_turn/sim/scene.hpp"

#include <algorithm>
#include <cassert>
#include <cmath>

#include "vast_turn/robot/array.hpp"

namespace vast_turn {

namespace {

Calibration calibrate_on(const Course& course, const Robot& robot) {
    std::vector<double> floor;
    std::vector<double> line;
    for (const LineSensor& sensor : robot.sensors) {
        floor.push_back(reflectance(course.floor, sensor.light));
        line.push_back(reflectance(course.line, sensor.light));
    }
    return ideal_calibration(robot, floor, line);
}

/// The width that half of the tape, by its length, does not exceed.
double usual_width(const Course& course) {
    std::vector<std::pair<double, double>> tapes; // width, length
    double whole = 0.0;
    for (const Tape& tape : course.tapes) {
        tapes.emplace_back(tape.width_mm, length_of(tape));
        whole += tapes.back().second;
    }
    std::sort(tapes.begin(), tapes.end());
    double narrower = 0.0;
    for (const auto& [width, size] : tapes) {
        narrower += size;
        if (narrower >= 0.5 * whole) {
            return width;
        }
    }
    return 0.0;
}

} // namespace

Scene::Scene(const Course& course, const Robot& robot)
    : course_(&course), robot_(&robot), tape_(std::make_shared<const TapeFinder>(course)),
      calibration_(calibrate_on(course, robot)) {
    assert(!robot.sensors.empty() && robot.sensors.size() <= static_cast<std::size_t>(max_sensors));
    assert(course.surface.columns > 0);
    for (const LineSensor& sensor : robot.sensors) {
        maps_.push_back(map_of(sensor.light, sensor.spot_mm));
    }
    middle_ = vast_turn::array_middle(robot);
    usual_width_mm_ = usual_width(course);
    for (const LineSensor& sensor : robot.sensors) {
        outermost_mm_ = std::max(outermost_mm_, length(sensor.at_mm - middle_) + 0.5 * sensor.spot_mm);
    }
}

Scene Scene::driven_by(const Robot& robot) const {
    assert(robot.sensors.size() == robot_->sensors.size());
    Scene other = *this;
    other.robot_ = &robot;
    for (std::size_t k = 0; k < robot.sensors.size(); ++k) {
        const LineSensor& sensor = robot.sensors[k];
        if (std::abs(sensor.spot_mm - robot_->sensors[k].spot_mm) > 0.0) {
            constexpr double grain_mm = 0.25; // so that days share their maps
            other.maps_[k] = map_of(sensor.light, grain_mm * std::max(1.0, std::round(sensor.spot_mm / grain_mm)));
        }
    }
    return other;
}

std::shared_ptr<SpotMap> Scene::map_of(Light light, double spot_mm) const {
    const std::lock_guard<std::mutex> guard(made_maps_->lock);
    std::shared_ptr<SpotMap>& map = made_maps_->made[{light, spot_mm}];
    if (!map) {
        map = std::make_shared<SpotMap>(course_->surface, light, spot_mm);
    }
    return map;
}

const std::vector<TapeEnd>& Scene::tape_ends() const {
    std::call_once(lines_->ends_once, [this] { lines_->ends = vast_turn::tape_ends(*course_); });
    return lines_->ends;
}

const Scene::Lines& Scene::lines() const {
    std::call_once(lines_->once, [this] {
        lines_->graph = find_route_graph(*course_);
        lines_->points.emplace(lines_->graph);
        course_->surface.cells.rest();
    });
    return *lines_;
}

} // namespace vast_turn
