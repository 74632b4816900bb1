/// From what the sensors tell to a look of the plan.

#include <array>
#include <cstdint>

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

const char* const reading = R"(/* 0 on the floor's level .. 1 on the line's, cut there. */
static @number @reading(@number counts, @number floor_counts, @number per_count)
{
    const @number s = (counts - floor_counts) * per_count;
    const @number above = s > 0.0_ ? s : 0.0_;
    return above < 1.0_ ? above : 1.0_;
}

static @number @per_count(const struct @levels *levels, uint8_t sensor)
{
    const @number span = levels->line_counts[sensor] - levels->floor_counts[sensor];
    return span > 0.0_ || span < 0.0_ ? 1.0_ / span : 0.0_;
}

/* Counts from the side on which the floor lies, so that line counts more. */
static uint32_t @from_floor(const struct @loop *r, uint8_t sensor, uint16_t counts)
{
    return ((r->falls >> sensor) & 1) != 0 ? 65535u - (uint32_t)counts : (uint32_t)counts;
}

/* The least of these counts whose reading reaches a threshold, 65536 when none does: found once, so
 * that a look compares whole numbers. */
static uint32_t @least(const struct @loop *r, uint8_t sensor, @number threshold)
{
    const @number per_count = @per_count(&r->levels, sensor);
    uint32_t low = 0;
    uint32_t high = 65536u;
    while (low < high) {
        const uint32_t middle = (low + high) / 2;
        const uint32_t counts = ((r->falls >> sensor) & 1) != 0 ? 65535u - middle : middle;
        if (@reading((@number)counts, r->levels.floor_counts[sensor], per_count) >= threshold) {
            high = middle;
        } else {
            low = middle + 1;
        }
    }
    return low;
}

)";

/// Made ready for many readings.
std::string read_with(const Chassis& chassis) {
    Lines lines;
    lines.add("uint8_t i;");
    lines.add("r->falls = 0;");
    lines.add(fmt::format("for (i = 0; i < {}; ++i) {{", chassis.sensors()));
    lines.add("if (r->levels.line_counts[i] < r->levels.floor_counts[i]) {");
    lines.add_all("r->falls = (uint8_t)(r->falls | 1u << i);\n}");
    lines.add("r->on_from[i] = @least(r, i, @on_from(i));");
    lines.add("r->off_below[i] = @least(r, i, @off_below(i));");
    if (chassis.reads_light()) {
        lines.add("r->per_count[i] = @per_count(&r->levels, i);");
    }
    lines.add("}");
    return "/* Makes the levels ready for many looks. */\n" +
           c_function(chassis.shape.pieces, "static void @read_with_levels", {"struct @loop *r"}, {}, lines.text());
}

std::string line_bits(const Chassis& chassis) {
    Lines lines;
    lines.add("uint8_t i;");
    lines.add("uint8_t line = 0;");
    lines.add(fmt::format("for (i = 0; i < {}; ++i) {{", chassis.sensors()));
    lines.add("const uint32_t from = ((r->line >> i) & 1) != 0 ? r->off_below[i] : r->on_from[i];");
    lines.add("if (@from_floor(r, i, counts[i]) >= from) {");
    lines.add_all("line = (uint8_t)(line | 1u << i);\n}\n}\nr->line = line;\nreturn line;");
    return "/* Which sensors see line; one between its two thresholds stays as it was. */\n" +
           c_function(chassis.shape.pieces, "static uint8_t @sees_line", {"struct @loop *r", "const uint16_t *counts"},
                      {}, lines.text());
}

/// Patterns as bits of a table, one a pattern.
std::string pattern_table(const char* name, const std::vector<std::uint8_t>& table) {
    return fmt::format("static const uint8_t {}[{}] = {{{}}};", name, table.size(), fmt::join(table, ", "));
}

/// Where the line was last seen, by its pattern: computed here, so that it is the same sum.
std::string side_function(const Chassis& chassis) {
    const std::vector<double> left_mm = array_facts(chassis.robot).left_mm;
    const int patterns = 1 << chassis.sensors();
    std::vector<std::uint8_t> left(static_cast<std::size_t>((patterns + 7) / 8));
    std::vector<std::uint8_t> right = left;
    for (int bits = 0; bits < patterns; ++bits) {
        const double side =
            side_of_line(static_cast<std::uint8_t>(bits), left_mm.data(), static_cast<int>(chassis.sensors()), 0.0);
        const auto at = static_cast<std::size_t>(bits / 8);
        left[at] = static_cast<std::uint8_t>(left[at] | (side > 0.0 ? 1 << bits % 8 : 0));
        right[at] = static_cast<std::uint8_t>(right[at] | (side < 0.0 ? 1 << bits % 8 : 0));
    }
    Lines lines;
    lines.add(pattern_table("left", left));
    lines.add(pattern_table("right", right));
    lines.add_all("if ((left[line / 8] >> (line % 8) & 1) != 0) {\nreturn 1;\n}");
    lines.add("return (right[line / 8] >> (line % 8) & 1) != 0 ? -1 : last;");
    return "/* The side of a pattern, 1 left, -1 right; one that is even leaves it as it was. */\n" +
           c_function(chassis.shape.pieces, "static int8_t @side_of", {"uint8_t line", "int8_t last"}, {},
                      lines.text());
}

