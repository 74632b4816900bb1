#include "cli.hpp"

#include <algorithm>
#include <exception>
#include <new>
#include <ostream>

#include "commands/commands.hpp"
#include "vast_turn/base/problem.hpp"

namespace vturn {

namespace {

constexpr const char* purpose = "Vast Turn: decision logic and route tests for line-tracking robots.\n"
                                "Results go to standard output, diagnostics to standard error.\n"
                                "Exit status: 0 passed, 1 the answer is no, 2 unusable input.";

std::vector<std::string> command_names(const CLI::App& app) {
    std::vector<std::string> names;
    for (const CLI::App* command : app.get_subcommands([](const CLI::App*) { return true; })) {
        names.push_back(command->get_name());
    }
    return names;
}

int parse_and_run(CLI::App& app, const std::vector<std::string>& arguments, const Streams& streams, int& status) {
    std::vector<std::string> reversed(arguments.rbegin(), arguments.rend()); // as the parser wants them
    try {
        app.parse(reversed);
        return status;
    } catch (const CLI::Success& asked) { // --help and --version
        app.exit(asked, streams.out, streams.err);
        return passed;
    } catch (const CLI::ParseError& fault) {
        streams.err << "vturn: " << fault.what() << "\n";
        if (!arguments.empty() && arguments.front().front() != '-' && app.get_subcommands().empty()) {
            const std::vector<std::string> names = command_names(app);
            streams.err << "  `" << arguments.front() << "` is no command"
                        << vast_turn::did_you_mean(arguments.front(), names) << "; commands are "
                        << vast_turn::one_of(names) << "\n";
        }
        streams.err << "  to do: see vturn "
                    << (app.get_subcommands().empty() ? "" : app.get_subcommands().front()->get_name() + " ")
                    << "--help\n";
        return unusable;
    }
}

} // namespace

int run(const std::vector<std::string>& arguments, Streams streams) {
    CLI::App app(purpose, "vturn");
    app.require_subcommand(1);
    app.set_version_flag("--version", VTURN_VERSION);
    int status = passed;
    add_demo(app, streams, status);
    add_calibrate(app, streams, status);
    add_table(app, streams, status);
    add_ask(app, streams, status);
    add_vet(app, streams, status);
    add_draw(app, streams, status);
    add_format(app, streams, status);
    add_map(app, streams, status);
    add_run(app, streams, status);
    add_routes(app, streams, status);
    add_trips(app, streams, status);
    add_compare(app, streams, status);
    try {
        if (!arguments.empty() && arguments.front().empty()) {
            streams.err << "vturn: the name of the command is empty\n  to do: see vturn --help\n";
            return unusable;
        }
        return parse_and_run(app, arguments, streams, status);
    } catch (const vast_turn::InputError& error) {
        streams.err << error.what();
    } catch (const std::bad_alloc&) {
        streams.err << "vturn: error: not enough memory for this input\n  to do: use a smaller board or larger cells\n";
    }
    return unusable;
}

} // namespace vturn
