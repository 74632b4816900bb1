/// From what the sensors tell to a look of the plan.

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdint>
#include <numeric>

#include <fmt/format.h>
#include <fmt/ranges.h>

#include "emit/c_function.hpp"
#include "emit/chassis.hpp"
#include "vast_turn/robot/array.hpp"
#include "vast_turn/runtime/line_position.hpp"
#include "vast_turn/runtime/sensing.hpp"

namespace vast_turn::emit {

namespace {

/// A reading that goes on at a threshold and off below it.
struct Threshold {
    double on_from = 0.5;
    double off_below = 0.5;
};

std::vector<Threshold> thresholds(const Chassis& chassis) {
    std::vector<Threshold> made(chassis.sensors());
    for (std::size_t i = 0; chassis.calibration && i < made.size(); ++i) {
        const SensorLevels& levels = chassis.calibration->sensors[i];
        made[i] = {levels.threshold + 0.5 * levels.hysteresis, levels.threshold - 0.5 * levels.hysteresis};
    }
    return made;
}

/// The thresholds, of which most arrays have one pair for all.
std::string threshold_function(const Chassis& chassis, const char* name, double Threshold::*which) {
    const CPieces& pieces = chassis.shape.pieces;
    const std::vector<Threshold> all = thresholds(chassis);
    std::vector<std::string> numbers;
    for (const Threshold& one : all) {
        numbers.push_back(pieces.number(one.*which));
    }
    return number_of_sensor(pieces, name, numbers);
}

const char* const scaling = R"(static @number @per_count(const struct @levels *levels, uint8_t sensor)
{
    const @number span = levels->line_counts[sensor] - levels->floor_counts[sensor];
    return span > 0.0_ || span < 0.0_ ? 1.0_ / span : 0.0_;
}

/* The least of the counts, taken from the floor's side, whose reading reaches a threshold; `none`
 * when none does. Found once, so that a look compares whole numbers. */
static EDGE @least(const struct @levels *levels, uint8_t sensor, @number threshold)
{
    const bool falls = levels->line_counts[sensor] < levels->floor_counts[sensor];
    const @number per_count = @per_count(levels, sensor);
    EDGE low = 0;
    EDGE high = NONE;
    while (low < high) {
        const EDGE middle = (EDGE)(low + (high - low) / 2);
        const EDGE counts = falls ? (EDGE)(TOP - middle) : middle;
        if (@reading((@number)counts, levels->floor_counts[sensor], per_count) >= threshold) {
            high = middle;
        } else {
            low = (EDGE)(middle + 1);
        }
    }
    return low;
}

)";

/// `EDGE` stands for the type of a threshold in counts, `NONE` for one that no counts reach,
/// `TOP` for the most that counts from the floor's side come to.
std::string with_edges(std::string text, const Chassis& chassis) {
    const std::string edge = chassis.edge_type();
    for (const auto& [word, with] : {std::pair<std::string, std::string>{"EDGE", edge},
                                     {"NONE", edge == "uint16_t" ? "65535u" : "65536u"},
                                     {"TOP", edge == "uint16_t" ? "65534u" : "65535u"}}) {
        for (std::size_t at = text.find(word); at != std::string::npos; at = text.find(word)) {
            text.replace(at, word.size(), with);
        }
    }
    return text;
}

/// Made ready for many readings.
std::string read_with(const Chassis& chassis) {
    Lines lines;
    lines.add("uint8_t i;");
    lines.add("r->falls = 0;");
    lines.add(fmt::format("for (i = 0; i < {}; ++i) {{", chassis.sensors()));
    lines.add("if (levels->line_counts[i] < levels->floor_counts[i]) {");
    lines.add_all("r->falls = (uint8_t)(r->falls | 1u << i);\n}");
    lines.add("r->on_from[i] = @least(levels, i, @on_from(i));");
    lines.add("r->off_below[i] = @least(levels, i, @off_below(i));");
    if (chassis.reads_light()) {
        lines.add("r->floor_counts[i] = levels->floor_counts[i];");
        lines.add("r->per_count[i] = @per_count(levels, i);");
    }
    lines.add("}");
    if (!chassis.calibration) {
        lines.add("r->has_levels = true;");
    }
    return "/* Makes levels ready for many looks. */\n" +
           c_function(chassis.shape.pieces, "static void @read_with",
                      {"struct @loop *r", "const struct @levels *levels"}, {}, lines.text());
}

/// The same worked out here, for levels that are built in.
template <class Numbers> BuiltInLevels worked_out(const SensorLevels& levels, const CPieces& pieces, long none) {
    const BasicSensorScale<Numbers> scale(levels);
    BuiltInLevels made;
    made.falls = Numbers::kept(levels.line_counts) < Numbers::kept(levels.floor_counts);
    const auto least = [&](bool was_line) {
        long x = 0;
        while (x < none &&
               !scale.is_line(scale.reading(static_cast<double>(made.falls ? none - 1 - x : x)), was_line)) {
            ++x;
        }
        return x;
    };
    made.on_from = least(false);
    made.off_below = least(true);
    const double span = Numbers::kept(Numbers::kept(levels.line_counts) - Numbers::kept(levels.floor_counts));
    made.floor_counts = pieces.number(levels.floor_counts);
    made.per_count = pieces.number(span > 0.0 || span < 0.0 ? Numbers::kept(1.0 / span) : 0.0);
    return made;
}

/// Counts that no sensor reaches, from either side.
long no_counts(const Chassis& chassis) { return chassis.edge_type() == "uint16_t" ? 65535 : 65536; }

/// Whether counts are at or beyond an edge from the floor's side, in C.
std::string beyond(const Chassis& chassis, const BuiltInLevels& levels, std::size_t sensor, long edge) {
    const long none = no_counts(chassis);
    if (edge == 0 || edge == none) {
        return edge == 0 ? "true" : "false";
    }
    return levels.falls ? fmt::format("now->counts[{}] <= {}u", sensor, none - 1 - edge)
                        : fmt::format("now->counts[{}] >= {}u", sensor, edge);
}

/// The same bits by thresholds that stand in the program.
std::string built_in_line_bits(const Chassis& chassis) {
    Lines lines;
    lines.add("uint8_t line = 0;");
    for (std::size_t i = 0; i < chassis.sensors(); ++i) {
        const std::string bit = fmt::format("0x{:02X}u", 1U << i);
        const BuiltInLevels levels = built_in_levels(chassis, i);
        const std::string on = beyond(chassis, levels, i, levels.on_from);
        const std::string still_on = beyond(chassis, levels, i, levels.off_below);
        lines.add(on == still_on ? fmt::format("if ({}) {{", on)
                                 : fmt::format("if ((was & {}) != 0 ? {} : {}) {{", bit, still_on, on));
        lines.add(fmt::format("line = (uint8_t)(line | {});", bit));
        lines.add("}");
    }
    lines.add_all("r->line = line;\nreturn line;");
    return "/* Which sensors see line; one between its two thresholds stays as it was. */\n" +
           c_function(chassis.shape.pieces, "static uint8_t @sees_line",
                      {"struct @loop *r", "const struct @senses *now"}, {{"was", "const uint8_t was = r->line;"}},
                      lines.text());
}

/// One sensor after another without a loop, which would take a third of a look of a plan by patterns.
std::string line_bits(const Chassis& chassis) {
    const CPieces& pieces = chassis.shape.pieces;
    const std::string edge = chassis.edge_type();
    Lines seen;
    seen.add(
        fmt::format("return falls != 0 ? ({})({} - counts) : counts;", edge, edge == "uint16_t" ? "65534u" : "65535u"));
    Lines lines;
    lines.add("const uint8_t was = r->line;");
    lines.add("uint8_t line = 0;");
    for (std::size_t i = 0; i < chassis.sensors(); ++i) {
        const std::string bit = fmt::format("0x{:02X}u", 1U << i);
        lines.add(fmt::format("if (@seen(now->counts[{0}], r->falls & {1}) >= ((was & {1}) != 0 ? r->off_below[{0}] : "
                              "r->on_from[{0}])) {{",
                              i, bit));
        lines.add(fmt::format("line = (uint8_t)(line | {});", bit));
        lines.add("}");
    }
    lines.add_all("r->line = line;\nreturn line;");
    return "/* Counts from the side on which the floor lies, so that line counts more. */\n" +
           c_function(pieces, fmt::format("static {} @seen", edge), {"uint16_t counts", "unsigned falls"}, {},
                      seen.text()) +
           "/* Which sensors see line; one between its two thresholds stays as it was. */\n" +
           c_function(pieces, "static uint8_t @sees_line", {"struct @loop *r", "const struct @senses *now"}, {},
                      lines.text());
}

} // namespace

