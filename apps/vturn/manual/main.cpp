/// Writes the manual pages into a folder: vturn_manual FOLDER. Part of the build.
#include <iostream>
#include <sstream>

#include "commands/commands.hpp"
#include "manual/man_pages.hpp"
#include "vast_turn/base/problem.hpp"
#include "vast_turn/formats/write/text_file.hpp"

int main(int argc, char** argv) {
    if (argc != 2) {
        std::cerr << "vturn_manual FOLDER\n";
        return 2;
    }
    std::istringstream in;
    vturn::Streams streams{in, std::cout, std::cerr};
    try {
        for (const auto& [name, text] : vturn::man_pages(vturn::facts_of(vturn::all_commands(), streams))) {
            vast_turn::write_file(std::string(argv[1]) + "/" + name, text);
        }
    } catch (const vast_turn::InputError& error) {
        std::cerr << error.what();
        return 2;
    }
    return 0;
}
