// Any text is read as a plan; one that compiles is asked every pattern a few times.
#include <cstdint>
#include <cstdlib>
#include <string_view>

#include "vast_turn/plan/mind.hpp"
#include "vast_turn/plan/pattern_table.hpp"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    using namespace vast_turn;
    const Compiled compiled = compile_plan({reinterpret_cast<const char*>(data), size}, "fuzz");
    if (!compiled.plan) {
        if (!has_errors(compiled.problems)) {
            std::abort(); // no plan without a reason
        }
        return 0;
    }
    if (compiled.plan->tables().rules.size() <= 64) {
        pattern_tables(*compiled.plan);
    }
    Mind mind(*compiled.plan);
    for (int i = 0; i < 300; ++i) {
        Look look;
        look.clock_ms = 10.0 * i;
        look.way_mm = 2.0 * i;
        look.sensors = static_cast<std::uint8_t>(compiled.plan->sensors());
        look.line_bits = static_cast<std::uint8_t>(i % pattern_count(compiled.plan->sensors()));
        for (int k = 0; k < compiled.plan->sensors(); ++k) {
            look.sensor[k] = ((look.line_bits >> k) & 1) != 0 ? 1.0 : 0.0;
        }
        Answer answer;
        mind(look, answer);
        if (!(answer.left_pct >= -100.0 && answer.left_pct <= 100.0 && answer.right_pct >= -100.0 &&
              answer.right_pct <= 100.0)) {
            std::abort();
        }
    }
    return 0;
}
