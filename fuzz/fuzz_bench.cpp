// Any text is read as bench readings; what can be read is made a calibration, which is written and read again.
#include <cstdint>
#include <cstdlib>
#include <string_view>
#include <vector>

#include "vast_turn/base/problem.hpp"
#include "vast_turn/formats/read/bench_file.hpp"
#include "vast_turn/formats/read/calibration_file.hpp"
#include "vast_turn/formats/write/bench_csv.hpp"
#include "vast_turn/formats/write/calibration_toml.hpp"
#include "vast_turn/sense/calibrate.hpp"

std::vector<std::string_view> fuzz_words() {
    return {"under", "line", "floor", "sweep", "sweep-back", "amber", "A0", "A1", "red",
            "green", "blue", "clear", ";",     ",",          "\"",    "#",  "\n"};
}

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    using namespace vast_turn;
    std::optional<CalibrationReport> report;
    try {
        const BenchReadings readings = parse_bench({reinterpret_cast<const char*>(data), size}, "fuzz");
        const BenchReadings again = parse_bench(bench_csv(readings), "again");
        if (again.looks.size() != readings.looks.size() || again.channels != readings.channels) {
            std::abort(); // written and read is the same
        }
        report = calibrate(readings);
    } catch (const InputError&) {
        return 0; // refused with a reason
    }
    const NamedCalibration again = parse_calibration(calibration_toml(*report, "fuzz"), "again");
    if (again.levels.sensors.size() != report->sensors.size()) {
        std::abort(); // what we write can be read
    }
    return 0;
}
