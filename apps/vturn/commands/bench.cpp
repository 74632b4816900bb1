#include <memory>
#include <optional>

#include <fmt/format.h>

#include "bench/actions.hpp"
#include "bench/link.hpp"
#include "bench/live_view.hpp"
#include "bench/show.hpp"
#include "bench/typed.hpp"
#include "call_files.hpp"
#include "commands/commands.hpp"
#include "commands/interrupt.hpp"
#include "commands/run_options.hpp"
#include "print/print.hpp"
#include "vast_turn/base/visible.hpp"
#include "vast_turn/formats/read/plan_file.hpp"
#include "vast_turn/settings/adjustable.hpp"

namespace vturn {

using namespace vast_turn;

namespace {

struct BenchCall {
    std::string port;
    std::string robot;
    std::string plan;
    std::string settings;
    std::string calibration;
    std::string script;
    std::string numbers = "double";
    std::vector<std::string> outputs;
    int bits_s = 115200;
    double every_ms = 500.0;
    double patience_s = 10.0;
    bool in_frames = false;
};

/// Commands of a script, or of standard input, each when its time has come by the robot's clock.
class LineCommands {
public:
    LineCommands(const Streams& streams, const BenchCall& call)
        : typed_(streams, false), name_(call.script.empty() || call.script == "-" ? "standard input" : call.script) {
        if (!call.script.empty() && call.script != "-") {
            script_ = read_file(call.script);
        } else if (call.script.empty() && streams.in_is_terminal) {
            script_ = "";
        }
    }

    /// The next that is due; nothing when none is yet.
    std::optional<std::string> next(double clock_ms, bool is_free) {
        if (!waiting_) {
            waiting_ = read();
            if (waiting_) {
                ++number_;
                part();
            }
        }
        // A command waits for its time, and for the card check to be through with a step.
        if (!waiting_ || clock_ms < at_ms_ || !is_free) {
            return std::nullopt;
        }
        return std::exchange(waiting_, std::nullopt);
    }
    /// Whether there were some and all are through; where there were none somebody only looks on.
    bool ended() const { return number_ > 0 && !waiting_ && (script_ ? from_ >= script_->size() : typed_.ended()); }
    const std::string& name() const { return name_; }
    int number() const { return number_; }

private:
    std::optional<std::string> read() {
        if (!script_) {
            return typed_.next();
        }
        if (from_ >= script_->size()) {
            return std::nullopt;
        }
        const std::size_t end = std::min(script_->find('\n', from_), script_->size());
        std::string line = script_->substr(from_, end - from_);
        from_ = end + 1;
        return line;
    }

    /// "at 2.4s learn floor": when, and what.
    void part() {
        at_ms_ = 0.0;
        const std::size_t first = waiting_->find_first_not_of(" \t");
        if (first == std::string::npos || waiting_->compare(first, 3, "at ") != 0) {
            return;
        }
        const std::size_t from = waiting_->find_first_not_of(" \t", first + 3);
        const std::size_t end = from == std::string::npos ? from : waiting_->find_first_of(" \t", from);
        const auto time = from == std::string::npos ? std::nullopt : parse_number(waiting_->substr(from, end - from));
        if (!time || (time->unit != "s" && time->unit != "ms") || end == std::string::npos) {
            throw InputError(name_, fmt::format("line {}: `{}` says no time", number_, visible(*waiting_)),
                             "write it so: at 2.4s learn floor");
        }
        at_ms_ = time->unit == "s" ? 1000.0 * time->value : time->value;
        waiting_ = waiting_->substr(end);
    }

    Typed typed_;
    std::string name_;
    std::optional<std::string> script_;
    std::size_t from_ = 0;
    std::optional<std::string> waiting_;
    double at_ms_ = 0.0;
    int number_ = 0;
};

/// The bench where nobody looks at a terminal: lines in, lines out.
class LineBench {
public:
    LineBench(const Streams& streams, const BenchCall& call, BenchSession& session, RobotLink& link,
              BenchActions& actions)
        : streams_(streams), call_(call), session_(session), link_(link), actions_(actions), commands_(streams, call) {}

