// Any text is read as a robot file.
#include <cstdint>
#include <string_view>

#include "vast_turn/base/problem.hpp"
#include "vast_turn/formats/read/robot_file.hpp"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    try {
        vast_turn::parse_robot({reinterpret_cast<const char*>(data), size}, "fuzz");
    } catch (const vast_turn::InputError&) {
        return 0; // refused with a reason
    }
    return 0;
}
