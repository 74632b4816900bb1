#include <cstdlib>
#include <iostream>
#include <unistd.h>

#include "cli.hpp"

int main(int argc, char** argv) {
    const char* no_colour = std::getenv("NO_COLOR");
    const bool colour = ::isatty(STDOUT_FILENO) != 0 && (no_colour == nullptr || *no_colour == '\0');
    std::ios::sync_with_stdio(false);
    const int status = vturn::run({argv + 1, argv + argc},
                                  {std::cin, std::cout, std::cerr, colour, ::isatty(STDERR_FILENO) != 0, nullptr,
                                   nullptr, ::isatty(STDOUT_FILENO) != 0, ::isatty(STDIN_FILENO) != 0});
    std::cout.flush();
    if (!std::cout) {
        std::cerr << "vturn: error: the output cannot be written\n";
        return vturn::unusable;
    }
    return status;
}
