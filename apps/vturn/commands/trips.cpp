#include <memory>
#include <optional>

#include <fmt/format.h>

#include "commands/commands.hpp"
#include "commands/run_options.hpp"
#include "print/print.hpp"
#include "print/print_trips.hpp"
#include "vast_turn/formats/read/plan_file.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/formats/read/text_file.hpp"
#include "vast_turn/paint/trip_ground.hpp"
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
    bool json = false;
    bool no_cures = false;
    int repeats = 0;
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

/// The first failed trip, with the path of its first cure.
void draw_first_failure(const Streams& streams, const std::vector<PlanTrips>& all, const TripsCall& options,
                        const TripsWork& work) {
    for (const PlanTrips& one : all) {
        for (std::size_t i = 0; i < one.results.size(); ++i) {
            const TripResult& failed = one.results[i];
            if (failed.passed || !failed.parting) {
                continue;
            }
            const Scene& scene = *work.cases[i].scene;
            std::optional<Run> cured;
            if (!one.cures[i].empty()) {
                RunOptions own = work.options.run;
                own.seed = failed.run.seed;
                const Cure& cure = one.cures[i].front();
                const Compiled changed = compile_plan(cure.text, one.plan.file());
                const std::size_t from = cure.passes ? 0 : failed.parting->look;
                cured = take_trip(scene, one.plan, changed.plan.value(), from, failed.trip, own).run;
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
    const Robot robot = load_robot(options.robot);
    const TripGround ground(options.course, robot, options.trips);
    print_warnings(streams, ground.course().warnings);
    std::vector<Plan> plans;
    for (const std::string& path : options.plans) {
        plans.push_back(load_plan(path, &warnings));
    }
    print_warnings(streams, warnings);
    const TripsWork work{chosen(ground, options),
                         {options.drive.filled_for(robot), options.repeats, options.jobs, {}, {}},
                         !options.no_cures};
    const std::vector<PlanTrips> all = take_all(streams, plans, work);
    if (all.empty()) {
        return interrupted;
    }
    if (!options.picture.empty()) {
        draw_first_failure(streams, all, options, work);
    }
    if (!options.junit.empty()) {
        write_file(options.junit, trips_junit(work.cases, all));
    }
    if (!options.json) {
        return print_trips(streams, work.cases, all);
    }
    streams.out << trips_json(work.cases, all);
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
    command->add_option("--trips", options->trips, "trips of this file (*.trips.toml) in place of the course's own");
    command->add_option("--junit", options->junit, "write the results into this file (JUnit XML)");
    command->add_option("-o,--output", options->picture,
                        "draw where the first failed trip was decided into this file (.png, .svg or .pdf)");
    command->add_option("--filter", options->filter, "only trips that have this in their name");
    command
        ->add_option("--repeat", options->repeats,
                     "runs of each trip, with --seed and the seeds after it; as the trip says when not given")
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
