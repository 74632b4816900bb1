#include "commands/commands.hpp"
#include "debug/adapter.hpp"

namespace vturn {

void add_debug_adapter(Parser& parser, Streams& streams) {
    Command command = parser.command(
        "debug-adapter",
        "Lets an editor debug a plan over a course: the Debug Adapter Protocol on standard input and output");
    command.footer("An editor starts it and sends the rest; editors/README.md says how. A launch has \"course\", "
                   "\"robot\" and \"plan\", "
                   "and may have\n\"variant\", \"start\", \"seed\", \"day\", \"variation\", \"limitSeconds\" and "
                   "\"stopOnEntry\".\n\n"
                   "Exit status: 0 when the client left, 2 for input that is no protocol.");
    command.does([&streams] {
        DebugAdapter(streams).serve();
        return passed;
    });
}

} // namespace vturn
