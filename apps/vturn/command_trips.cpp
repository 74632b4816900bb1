#include <memory>
#include <optional>

#include <fmt/format.h>

#include "commands.hpp"
#include "print.hpp"
#include "print_trips.hpp"
#include "run_options.hpp"
#include "vast_turn/files/plan_file.hpp"
#include "vast_turn/files/robot_file.hpp"
#include "vast_turn/files/text_file.hpp"
#include "vast_turn/view/parting_picture.hpp"

namespace vturn {

using namespace vast_turn;

namespace {

struct TripsCall {
    std::string course;
    std::string robot;
    std::vector<std::string> plans;
    std::string junit;
    std::string filter;
    std::string picture;
    bool json = false;
    bool no_cures = false;
    int repeats = 1;
    int jobs = 0;
    DriveOptions drive;
};

/// Exit status of a command that Ctrl-C ended, as shells have it.
constexpr int interrupted = 130;

std::vector<Trip> chosen(const Course& course, const TripsCall& options) {
    std::vector<Trip> trips;
    std::vector<std::string> names;
    for (const Trip& trip : course.trips) {
        names.push_back(trip.name);
        if (trip.name.find(options.filter) != std::string::npos) {
            trips.push_back(trip);
        }
    }
    if (trips.empty()) {
        throw InputError(options.course, fmt::format("no trip has \"{}\" in its name", options.filter),
                         fmt::format("its trips are {}", one_of(names)));
    }
    return trips;
}

/// The first failed trip, with the path of its first cure.
void draw_first_failure(const Streams& streams, const Scene& scene, const std::vector<PlanTrips>& all,
                        const TripsCall& options, const RunOptions& run) {
    for (const PlanTrips& one : all) {
        for (std::size_t i = 0; i < one.results.size(); ++i) {
            const TripResult& failed = one.results[i];
            if (failed.passed || !failed.parting) {
                continue;
            }
            std::optional<Run> cured;
            if (!one.cures[i].empty()) {
                RunOptions own = run;
                own.seed = failed.run.seed;
                const Compiled changed = compile_plan(one.cures[i].front().text, one.plan.file());
                cured = take_trip(scene, changed.plan.value(), failed.trip, own).run;
            }
            write_file(options.picture, draw_parting(scene, one.plan, failed, cured ? &*cured : nullptr, one.cures[i],
                                                     format_for(options.picture)));
            return;
        }
    }
    streams.err << options.picture << ": no trip failed, so there is nothing to draw\n";
}

int take_trips(const Streams& streams, const TripsCall& options) {
    if (!options.picture.empty()) {
        format_for(options.picture); // refused before anything is driven
    }
    std::vector<Problem> warnings;
    const Course course = read_course(streams, options.course);
    const Robot robot = load_robot(options.robot);
    if (course.trips.empty()) {
        throw InputError(options.course, "the course has no trips to take",
                         "add a [[trip]] with name, from and visits");
    }
    std::vector<Plan> plans;
    for (const std::string& path : options.plans) {
        plans.push_back(load_plan(path, &warnings));
    }
    print_warnings(streams, warnings);
    const Scene scene(course, robot);
    TripsWork work{chosen(course, options), options.drive.filled_for(robot), options.repeats, options.jobs,
                   !options.no_cures};
    const std::vector<PlanTrips> all = take_all(streams, scene, plans, work);
    if (all.empty()) {
        return interrupted;
    }
    if (!options.picture.empty()) {
        draw_first_failure(streams, scene, all, options, work.run);
    }
    if (!options.junit.empty()) {
        write_file(options.junit, trips_junit(scene, all));
    }
    if (!options.json) {
        return print_trips(streams, scene, all);
    }
    streams.out << trips_json(scene, all);
    for (const PlanTrips& one : all) {
        for (const TripResult& result : one.results) {
            if (!result.passed) {
                return answer_no;
            }
        }
    }
    return passed;
}

} // namespace

void add_trips(CLI::App& app, Streams& streams, int& status) {
    CLI::App* command =
        app.add_subcommand("trips", "Route tests: does each plan go where the course's trips say, and if not, why");
    auto options = std::make_shared<TripsCall>();
    command->add_option("COURSE", options->course, "course file (*.course.toml)")->required();
    command->add_option("ROBOT", options->robot, "robot file (*.robot.toml)")->required();
    command->add_option("PLAN", options->plans, "plan files, compared side by side")->required();
    command->add_option("--junit", options->junit, "write the results into this file (JUnit XML)");
    command->add_option("-o,--output", options->picture,
                        "draw where the first failed trip was decided into this file (.png, .svg or .pdf)");
    command->add_option("--filter", options->filter, "only trips that have this in their name");
    command->add_option("--repeat", options->repeats, "runs of each trip, with --seed and the seeds after it")
        ->capture_default_str()
        ->check(CLI::Range(1, 10000));
    command->add_option("--jobs", options->jobs, "threads; 0 for as many as there are. The result is the same")
        ->capture_default_str()
        ->check(CLI::Range(0, 256));
    command->add_flag("--no-cures", options->no_cures, "do not look for changes with which a failed trip would pass");
    add_drive_options(*command, options->drive);
    command->add_flag("--json", options->json, "print JSON");
    command->footer(
        "Example:\n  vturn trips data/fern-house/fern-house.course.toml data/fern-house/sprig-2.robot.toml \\\n"
        "      data/fern-house/left-first.plan data/fern-house/right-first.plan\n\n"
        "Exit status: 0 when every trip passed, 1 when one failed, 2 for unusable input.");
    command->callback([options, &streams, &status] { status = take_trips(streams, *options); });
}

} // namespace vturn
