// Everything that is read as rows: bench readings, logs, scripts of looks; and calibrations.
#include <cstddef>
#include <cstdint>
#include <string_view>

#include "vast_turn/base/problem.hpp"
#include "vast_turn/formats/read/bench_file.hpp"
#include "vast_turn/formats/read/calibration_file.hpp"
#include "vast_turn/formats/read/looks_file.hpp"
#include "vast_turn/sense/calibrate.hpp"

namespace {

template <class Read> void attempt(Read read) {
    try {
        read();
    } catch (const vast_turn::InputError&) { // the expected answer to a bad text
    }
}

const vast_turn::Plan& plan() {
    static const vast_turn::Plan made =
        *vast_turn::compile_plan("plan \"t\"\nsensors 2\nmarkers amber\nhabit go {\n else -> still\n}\n", "t").plan;
    return made;
}

} // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    const std::string_view text(reinterpret_cast<const char*>(data), size);
    attempt([&] { vast_turn::calibrate(vast_turn::parse_bench(text, "fuzz")); });
    attempt([&] { vast_turn::parse_log(text, "fuzz", vast_turn::ArrayReader(2), {"A0", "A1"}, true); });
    attempt([&] { vast_turn::LookScript(plan(), vast_turn::ArrayReader(2), true, 10.0).parse(text, "fuzz"); });
    attempt([&] { vast_turn::parse_calibration(text, "fuzz"); });
    return 0;
}
