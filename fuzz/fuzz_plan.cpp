// Any text is read as a plan; one that compiles is asked every pattern a few times.
#include <cstdint>
#include <cstdlib>
#include <string_view>
#include <vector>

#include "vast_turn/plan/explain/asker.hpp"
#include "vast_turn/plan/explain/block_graph.hpp"
#include "vast_turn/plan/explain/pattern_table.hpp"
#include "vast_turn/plan/format.hpp"

std::vector<std::string_view> fuzz_words() {
    return {"plan",   "sensors", "markers",  "weights", "let",       "var",      "guard",   "habit",   "errand",
            "else",   "as",      "mirrored", "fresh",   "lasting",   "and",      "or",      "not",     "true",
            "false",  "left",    "right",    "heard",   "at",        "by",       "note",    "light",   "sound",
            "tell",   "set",     "track",    "do",      "become",    "done",     "halt",    "hold",    "over",
            "till",   "of",      "wheel",    "loop",    "if",        "widening", "wheels",  "gyro",    "compass",
            "pid",    "ramp",    "offset",   "seen",    "last_side", "clock",    "elapsed", "looks",   "travelled",
            "turned", "range",   "heading",  "battery", "button",    "ahead",    "bend",    "pivot",   "rotate",
            "still",  "keep",    "sensor",   "raw",     "rolled",    "min",      "max",     "abs",     "clamp",
            "mm",     "cm",      "m",        "ms",      "s",         "deg",      "look",    "percent", "->",
            "[##.]",  "[.?#]",   "(",        ")",       "{",         "}",        ",",       "=",       "==",
            "<",      ">",       "<=",       ">=",      "+",         "-",        "*",       "/",       "%",
            "\"",     "#",       "\n"};
}

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
    if (size < 20'000) {
        const Formatted formatted = format_plan({reinterpret_cast<const char*>(data), size}, "fuzz");
        const Compiled again = compile_plan(formatted.text, "fuzz");
        if (!again.plan || !(again.plan->tables() == compiled.plan->tables()) ||
            format_plan(formatted.text, "fuzz").text != formatted.text) {
            std::abort(); // laying out keeps the program, and twice is once
        }
        block_graph(*compiled.plan);
    }
    Mind mind(*compiled.plan);
    Asker asker(*compiled.plan);
    std::uint32_t noise = 2463534242U;
    const auto any = [&noise] { // xorshift
        noise ^= noise << 13U;
        noise ^= noise >> 17U;
        noise ^= noise << 5U;
        return noise;
    };
    for (int i = 0; i < 300; ++i) {
        Look look;
        look.clock_ms = 10.0 * i;
        look.way_mm = 2.0 * i;
        look.sensors = static_cast<std::uint8_t>(compiled.plan->sensors());
        look.line_bits = static_cast<std::uint8_t>(i % pattern_count(compiled.plan->sensors()));
        for (int k = 0; k < compiled.plan->sensors(); ++k) {
            look.sensor[k] = ((look.line_bits >> k) & 1) != 0 ? 1.0 : 0.0;
        }
        look.markers = static_cast<std::uint16_t>(any() % 8 == 0 ? any() : 0U);
        look.markers_at[any() % look_places] = look.markers;
        look.heard = static_cast<std::uint16_t>(any() % 8 == 0 ? any() : 0U);
        look.range_mm = any() % 500;
        look.button = any() % 4 == 0;
        look.heading_deg = look.heading_by_gyro_deg = look.heading_by_wheels_deg = 3.0 * i;
        look.left_deg = 5.0 * i;
        look.right_deg = 2.0 * i;
        Answer answer;
        if (i < 20) {
            asker.ask(look);
        }
        mind(look, answer);
        if (!(answer.left_pct >= -100.0 && answer.left_pct <= 100.0 && answer.right_pct >= -100.0 &&
              answer.right_pct <= 100.0)) {
            std::abort();
        }
    }
    return 0;
}
