// Any text is read as a script of looks; what can be read is put to a plan.
#include <cstdint>
#include <string_view>
#include <vector>

#include "vast_turn/base/problem.hpp"
#include "vast_turn/formats/read/looks_file.hpp"
#include "vast_turn/plan/explain/asker.hpp"

std::vector<std::string_view> fuzz_words() {
    return {"##",   ".#",     "..",    "raw",     "are", "is",      "clock", "marker", "none", "hear",
            "bell", "button", "range", "heading", "way", "battery", "left",  "right",  "x",    "ms",
            "s",    "deg",    "mm",    "cm",      "m",   "percent", "=",     ",",      "#",    "\n"};
}

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    using namespace vast_turn;
    static const Plan plan = *compile_plan("plan \"t\"\nsensors 2\nmarkers amber\nhabit go {\n[#.] -> "
                                           "bend(20, 30)\nheard(bell) -> halt\nelse -> still\n}\n",
                                           "t")
                                  .plan;
    try {
        LookScript script(plan, ArrayReader(2), true, 10.0);
        Asker asker(plan);
        std::size_t asked = 0;
        for (const LoggedLook& look : script.parse({reinterpret_cast<const char*>(data), size}, "fuzz")) {
            if (++asked > 200) {
                break;
            }
            asker.ask(look.look);
        }
    } catch (const InputError&) { // NOLINT(bugprone-empty-catch): refused with a reason
    }
    return 0;
}
