#include <istream>
#include <iterator>
#include <memory>
#include <optional>

#include <fmt/format.h>

#include "call_files.hpp"
#include "commands/commands.hpp"
#include "commands/logged_looks.hpp"
#include "commands/run_options.hpp"
#include "print/print.hpp"
#include "print/print_ask.hpp"
#include "print/print_log_way.hpp"
#include "vast_turn/formats/read/days_file.hpp"
#include "vast_turn/formats/read/looks_file.hpp"
#include "vast_turn/formats/read/plan_file.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/formats/read/text_file.hpp"
#include "vast_turn/formats/write/replies_json.hpp"
#include "vast_turn/formats/write/text_file.hpp"
#include "vast_turn/recorded/log_comparison.hpp"
#include "vast_turn/robot/array.hpp"
#include "vast_turn/view/log_picture.hpp"

namespace vturn {

using namespace vast_turn;

namespace {

struct AskCall {
    std::string plan;
    std::string robot;
    RobotOptions on_robot;
    std::string pattern;
    std::string readings;
    std::string raw;
    std::string markers;
    std::string range;
    std::string way;
    bool button = false;
    int looks = 1;
    double every_ms = 0.0; // 0: the robot's loop period, or 10 ms
    std::string script;
    std::string log;
    std::string decisions;
    double tolerance_pct = 0.5;
    std::string numbers = "double";
    bool card = false;
    bool json = false;
    // Of a log put on its course.
    std::string course;
    std::string variant = as_drawn;
    std::string start;
    std::string days_file;
    int days = 60;
};

/// Everything that the questions are asked of.
struct Bench {
    Plan plan;
    std::optional<Robot> robot;
    std::optional<Calibration> calibration;
    runtime::NumberKind numbers = runtime::NumberKind::binary64;

    const Robot* robot_or_null() const { return robot ? &*robot : nullptr; }

    ArrayReader reader() const {
        if (!robot) {
            return ArrayReader(plan.sensors());
        }
        return calibration ? array_reader(*robot, *calibration, numbers) : array_reader(*robot);
    }
};

std::string joined(const std::string& name, const std::string& value) {
    return value.empty() ? "" : " " + name + value;
}

/// The options of the call as a script of one line, so that both are read alike.
std::string one_line(const AskCall& call) {
    return fmt::format("{}{}{}{}{}{}{}{}", call.pattern, joined("", call.readings), joined("raw=", call.raw),
                       joined("marker=", call.markers), joined("range=", call.range), joined("way=", call.way),
                       call.button ? " button" : "", call.looks > 1 ? fmt::format(" x{}", call.looks) : std::string{});
}

std::vector<LoggedLook> looks_of(const Streams& streams, const AskCall& call, const Bench& bench) {
    double every_ms = call.every_ms;
    if (!(every_ms > 0.0)) {
        every_ms = bench.robot ? bench.robot->look_ms : 10.0;
    }
    LookScript script(bench.plan, bench.reader(), bench.calibration.has_value(), every_ms);
    if (call.script.empty()) {
        return script.parse(one_line(call), "the look asked for");
    }
    if (call.script == "-") {
        return script.parse(read_stream(streams.in, "standard input"), "standard input");
    }
    return script.parse(read_file(call.script), call.script);
}

int ask_looks(const Streams& streams, const AskCall& call, const Bench& bench) {
    Asker asker(Mind(bench.plan, numbers_of(call.numbers)));
    std::vector<Reply> replies;
    for (const LoggedLook& logged : looks_of(streams, call, bench)) {
        replies.push_back(asker.ask(logged.look));
    }
    bool unanswered = false;
    for (std::size_t i = 0; i < replies.size(); ++i) {
        unanswered = unanswered || (replies[i].answer.rule == no_rule && !replies[i].answer.halted);
        if (!call.json) {
            print_reply(streams, bench.plan, replies[i], i + 1, bench.robot_or_null());
        }
    }
    if (call.json) {
        streams.out << replies_json(bench.plan, replies, bench.robot_or_null());
    }
    return unanswered ? answer_no : passed;
}

/// A log on its course.
struct OnCourse {
    OnCourse(const Streams& streams, const AskCall& call, const Bench& bench, const std::vector<LoggedLook>& log)
        : course(read_course(streams, call.course, call.variant)), robot(*bench.robot) {
        if (!call.days_file.empty()) {
            robot.variation = load_days(call.days_file);
        }
        LogWayOptions way;
        way.start = call.start;
        RunOptions run;
        run.calibration = bench.calibration;
        run.numbers = bench.numbers;
        found = compare_log(scene, bench.plan, log, way, run, call.days);
    }

