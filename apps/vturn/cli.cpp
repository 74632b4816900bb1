#include "cli.hpp"

#include <ios>
#include <new>
#include <ostream>

#include "arguments.hpp"
#include "call_files.hpp"
#include "commands/commands.hpp"
#include "print/shown.hpp"
#include "vast_turn/base/problem.hpp"

namespace vturn {

namespace {

int carry_out(const std::vector<std::string>& arguments, Streams streams) {
    const std::vector<NamedCommand> commands{{"new", add_new},
                                             {"demo", add_demo},
                                             {"robot", add_robot},
                                             {"calibrate", add_calibrate},
                                             {"table", add_table},
                                             {"ask", add_ask},
                                             {"vet", add_vet},
                                             {"draw", add_draw},
                                             {"format", add_format},
                                             {"map", add_map},
                                             {"run", add_run},
                                             {"routes", add_routes},
                                             {"trips", add_trips},
                                             {"compare", add_compare},
                                             {"report", add_report},
                                             {"watch", add_watch},
                                             {"step", add_step},
                                             {"debug-adapter", add_debug_adapter},
                                             {"language-server", add_language_server},
                                             {"export", add_export}};
    try {
        if (!arguments.empty() && arguments.front().empty()) {
            streams.err << "vturn: the name of the command is empty\n  to do: see vturn --help\n";
            return unusable;
        }
        return parse_and_run(commands, arguments, streams);
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
        plain.files = &files;
        return carry_out(arguments, plain);
    }
    ShownBuffer out_buffer(plain.out);
    ShownBuffer err_buffer(plain.err);
    std::ostream out(&out_buffer);
    std::ostream err(&err_buffer);
    err << std::unitbuf; // diagnostics and progress are wanted as they come
    const int status = carry_out(arguments, {plain.in, out, err, plain.colour, plain.err_is_terminal, &plain.out,
                                             &files, plain.out_is_terminal, plain.in_is_terminal});
    out.flush();
    return status;
}

} // namespace vturn