    int go() {
        const Interrupt interrupt;
        const auto began = std::chrono::steady_clock::now();
        auto heard = began;
        std::uint64_t looks = 0;
        while (!interrupt.asked() && !actions_.is_left()) {
            for (const Told& told : link_.go_on(10)) {
                print(fmt::format("  {:<10}{}{}", told.kind, told.kind.size() > 9 ? " " : "", visible(told.what)));
            }
            follow_walk();
            print_look();
            const auto now = std::chrono::steady_clock::now();
            if (link_.taken() != looks) {
                looks = link_.taken();
                heard = now;
            }
            obey();
            if (commands_.ended() && link_.is_quiet()) {
                break;
            }
            if (now - heard > std::chrono::duration<double>(call_.patience_s)) {
                print(fmt::format("  silence    no look has come for {:g} s", call_.patience_s));
                silent_ = true;
                break;
            }
        }
        print("  line       " + line_words(link_, call_.port, false));
        return refused_ ? unusable : (silent_ || failed_ ? answer_no : passed);
    }

private:
    void print(const std::string& line) const { streams_.out << line << "\n" << std::flush; }

    void follow_walk() {
        const bool holds = session_.card_walk().is_holding();
        if (held_ && !holds) {
            print(actions_.card_words());
            failed_ = failed_ || !session_.card_walk().findings().empty();
        }
        held_ = holds;
    }

    void print_look() {
        if (!session_.last() || call_.every_ms <= 0.0) {
            return;
        }
        const double now = session_.last()->look.clock_ms;
        const bool began_anew = now < shown_ms_;
        if (began_anew || now >= shown_ms_ + call_.every_ms) {
            print(look_words(session_));
            shown_ms_ = now;
        }
    }

    void obey() {
        const double clock = session_.last() ? session_.last()->look.clock_ms : -1.0;
        while (!actions_.is_left()) {
            const std::optional<std::string> line = commands_.next(clock, !session_.card_walk().is_holding());
            if (!line) {
                return;
            }
            const std::size_t from = line->find_first_not_of(" \t");
            if (from == std::string::npos || (*line)[from] == '#') {
                continue;
            }
            print("> " + visible(line->substr(from)));
            try {
                const std::string said = actions_.carry_out(*line);
                if (!said.empty()) {
                    print(said);
                }
            } catch (const InputError& error) {
                const Problem& problem = error.problems().front();
                streams_.err << InputError(commands_.name(),
                                           fmt::format("line {}: {}", commands_.number(), problem.message),
                                           problem.cure)
                                    .what();
                refused_ = true; // the robot is still there, and so is what was learned
            }
        }
    }

