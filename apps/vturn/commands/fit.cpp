#include <memory>

#include <fmt/format.h>

#include "commands/commands.hpp"
#include "commands/logged_looks.hpp"
#include "commands/run_options.hpp"
#include "print/print.hpp"
#include "print/print_fit.hpp"
#include "vast_turn/fit/fit.hpp"
#include "vast_turn/fit/telling_drive.hpp"
#include "vast_turn/formats/read/calibration_file.hpp"
#include "vast_turn/formats/read/days_file.hpp"
#include "vast_turn/formats/read/drive_log_file.hpp"
#include "vast_turn/formats/read/plan_file.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/formats/read/robot_text.hpp"
#include "vast_turn/formats/read/text_file.hpp"
#include "vast_turn/formats/write/fit_text.hpp"
#include "vast_turn/formats/write/text_file.hpp"
#include "vast_turn/recorded/course_ruler.hpp"
#include "vast_turn/wire/told_log.hpp"

namespace vturn {

using namespace vast_turn;

namespace {

struct FitCall {
    std::string robot;
    std::vector<std::string> logs;
    std::string plan;
    std::string course;
    std::string start;
    std::string variant = as_drawn;
    std::string calibration;
    std::string days;
    std::string output;
    std::string drives;
    bool json = false;
};

DriveLog read_log(const Streams& streams, const FitCall& call, const std::string& path, const Robot& robot) {
    const std::string text = read_file(path, std::size_t{256} << 20U);
    if (!is_told_in_frames(text)) {
        warn_of_garbled(streams, text, path);
        return parse_drive_log(text, path, robot);
    }
    if (call.plan.empty()) {
        throw InputError(path, "the log is in the short form, which needs the plan that was exported",
                         "name it: --plan PLAN");
    }
    return told_drive_log(text, path, load_plan(call.plan), robot);
}

int write_drive(const Streams& streams, const FitCall& call, const Robot& robot) {
    if (!call.logs.empty() || !call.output.empty()) {
        throw InputError("", "--drives writes a drive to be made, and fits nothing", "leave the logs and -o out");
    }
    write_output(streams, call.drives, telling_drive(robot));
    return passed;
}

/// The course as a ruler: each log followed on it that can be.
std::vector<CourseRuler> ruled(const Streams& streams, const FitCall& call, const Robot& robot,
                               const std::optional<Calibration>& calibration) {
    if (call.course.empty()) {
        if (!call.start.empty()) {
            throw InputError("", "--start is a start of the course, which is not named", "name it with --course");
        }
        return {};
    }
    const Course course = read_course(streams, call.course, call.variant);
    const Scene scene(course, robot);
    std::optional<Plan> plan;
    if (!call.plan.empty()) {
        plan = load_plan(call.plan);
    }
    LogWayOptions options;
    options.start = call.start;
    std::vector<CourseRuler> rulers;
    for (const std::string& path : call.logs) {
        const std::vector<LoggedLook> looks = read_looks(
            streams, path, {plan ? &*plan : nullptr, &robot, calibration ? calibration : scene.own_calibration()});
        const std::optional<CourseRuler> ruler = rule_by_course(scene, looks, options);
        if (ruler) {
            rulers.push_back(*ruler);
        } else {
            streams.err << path
                        << ": warning: its way is not found on the course, so the course tells nothing of it\n  to do: "
                           "name the start (--start), and look whether the log is of this course (vturn ask --log)\n";
        }
    }
    return rulers;
}

int fit_robot(const Streams& streams, const FitCall& call) {
    const std::string text = read_file(call.robot);
    Robot robot = parse_robot(text, call.robot);
    if (!call.days.empty()) {
        robot.variation = load_days(call.days);
    }
    if (!call.drives.empty()) {
        return write_drive(streams, call, robot);
    }
    if (call.logs.empty()) {
        throw InputError("", "there is no log to fit the robot to",
                         "name at least one, or write a drive that tells: --drives");
    }
    std::vector<DriveLog> logs;
    for (const std::string& path : call.logs) {
        logs.push_back(read_log(streams, call, path, robot));
    }
    FitOptions options;
    if (!call.calibration.empty()) {
        options.calibration = calibration_for(robot, load_calibration(call.calibration));
    }
    options.rulers = ruled(streams, call, robot, options.calibration);
    const FitReport report = fit(robot, logs, options);
    if (call.json) {
        streams.out << fit_json(report);
    } else {
        print_fit(streams, report);
    }
    if (!report.is_of_that_robot()) {
        if (!call.output.empty()) {
            streams.err << call.output << ": not written, since the logs are not of that robot\n";
        }
        return answer_no;
    }
    if (!call.output.empty()) {
        write_output(streams, call.output, robot_text_with(text, call.robot, fitted_changes(report)));
    }
    return passed;
}

} // namespace

void add_fit(Parser& parser, Streams& streams) {
    Command command =
        parser.command("fit", "The robot's numbers as its logs tell them: speeds, lag, delay, dead band, track, noise");
    auto options = std::make_shared<FitCall>();
    command.robot(options->robot);
    command.reads("LOG", options->logs, "logs of runs: CSV, or the short form with --plan");
    command.reads("--plan", options->plan, "plan that was exported, for logs in the short form");
    command.reads("--course", options->course,
                  "course of the run, as a ruler: speeds and track of a robot without encoders, the size of wheels");
    command.option("--start", options->start, "the start on it from which the logs' runs began (default: which fits)");
    add_variant_option(command, options->variant);
    command.reads("--calibration", options->calibration,
                  "calibration from before the logs: what light the sensors get since then");
    command.reads(
        "--variation", options->days,
        "how days differ (*.days.toml), in place of what the robot file says: whether the logs' day is one of them");
    command.writes("-o,--output", options->output, "write the robot file with the numbers that were found");
    command.writes("--drives", options->drives, "write the plan of a drive that tells most numbers, and fit nothing");
    command.prints_data("--json", options->json, "print JSON");
    command.footer(
        "Examples:\n"
        "  vturn fit data/fern-house/sprig-5.robot.toml --drives telling.plan\n"
        "  vturn fit data/fern-house/sprig-5.robot.toml monday.csv tuesday.csv -o fitted.robot.toml\n"
        "  vturn fit data/fern-house/sprig-5.robot.toml monday.csv --course data/fern-house/mist-loop.course.toml\n\n"
        "Exit status: 0 when the logs are of that robot, 1 when they are not, 2 for unusable input.");
    command.does([options, &streams] { return fit_robot(streams, *options); });
}

} // namespace vturn
