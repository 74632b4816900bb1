#include "print/progress.hpp"

#include <ostream>

#include <fmt/format.h>

namespace vturn {

Progress::Progress(const Streams& streams) : streams_(streams), told_(std::chrono::steady_clock::now()) {}

void Progress::tell(const char* what, std::size_t done, std::size_t all) {
    const auto now = std::chrono::steady_clock::now();
    if (!streams_.quiet && now - told_ >= std::chrono::seconds(streams_.err_is_terminal ? 1 : 60)) {
        told_ = now;
        const std::string of_all = all > 0 ? fmt::format(" of {}", all) : "";
        streams_.err << fmt::format("{}{} {} done\n", done, of_all, what) << std::flush;
    }
}

} // namespace vturn
