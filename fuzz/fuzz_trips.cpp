// Any text is read as a file of trips.
#include <cstdint>
#include <string_view>
#include <vector>

#include "vast_turn/base/problem.hpp"
#include "vast_turn/formats/read/trips_file.hpp"
#include "vast_turn/paint/course_file.hpp"

std::vector<std::string_view> fuzz_words() {
    return {"[[trip]]", "name",    "start",   "laps",     "visits",       "ends",          "choices",
            "within_s", "repeats", "variant", "variants", "hear",         "at_s",          "button_s",
            "dock",     "halt",    "never",   "place",    "lost_after_s", "off_course_mm", "\"gate\"",
            "\"west\"", "left",    "right",   "straight"};
}

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    using namespace vast_turn;
    static const Course course =
        parse_course("name = \"t\"\nsize_mm = [400, 300]\n[[tape]]\npath = \"M 20 150 H 380\"\n"
                     "[[place]]\nname = \"gate\"\nat_mm = [200, 150]\n"
                     "[[start]]\nname = \"west\"\nat_mm = [60, 150]\nheading_deg = 0\n",
                     "t");
    try {
        parse_trips({reinterpret_cast<const char*>(data), size}, "fuzz", course);
    } catch (const InputError&) { // NOLINT(bugprone-empty-catch): refused with a reason
    }
    return 0;
}
