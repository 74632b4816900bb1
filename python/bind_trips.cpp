// Trips taken: what passed, why not, and what would cure it.
#include <pybind11/stl.h>

#include <atomic>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "bindings.hpp"
#include "held.hpp"
#include "pilots.hpp"
#include "run_options.hpp"
#include "vast_turn/paint/course_file.hpp"
#include "vast_turn/trial/trip_report.hpp"

namespace py = pybind11;

namespace vast_turn::python {

namespace {

/// All that a report refers to.
struct HeldReport {
    std::shared_ptr<const TripGround> ground;
    TripReport report;
};

/// The runs of one case by one pilot.
struct HeldCase {
    std::shared_ptr<const HeldReport> held;
    std::size_t pilot = 0;
    std::size_t number = 0;

    const PilotReport& by() const { return held->report.pilots[pilot]; }
    const CaseReport& report() const { return by().cases[number]; }
};

std::vector<HeldCase> cases_of(const std::shared_ptr<HeldReport>& held) {
    std::vector<HeldCase> out;
    for (std::size_t pilot = 0; pilot < held->report.pilots.size(); ++pilot) {
        for (std::size_t number = 0; number < held->report.pilots[pilot].cases.size(); ++number) {
            out.push_back({held, pilot, number});
        }
    }
    return out;
}

std::shared_ptr<HeldRun> run_of(const HeldCase& it) {
    const Plan* plan = it.by().pilot.plan();
    return std::make_shared<HeldRun>(HeldRun{it.report().result.run, it.held, it.held->report.cases[it.number].scene,
                                             plan != nullptr ? std::optional<Plan>(*plan) : std::nullopt});
}

std::vector<std::string> explained(const HeldCase& it) {
    const auto& parting = it.report().result.parting;
    return parting ? explain(it.by().pilot, *parting) : std::vector<std::string>{};
}

py::object share_of(const HeldCase& it) {
    const auto& days = it.report().days;
    return days ? py::object(py::make_tuple(days->share.low, days->share.high)) : py::none();
}

std::vector<std::string> causes_of(const HeldCase& it) {
    std::vector<std::string> out;
    if (it.report().days) {
        for (const Cause& cause : it.report().days->causes) {
            out.push_back(describe(cause));
        }
    }
    return out;
}

/// Raises what Python was interrupted by; asked between runs.
bool interrupted() {
    const py::gil_scoped_acquire lock;
    return PyErr_CheckSignals() != 0;
}

/// How often the interpreter is asked: its lock is not to be fought for at every run.
class Asks {
public:
    bool operator()() {
        if (hit_) {
            return true;
        }
        hit_ = ++count_ % 64 == 0 && interrupted();
        return hit_;
    }

private:
    std::atomic<unsigned> count_{0};
    std::atomic<bool> hit_{false};
};

std::shared_ptr<HeldReport> take(const std::string& course, const std::shared_ptr<Robot>& robot,
                                 const py::object& pilots, const std::string& trips, int repeats, std::uint64_t days,
                                 const std::optional<double>& sure, bool cures, int threads, const py::kwargs& words) {
    TripReportOptions options;
    options.run = options_from(words);
    options.repeats = repeats;
    options.days = {days, sure};
    options.cures = cures;
    options.threads = threads;
    std::vector<Pilot> who;
    if (py::isinstance<py::list>(pilots)) {
        for (const py::handle& one : pilots) {
            who.push_back(pilot_from(one));
        }
    } else {
        who.push_back(pilot_from(pilots));
    }
    const auto asks = std::make_shared<Asks>();
    options.stop = [asks] { return (*asks)(); };
    std::shared_ptr<HeldReport> out;
    {
        const py::gil_scoped_release others_may_run;
        auto ground = std::make_shared<TripGround>(load_trip_ground(course, *robot, trips));
        TripReport report = report_trips(ground->cases(), who, options);
        out = std::make_shared<HeldReport>(HeldReport{std::move(ground), std::move(report)});
    }
    if (PyErr_Occurred() != nullptr) {
        throw py::error_already_set();
    }
    return out;
}

} // namespace

void add_trips(py::module_& module) {
    py::class_<Cure>(module, "Cure", "One change of a plan with which a failed trip goes as expected.")
        .def_readonly("change", &Cure::change)
        .def_readonly("text", &Cure::text, "the whole plan, changed")
        .def_readonly("passes", &Cure::passes, "driven from the start")
        .def_readonly("held", &Cure::held, "in how many of `repeats` further runs")
        .def_readonly("repeats", &Cure::repeats)
        .def_readonly("breaks", &Cure::breaks, "trips that pass without the change and fail with it")
        .def_property_readonly("counts", &Cure::counts, "it passes in every repeat and breaks no other trip")
        .def("__str__", [](const Cure& c) { return describe(c); })
        .def("__repr__", [](const Cure& c) { return "<Cure: " + c.change + ">"; });
    py::class_<HeldCase>(module, "Case", "The runs of one trip, from one start over one variant, by one pilot.")
        .def_property_readonly("trip", [](const HeldCase& it) { return it.report().result.trip.name; })
        .def_property_readonly("pilot", [](const HeldCase& it) { return it.by().pilot.name(); })
        .def_property_readonly("runs", [](const HeldCase& it) { return it.report().runs; })
        .def_property_readonly(
            "passed", [](const HeldCase& it) { return it.report().passed; }, "how many of the runs")
        .def_property_readonly("holds", [](const HeldCase& it) { return it.report().holds(); })
        .def_property_readonly("share", &share_of, "of days: (least, most) share that holds, as surely as 95 of 100")
        .def_property_readonly("failed_days",
                               [](const HeldCase& it) {
                                   return it.report().days ? it.report().days->failed : std::vector<std::uint64_t>{};
                               })
        .def_property_readonly("causes", &causes_of, "what days of failure have in common, as sentences")
        .def_property_readonly(
            "failures", [](const HeldCase& it) { return it.report().result.failures; },
            "of the run that is kept: one sentence each")
        .def_property_readonly("explained", &explained, "where and why that run went another way")
        .def_property_readonly("run", &run_of, "the first that failed, with its looks; else the first, without")
        .def_property_readonly("cures", [](const HeldCase& it) { return it.report().cures; })
        .def("__repr__", [](const HeldCase& it) {
            return "<Case '" + it.report().result.trip.name + "': " + std::to_string(it.report().passed) + " of " +
                   std::to_string(it.report().runs) + ">";
        });
    py::class_<HeldReport, std::shared_ptr<HeldReport>>(module, "Report", "What came of all trips.")
        .def_property_readonly("cases", &python::cases_of, "pilot by pilot, in the order of the trips")
        .def_property_readonly(
            "passed", [](const HeldReport& it) { return it.report.passed(); }, "how many cases hold")
        .def_property_readonly("taken", [](const HeldReport& it) { return it.report.taken(); });
    module.def(
        "take_trips", &take, py::arg("course"), py::arg("robot"), py::arg("pilots"), py::arg("trips") = "",
        py::kw_only(), py::arg("repeats") = 0, py::arg("days") = 0, py::arg("sure") = py::none(),
        py::arg("cures") = true, py::arg("threads") = 0,
        "Takes every trip of a course file, or of a file of trips, with every pilot, on all cores.\n\n`pilots`: a "
        "plan, or (name, make) where make() gives a decide(look, answer) for each run, or a list of these. "
        "`repeats`: runs of each case (0: as its trip says); `days`, `sure`: days of the robot in their place. "
        "Further keywords as of drive().");
}

} // namespace vast_turn::python
