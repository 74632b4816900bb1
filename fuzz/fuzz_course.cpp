// Any text is read as a course file.
#include <cstdint>
#include <string_view>

#include "vast_turn/base/problem.hpp"
#include "vast_turn/paint/course_file.hpp"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    try {
        vast_turn::parse_course({reinterpret_cast<const char*>(data), size}, "fuzz");
    } catch (const vast_turn::InputError&) {
        return 0; // refused with a reason
    }
    return 0;
}
