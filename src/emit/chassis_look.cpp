/// From what the sensors tell to a look of the plan: clock, turns, offset and side.

#include <algorithm>
#include <cmath>
#include <cstdint>
#include <numeric>

#include <fmt/format.h>
#include <fmt/ranges.h>

#include "emit/c_function.hpp"
#include "emit/chassis.hpp"
#include "vast_turn/robot/array.hpp"
#include "vast_turn/runtime/line_position.hpp"

namespace vast_turn::emit {

namespace {

const char* const clock = R"(/* Milliseconds and microseconds since the first look. */
static void @pass_time(struct @loop *r, uint32_t now_us)
{
    const uint32_t us = r->rest_us + (now_us - r->clock_us);
    const uint32_t whole = us / 1000u;
    r->clock_us = now_us;
    r->ms += whole;
    r->rest_us = us - 1000u * whole;
}

)";

const char* const reading = R"(/* 0 on the floor's level .. 1 on the line's, cut there. */
static @number @reading(@number counts, @number floor_counts, @number per_count)
{
    const @number s = (counts - floor_counts) * per_count;
    const @number above = s > 0.0_ ? s : 0.0_;
    return above < 1.0_ ? above : 1.0_;
}

)";

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
        const char* const from = chassis.shape.form.lean ? "" : "r->";
        lines.add(fmt::format("for (i = 0; i < {}; ++i) {{", chassis.sensors()));
        lines.add_all(fmt::format(
            "sensor[i] = @reading((@number)now->counts[i], {0}floor_counts[i], {0}per_count[i]);\n}}", from));
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
        lines.add(pieces(chassis.shape.form.wired ? "look.last_side = r->side;"
                                                  : "look.last_side = r->side > 0 ? 1.0_ : -1.0_;"));
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

/// A number of each sensor, where they can stay in flash.
std::string table_of(const Chassis& chassis, const char* name, std::string BuiltInLevels::*which) {
    std::vector<std::string> numbers;
    for (std::size_t i = 0; i < chassis.sensors(); ++i) {
        numbers.push_back(built_in_levels(chassis, i).*which);
    }
    return fmt::format("static const @number {}[{}] = {{{}}};", name, numbers.size(), fmt::join(numbers, ", "));
}

std::string decide_senses(const Chassis& chassis) {
    const bool lean = chassis.shape.form.lean;
    Lines lines;
    if (lean && chassis.reads_light()) {
        lines.add(table_of(chassis, "floor_counts", &BuiltInLevels::floor_counts));
        lines.add(table_of(chassis, "per_count", &BuiltInLevels::per_count));
    }
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
    lines.add_all(lean ? "@look(&r->plan, &look, answer);" : "r->looks++;\n@look(&r->plan, &look, &r->answer);");
    std::vector<std::string> parameters = {"struct @loop *r", "const struct @senses *now"};
    if (lean) {
        parameters.emplace_back("struct @answer *answer");
    }
    return c_function(chassis.shape.pieces, "void @decide_senses", parameters, {}, lines.text());
}

} // namespace

std::string clock_and_reading(const Chassis& chassis) {
    if (!chassis.shape.form.lean) {
        return chassis.shape.pieces(std::string(clock) + reading);
    }
    std::string text = chassis.asks("clock_ms") ? clock : "";
    const std::string rest = "us - 1000u * whole";
    if (const std::size_t at = text.find(rest); at != std::string::npos) {
        text.replace(at, rest.size(), "(uint16_t)(" + rest + ")");
    }
    return chassis.shape.pieces(text + (chassis.reads_light() ? reading : ""));
}

std::string looking_functions(const Chassis& chassis) {
    return (chassis.asks("last_side") ? side_function(chassis) : "") + decide_senses(chassis);
}

} // namespace vast_turn::emit
