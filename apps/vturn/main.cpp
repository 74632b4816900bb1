#include <cstdlib>
#include <iostream>
#include <memory>
#include <string_view>
#include <unistd.h>

#include "cli.hpp"
#include "ranks/ranks.hpp"
#include "vast_turn/base/problem.hpp"

namespace {

bool is_terminal(int file, bool by_mpirun) {
    // mpirun gives its processes terminals of its own, whatever it was given.
    return !by_mpirun && ::isatty(file) != 0;
}

} // namespace

int main(int argc, char** argv) {
    const char* no_colour = std::getenv("NO_COLOR");
    const char* rank = std::getenv("OMPI_COMM_WORLD_RANK");
    const bool by_mpirun = rank != nullptr;
    const bool out_is_terminal = is_terminal(STDOUT_FILENO, by_mpirun);
    const bool colour = out_is_terminal && (no_colour == nullptr || *no_colour == '\0');
    std::ios::sync_with_stdio(false);
    std::unique_ptr<vturn::Ranks> ranks;
    try {
        ranks = vturn::join_ranks();
    } catch (const vast_turn::InputError& error) {
        std::cerr << (std::string_view(rank) == "0" ? error.what() : "");
        return vturn::unusable;
    }
    if (ranks && !ranks->is_first()) { // what there is to say the first one says
        std::cout.rdbuf(nullptr);
        std::cerr.rdbuf(nullptr);
    }
    const int status =
        vturn::run({argv + 1, argv + argc},
                   {std::cin, std::cout, std::cerr, colour, is_terminal(STDERR_FILENO, by_mpirun), nullptr, nullptr,
                    out_is_terminal, is_terminal(STDIN_FILENO, by_mpirun), ranks.get()});
    std::cout.flush();
    const bool is_written = std::cout.good();
    if (ranks) {
        const bool is_helper = !ranks->is_first();
        ranks->part(status);
        if (is_helper) {
            return 0;
        }
    }
    if (!is_written) {
        std::cerr << "vturn: error: the output cannot be written\n";
        return vturn::unusable;
    }
    return status;
}
