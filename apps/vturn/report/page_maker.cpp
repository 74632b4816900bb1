#include "report/page_maker.hpp"

#include <algorithm>
#include <optional>

#include <fmt/format.h>

#include "commands/driven_runs.hpp"
#include "commands/logged_looks.hpp"
#include "commands/trip_days.hpp"
#include "print/print.hpp"
#include "vast_turn/formats/read/plan_file.hpp"
#include "vast_turn/formats/write/choices_json.hpp"
#include "vast_turn/formats/write/comparison_json.hpp"
#include "vast_turn/formats/write/trips_json.hpp"
#include "vast_turn/formats/write/vet_json.hpp"
#include "vast_turn/page/page.hpp"
#include "vast_turn/step/quantity.hpp"
#include "vast_turn/trial/layouts_report.hpp"
#include "vast_turn/trial/rounds.hpp"
#include "vast_turn/vet/vet.hpp"
#include "watch/file_watch.hpp"

namespace vturn {

using namespace vast_turn;

namespace {

/// Plans with their texts, each read once.
struct ReadPlans {
    std::vector<Plan> plans;
    std::vector<std::string> texts;
};

ReadPlans read_plans(const Streams& streams, const PageCall& call) {
    ReadPlans out;
    std::vector<Problem> problems;
    std::vector<Problem> warnings;
    for (const std::string& path : call.plans) {
        out.texts.push_back(call.drive.set.text(path));
        Compiled made = compile_plan(out.texts.back(), path);
        std::vector<Problem>& into = made.plan ? warnings : problems;
        into.insert(into.end(), made.problems.begin(), made.problems.end());
        if (made.plan) {
            out.plans.push_back(*std::move(made.plan));
        }
    }
    if (!problems.empty()) {
        throw InputError(problems);
    }
    call.drive.set.check();
    print_warnings(streams, warnings);
    return out;
}

/// Whether there are trips over the course as it is driven here.
bool has_trips(const PageCall& call, const CourseFile& file) {
    if (!call.trips.empty() || file.trips.empty() || file.course.laid || call.variant == as_drawn) {
        return !call.trips.empty() || !file.trips.empty();
    }
    const std::vector<std::string> over = variants_of(file.course, file.trips);
    return std::find(over.begin(), over.end(), call.variant) != over.end();
}

/// Trips and the comparison over them.
void add_trips(const PageCall& call, const CourseReading& reading, const CourseFile& file, const Robot& robot,
               const std::vector<Plan>& plans, PageDocuments& documents, MadePage& page) {
    std::vector<Pilot> pilots;
    pilots.reserve(plans.size());
    for (const Plan& plan : plans) {
        pilots.emplace_back(plan);
    }
    TripReportOptions options;
    options.run = call.drive.filled_for(robot);
    options.threads = call.jobs;
    options.margins = call.margins;
    set_repeats(options, {0, static_cast<std::uint64_t>(call.days), std::nullopt});
    const TripGround ground = reading.trip_ground(file, robot, call.trips, call.variant, call.drive.says_days());
    const std::optional<LaidOut>& laid = ground.course().laid;
    const bool over_layouts = laid && laid->number > 0 && call.variant == as_drawn;
    refuse_days_asked_in_vain(call.margins ? "--margins" : nullptr, drives_days(ground.cases(), options), over_layouts);
    int passed = 0;
    int taken = 0;
    if (over_layouts) {
        const MakeLayout make = [&](int number) {
            return reading.trip_ground(robot, call.trips, fmt::format("layout {}", number), call.drive.says_days());
        };
        const LayoutsReport report =
            report_layouts(laid->layouts, make, pilots, options, [](const TripCase&) { return true; });
        documents.trips = trips_json(report);
        passed = report.passed();
        taken = report.taken();
        if (plans.size() > 1) {
            documents.comparison =
                comparison_json(ground.cases(),
                                compare_layouts(ground.cases(), laid->layouts, make, pilots,
                                                call.repeats > 0 ? call.repeats : 1, options.run, call.jobs),
                                laid->layouts);
        }
    } else {
        const TripReport report = report_trips(ground.cases(), pilots, options);
        documents.trips = trips_json(report);
        passed = report.passed();
        taken = report.taken();
        if (plans.size() > 1) {
            documents.comparison =
                comparison_json(ground.cases(), compare(ground.cases(), pilots, call.repeats > 0 ? call.repeats : 5,
                                                        options.run, call.jobs));
        }
    }
    page.passed = passed == taken;
    page.told += fmt::format("  trips    {} of {} pass\n", passed, taken);
}

/// Which way each plan goes at each junction; nothing on a course without any.
std::string routes_of(const Scene& scene, const std::vector<Plan>& plans, const PageCall& call) {
    ChoiceOptions options;
    options.run = call.drive.filled_for(scene.robot());
    options.threads = call.jobs;
    std::vector<PlanChoices> all;
    for (const Plan& plan : plans) {
        PlanRoutes routes = find_routes(scene, plan, options);
        all.push_back({plan, std::move(routes.arms), std::move(routes.reach), routes.in_rounds});
    }
    return all.front().arms.empty() ? std::string() : choices_json(scene.graph(), all);
}

std::string findings_of(const Scene& scene, const std::vector<Plan>& plans, const RunOptions& options) {
    std::vector<VettedPlan> all;
    for (const Plan& plan : plans) {
        const Calibration* levels = options.calibration ? &*options.calibration : nullptr;
        all.push_back({plan, vet(plan, {&scene.robot(), &scene.course(), levels, options.numbers})});
    }
    return vet_json(all);
}

} // namespace

/// What a plan is driven on.
struct PageMaker::Ground {
    Ground(const Streams& streams, const PageCall& call)
        : reading(call.course, drawings_of(streams)), file(reading.read(call.variant)),
          robot(call.drive.load(call.robot)), scene(file.course, robot) {}

