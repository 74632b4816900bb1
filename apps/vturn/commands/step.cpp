#include <istream>
#include <memory>
#include <sstream>

#include <fmt/format.h>

#include "call_files.hpp"
#include "commands/commands.hpp"
#include "commands/run_options.hpp"
#include "print/print.hpp"
#include "step/keys.hpp"
#include "step/session.hpp"
#include "vast_turn/formats/read/plan_file.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/formats/read/text_file.hpp"

namespace vturn {

using namespace vast_turn;

namespace {

struct StepCall {
    std::string course;
    std::string variant = as_drawn;
    std::string robot;
    std::string plan;
    std::string script;
    std::string picture;
    DriveOptions drive;
};

/// A line without its end; false at the end of the input. One that is too long ends where it becomes so.
bool next_line(std::istream& in, std::string& line) {
    constexpr std::size_t longest = std::size_t{64} << 10U;
    line.clear();
    int c = in.get();
    for (; c != std::istream::traits_type::eof() && c != '\n' && line.size() <= longest; c = in.get()) {
        line += static_cast<char>(c);
    }
    return !line.empty() || c == '\n';
}

/// Line after line; each is printed before what came of it, so that a session can be read.
void follow_script(Session& session, const Streams& streams, std::istream& in, const std::string& name) {
    std::string line;
    for (int number = 1; next_line(in, line); ++number) {
        if (!line.empty() && line.back() == '\r') {
            line.pop_back();
        }
        const bool is_told = !line.empty() && line.front() != '#';
        if (is_told) {
            streams.out << "> " << line << "\n";
        }
        if (!session.carry_out(line, name, number)) {
            return;
        }
    }
}

int step(const Streams& streams, const StepCall& call) {
    std::vector<Problem> warnings;
    const Course course = read_course(streams, call.course, call.variant);
    const Robot robot = call.drive.load(call.robot);
    const Plan plan = call.drive.set.plan(call.plan, warnings);
    call.drive.set.check();
    print_warnings(streams, warnings);
    const Scene scene(course, robot);
    const RunOptions options = call.drive.filled_for(robot);
    if (options.day > 0) {
        warn_of_days_alike(streams, robot);
    }
    const SessionParts parts{scene, plan, options,
                             fmt::format("vturn step {} {} {}, seed {}, day {}", call.course, call.robot, call.plan,
                                         options.seed, options.day)};
    const auto format = call.picture.empty() ? PictureFormat::png : format_for(call.picture);
    const auto at_end = [&](const Session& session) {
        if (!call.picture.empty()) {
            write_output(streams, call.picture, session.picture(format));
        }
    };
    if (call.script.empty() && streams.in_is_terminal && streams.out_is_terminal) {
        follow_keys([&](const Streams& quiet) { return std::make_unique<Session>(quiet, parts); }, streams,
                    [&](const Session& session) {
                        streams.out << session.where() << "\n";
                        at_end(session);
                    });
        return passed;
    }
    Session session(streams, parts);
    streams.out << session.where() << "\n";
    if (call.script.empty() || call.script == "-") {
        follow_script(session, streams, streams.in, "standard input");
    } else {
        std::istringstream in(read_file(call.script));
        follow_script(session, streams, in, call.script);
    }
    at_end(session);
    return passed;
}

} // namespace

void add_step(Parser& parser, Streams& streams) {
    Command command =
        parser.command("step", "A run look by look: stop anywhere, go back, ask what if; by keys or a script");
    auto options = std::make_shared<StepCall>();
    command.course(options->course);
    command.robot(options->robot);
    command.plan(options->plan);
    command.reads("--script", options->script, "commands from this file, a line each; - for standard input");
    command.writes("-o,--output", options->picture,
                   "draw the look where the session ends into this file (.png, .svg or .pdf)");
    add_one_run_options(command, options->drive);
    add_drive_options(command, options->drive);
    add_variant_option(command, options->variant);
    add_drawings_option(command, streams);
    std::string commands = "Commands:\n";
    for (const std::vector<std::string>& row : Session::help()) {
        commands += fmt::format("  {:<30} {}\n", row[0], row[1]);
    }
    command.footer(commands +
                   "\nExample:\n  echo 'to place fork' | vturn step data/fern-house/fern-house.course.toml \\\n"
                   "      data/fern-house/sprig-2.robot.toml data/fern-house/left-first.plan\n\n"
                   "Exit status: 0 when every command was carried out, 2 for unusable input.");
    command.does([options, &streams] { return step(streams, *options); });
}

} // namespace vturn
