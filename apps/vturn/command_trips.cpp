#include <memory>

#include <fmt/format.h>

#include "commands.hpp"
#include "print.hpp"
#include "print_trips.hpp"
#include "run_options.hpp"
#include "vast_turn/files/plan_file.hpp"
#include "vast_turn/files/robot_file.hpp"
#include "vast_turn/files/text_file.hpp"

namespace vturn {

using namespace vast_turn;

namespace {

struct TripsCall {
    std::string course;
    std::string robot;
    std::vector<std::string> plans;
    std::string junit;
    bool json = false;
    DriveOptions drive;
};

int take_trips(const Streams& streams, const TripsCall& options) {
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
    const std::vector<PlanTrips> all = take_all(scene, plans, options.drive.filled_for(robot));
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
    add_drive_options(*command, options->drive);
    command->add_flag("--json", options->json, "print JSON");
    command->footer(
        "Example:\n  vturn trips data/fern-house/fern-house.course.toml data/fern-house/sprig-2.robot.toml \\\n"
        "      data/fern-house/left-first.plan data/fern-house/right-first.plan\n\n"
        "Exit status: 0 when every trip passed, 1 when one failed, 2 for unusable input.");
    command->callback([options, &streams, &status] { status = take_trips(streams, *options); });
}

} // namespace vturn