    CourseReading reading;
    CourseFile file;
    Robot robot;
    Scene scene;
    std::vector<std::string> files; ///< that it is made of
    FileWatch::States states;       ///< of these, before they were read
};

PageMaker::PageMaker(PageCall call) : call_(std::move(call)) {}
PageMaker::~PageMaker() = default;

const PageMaker::Ground& PageMaker::ground(const Streams& streams) {
    if (ground_ && FileWatch::states_of(ground_->files) == ground_->states) {
        return *ground_;
    }
    std::vector<std::string> files = {call_.course, call_.robot};
    if (!call_.drive.days_file.empty()) {
        files.push_back(call_.drive.days_file);
    }
    FileWatch::States states = FileWatch::states_of(files);
    auto made = std::make_unique<Ground>(streams, call_);
    const Course& course = made->file.course;
    for (const std::string& path : {course.drawing, course.laid ? course.laid->pieces : std::string()}) {
        if (!path.empty()) {
            files.push_back(path);
            also_reads(streams, path);
            states.merge(FileWatch::states_of({path}));
        }
    }
    print_warnings(streams, course.warnings);
    made->files = std::move(files);
    made->states = std::move(states);
    ground_ = std::move(made);
    return *ground_;
}

std::vector<std::string> PageMaker::files() const {
    std::vector<std::string> files = call_.plans;
    files.insert(files.end(), call_.logs.begin(), call_.logs.end());
    for (const std::string& path :
         {call_.course, call_.robot, call_.trips, call_.drive.days_file, call_.drive.robot.calibration}) {
        if (!path.empty()) {
            files.push_back(path);
        }
    }
    if (ground_) {
        files.insert(files.end(), ground_->files.begin(), ground_->files.end());
    }
    return files;
}

/// A log of a run on the floor, put on the course.
LogComparison PageMaker::log_on(const Streams& streams, const Ground& on, const Plan& plan, const RunOptions& options,
                                const std::string& path) const {
    const std::vector<LoggedLook> log =
        read_looks(streams, path, {&plan, &on.robot, options.calibration, options.numbers});
    LogWayOptions way;
    way.start = call_.drive.run.start;
    return compare_log(on.scene, plan, log, way, options, 0);
}

MadePage PageMaker::make(const Streams& streams, const std::string& changes_at) {
    // What is wrong with them is told before the course is painted, which takes longest.
    const Robot robot = call_.drive.load(call_.robot);
    const ReadPlans plans = read_plans(streams, call_);
    const std::vector<std::string> quantities = split_quantities(call_.plot);
    for (const Plan& plan : plans.plans) {
        check_fit(robot, plan);
        for (const std::string& quantity : quantities) {
            quantities_of(plan, Run{}, quantity, numbers_of(call_.drive.numbers));
        }
    }
    const Ground& on = ground(streams);
    RunOptions options = call_.drive.filled_for(on.robot);
    options.keep_told = true;
    for (const std::string& heard : call_.hears) {
        options.hears.push_back(heard_of(heard));
    }
    if (options.day > 0) {
        warn_of_days_alike(streams, on.robot);
    }
    const std::vector<DrivenRun> driven = driven_runs(on.scene, plans.plans, options, call_.runs);
    MadePage page;
    std::vector<PageRun> runs;
    for (const DrivenRun& one : driven) {
        const auto plan = static_cast<std::size_t>(one.plan - plans.plans.data());
        runs.push_back({one.name, *one.plan, plans.texts[plan], one.run});
        page.halted = page.halted && one.run.ending == Ending::halted;
        page.told += fmt::format("  {}: {} at {:.2f} s, {:.0f} mm\n", one.name, name_of(one.run.ending), one.run.time_s,
                                 one.run.way_mm);
    }
    std::vector<LogComparison> logs;
    logs.reserve(call_.logs.size()); // the page refers to them
    for (const std::string& path : call_.logs) {
        logs.push_back(log_on(streams, on, plans.plans.front(), options, path));
        const LogComparison& log = logs.back();
        runs.push_back(
            {call_.logs.size() == 1 ? "log" : "log " + path, plans.plans.front(), plans.texts.front(), log.recorded});
        page.told += fmt::format("  log {}: {:.2f} s, {:.0f} mm{}\n", path, log.recorded.time_s, log.recorded.way_mm,
                                 log.way.lost ? ", lost on the way: see vturn ask --log" : "");
    }
    PageDocuments documents;
    if (!call_.runs_only) {
        if (has_trips(call_, on.file)) {
            add_trips(call_, on.reading, on.file, on.robot, plans.plans, documents, page);
        }
        documents.routes = routes_of(on.scene, plans.plans, call_);
        documents.findings = findings_of(on.scene, plans.plans, options);
    }
    page.html = report_page(on.scene, runs, documents, {quantities, options.numbers, changes_at});
    return page;
}

void add_page_options(Command& command, PageCall& call) {
    command.course(call.course);
    command.robot(call.robot);
    command.plans(call.plans, "plan files; the first is followed, the others are beside it");
    command
        .option(
            "--plot", call.plot,
            "plots that are open at first: left and right (powers), x, y, facing, and any value or condition of the "
            "plan's language; offset, powers, readings and vars are always there to be opened")
        .one_value_each();
    command.option("--runs", call.runs, "so many runs of each plan, each of a further seed or day")
        .shows_default()
        .within(1, 64);
    command
        .reads("--log", call.logs,
               "a log of a run on the floor, put on the course beside the map's runs; may be given again")
        .one_value_each();
    add_one_run_options(command, call.drive);
    command.option("--hear", call.hears, "a name is heard: bell@4.2 (seconds); may be given again").one_value_each();
    add_drive_options(command, call.drive);
    add_trips_options(command, call.trips, call.jobs);
    add_variant_option(command, call.variant);
}

} // namespace vturn
