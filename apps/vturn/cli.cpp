#include "cli.hpp"

#include <algorithm>

#include <fmt/format.h>

#include <ios>
#include <new>
#include <ostream>

#include "arguments.hpp"
#include "call_files.hpp"
#include "commands/commands.hpp"
#include "print/shown.hpp"
#include "vast_turn/base/problem.hpp"

namespace vturn {

const std::vector<NamedCommand>& all_commands() {
    static const std::vector<NamedCommand> commands{{"new", add_new, "Begin"},
                                                    {"demo", add_demo, "Begin"},
                                                    {"robot", add_robot, "The robot on the bench"},
                                                    {"calibrate", add_calibrate, "The robot on the bench"},
                                                    {"bench", add_bench, "The robot on the bench"},
                                                    {"stand-in", add_stand_in, "The robot on the bench"},
                                                    {"ask", add_ask, "The robot on the bench"},
                                                    {"table", add_table, "The plan"},
                                                    {"vet", add_vet, "The plan"},
                                                    {"draw", add_draw, "The plan"},
                                                    {"format", add_format, "The plan"},
                                                    {"map", add_map, "The course"},
                                                    {"run", add_run, "Runs"},
                                                    {"step", add_step, "Runs"},
                                                    {"trips", add_trips, "Routes"},
                                                    {"routes", add_routes, "Routes"},
                                                    {"compare", add_compare, "Routes"},
                                                    {"sweep", add_sweep, "Routes"},
                                                    {"tune", add_tune, "Routes"},
                                                    {"report", add_report, "Pages in a browser"},
                                                    {"watch", add_watch, "Pages in a browser"},
                                                    {"export", add_export, "Onto the robot"},
                                                    {"fit", add_fit, "Onto the robot"},
                                                    {"language-server", add_language_server, "For editors"},
                                                    {"debug-adapter", add_debug_adapter, "For editors"}};
    return commands;
}

namespace {

/// What several processes cannot do together is refused by all.
void check_shared_call(const std::vector<std::string>& arguments) {
    const std::string command = arguments.empty() ? "" : arguments.front();
    if (command != "sweep" && command != "tune" && command != "trips") {
        throw vast_turn::InputError("", fmt::format("`{}` is not shared out among several processes", command),
                                    "start it without mpirun; sweep, tune and trips can be shared");
    }
    if (std::find(arguments.begin(), arguments.end(), "-") != arguments.end()) {
        throw vast_turn::InputError("", "several processes cannot share standard input", "name files");
    }
}

int carry_out(const std::vector<std::string>& arguments, Streams streams) {
    try {
        if (!arguments.empty() && arguments.front().empty()) {
            streams.err << "vturn: the name of the command is empty\n  to do: see vturn --help\n";
            return unusable;
        }
        if (streams.crew != nullptr) {
            check_shared_call(arguments);
        }
        return parse_and_run(all_commands(), arguments, streams);
    } catch (const vast_turn::InputError& error) {
        streams.err << error.what();
    } catch (const std::bad_alloc&) {
        streams.err << "vturn: error: not enough memory for this input\n  to do: use a smaller board or larger cells\n";
    }
    return unusable;
}

} // namespace

int run(const std::vector<std::string>& arguments, Streams plain) {
    CallFiles files;
    if (plain.files != nullptr) { // a call within a call: what it prints is looked at already
        files.is_within = true;
        plain.files = &files;
        return carry_out(arguments, plain);
    }
    ShownBuffer out_buffer(plain.out);
    ShownBuffer err_buffer(plain.err);
    std::ostream out(&out_buffer);
    std::ostream err(&err_buffer);
    err << std::unitbuf; // diagnostics and progress are wanted as they come
    const int status = carry_out(arguments, {plain.in, out, err, plain.colour, plain.err_is_terminal, &plain.out,
                                             &files, plain.out_is_terminal, plain.in_is_terminal, plain.crew});
    out.flush();
    return status;
}

} // namespace vturn
