#include "cli.hpp"

#include <new>
#include <ostream>

#include "arguments.hpp"
#include "commands/commands.hpp"
#include "vast_turn/base/problem.hpp"

namespace vturn {

int run(const std::vector<std::string>& arguments, Streams streams) {
    const std::vector<AddCommand> commands{add_demo,   add_calibrate, add_table, add_ask,    add_vet,   add_draw,
                                           add_format, add_map,       add_run,   add_routes, add_trips, add_compare};
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

} // namespace vturn
