#include "commands/commands.hpp"
#include "language/server.hpp"

namespace vturn {

void add_language_server(Parser& parser, Streams& streams) {
    Command command = parser.command(
        "language-server",
        "Helps an editor while plans and files are written: the Language Server Protocol on standard input and output");
    command.footer("An editor starts it and sends the rest; editors/README.md says how. It tells what is wrong as one "
                   "types, what vet finds (with the robot and the "
                   "course that the folder\nmeans), what words, rules and keys mean, and what may stand here; names "
                   "are followed and renamed, plans laid out.\n\n"
                   "Exit status: 0 when the client left by shutdown and exit, 1 when it left otherwise, 2 for input "
                   "that is no protocol.");
    command.does([&streams] { return LanguageServer(streams).serve() ? passed : answer_no; });
}

} // namespace vturn
