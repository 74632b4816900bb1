// Any text is read as a course file.
#include <cstdint>
#include <string_view>
#include <vector>

#include "vast_turn/base/problem.hpp"
#include "vast_turn/paint/course_file.hpp"

std::vector<std::string_view> fuzz_words() {
    return {"name",       "size_mm",   "cell_mm",     "floor",     "line",      "palette",   "drawing",
            "mm_per_px",  "page_box",  "even_light",  "markers",   "[[tape]]",  "path",      "points",
            "circle",     "width_mm",  "gaps_mm",     "from_mm",   "length_mm", "closed",    "[[marker]]",
            "colour",     "at_mm",     "heading_deg", "length_mm", "across_mm", "[[place]]", "radius_mm",
            "[[thing]]",  "[[light]]", "kind",        "lamp",      "window",    "shadow",    "strength",
            "height_mm",  "soft_mm",   "[[iron]]",    "strength",  "flicker",   "from_s",    "until_s",
            "appears_mm", "goes_mm",   "stays_s",     "[[wall]]",  "to_mm",     "[[start]]", "[[variant]]",
            "without",    "plates",    "amber",       "M",         "L",         "C",         "Q",
            "A",          "Z",         "h",           "v"};
}

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    try {
        vast_turn::parse_course({reinterpret_cast<const char*>(data), size}, "fuzz");
    } catch (const vast_turn::InputError&) {
        return 0; // refused with a reason
    }
    return 0;
}