    const Streams& streams_;
    const BenchCall& call_;
    BenchSession& session_;
    RobotLink& link_;
    BenchActions& actions_;
    LineCommands commands_;
    double shown_ms_ = -1e9; // by the robot's clock
    bool held_ = false;
    bool failed_ = false;
    bool silent_ = false;
    bool refused_ = false;
};

std::optional<BenchSettings> settings_of(const BenchCall& call, std::vector<Problem>& warnings) {
    if (call.settings.empty()) {
        return std::nullopt;
    }
    const std::string text = read_plan(call.settings);
    BenchSettings settings{call.settings, text, adjustable_plan(text, call.settings, &warnings), {}};
    if (settings.plan.lets.empty()) {
        throw InputError(call.settings, "no let of the plan may be changed on the running robot",
                         "say of one what it may be: let cruise = 47 // may be 36..84");
    }
    for (const AdjustableLet& let : settings.plan.lets) {
        settings.values.push_back(let.now.value);
    }
    return settings;
}

int bench(const Streams& streams, const BenchCall& call) {
    if (call.robot.empty()) {
        throw InputError("", "the bench must know what the robot has", "name its file: --robot ROBOT");
    }
    std::vector<Problem> warnings;
    const Robot robot = load_robot(call.robot);
    std::optional<BenchSettings> settings = settings_of(call, warnings);
    BenchParts parts{robot, std::nullopt, std::nullopt, numbers_of(call.numbers)};
    if (settings) {
        parts.plan = settings->plan.plan;
        for (const std::string& fixed : settings->plan.fixed) {
            streams.err << fmt::format("{}: `{}` stays as it is: the language wants a constant where it stands\n",
                                       call.settings, fixed);
        }
    } else if (!call.plan.empty()) {
        parts.plan = load_plan(call.plan, &warnings);
    }
    print_warnings(streams, warnings);
    if (!call.calibration.empty()) {
        parts.calibration = calibration_for(robot, load_calibration(call.calibration));
    }
    if (call.in_frames && !parts.plan) {
        throw InputError("", "the short form needs the plan that was exported", "name it with --plan");
    }
    SerialPort port(call.port, call.bits_s);
    BenchSession session(parts);
    RobotLink link(port, session, {!settings, call.in_frames});
    BenchActions actions(streams, session, link, settings ? &*settings : nullptr);
    for (const std::string& path : call.outputs) {
        actions.check_saves(path);
    }
    int status = passed;
    if (call.script.empty() && streams.in_is_terminal && streams.out_is_terminal) {
        show_bench(session, link, actions, call.port, call.outputs);
    } else {
        status = LineBench(streams, call, session, link, actions).go();
    }
    for (const std::string& path : call.outputs) {
        try {
            streams.out << actions.save(path) << "\n";
        } catch (const InputError& error) { // the other files are written all the same
            streams.err << path << ": " << error.what();
            status = unusable;
        }
    }
    return status;
}

} // namespace

void add_bench(Parser& parser, Streams& streams) {
    Command command = parser.command(
        "bench", "A robot at the end of a serial line, wheels in the air: what it sees, calibration, wires, settings");
    auto options = std::make_shared<BenchCall>();
    command.option("PORT", options->port, "the port that it is at: /dev/ttyUSB0").required();
    command.may_read(FolderKind::robot, "--robot", options->robot, "robot file; needed");
    command.may_read(FolderKind::plan, "--plan", options->plan, "what it would do is told by this plan");
    command.reads("--settings", options->settings,
                  "numbers of this plan, which takes the place of --plan, are changed on the running robot: lets whose "
                  "comments say `may be 36..84`. Its motors stay as they are");
    command.may_read(FolderKind::calibration, "--calibration", options->calibration,
                     "what it reads with until one has been learned");
    command.reads("--script", options->script, "commands from this file, a line each; - for standard input");
    command.writes(
        "-o,--output", options->outputs,
        "write in the end: a calibration (.toml), readings (.csv), every look (.log.csv); may be given again");
    command.option("--bits-s", options->bits_s, "of the line, a second").shows_default();
    command.flag("--short", options->in_frames, "ask for the short form");
    command.option("--every-ms", options->every_ms, "without a terminal: a line so often by the robot's clock; 0: none")
        .shows_default()
        .within(0.0, 1e6);
    command.option("--patience-s", options->patience_s, "without a terminal: it ends when so long no look comes")
        .shows_default()
        .within(0.1, 36000.0);
    add_numbers_option(command, options->numbers);
    std::string commands = "Commands, as lines of a script or behind `:` in the terminal:\n";
    for (const std::vector<std::string>& row : BenchActions::help()) {
        commands += fmt::format("  {:<34} {}\n", row[0], row[1]);
    }
    command.footer(
        commands +
        "\nExample:\n  vturn bench sprig-port --robot data/fern-house/sprig-5.robot.toml \\\n"
        "      --plan data/fern-house/rounds.plan -o sprig-5.calibration.toml\n\n"
        "Exit status: 0, 1 when the card check found a fault or the robot fell silent, 2 for unusable input.");
    command.does([options, &streams] { return bench(streams, *options); });
}

} // namespace vturn