    Course course;
    Robot robot;
    Scene scene{course, robot};
    LogComparison found;
};

int ask_log(const Streams& streams, const AskCall& call, const Bench& bench) {
    const std::vector<LoggedLook> log =
        read_looks(streams, call.log, {&bench.plan, bench.robot_or_null(), bench.calibration, bench.numbers});
    const LogCheck check = check_log(bench.plan, log, call.tolerance_pct, numbers_of(call.numbers));
    if (!call.decisions.empty() && !picture_format(call.decisions)) {
        write_output(streams, call.decisions, decisions_csv(bench.plan, log, check));
    }
    std::optional<OnCourse> on;
    if (!call.course.empty()) {
        on.emplace(streams, call, bench, log);
    }
    if (call.json) {
        streams.out << log_check_json(bench.plan, log, check, bench.robot_or_null(), on ? &on->found : nullptr);
    } else {
        print_log_check(streams, bench.plan, check, log, bench.robot_or_null());
    }
    bool is_so = !check.first;
    if (on) {
        if (!call.json) {
            print_log_way(streams, bench.plan, *bench.robot, on->found);
        }
        if (picture_format(call.decisions)) {
            write_output(streams, call.decisions,
                         draw_log(on->scene, bench.plan, on->found, format_for(call.decisions)));
        }
        is_so = is_so && !on->found.way.lost && !on->found.parting && on->found.is_of_the_days();
    }
    return is_so ? passed : answer_no;
}

int ask_card(const Streams& streams, const AskCall& call, const Bench& bench) {
    const std::vector<CardStep> steps = card_check(*bench.robot, bench.plan, call.on_robot.faults_of(*bench.robot),
                                                   bench.calibration, {}, bench.numbers);
    if (call.json) {
        streams.out << card_check_json(bench.plan, *bench.robot, steps);
    } else {
        print_card_check(streams, bench.plan, *bench.robot, steps);
    }
    for (const CardStep& step : steps) {
        if (!step.remark.empty()) {
            return answer_no;
        }
    }
    return passed;
}

void check_call(const AskCall& call) {
    const int sensors = (call.pattern.empty() ? 0 : 1) + (call.readings.empty() ? 0 : 1) + (call.raw.empty() ? 0 : 1);
    const int sources =
        (sensors > 0 ? 1 : 0) + (call.script.empty() ? 0 : 1) + (call.log.empty() ? 0 : 1) + (call.card ? 1 : 0);
    if (sources != 1 || sensors > 1) {
        throw InputError("", sources == 0 ? "there is nothing to ask" : "there is more than one thing to ask at once",
                         "give one of --pattern, --readings, --raw, --script, --log and --card");
    }
    if (call.robot.empty() && (call.card || !call.on_robot.calibration.empty())) {
        throw InputError("", "--card and --calibration need the robot", "name its file with --robot");
    }
    if (!call.card && !call.on_robot.faults.empty()) {
        throw InputError("", "--fault goes with --card here", "a look has the readings that you give it");
    }
    if (call.log.empty() && !call.decisions.empty()) {
        throw InputError("", "-o writes the decisions over a log", "name the log with --log");
    }
    if (!call.course.empty() && (call.log.empty() || call.robot.empty())) {
        throw InputError("", "a log is put on the course by its robot", "name both: --log and --robot");
    }
    if (call.course.empty() && picture_format(call.decisions)) {
        throw InputError(call.decisions, "there is no picture without the course", "name it with --course");
    }
}

int ask(const Streams& streams, const AskCall& call) {
    check_call(call);
    std::vector<Problem> warnings;
    Bench bench{load_plan(call.plan, &warnings), std::nullopt, std::nullopt, numbers_of(call.numbers)};
    print_warnings(streams, warnings);
    if (!call.robot.empty()) {
        bench.robot = load_robot(call.robot);
        check_sensor_count(*bench.robot, bench.plan);
        bench.calibration = call.on_robot.calibration_of(*bench.robot);
    }
    if (call.card) {
        return ask_card(streams, call, bench);
    }
    return call.log.empty() ? ask_looks(streams, call, bench) : ask_log(streams, call, bench);
}

void add_look_options(Command& command, AskCall& call) {
    command.option("--pattern", call.pattern, "what the array sees, from the left: # line, . floor");
    command.option("--readings", call.readings, "readings 0 (floor) to 1 (line), from the left: 0.1,0.8,0.3");
    command.option("--raw", call.raw, "raw counts, from the left; need --calibration");
    command.option("--marker", call.markers, "markers in view: amber or amber,teal");
    command.option("--range", call.range, "how far it is to what is ahead: 120mm");
    command.option("--way", call.way, "how far the robot has come: 35mm");
    command.flag("--button", call.button, "the start button is held");
    command.option("--looks", call.looks, "so many looks of this kind in a row").shows_default().within(1, 100000);
    command.option("--every-ms", call.every_ms, "from look to look; the robot's loop period, or 10, when not given")
        .within(0.01, 100000.0);
}

} // namespace

void add_ask(Parser& parser, Streams& streams) {
    Command command = parser.command(
        "ask", "What a plan does with these looks, wheels in the air, and why; also over a recorded log");
    auto options = std::make_shared<AskCall>();
    command.plan(options->plan);
    command.may_read(FolderKind::robot, "--robot", options->robot,
                     "robot file: tells what the robot does and what stands at its outputs");
    add_look_options(command, *options);
    command.reads("--script", options->script, "looks from this file, one a line; - for standard input");
    command.reads(
        "--log", options->log,
        "a log recorded on a robot (CSV, or the short form of an exported program): what the plan would have done");
    command.writes(
        "-o,--output", options->decisions,
        "write the decisions over the log into this file (CSV), or draw it on the course (.png, .svg or .pdf)");
    command.reads("--course", options->course,
                  "put the log on this course: its way, where it parts from the map's run, whether it is one of the "
                  "robot's days");
    command.option("--start", options->start,
                   "where the run began; of all starts the one that fits best when not given");
    add_variant_option(command, options->variant);
    command.reads("--variation", options->days_file,
                  "how days differ (*.days.toml), in place of what the robot file says");
    command.option("--days", options->days, "days that are driven beside it").shows_default().within(0, 10000);
    add_drawings_option(command, streams);
    command.option("--tolerance-pct", options->tolerance_pct, "logged powers may be so far off")
        .shows_default()
        .within(0.0, 200.0);
    command.flag("--card", options->card, "the bench check: a card of tape under one sensor after another");
    add_numbers_option(command, options->numbers);
    add_robot_options(command, options->on_robot);
    command.alone();
    command.prints_data("--json", options->json, "print JSON");
    command.footer(
        "Examples:\n"
        "  vturn ask data/fern-house/five-wide.plan --pattern '##...' --robot data/fern-house/sprig-5.robot.toml\n"
        "  vturn ask data/fern-house/left-first.plan --script data/fern-house/fork.looks\n"
        "  vturn ask data/fern-house/five-wide.plan --robot data/fern-house/sprig-5.robot.toml \\\n"
        "      --card --fault swapped:2,4\n"
        "  vturn ask data/fern-house/left-first.plan --log trace.csv\n"
        "  vturn ask data/fern-house/left-first.plan --log trace.csv --robot data/fern-house/sprig-2.robot.toml \\\n"
        "      --course data/fern-house/fern-house.course.toml -o log.png\n\n"
        "Exit status: 0 when every look was answered (as logged; every lamp right; on the course, as the map has it on "
        "one of the robot's days), 1 when not, 2 for unusable "
        "input.");
    command.does([options, &streams] { return ask(streams, *options); });
}

} // namespace vturn
