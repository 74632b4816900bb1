#include <algorithm>
#include <chrono>
#include <memory>
#include <mutex>
#include <optional>
#include <thread>

#include <fmt/format.h>

#include "call_files.hpp"
#include "commands/commands.hpp"
#include "commands/interrupt.hpp"
#include "commands/run_options.hpp"
#include "commands/trip_days.hpp"
#include "print/print.hpp"
#include "print/print_numbers.hpp"
#include "print/print_trips.hpp"
#include "print/progress.hpp"
#include "ranks/crew_of_call.hpp"
#include "vast_turn/formats/read/plan_file.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/formats/write/text_file.hpp"
#include "vast_turn/formats/write/trips_json.hpp"
#include "vast_turn/formats/write/trips_junit.hpp"
#include "vast_turn/paint/course_file.hpp"
#include "vast_turn/view/days_picture.hpp"
#include "vast_turn/view/parting_picture.hpp"

namespace vturn {

using namespace vast_turn;

namespace {

struct TripsCall {
    std::string course;
    std::string robot;
    std::vector<std::string> plans;
    std::string trips;
    std::string junit;
    std::string filter;
    std::string picture;
    std::string days_picture;
    std::string variant = as_drawn;
    bool json = false;
    std::string on;
    bool no_cures = false;
    bool margins = false;
    int repeats = 0;
    std::uint64_t days = 0;
    std::optional<double> sure_pct;
    int jobs = 0;
    DriveOptions drive;
};

/// Exit status of a command that Ctrl-C ended, as shells have it.
constexpr int interrupted = 130;

std::vector<TripCase> chosen(const TripGround& ground, const TripsCall& options) {
    std::vector<TripCase> cases;
    std::vector<std::string> names;
    for (const TripCase& one : ground.cases()) {
        names.push_back(one.trip.name);
        if (one.trip.name.find(options.filter) != std::string::npos) {
            cases.push_back(one);
        }
    }
    if (cases.empty()) {
        throw InputError(options.trips.empty() ? options.course : options.trips,
                         fmt::format("no trip has \"{}\" in its name", options.filter),
                         fmt::format("the trips are {}", one_of(names)));
    }
    return cases;
}

/// The run of a failed trip with its first cure, if it has one.
std::optional<Run> cured_run(const TripCase& one, const Plan* plan, const CaseReport& failed, const RunOptions& run) {
    if (plan == nullptr || failed.cures.empty()) {
        return std::nullopt;
    }
    const RunOptions own = options_like(run, failed.result.run);
    const Cure& cure = failed.cures.front();
    const Compiled changed = compile_plan(cure.text, plan->file());
    const std::size_t from = cure.passes ? 0 : failed.result.parting->look;
    return try_trip_changed(*one.scene, *plan, changed.plan.value(), from, failed.result.trip, own).run;
}

/// The first failed trip, with the path of its first cure.
void draw_first_failure(const Streams& streams, const TripReport& report, const std::string& picture,
                        const RunOptions& run) {
    for (const PilotReport& one : report.pilots) {
        for (std::size_t i = 0; i < one.cases.size(); ++i) {
            const CaseReport& failed = one.cases[i];
            if (!failed.holds() && failed.result.parting) {
                const std::optional<Run> cured = cured_run(report.cases[i], one.pilot.plan(), failed, run);
                write_output(streams, picture,
                             draw_parting(*report.cases[i].scene, one.pilot, failed.result, cured ? &*cured : nullptr,
                                          failed.cures, format_for(picture)));
                return;
            }
        }
    }
    streams.err << picture << ": no trip failed, so there is nothing to draw\n";
}

/// The days of the first case that failed on any, else of the first.
void draw_first_days(const Streams& streams, const TripReport& report, const std::string& picture) {
    const TripCase* shown = nullptr;
    const PilotReport* of = nullptr;
    const CaseReport* made = nullptr;
    for (const PilotReport& one : report.pilots) {
        for (std::size_t i = 0; i < one.cases.size(); ++i) {
            const bool better =
                one.cases[i].days && (made == nullptr || (made->all_passed() && !one.cases[i].all_passed()));
            if (better) {
                shown = &report.cases[i];
                of = &one;
                made = &one.cases[i];
            }
        }
    }
    if (made == nullptr || shown->scene->robot().variation.empty()) {
        streams.err << picture << ": no days were driven that differ, so there is nothing to draw\n";
        return;
    }
    write_output(streams, picture, draw_days(*shown, of->pilot, *made, format_for(picture)));
}

/// Of a call that will take its time: how many runs it makes, and about how long that takes here.
void tell_how_long(const Streams& streams, const std::vector<TripCase>& cases, const std::vector<Pilot>& pilots,
                   const TripReportOptions& options) {
    constexpr double worth_telling = 20'000.0;
    double runs = 0.0;
    for (const TripCase& one : cases) {
        runs += static_cast<double>(pilots.size()) *
                (options.repeats > 0 ? options.repeats : std::max(1, one.trip.repeats));
    }
    if (runs < worth_telling) {
        return;
    }
    const auto began = std::chrono::steady_clock::now();
    constexpr int tries = 3;
    for (int i = 0; i < tries; ++i) {
        try_trip(*cases.front().scene, pilots.front(), cases.front().trip, options.run);
    }
    const std::chrono::duration<double> taken = std::chrono::steady_clock::now() - began;
    const double threads = options.threads > 0 ? options.threads : std::max(1U, std::thread::hardware_concurrency());
    const double minutes = runs * taken.count() / tries / threads / 60.0;
    if (streams.quiet) {
        return;
    }
    streams.err << fmt::format("{:.0f} runs, about {:.3g} min; Ctrl-C ends it and tells what came so far\n", runs,
                               minutes);
}

/// Each trip over each layout of a shuffled course.
int call_layouts(const Streams& streams, const TripsCall& call, const CourseReading& reading, const Robot& robot,
                 const std::vector<Pilot>& pilots, const TripReportOptions& options, int layouts, Progress& progress) {
    const MakeLayout make = [&](int number) {
        return reading.trip_ground(robot, call.trips, fmt::format("layout {}", number), call.drive.says_days());
    };
    const LayoutsReport report = report_layouts(layouts, make, pilots, options, [&](const TripCase& one) {
        return one.trip.name.find(call.filter) != std::string::npos;
    });
    progress.clear();
    if (!call.picture.empty() && !report.stopped) {
        if (report.looked_into) {
            draw_first_failure(streams, *report.looked_into, call.picture, options.run);
        } else {
            streams.err << call.picture << ": no trip failed, so there is nothing to draw\n";
        }
    }
    if (!call.junit.empty() && !report.stopped) {
        write_output(streams, call.junit, trips_junit(report));
    }
    const bool all_passed = report.passed() == report.taken();
    if (call.json && !report.stopped) {
        streams.out << trips_json(report);
    } else {
        print_layouts(streams, report, call.course);
    }
    return report.stopped ? interrupted : all_passed ? passed : answer_no;
}

TripReportOptions report_options(const TripsCall& call, const Robot& robot) {
    TripReportOptions options;
    options.run = call.drive.filled_for(robot);
    options.threads = call.jobs;
    options.cures = !call.no_cures;
    options.margins = call.margins;
    set_repeats(options, {call.repeats, call.days, call.sure_pct});
    return options;
}

/// How a program kept pace in all runs. Runs are made by several threads.
class AllPaces {
public:
    void add(const Pace& pace) {
        const std::lock_guard guard(lock_);
        all_.looks += pace.looks;
        all_.late += pace.late;
        all_.slowest_ms = std::max(all_.slowest_ms, pace.slowest_ms);
    }
    const Pace& all() const { return all_; }

private:
    std::mutex lock_;
    Pace all_;
};

/// A program in the place of a plan, started anew for each run.
Pilot other_pilot(const std::string& on, const Plan& plan, const Robot& robot, const std::shared_ptr<AllPaces>& paces) {
    const OtherProgram program{.words = words_of_call(on)};
    const auto make = [program, plan, robot, paces] {
        const std::shared_ptr<OtherMind> mind(new OtherMind(program, plan, robot), [paces](OtherMind* ended) {
            paces->add(ended->pace());
            delete ended; // NOLINT(cppcoreguidelines-owning-memory): it is the shared pointer's
        });
        return Decide([mind](const Look& look, Answer& answer) { (*mind)(look, answer); });
    };
    return {on, make, asked_names(plan)};
}

std::vector<Pilot> pilots_of(const TripsCall& call, const Robot& robot, const std::shared_ptr<AllPaces>& paces,
                             std::vector<Problem>& warnings) {
    if (!call.on.empty() && call.plans.size() > 1) {
        throw InputError("", "--on stands in the place of one plan, and here are several",
                         "name the plan it is made of");
    }
    std::vector<Pilot> pilots;
    for (const std::string& path : call.plans) {
        const Plan plan = call.drive.set.plan(path, warnings);
        check_fit(robot, plan);
        call.on.empty() ? pilots.emplace_back(plan) : pilots.emplace_back(other_pilot(call.on, plan, robot, paces));
    }
    call.drive.set.check();
    return pilots;
}

/// Files and what is printed of trips that were all taken.
int tell_trips(const Streams& streams, const TripsCall& call, const TripReport& report, const RunOptions& run,
               const AllPaces& paces) {
    if (!call.picture.empty()) {
        draw_first_failure(streams, report, call.picture, run);
    }
    if (!call.days_picture.empty()) {
        draw_first_days(streams, report, call.days_picture);
    }
    if (!call.junit.empty()) {
        write_output(streams, call.junit, trips_junit(report));
    }
    if (!call.json) {
        const int status = print_trips(streams, report);
        if (!call.on.empty()) {
            streams.out << told_pace(call.on, paces.all(), report.cases.front().scene->robot().look_ms);
        } else if (run.numbers == runtime::NumberKind::binary32) {
            for (const PilotReport& one : report.pilots) {
                print_numbers_of_trips(streams, *one.pilot.plan(), report.cases, run);
            }
        }
        if (status == passed && report.taken() > 0) {
            say_next(streams, "trips --days 200", "on days that are not ideal");
        } else {
            say_next(streams, "watch", "change the plan and see it at once");
        }
        return status;
    }
    streams.out << trips_json(report, call.on.empty() ? nullptr : &paces.all());
    return report.passed() == report.taken() ? passed : answer_no;
}

int call_trips(const Streams& streams, const TripsCall& call) {
    for (const std::string& picture : {call.picture, call.days_picture}) {
        if (!picture.empty()) {
            format_for(picture); // refused before anything is driven
        }
    }
    std::vector<Problem> warnings;
    const Robot robot = call.drive.load(call.robot);
    const CourseReading reading(call.course, drawings_of(streams));
    const TripGround ground = reading.trip_ground(robot, call.trips, call.variant, call.drive.says_days());
    also_reads(streams, ground.course().drawing);
    if (ground.course().laid) {
        also_reads(streams, ground.course().laid->pieces);
    }
    print_warnings(streams, ground.course().warnings);
    const auto paces = std::make_shared<AllPaces>();
    const std::vector<Pilot> pilots = pilots_of(call, robot, paces, warnings);
    print_warnings(streams, warnings);
    const Interrupt interrupt;
    Progress progress(streams);
    TripReportOptions options = report_options(call, robot);
    options.progress = [&progress](const char* what, std::size_t done, std::size_t all) {
        progress.tell(what, done, all);
    };
    if (streams.crew == nullptr) {
        options.stop = [&interrupt] { return interrupt.asked(); };
    }
    options.days.crew = streams.crew;
    wait_no_longer_when(streams, interrupt, "");
    const std::vector<TripCase> cases = chosen(ground, call);
    const bool drives = drives_days(cases, options);
    const bool over_layouts = ground.course().laid && ground.course().laid->number > 0 && call.variant == as_drawn;
    const char* const of_days = call.margins ? "--margins" : call.days_picture.empty() ? nullptr : "--days-picture";
    refuse_days_asked_in_vain(of_days, drives, over_layouts);
    if (streams.crew != nullptr && (!drives || over_layouts)) {
        throw InputError("", "trips are shared out among processes by days, over one layout",
                         "give --days or --sure, or start it without mpirun");
    }
    if (drives || options.run.day > 0) {
        warn_of_days_alike(streams, ground.scene().robot());
    }
    if (over_layouts) {
        return call_layouts(streams, call, reading, robot, pilots, options, ground.course().laid->layouts, progress);
    }
    tell_how_long(streams, cases, pilots, options);
    const TripReport report = report_trips(cases, pilots, options);
    progress.clear();
    if (report.stopped) {
        print_interrupted(streams, report);
        return interrupted;
    }
    return tell_trips(streams, call, report, options.run, *paces);
}

} // namespace

void add_trips(Parser& parser, Streams& streams) {
    Command command =
        parser.command("trips", "Route tests: does each plan go where the course's trips say, and if not, why");
    auto options = std::make_shared<TripsCall>();
    command.course(options->course);
    command.robot(options->robot);
    command.plans(options->plans, "plan files, compared side by side");
    command.writes("--junit", options->junit, "write the results into this file (JUnit XML)");
    command.writes("-o,--output", options->picture,
                   "draw where the first failed trip was decided into this file (.png, .svg or .pdf)");
    command.option("--filter", options->filter, "only trips that have this in their name");
    const Option repeat =
        command
            .option("--repeat", options->repeats,
                    "runs of each trip, with --seed and the seeds after it, or on --day and the days after it; as the "
                    "trip says when not given")
            .within(1, 10000);
    command
        .option("--days", options->days,
                "days of each trip in place of repeats, from --day on; with --sure at most so many")
        .within(1, 1000000)
        .excludes(repeat);
    command
        .option("--sure", options->sure_pct,
                "percent of its days on which each trip must hold: as many days are driven as it takes to decide that")
        .within(50.0, 99.99)
        .excludes(repeat);
    command.writes("--days-picture", options->days_picture,
                   "draw how each quantity lay on the days on which a trip held and on which it failed: the first trip "
                   "that failed on any, else the first (.png, .svg or .pdf)");
    command.flag(
        "--margins", options->margins,
        "of each trip whose days are driven: how far each quantity may go alone before one run in twenty fails");
    add_trips_options(command, options->trips, options->jobs);
    add_only_variant_option(command, options->variant);
    command.flag("--no-cures", options->no_cures, "do not look for changes with which a failed trip would pass");
    add_drive_options(command, options->drive);
    add_on_option(command, options->on);
    command.prints_data("--json", options->json, "print JSON");
    add_drawings_option(command, streams);
    command.footer(
        "Example:\n  vturn trips data/fern-house/fern-house.course.toml data/fern-house/sprig-2.robot.toml \\\n"
        "      data/fern-house/left-first.plan data/fern-house/right-first.plan\n\n"
        "Exit status: 0 when every trip passed, 1 when one failed, 2 for unusable input.");
    command.does([options, &streams] { return call_trips(streams, *options); });
}

} // namespace vturn
