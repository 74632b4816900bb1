// Any text is read as a plan; one that compiles is written as C, in full and lean, alone and for a robot with as many
// sensors. What comes out has no hole that was to be filled, and its brackets and quotes are closed.
#include <cstdint>
#include <cstdlib>
#include <string_view>
#include <vector>

#include "vast_turn/emit/c_source.hpp"

std::vector<std::string_view> fuzz_words() {
    return {"plan",     "sensors", "markers", "let",       "var",     "guard", "habit", "errand", "else",
            "mirrored", "fresh",   "lasting", "note",      "light",   "tell",  "set",   "do",     "become",
            "done",     "halt",    "hold",    "over",      "till",    "loop",  "if",    "pid",    "ramp",
            "offset",   "sensor",  "raw",     "last_side", "heading", "range", "heard", "at",     "button",
            "while",    "int",     "struct",  "->",        "[##]",    "(",     ")",     "{",      "}",
            "\"",       "\\",      "*/",      "?",         "@",       "$",     "\n"};
}

namespace {

/// Aborts when a bracket or quote of this C stays open, or a mark of ours is left in it.
void look_over(std::string_view c) {
    int depth = 0;
    bool quoted = false;
    for (std::size_t i = 0; i < c.size(); ++i) {
        const char at = c[i];
        if (quoted) {
            i += at == '\\' ? 1 : 0;
            quoted = at != '"' && at != '\n';
        } else if (c.substr(i, 2) == "/*") {
            const std::size_t end = c.find("*/", i + 2);
            if (end == std::string_view::npos) {
                std::abort();
            }
            i = end + 1;
        } else {
            quoted = at == '"';
            depth += at == '{' || at == '(' || at == '[' ? 1 : (at == '}' || at == ')' || at == ']' ? -1 : 0);
            if (depth < 0 || at == '@' || at == '$' || at == '\x01' || at == '\x02') {
                std::abort();
            }
        }
    }
    if (depth != 0 || quoted) {
        std::abort();
    }
}

} // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    using namespace vast_turn;
    const Compiled compiled = compile_plan({reinterpret_cast<const char*>(data), size}, "fuzz");
    if (!compiled.plan || compiled.plan->rules().size() > 300) {
        return 0;
    }
    CSourceOptions options;
    for (const auto numbers : {runtime::NumberKind::binary64, runtime::NumberKind::binary32}) {
        options.numbers = numbers;
        for (const bool lean : {false, true}) {
            options.lean = lean;
            const CSource c = c_source(*compiled.plan, options);
            look_over(c.header);
            look_over(c.source);
        }
        options.calibration = calibration_of_readings(compiled.plan->sensors());
        options.robot.emplace();
        options.robot->sensors.resize(static_cast<std::size_t>(compiled.plan->sensors()));
        for (LineSensor& sensor : options.robot->sensors) {
            sensor.at_mm.y = static_cast<double>(&sensor - options.robot->sensors.data());
        }
    }
    return 0;
}
