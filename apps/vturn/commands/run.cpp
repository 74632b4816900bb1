#include <charconv>
#include <memory>

#include <fmt/format.h>

#include "call_files.hpp"
#include "commands/commands.hpp"
#include "commands/run_options.hpp"
#include "print/print.hpp"
#include "print/print_numbers.hpp"
#include "vast_turn/formats/read/plan_file.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/formats/write/text_file.hpp"
#include "vast_turn/formats/write/trace_csv.hpp"
#include "vast_turn/formats/write/trips_json.hpp"

namespace vturn {

using namespace vast_turn;

namespace {

struct RunCall {
    std::string course;
    std::string variant = as_drawn;
    std::string robot;
    std::string plan;
    std::string picture;
    std::string trace;
    std::vector<std::string> hears;
    std::string on;
    bool json = false;
    DriveOptions drive;
};

/// "bell@4.2"
Heard heard_of(const std::string& text) {
    const std::size_t at = text.rfind('@');
    Heard heard{text.substr(0, at), 0.0};
    const char* end = text.data() + text.size();
    const char* from = at == std::string::npos ? end : text.data() + at + 1;
    const auto [stopped, error] = std::from_chars(from, end, heard.at_s);
    if (heard.name.empty() || error != std::errc{} || stopped != end || !(heard.at_s >= 0.0 && heard.at_s <= 36000.0)) {
        throw InputError("", fmt::format("--hear wants a name and its time in seconds, not \"{}\"", text),
                         "write --hear bell@4.2");
    }
    return heard;
}

int drive_once(const Streams& streams, const RunCall& options) {
    std::vector<Problem> warnings;
    const Course course = read_course(streams, options.course, options.variant);
    const Robot robot = options.drive.load(options.robot);
    const Plan plan = load_plan(options.plan, &warnings);
    print_warnings(streams, warnings);
    const auto format = options.picture.empty() ? PictureFormat::png : format_for(options.picture);
    const Scene scene(course, robot);
    RunOptions drive_options = options.drive.filled_for(robot);
    for (const std::string& heard : options.hears) {
        drive_options.hears.push_back(heard_of(heard));
    }
    const bool is_short = drive_options.numbers == runtime::NumberKind::binary32;
    drive_options.keep_told = !options.trace.empty() || is_short;
    if (drive_options.day > 0) {
        warn_of_days_alike(streams, robot);
    }
    std::optional<OtherMind> other;
    if (!options.on.empty()) {
        other.emplace(OtherProgram{.words = words_of_call(options.on)}, plan, robot);
    }
    const Run run = other ? drive(scene, plan, Decide(*other), drive_options) : drive(scene, plan, drive_options);
    if (!options.picture.empty()) {
        write_output(streams, options.picture, draw_run(scene, &plan, run, format));
    }
    if (!options.trace.empty()) {
        write_output(streams, options.trace, trace_csv(run, robot, &plan));
    }
    const std::optional<NumbersCheck> numbers =
        is_short && !other ? std::optional(check_numbers(plan, run.told)) : std::nullopt;
    if (options.json) {
        streams.out << run_json(scene, plan, run, numbers ? &*numbers : nullptr);
    } else {
        print_run(streams, scene, plan, run);
        if (other) {
            streams.out << told_pace(options.on, other->pace(), robot.look_ms);
        } else if (numbers) {
            print_numbers(streams, plan, *numbers, run.told);
        }
    }
    return run.ending == Ending::halted ? passed : answer_no;
}

} // namespace

void add_run(Parser& parser, Streams& streams) {
    Command command =
        parser.command("run", "Drives a robot over a course once: route, end, way, events; picture and trace");
    auto options = std::make_shared<RunCall>();
    command.reads("COURSE", options->course, "course file (*.course.toml)").required();
    command.reads("ROBOT", options->robot, "robot file (*.robot.toml)").required();
    command.reads("PLAN", options->plan, "plan file (*.plan)").required();
    command.writes("-o,--output", options->picture, "draw the path into this file (.png, .svg or .pdf)");
    command.writes("--trace", options->trace, "write every look into this file (CSV)");
    command.option("--start", options->drive.run.start, "name of the start; the course's first when not given");
    command.option("--button-s", options->drive.run.button_s,
                   "the start button is held: from, until; may be given again");
    command.option("--hear", options->hears, "a name is heard: bell@4.2 (seconds); may be given again")
        .one_value_each();
    command.option("--limit-s", options->drive.run.time_limit_s, "the run ends after this long")
        .shows_default()
        .within(0.001, 36000.0);
    command.option("--off-course-mm", options->drive.run.off_course_mm, "farther than this from any tape ends the run")
        .shows_default()
        .within(1.0, 100000.0);
    add_drive_options(command, options->drive);
    add_on_option(command, options->on);
    command.prints_data("--json", options->json, "print JSON");
    add_variant_option(command, options->variant);
    add_drawings_option(command, streams);
    command.footer(
        "Example:\n  vturn run data/fern-house/fern-house.course.toml data/fern-house/sprig-2.robot.toml \\\n"
        "      data/fern-house/left-first.plan -o run.png --trace run.csv\n\n"
        "Exit status: 0 when the plan halted, 1 when the run ended in another way, 2 for unusable input.");
    command.does([options, &streams] { return drive_once(streams, *options); });
}

} // namespace vturn
