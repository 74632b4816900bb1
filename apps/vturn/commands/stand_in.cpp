#include <chrono>
#include <cmath>
#include <istream>
#include <memory>

#include <fmt/format.h>

#include "bench/serial_port.hpp"
#include "bench/typed.hpp"
#include "commands/commands.hpp"
#include "commands/interrupt.hpp"
#include "commands/run_options.hpp"
#include "print/print.hpp"
#include "vast_turn/bench/hand_script.hpp"
#include "vast_turn/bench/stand_in.hpp"
#include "vast_turn/formats/read/text_file.hpp"
#include "vast_turn/paint/course_file.hpp"
#include "vast_turn/settings/adjustable.hpp"

namespace vturn {

using namespace vast_turn;

namespace {

struct StandInCall {
    std::string robot;
    std::string course;
    std::string plan;
    std::string hand;
    std::string link;
    std::vector<std::string> cable;
    bool drives = false;
    bool in_frames = false;
    bool at_once = false;
    double speed = 1.0;
    double for_s = 36000.0;
    DriveOptions drive;
};

/// What lies on the bench when no course is named.
const char* const bench_course = R"(name = "the bench"
size_mm = [1130, 860]
[palette]
amber = "#e0a010"
teal = "#0f7d86"
magenta = "#b02a86"
[[tape]]
path = "M 140,690 H 990"
[[marker]]
colour = "amber"
at_mm = [190, 160]
size_mm = [130, 130]
[[marker]]
colour = "teal"
at_mm = [390, 160]
size_mm = [130, 130]
[[marker]]
colour = "magenta"
at_mm = [590, 160]
size_mm = [130, 130]
)";

Course course_for(const Streams& streams, const StandInCall& call) {
    return call.course.empty() ? CourseReading(bench_course, "the bench", {}).read().course
                               : read_course(streams, call.course);
}

/// The hand: what the script says, or what was typed last.
class Hand {
public:
    Hand(const Streams& streams, const StandInCall& call, const Course& course)
        : streams_(streams), typed_(streams, call.hand.empty() && !call.drives) {
        if (!call.hand.empty()) {
            script_ =
                parse_hand_script(call.hand == "-" ? read_stream(streams.in, "standard input") : read_file(call.hand),
                                  call.hand == "-" ? "standard input" : call.hand);
        }
        for (const Marker& marker : course.markers) {
            if (std::find(colours_.begin(), colours_.end(), marker.colour) == colours_.end()) {
                colours_.push_back(marker.colour);
            }
        }
    }

    /// All of a script, before anything begins.
    void check(StandIn& robot) const {
        for (const HandMove& move : script_) {
            robot.hold(move.held);
        }
    }

    bool by_keys() const { return typed_.by_keys(); }

    /// What it does at this time since it began; false when somebody wants to leave.
    bool go_on(double t_ms, HandMove& move) {
        if (!script_.empty()) {
            move = hand_at(script_, t_ms);
            return true;
        }
        while (const std::optional<std::string> typed = typed_.next()) {
            ++line_;
            if (*typed == "leave" || (typed_.by_keys() && (*typed == "q" || *typed == "\x04"))) {
                return false;
            }
            const std::string words = typed_.by_keys() ? words_for(*typed) : *typed;
            if (words.find_first_not_of(" \t") != std::string::npos) {
                take(words, t_ms);
            }
        }
        move = typed_move_;
        const double since = t_ms - since_ms_;
        move.held.share = move.lasts_ms > 0.0 ? std::min(1.0, since / move.lasts_ms) : 0.0;
        return true;
    }

private:
    /// A key as the words that it stands for; nothing for others.
    std::string words_for(const std::string& key) {
        switch (key.front()) {
        case 'f': return "floor";
        case 'l': return "line";
        case 's': return "sweep";
        case 'b': return "sweep-back";
        case '0': return "card off";
        case 'u': return typed_move_.unplugged ? "floor" : "unplug";
        case 'p': return colours_.empty() ? "" : "plate " + colours_[next_colour_++ % colours_.size()];
        default: break;
        }
        return key.front() >= '1' && key.front() <= '8' ? "card " + key : "";
    }

    void take(const std::string& words, double t_ms) {
        try {
            typed_move_ = parse_hand_move(words, "standard input", line_);
            since_ms_ = t_ms;
        } catch (const InputError& error) {
            streams_.err << error.what() << std::flush;
        }
    }

    const Streams& streams_;
    Typed typed_;
    std::vector<HandMove> script_;
    std::vector<std::string> colours_;
    std::size_t next_colour_ = 0;
    HandMove typed_move_;
    double since_ms_ = 0.0;
    int line_ = 0;
};

constexpr double longest_behind_ms = 40.0;

/// The robot at its line, at its own pace.
class Standing {
public:
    Standing(const Streams& streams, const StandInCall& call, StandIn& robot, Hand& hand)
        : streams_(streams), call_(call), robot_(robot), hand_(hand), line_(call.link),
          to_robot_(parse_cable_faults(call.cable), 2 * call.drive.run.seed),
          from_robot_(parse_cable_faults(call.cable), 2 * call.drive.run.seed + 1), begun_(call.at_once) {}

