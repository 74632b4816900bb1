#include "print/progress.hpp"

#include <ostream>

#include <fmt/format.h>

namespace vturn {

namespace {

using Clock = std::chrono::steady_clock;

std::string words_of(std::chrono::seconds left) {
    const auto s = left.count();
    return s < 100    ? fmt::format("{} s", s)
           : s < 6000 ? fmt::format("{} min", (s + 30) / 60)
                      : fmt::format("{:.1f} h", static_cast<double>(s) / 3600.0);
}

} // namespace

Progress::Progress(const Streams& streams) : streams_(streams), began_(Clock::now()), told_(began_) {}

void Progress::tell(const char* what, std::size_t done, std::size_t all) {
    const auto now = Clock::now();
    if (what_ != what || done < first_) {
        what_ = what;
        first_ = done;
        began_ = now;
    }
    if (streams_.quiet || now - told_ < std::chrono::seconds(streams_.err_is_terminal ? 1 : 60)) {
        return;
    }
    told_ = now;
    std::string line = fmt::format("{}{} {} done", done, all > 0 ? fmt::format(" of {}", all) : "", what);
    if (all > done && done > first_) {
        const auto each = (now - began_) / (done - first_);
        line += fmt::format(
            ", about {} left",
            words_of(std::chrono::duration_cast<std::chrono::seconds>(each * (all - done)) + std::chrono::seconds(1)));
    }
    if (streams_.err_is_terminal) {
        streams_.err << "\r" << line << "\x1b[K" << std::flush;
        stands_ = true;
    } else {
        streams_.err << line << "\n" << std::flush;
    }
}

void Progress::clear() {
    if (stands_) {
        streams_.err << "\r\x1b[K" << std::flush;
        stands_ = false;
    }
}

} // namespace vturn
