#include "vast_turn/formats/write/bench_csv.hpp"

#include <algorithm>
#include <iterator>

#include <fmt/format.h>

#include "formats/write/csv_text.hpp"

namespace vast_turn {

std::string bench_csv(const BenchReadings& readings) {
    const bool colours = std::any_of(readings.looks.begin(), readings.looks.end(),
                                     [](const BenchLook& l) { return l.colour.has_value(); });
    fmt::memory_buffer out;
    const auto to = std::back_inserter(out);
    fmt::format_to(to, "{}", "under");
    for (const std::string& channel : readings.channels) {
        fmt::format_to(to, ",{}", csv_cell(channel));
    }
    fmt::format_to(to, "{}\n", colours ? ",red,green,blue,clear" : "");
    for (const BenchLook& look : readings.looks) {
        fmt::format_to(to, "{}", csv_cell(look.under));
        for (std::size_t i = 0; i < readings.channels.size(); ++i) {
            fmt::format_to(to, ",{:g}", look.counts[i]);
        }
        if (colours) {
            const ColourCounts c = look.colour.value_or(ColourCounts{});
            fmt::format_to(to, ",{:g},{:g},{:g},{:g}", c[0], c[1], c[2], c[3]);
        }
        fmt::format_to(to, "\n");
    }
    return fmt::to_string(out);
}

} // namespace vast_turn
