// Plans: read, asked look by look, vetted.
#include <pybind11/stl.h>

#include <algorithm>
#include <memory>
#include <string>
#include <vector>

#include "bindings.hpp"
#include "vast_turn/formats/read/plan_file.hpp"
#include "vast_turn/plan/format.hpp"
#include "vast_turn/plan/mind.hpp"
#include "vast_turn/sense/calibration.hpp"
#include "vast_turn/sense/pattern.hpp"
#include "vast_turn/vet/vet.hpp"

namespace py = pybind11;

namespace vast_turn::python {

namespace {

const char* name_of(RuleKind kind) {
    switch (kind) {
    case RuleKind::rule: return "rule";
    case RuleKind::guard: return "guard";
    case RuleKind::item: return "item";
    }
    return "";
}

Plan compiled(const std::string& text, const std::string& file) {
    Compiled made = compile_plan(text, file);
    if (!made.plan) {
        throw InputError(std::move(made.problems));
    }
    return *made.plan;
}

void add_rules(py::module_& module) {
    py::class_<RuleInfo>(module, "Rule", "A rule of a habit, a guard or an item of an errand.")
        .def_property_readonly(
            "kind", [](const RuleInfo& r) { return name_of(r.kind); }, "'rule', 'guard' or 'item'")
        .def_readonly("block", &RuleInfo::block, "the habit or errand in which it acts")
        .def_readonly("line", &RuleInfo::line)
        .def_readonly("column", &RuleInfo::column)
        .def_readonly("is_twin", &RuleInfo::is_twin, "added by `mirrored`")
        .def_readonly("condition", &RuleInfo::condition)
        .def_readonly("acts", &RuleInfo::acts)
        .def("__repr__", [](const RuleInfo& r) { return "<line " + std::to_string(r.line) + ": " + r.acts + ">"; });
    py::class_<Plan>(module, "Plan", "The decision logic of a robot, compiled.")
        .def_property_readonly("name", &Plan::name)
        .def_property_readonly("file", &Plan::file)
        .def_property_readonly("sensors", &Plan::sensors, "how many line sensors it is written for")
        .def_property_readonly("rules", &Plan::rules, "by the number in `looks['rule']`")
        .def_property_readonly("blocks", &Plan::blocks, "names by the number in `looks['block']`")
        .def_property_readonly("markers", &Plan::markers, "names by the bit in `looks['markers']`")
        .def_property_readonly("memory_bytes", &Plan::memory_bytes, "that a robot needs to run it")
        .def("__repr__", [](const Plan& p) { return "<Plan '" + p.name() + "'>"; });
    module.def(
        "load_plan", [](const std::string& path) { return load_plan(path); }, py::arg("path"),
        "Reads, checks and compiles a plan file.");
    module.def("compile_plan", &compiled, py::arg("text"), py::arg("file") = "plan",
               "The same from text; `file` is what faults call it.");
}

/// Readings into a look: as many as there are, line where they reach the threshold.
void set_readings(Look& look, const std::vector<double>& readings) {
    if (readings.empty() || readings.size() > max_sensors) {
        throw py::value_error("a look has readings of 1 to 8 sensors");
    }
    look.sensors = static_cast<std::uint8_t>(readings.size());
    look.line_bits = 0;
    for (std::size_t i = 0; i < readings.size(); ++i) {
        look.sensor[i] = readings[i];
        if (readings[i] >= 0.5) {
            look.line_bits = static_cast<std::uint8_t>(look.line_bits | (1U << i));
        }
    }
}

std::vector<double> readings_of_look(const Look& look) { return {look.sensor, look.sensor + look.sensors}; }

std::string marks_of(const Look& look) { return to_marks({look.line_bits, look.sensors}); }

void set_marks(Look& look, const std::string& marks) {
    const auto pattern = parse_marks(marks);
    if (!pattern) {
        throw py::value_error("a pattern has one mark a sensor, # for line and . for floor, 1 to 8 of them");
    }
    std::vector<double> readings;
    for (int i = 0; i < pattern->count; ++i) {
        readings.push_back(((pattern->bits >> i) & 1) != 0 ? 1.0 : 0.0);
    }
    set_readings(look, readings);
}

void add_looks(py::module_& module) {
    py::class_<Look>(module, "Look", "What decision logic is told in one look.")
        .def(py::init<>())
        .def_readwrite("clock_ms", &Look::clock_ms, "since the first look")
        .def_property("readings", &readings_of_look, &set_readings,
                      "0 (floor) to 1 (line), left to right; setting them sets `marks` with thresholds half way")
        .def_property("marks", &marks_of, &set_marks, "'.#.': who sees line; setting them sets `readings`")
        .def_readwrite("offset", &Look::offset, "weighted position of the line, positive to the left")
        .def_readwrite("last_side", &Look::last_side, "+1 left, -1 right")
        .def_readwrite("way_mm", &Look::way_mm)
        .def_readwrite("range_mm", &Look::range_mm)
        .def_readwrite("markers", &Look::markers, "bit k: marker k of the plan, or of the course's palette, is seen")
        .def_readwrite("heading_deg", &Look::heading_deg)
        .def_readwrite("left_deg", &Look::left_deg, "how far the left wheel has turned")
        .def_readwrite("right_deg", &Look::right_deg)
        .def_readwrite("battery_pct", &Look::battery_pct)
        .def_readwrite("button", &Look::button);
    py::class_<Answer>(module, "Answer", "What decision logic answers: powers in percent, positive forward.")
        .def(py::init<>())
        .def_readwrite("left_pct", &Answer::left_pct)
        .def_readwrite("right_pct", &Answer::right_pct)
        .def_readwrite("halted", &Answer::halted, "the run is over")
        .def_property_readonly(
            "rule", [](const Answer& a) { return a.rule == no_rule ? -1 : static_cast<int>(a.rule.index()); },
            "number of the rule that acted last, -1 for none")
        .def("__repr__", [](const Answer& a) {
            return "<Answer " + std::to_string(a.left_pct) + ", " + std::to_string(a.right_pct) + ">";
        });
    py::class_<Mind>(module, "Mind", "A plan that is being carried out; remembers what it was told.")
        .def(py::init<const Plan&>(), py::arg("plan"))
        .def(
            "decide",
            [](Mind& mind, const Look& look) {
                if (look.sensors != mind.plan().sensors()) {
                    throw py::value_error("the plan is written for " + std::to_string(mind.plan().sensors()) +
                                          " sensors, the look has " + std::to_string(int{look.sensors}));
                }
                Answer answer;
                mind(look, answer);
                return answer;
            },
            py::arg("look"), "One look; looks come in the order of their clocks.");
}

} // namespace

void add_plan(py::module_& module) {
    add_rules(module);
    add_looks(module);
    py::class_<Finding>(module, "Finding", "One thing that vet found.")
        .def_property_readonly("code", [](const Finding& f) { return f.kind->code; })
        .def_property_readonly(
            "grade", [](const Finding& f) { return vast_turn::name_of(f.grade); }, "'fault', 'risk' or 'hint'")
        .def_property_readonly(
            "line", [](const Finding& f) { return f.place.line; }, "0 when about the whole plan")
        .def_property_readonly("column", [](const Finding& f) { return f.place.column; })
        .def_readonly("message", &Finding::message)
        .def_readonly("cure", &Finding::cure)
        .def_readonly("new_line", &Finding::new_line, "the changed line, when one line cures it")
        .def("__repr__", [](const Finding& f) { return "<" + std::string(f.kind->code) + ": " + f.message + ">"; });
    module.def(
        "vet",
        [](const Plan& plan, const Robot* robot, const Course* course, const Calibration* calibration) {
            VetAgainst against;
            against.robot = robot;
            against.course = course;
            against.calibration = calibration;
            return vet(plan, against).findings;
        },
        py::arg("plan"), py::arg("robot") = nullptr, py::arg("course") = nullptr, py::arg("calibration") = nullptr,
        py::call_guard<py::gil_scoped_release>(), "What is wrong with a plan, found before it is driven.");
}

} // namespace vast_turn::python