void add_clock(Lines& lines, const Chassis& chassis) {
    lines.add("uint32_t passed_us = now->clock_us - r->clock_us;");
    lines.add("if (!r->begun) {");
    for (const Sense& sense : chassis.senses) {
        if (sense.from_start) {
            lines.add(fmt::format("r->first_{0} = now->{0};", sense.field.name));
        }
    }
    lines.add_all("r->begun = true;\npassed_us = 0;\n}");
    lines.add("r->clock_us = now->clock_us;");
    lines.add("r->rest_us += passed_us;");
    lines.add("r->ms += r->rest_us / 1000u;");
    lines.add("r->rest_us %= 1000u;");
    if (chassis.asks("clock_ms")) {
        lines.add(chassis.shape.pieces("look.clock_ms = (@number)r->ms + (@number)r->rest_us / 1000.0_;"));
    }
}

void add_array(Lines& lines, const Chassis& chassis) {
    const CPieces& pieces = chassis.shape.pieces;
    lines.add("look.line = @sees_line(r, now->counts);");
    if (chassis.asks("raw")) {
        lines.add_all(
            fmt::format("for (i = 0; i < {}; ++i) {{\nlook.raw[i] = (@number)now->counts[i];\n}}", chassis.sensors()));
    }
    if (chassis.reads_light()) {
        lines.add(fmt::format("for (i = 0; i < {}; ++i) {{", chassis.sensors()));
        lines.add_all("sensor[i] = @reading((@number)now->counts[i], r->levels.floor_counts[i], r->per_count[i]);\n}");
    }
    if (chassis.asks("sensor")) {
        lines.add_all(fmt::format("for (i = 0; i < {}; ++i) {{\nlook.sensor[i] = sensor[i];\n}}", chassis.sensors()));
    }
    if (chassis.asks("offset")) {
        const std::vector<double> weights = position_weights(chassis.robot);
        std::string sum = pieces.number(0.0);
        std::string weighted = sum;
        for (std::size_t i = 0; i < weights.size(); ++i) {
            sum += fmt::format(" + sensor[{}]", i);
            weighted += fmt::format(" + {} * sensor[{}]", pieces.number(weights[i]), i);
        }
        lines.add("if (look.line != 0) {");
        lines.add(fmt::format("const @number sum = {};", sum));
        lines.add(fmt::format("r->offset = sum > {} ? ({}) / sum : r->offset;", pieces.number(0.0), weighted));
        lines.add_all("}\nlook.offset = r->offset;");
    }
    if (chassis.asks("last_side")) {
        lines.add_all("r->side = @side_of(look.line, r->side);\nlook.last_side = (@number)r->side;");
    }
}

void add_turns(Lines& lines, const Chassis& chassis) {
    const std::pair<const char*, std::string> fields[] = {
        {"left_deg", "left_deg"},
        {"right_deg", "right_deg"},
        {"way_mm", chassis.way_of("left_deg", "right_deg")},
        {"heading_by_wheels_deg", chassis.turn_of("left_deg", "right_deg")},
        {"heading_by_gyro_deg", "now->gyro_deg - r->first_gyro_deg"},
        {"heading_by_compass_deg", "now->compass_deg"}};
    for (const auto& [field, value] : fields) {
        if (chassis.asks(field)) {
            lines.add(fmt::format("look.{} = {};", field, value));
        }
        if (chassis.asks("heading_deg") && chassis.heading == field) {
            lines.add(fmt::format("look.heading_deg = {};", value));
        }
    }
}

std::string decide_senses(const Chassis& chassis) {
    Lines lines;
    lines.add("struct @look look = {0};");
    if (chassis.reads_light() || chassis.asks("raw")) {
        lines.add("uint8_t i;");
    }
    if (chassis.reads_light()) {
        lines.add(fmt::format("@number sensor[{}];", chassis.sensors()));
    }
    add_clock(lines, chassis);
    if (chassis.has("left_deg")) { // and the right one
        lines.add_all("{\nconst @number left_deg = now->left_deg - r->first_left_deg;");
        lines.add("const @number right_deg = now->right_deg - r->first_right_deg;");
    }
    add_turns(lines, chassis);
    if (chassis.has("left_deg")) {
        lines.add("}");
    }
    add_array(lines, chassis);
    for (const char* field : {"range_mm", "battery_pct", "button", "markers", "heard"}) {
        if (chassis.asks(field)) {
            lines.add(fmt::format("look.{0} = now->{0};", field));
        }
    }
    if (chassis.asks("markers_at")) {
        for (std::size_t k = 0; k < chassis.shape.plan.places().size(); ++k) {
            lines.add(fmt::format("look.markers_at[{0}] = now->markers_at[{0}];", k));
        }
    }
    lines.add_all("r->looks++;\n@look(&r->plan, &look, &r->answer);");
    return c_function(chassis.shape.pieces, "void @decide_senses", {"struct @loop *r", "const struct @senses *now"}, {},
                      lines.text());
}

} // namespace

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
    return threshold_function(chassis, "@on_from", &Threshold::on_from) +
           threshold_function(chassis, "@off_below", &Threshold::off_below) + chassis.shape.pieces(reading) +
           read_with(chassis) + line_bits(chassis) + (chassis.asks("last_side") ? side_function(chassis) : "") +
           decide_senses(chassis);
}

} // namespace vast_turn::emit
