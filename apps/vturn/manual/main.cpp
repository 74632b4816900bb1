/// Writes the manual pages into a folder, and the commands as one page of Markdown: vturn_manual FOLDER FILE.md. Part
/// of the build.
#include <iostream>
#include <sstream>

#include "commands/commands.hpp"
#include "manual/man_pages.hpp"
#include "manual/reference_page.hpp"
#include "vast_turn/base/problem.hpp"
#include "vast_turn/formats/write/text_file.hpp"

int main(int argc, char** argv) {
    if (argc != 3) {
        std::cerr << "vturn_manual FOLDER FILE.md\n";
        return 2;
    }
    std::istringstream in;
    vturn::Streams streams{in, std::cout, std::cerr};
    try {
        const std::vector<vturn::CommandFacts> commands = vturn::facts_of(vturn::all_commands(), streams);
        for (const auto& [name, text] : vturn::man_pages(commands)) {
            vast_turn::write_file(std::string(argv[1]) + "/" + name, text);
        }
        vast_turn::write_file(argv[2], vturn::reference_page(commands));
    } catch (const vast_turn::InputError& error) {
        std::cerr << error.what();
        return 2;
    }
    return 0;
}
