// Any text is read as a log; what can be read is put to a plan.
#include <cstdint>
#include <string_view>
#include <vector>

#include "vast_turn/base/problem.hpp"
#include "vast_turn/formats/read/looks_file.hpp"
#include "vast_turn/plan/explain/log_check.hpp"

std::vector<std::string_view> fuzz_words() {
    return {"time_s",    "time_ms",   "raw_1",       "raw_2",       "reading_1", "reading_2", "pattern",
            "left_pct",  "right_pct", "markers",     "heard",       "button",    "range_mm",  "left_deg",
            "right_deg", "way_mm",    "battery_pct", "heading_deg", "A0",        "A1",        "amber",
            "##",        ".#",        ",",           ";",           "\"",        "\n"};
}

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    using namespace vast_turn;
    static const Plan plan =
        *compile_plan("plan \"t\"\nsensors 2\nmarkers amber\nhabit go {\n[#.] -> bend(20, 30)\nelse -> still\n}\n", "t")
             .plan;
    try {
        const auto log =
            parse_log({reinterpret_cast<const char*>(data), size}, "fuzz", ArrayReader(2), {"A0", "A1"}, true);
        check_log(plan, log);
    } catch (const InputError&) { // NOLINT(bugprone-empty-catch): refused with a reason
    }
    return 0;
}
