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

const char* const reading = R"(/* Milliseconds and microseconds since the first look. */
static void @pass_time(struct @loop *r, uint32_t now_us)
{
    const uint32_t us = r->rest_us + (now_us - r->clock_us);
    const uint32_t whole = us / 1000u;
    r->clock_us = now_us;
    r->ms += whole;
    r->rest_us = us - 1000u * whole;
}

/* 0 on the floor's level .. 1 on the line's, cut there. */
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
template <class Numbers>
void add_built_in(Lines& lines, const Chassis& chassis, const SensorLevels& levels, std::size_t i) {
    const BasicSensorScale<Numbers> scale(levels);
    const long none = chassis.edge_type() == "uint16_t" ? 65535 : 65536;
    const bool falls = Numbers::kept(levels.line_counts) < Numbers::kept(levels.floor_counts);
    const auto least = [&](bool was_line) {
        long x = 0;
        while (x < none && !scale.is_line(scale.reading(static_cast<double>(falls ? none - 1 - x : x)), was_line)) {
            ++x;
        }
        return x;
    };
    lines.add(fmt::format("r->on_from[{}] = {}u;", i, least(false)));
    lines.add(fmt::format("r->off_below[{}] = {}u;", i, least(true)));
    if (chassis.reads_light()) {
        const double span = Numbers::kept(Numbers::kept(levels.line_counts) - Numbers::kept(levels.floor_counts));
        const double per_count = span > 0.0 || span < 0.0 ? Numbers::kept(1.0 / span) : 0.0;
        lines.add(fmt::format("r->floor_counts[{}] = {};", i, chassis.shape.pieces.number(levels.floor_counts)));
        lines.add(fmt::format("r->per_count[{}] = {};", i, chassis.shape.pieces.number(per_count)));
    }
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

/// Patterns as bits of a table, one a pattern.
std::string pattern_table(const char* name, const std::vector<std::uint8_t>& table) {
    return fmt::format("static const uint8_t {}[{}] = {{{}}};", name, table.size(), fmt::join(table, ", "));
}

/// How far to the left each sensor stands, as whole numbers as small as can be whose sums have the signs of the true
/// ones for every pattern; empty when thousandths of a millimetre do not do.
std::vector<long> small_places(const std::vector<double>& left_mm) {
    std::vector<long> places;
    long divisor = 0;
    for (const double left : left_mm) {
        places.push_back(std::lround(1000.0 * left));
        divisor = std::gcd(divisor, places.back());
    }
    for (long& place : places) {
        place /= std::max(divisor, 1L);
    }
    const int count = static_cast<int>(left_mm.size());
    for (int bits = 0; bits < 1 << count; ++bits) {
        long sum = 0;
        for (int i = 0; i < count; ++i) {
            sum += ((bits >> i) & 1) != 0 ? places[static_cast<std::size_t>(i)] : 0;
        }
        const double side = side_of_line(static_cast<std::uint8_t>(bits), left_mm.data(), count, 0.0);
        if ((sum > 0) != (side > 0.0) || (sum < 0) != (side < 0.0)) {
            return {};
        }
    }
    return places;
}

/// The side by a table of all patterns.
void add_side_by_table(Lines& lines, const std::vector<double>& left_mm) {
    const int patterns = 1 << left_mm.size();
    std::vector<std::uint8_t> left(static_cast<std::size_t>((patterns + 7) / 8));
    std::vector<std::uint8_t> right = left;
    for (int bits = 0; bits < patterns; ++bits) {
        const double side =
            side_of_line(static_cast<std::uint8_t>(bits), left_mm.data(), static_cast<int>(left_mm.size()), 0.0);
        const auto at = static_cast<std::size_t>(bits / 8);
        left[at] = static_cast<std::uint8_t>(left[at] | (side > 0.0 ? 1 << bits % 8 : 0));
        right[at] = static_cast<std::uint8_t>(right[at] | (side < 0.0 ? 1 << bits % 8 : 0));
    }
    lines.add(pattern_table("left", left));
    lines.add(pattern_table("right", right));
    lines.add_all("if (((left[line / 8] >> (line % 8)) & 1) != 0) {\nreturn 1;\n}");
    lines.add("return ((right[line / 8] >> (line % 8)) & 1) != 0 ? -1 : last;");
}

/// Where the line was last seen.
std::string side_function(const Chassis& chassis) {
    const std::vector<double> left_mm = array_facts(chassis.robot).left_mm;
    const std::vector<long> places = small_places(left_mm);
    Lines lines;
    if (places.empty()) {
        add_side_by_table(lines, left_mm);
    } else {
        long most = 0;
        for (const long place : places) {
            most += std::abs(place);
        }
        const char* const type = most <= 127 ? "int8_t" : (most <= 32767 ? "int16_t" : "int32_t");
        lines.add(fmt::format("{} sum = 0;", type));
        for (std::size_t i = 0; i < places.size(); ++i) {
            if (places[i] != 0) {
                lines.add(fmt::format("if ((line & 0x{:02X}u) != 0) {{", 1U << i));
                lines.add(fmt::format("sum = ({})(sum + {});", type,
                                      places[i] < 0 ? fmt::format("({})", places[i]) : std::to_string(places[i])));
                lines.add("}");
            }
        }
        lines.add("return sum > 0 ? 1 : (sum < 0 ? -1 : last);");
    }
    return "/* The side of a pattern, 1 left, -1 right; one that is even leaves it as it was. */\n" +
           c_function(chassis.shape.pieces, "static int8_t @side_of", {"uint8_t line", "int8_t last"}, {},
                      lines.text());
}

void add_clock(Lines& lines, const Chassis& chassis) {
    const bool asks = chassis.asks("clock_ms");
    std::string first;
    for (const Sense& sense : chassis.senses) {
        first += sense.from_start ? fmt::format("r->first_{0} = now->{0};\n", sense.field.name) : "";
    }
    first += asks ? "r->clock_us = now->clock_us;\n" : "";
    if (!first.empty()) {
        lines.add_all("if (!r->begun) {\n" + first + "r->begun = true;\n}");
    }
    if (asks) {
        lines.add("@pass_time(r, now->clock_us);");
        lines.add(chassis.shape.pieces("look.clock_ms = (@number)r->ms + (@number)r->rest_us / 1000.0_;"));
    }
}

void add_array(Lines& lines, const Chassis& chassis) {
    const CPieces& pieces = chassis.shape.pieces;
    lines.add("look.line = @sees_line(r, now);");
    if (chassis.asks("raw")) {
        lines.add_all(
            fmt::format("for (i = 0; i < {}; ++i) {{\nlook.raw[i] = (@number)now->counts[i];\n}}", chassis.sensors()));
    }
    if (chassis.reads_light()) {
        lines.add(fmt::format("for (i = 0; i < {}; ++i) {{", chassis.sensors()));
        lines.add_all("sensor[i] = @reading((@number)now->counts[i], r->floor_counts[i], r->per_count[i]);\n}");
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
        lines.add("r->side = @side_of(look.line, r->side);");
        lines.add(pieces("look.last_side = r->side > 0 ? 1.0_ : -1.0_;"));
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

void add_built_in_levels(Lines& lines, const Chassis& chassis) {
    unsigned falls = 0;
    for (std::size_t i = 0; i < chassis.sensors(); ++i) {
        const SensorLevels levels = chassis.calibration ? chassis.calibration->sensors[i] : SensorLevels{};
        chassis.shape.pieces.numbers() == NumberKind::binary32
            ? add_built_in<runtime::Binary32>(lines, chassis, levels, i)
            : add_built_in<runtime::Binary64>(lines, chassis, levels, i);
        falls |= levels.line_counts < levels.floor_counts ? 1U << i : 0U;
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
    return threshold_function(chassis, "@on_from", &Threshold::on_from) +
           threshold_function(chassis, "@off_below", &Threshold::off_below) +
           chassis.shape.pieces(with_edges(reading, chassis)) + read_with(chassis) + line_bits(chassis) +
           (chassis.asks("last_side") ? side_function(chassis) : "") + decide_senses(chassis);
}

} // namespace vast_turn::emit