BuiltInLevels built_in_levels(const Chassis& chassis, std::size_t sensor) {
    const SensorLevels levels = chassis.calibration ? chassis.calibration->sensors[sensor] : SensorLevels{};
    const CPieces& pieces = chassis.shape.pieces;
    return pieces.numbers() == NumberKind::binary32 ? worked_out<runtime::Binary32>(levels, pieces, no_counts(chassis))
                                                    : worked_out<runtime::Binary64>(levels, pieces, no_counts(chassis));
}

void add_built_in_levels(Lines& lines, const Chassis& chassis) {
    unsigned falls = 0;
    for (std::size_t i = 0; i < chassis.sensors(); ++i) {
        const BuiltInLevels levels = built_in_levels(chassis, i);
        lines.add(fmt::format("r->on_from[{}] = {}u;", i, levels.on_from));
        lines.add(fmt::format("r->off_below[{}] = {}u;", i, levels.off_below));
        if (chassis.reads_light()) {
            lines.add(fmt::format("r->floor_counts[{}] = {};", i, levels.floor_counts));
            lines.add(fmt::format("r->per_count[{}] = {};", i, levels.per_count));
        }
        falls |= levels.falls ? 1U << i : 0U;
    }
    lines.add(fmt::format("r->falls = 0x{:02X}u;", falls));
}

std::string number_of_sensor(const CPieces& pieces, const char* name, const std::vector<std::string>& numbers) {
    Lines lines;
    std::string cases;
    for (std::size_t i = 1; i < numbers.size(); ++i) {
        cases += numbers[i] != numbers[0] ? fmt::format("case {}:\nreturn {};\n", i, numbers[i]) : "";
    }
    lines.add_all(cases.empty() ? fmt::format("return {};", numbers[0])
                                : fmt::format("switch (sensor) {{\n{}default:\nreturn {};\n}}", cases, numbers[0]));
    return c_function(pieces, fmt::format("static @number {}", name), {"uint8_t sensor"}, {}, lines.text());
}

std::string sensing_functions(const Chassis& chassis) {
    if (chassis.shape.form.lean) {
        return clock_and_reading(chassis) + built_in_line_bits(chassis) + looking_functions(chassis);
    }
    return threshold_function(chassis, "@on_from", &Threshold::on_from) +
           threshold_function(chassis, "@off_below", &Threshold::off_below) + clock_and_reading(chassis) +
           chassis.shape.pieces(with_edges(scaling, chassis)) + read_with(chassis) + line_bits(chassis) +
           looking_functions(chassis);
}

} // namespace vast_turn::emit
