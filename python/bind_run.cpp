// Runs, and what they recorded.
#include <pybind11/functional.h>
#include <pybind11/stl.h>

#include <memory>
#include <string>

#include "arrays.hpp"
#include "bindings.hpp"
#include "held.hpp"
#include "pilots.hpp"
#include "run_options.hpp"
#include "vast_turn/trial/trip_result.hpp"

namespace py = pybind11;

namespace vast_turn::python {

namespace {

/// What an event says, as text: of a plan its own words.
std::string said(const HeldRun& it, const Event& event) {
    const bool is_text = event.kind == EventKind::note || event.kind == EventKind::light ||
                         event.kind == EventKind::sound || event.kind == EventKind::tell;
    if (it.plan && is_text && event.what < it.plan->texts().size()) {
        return it.plan->texts()[event.what];
    }
    return std::to_string(event.what);
}

py::list events_of(const HeldRun& it) {
    py::list out;
    for (const RunEvent& event : it.run.events) {
        out.append(py::make_tuple(event.t_s, py::make_tuple(event.at.x, event.at.y), event_name(event.event.kind),
                                  said(it, event.event), event.event.value));
    }
    return out;
}

py::list visits_of(const HeldRun& it) {
    py::list out;
    for (const Visit& visit : it.run.visits) {
        out.append(py::make_tuple(visit.t_s, it.scene->course().places[visit.place].name));
    }
    return out;
}

std::shared_ptr<HeldRun> drive_plan(const std::shared_ptr<HeldScene>& held, const Plan& plan, const py::kwargs& words) {
    const RunOptions options = options_from(words);
    const py::gil_scoped_release others_may_run;
    return std::make_shared<HeldRun>(HeldRun{drive(held->scene, plan, options), held, &held->scene, plan});
}

std::shared_ptr<HeldRun> drive_code(const std::shared_ptr<HeldScene>& held, const py::function& decide,
                                    const py::kwargs& words) {
    const RunOptions options = options_from(words);
    const Decide calls = decide_by(decide);
    return std::make_shared<HeldRun>(HeldRun{drive(held->scene, calls, options), held, &held->scene, {}});
}

} // namespace

void add_run(py::module_& module) {
    py::class_<HeldScene, std::shared_ptr<HeldScene>>(
        module, "Scene", "A course and a robot made ready for runs. Make it once, run often; threads may share it.")
        .def(py::init([](const std::shared_ptr<Course>& course, const std::shared_ptr<Robot>& robot) {
                 return std::make_shared<HeldScene>(course, robot);
             }),
             py::arg("course"), py::arg("robot"), py::call_guard<py::gil_scoped_release>());

    py::class_<HeldRun, std::shared_ptr<HeldRun>>(module, "Run", "What a run was.")
        .def_property_readonly(
            "looks", [](const py::object& it) { return view_of(it.cast<const HeldRun&>().run.looks, it); },
            "what was recorded, look by look: a structured array whose fields are t_s, x_mm, y_mm, heading_deg, "
            "way_mm, "
            "left_pct, right_pct, raw, line_bits, block, rule (65535: none), markers, range_mm; a view, not a copy")
        .def_property_readonly("start", [](const HeldRun& it) { return it.run.start; })
        .def_property_readonly("seed", [](const HeldRun& it) { return it.run.seed; })
        .def_property_readonly("day", [](const HeldRun& it) { return it.run.day; })
        .def_property_readonly(
            "ending", [](const HeldRun& it) { return vast_turn::name_of(it.run.ending); },
            "'halt', 'off course', 'lost', 'touch' or 'time over'")
        .def_property_readonly("ended_because", [](const HeldRun& it) { return it.run.ended_because; })
        .def_property_readonly("time_s", [](const HeldRun& it) { return it.run.time_s; })
        .def_property_readonly("way_mm", [](const HeldRun& it) { return it.run.way_mm; })
        .def_property_readonly("mean_speed_mm_s", [](const HeldRun& it) { return it.run.mean_speed_mm_s(); })
        .def_property_readonly(
            "calibration", [](const HeldRun& it) { return it.run.calibration; }, "with which it read its sensors")
        .def_property_readonly(
            "unanswered", [](const HeldRun& it) { return it.run.unanswered; }, "looks in which no rule held")
        .def_property_readonly(
            "route", [](const HeldRun& it) { return route_of(it.scene->course(), it.run); },
            "names of the places that it came to")
        .def_property_readonly("visits", &visits_of, "the same with when: (t_s, place)")
        .def_property_readonly("events", &events_of, "what its logic said: (t_s, (x, y), kind, text, value)")
        .def("__repr__", [](const HeldRun& it) {
            return std::string("<Run: ") + vast_turn::name_of(it.run.ending) + ", " + std::to_string(it.run.time_s) +
                   " s>";
        });

    module.def("drive", &drive_plan, py::arg("scene"), py::arg("plan"),
               "Drives a plan over a scene.\n\nKeywords: start (a name, or (x, y, heading)), seed, day, time_limit_s, "
               "lost_after_s, off_course_mm, calibration, numbers ('double', 'float'), with_things, touch_ends, set "
               "(quantities of a day: {'left_motor': 0.93, 'sensor_2': 0.8}).");
    module.def("drive", &drive_code, py::arg("scene"), py::arg("decide"),
               "Drives code of your own: decide(look, answer) is called once a look and sets what it answers.");
}

} // namespace vast_turn::python
