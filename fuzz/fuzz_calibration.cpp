// Any text is read as a calibration.
#include <cstdint>
#include <string_view>
#include <vector>

#include "vast_turn/base/problem.hpp"
#include "vast_turn/formats/read/calibration_file.hpp"

std::vector<std::string_view> fuzz_words() {
    return {"[[sensor]]", "channel", "line_counts", "floor_counts", "threshold_counts", "hysteresis_counts"};
}

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    try {
        vast_turn::parse_calibration({reinterpret_cast<const char*>(data), size}, "fuzz");
    } catch (const vast_turn::InputError&) { // NOLINT(bugprone-empty-catch): refused with a reason
    }
    return 0;
}
