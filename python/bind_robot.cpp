// Robots, their days and their calibrations.
#include <pybind11/stl.h>

#include <map>
#include <memory>
#include <string>
#include <vector>

#include "bindings.hpp"
#include "vast_turn/base/problem.hpp"
#include "vast_turn/formats/read/calibration_file.hpp"
#include "vast_turn/formats/read/days_file.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/robot/robot.hpp"

namespace py = pybind11;

namespace vast_turn::python {

namespace {

/// A variation as an object: pybind would make a list of it.
struct Days {
    Variation variation;
};

py::list sensors_of(const Robot& robot) {
    py::list out;
    for (const LineSensor& sensor : robot.sensors) {
        out.append(py::make_tuple(sensor.at_mm.x, sensor.at_mm.y, sensor.spot_mm));
    }
    return out;
}

py::list levels_of(const Calibration& calibration) {
    py::list out;
    for (const SensorLevels& levels : calibration.sensors) {
        out.append(py::make_tuple(levels.floor_counts, levels.line_counts, levels.threshold, levels.hysteresis));
    }
    return out;
}

} // namespace

void add_robot(py::module_& module) {
    py::class_<Days>(module, "Days", "How the days of a robot differ, as a days file says.");
    module.def(
        "load_days", [](const std::string& path) { return Days{load_days(path)}; }, py::arg("path"));

    py::class_<Robot, std::shared_ptr<Robot>>(module, "Robot", "The description of a robot.")
        .def_readonly("name", &Robot::name)
        .def_readonly("file", &Robot::file)
        .def_readonly("track_mm", &Robot::track_mm)
        .def_readonly("wheel_mm", &Robot::wheel_mm)
        .def_readonly("top_speed_mm_s", &Robot::top_speed_mm_s, "of a wheel at 100 % power")
        .def_readonly("look_ms", &Robot::look_ms, "from look to look")
        .def_readonly("delay_ms", &Robot::delay_ms, "from a look to the moment the wheels get its answer")
        .def_property_readonly(
            "lag_ms", [](const Robot& r) { return r.motors.lag_ms; }, "time constant of the motors")
        .def_property_readonly("dead_band_pct", [](const Robot& r) { return r.motors.dead_band_pct; })
        .def_property_readonly("sensors", &sensors_of, "left to right: (mm ahead, mm to the left, spot in mm)")
        .def(
            "with_days",
            [](const Robot& robot, const Days& days) {
                auto out = std::make_shared<Robot>(robot);
                out->variation = days.variation;
                return out;
            },
            py::arg("days"), "The same robot with these days in place of its own.")
        .def("__repr__", [](const Robot& r) { return "<Robot '" + r.name + "'>"; });
    module.def(
        "load_robot", [](const std::string& path) { return std::make_shared<Robot>(load_robot(path)); },
        py::arg("path"), "Reads a robot file.");
    module.def(
        "parse_robot",
        [](const std::string& text, const std::string& file) {
            return std::make_shared<Robot>(parse_robot(text, file));
        },
        py::arg("text"), py::arg("file") = "robot", "The same from text; `file` is what faults call it.");

    py::class_<Calibration>(module, "Calibration", "The levels of an array of line sensors.")
        .def_property_readonly("levels", &levels_of,
                               "left to right: (counts over floor, counts over line, threshold 0..1, hysteresis)");
    module.def(
        "load_calibration",
        [](const std::string& path, const Robot& robot) { return calibration_for(robot, load_calibration(path)); },
        py::arg("path"), py::arg("robot"), "Reads a calibration file for this robot's sensors.");
}

} // namespace vast_turn::python