    void go(const std::string& name) {
        streams_.out << fmt::format("{}\n  {} stands in for the robot there{}\n", line_.name(), name,
                                    begun_ ? "" : "; it waits to be spoken to")
                     << (hand_.by_keys()
                             ? "  f floor   l line   s sweep   b back   p a plate   1-8 a card   0 no card   "
                               "u pull the cable   q leave\n"
                             : "")
                     << std::flush;
        const Interrupt interrupt;
        std::chrono::steady_clock::time_point from = std::chrono::steady_clock::now();
        while (!interrupt.asked() && robot_.due_ms() < 1000.0 * call_.for_s) {
            if (!begun_) { // as a board that starts when its port is opened
                listen(20);
                from = std::chrono::steady_clock::now();
                continue;
            }
            const std::chrono::duration<double, std::milli> gone = std::chrono::steady_clock::now() - from;
            const double early = robot_.due_ms() / call_.speed - gone.count();
            if (early > 0.0) {
                listen(static_cast<int>(std::ceil(early)));
                continue;
            }
            if (early < -longest_behind_ms) { // on a busy machine it is slow, rather than in a hurry afterwards
                from += std::chrono::duration_cast<std::chrono::steady_clock::duration>(
                    std::chrono::duration<double, std::milli>(-early));
            }
            if (!look()) {
                break;
            }
        }
    }

private:
    void listen(int wait_ms) {
        const std::string heard = to_robot_.through(line_.read(wait_ms));
        const std::string answer = heard.empty() ? "" : robot_.hears(heard);
        if (!answer.empty()) {
            begun_ = true;
            line_.write(from_robot_.through(answer));
        }
    }

    bool look() {
        listen(0);
        HandMove move;
        if (!hand_.go_on(robot_.due_ms(), move)) {
            return false;
        }
        if (!call_.drives) {
            follow(move);
        }
        line_.write(from_robot_.through(robot_.look()));
        return true;
    }

    void follow(const HandMove& move) {
        try {
            robot_.hold(move.held);
        } catch (const InputError& error) {
            if (told_ != error.what()) {
                told_ = error.what();
                streams_.err << told_ << std::flush;
            }
            return;
        }
        if (move.unplugged != unplugged_) {
            unplugged_ = move.unplugged;
            unplugged_ ? line_.unplug() : line_.plug();
        }
        const std::string words = words_of(move);
        if (words != told_) {
            told_ = words;
            streams_.out << fmt::format("  {:8.2f} s  {}\n", robot_.due_ms() / 1000.0, words) << std::flush;
        }
    }

    const Streams& streams_;
    const StandInCall& call_;
    StandIn& robot_;
    Hand& hand_;
    PseudoTerminal line_;
    BadCable to_robot_;
    BadCable from_robot_;
    bool begun_;
    bool unplugged_ = false;
    std::string told_;
};

int stand_in(const Streams& streams, const StandInCall& call) {
    std::vector<Problem> warnings;
    const Robot robot = call.drive.load(call.robot);
    const Course course = course_for(streams, call);
    StandInOptions options;
    options.drives = call.drives;
    options.in_frames = call.in_frames;
    if (!call.plan.empty()) {
        options.plan = adjustable_plan(call.drive.set.text(call.plan), call.plan, &warnings).plan;
    }
    call.drive.set.check();
    print_warnings(streams, warnings);
    if (call.drives && (call.course.empty() || !call.hand.empty())) {
        throw InputError("", call.course.empty() ? "there is no course to drive on" : "who drives is not held",
                         call.course.empty() ? "name one behind the robot" : "leave out --hand or --drives");
    }
    options.run = call.drive.filled_for(robot);
    const Scene scene(course, robot);
    StandIn self(scene, options);
    Hand hand(streams, call, course);
    hand.check(self);
    Standing(streams, call, self, hand).go(robot.name);
    return passed;
}

} // namespace

void add_stand_in(Parser& parser, Streams& streams) {
    Command command = parser.command(
        "stand-in", "A simulated robot at the end of a serial line, held by a hand or driving, to try `bench` with");
    auto options = std::make_shared<StandInCall>();
    command.robot(options->robot);
    command.reads("COURSE", options->course,
                  "course to hold it over or drive on; a bench with a tape and three plates");
    command.may_read(FolderKind::plan, "--plan", options->plan, "what its program decides by");
    command.reads("--hand", options->hand, "what the hand does (docs/serial-line.md); - for standard input");
    command.flag("--drives", options->drives, "it drives over the course by its plan, and no hand holds it");
    command.option("--at", options->link, "make a symbolic link of this name to its port");
    command
        .option("--cable", options->cable,
                "a bad cable: lost=0.01, doubled=, garbled= or cut=, shares of the bytes; may be given again")
        .one_value_each();
    command.flag("--short", options->in_frames, "it begins with the short form");
    command.flag("--at-once", options->at_once, "it begins at once, not when it is first spoken to");
    command.option("--pace", options->speed, "its time goes so many times as fast as ours")
        .shows_default()
        .within(0.01, 100.0);
    command.option("--for-s", options->for_s, "it ends after so long by its clock").within(0.01, 1e6);
    add_one_run_options(command, options->drive);
    add_drive_options(command, options->drive);
    add_drawings_option(command, streams);
    command.footer("Example:\n  vturn stand-in data/fern-house/sprig-5.robot.toml --fault swapped:2,4 --at sprig-port\n"
                   "  vturn bench sprig-port --robot data/fern-house/sprig-5.robot.toml      # in another terminal\n\n"
                   "In a terminal keys move the hand; else lines of its standard input do: floor, line, card 2 ...\n"
                   "The line's form stands in docs/serial-line.md. Ctrl-C ends it.");
    command.does([options, &streams] { return stand_in(streams, *options); });
}

} // namespace vturn
