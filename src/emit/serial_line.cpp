/// What goes over the serial line: looks as text and in the short form (frames.hpp), and looks that come from
/// elsewhere.

#include <array>

#include <fmt/format.h>

#include "emit/c_function.hpp"
#include "emit/chassis.hpp"

namespace vast_turn::emit {

namespace {

const char* const putting = R"(/* CRC-16 with the polynomial 0x1021, one byte more. */
static uint16_t @summed(uint16_t sum, uint8_t byte)
{
    uint8_t i;
    sum = (uint16_t)(sum ^ (uint16_t)((uint16_t)byte << 8));
    for (i = 0; i < 8; ++i) {
        const bool high = (sum & 0x8000u) != 0;
        sum = (uint16_t)(sum << 1);
        if (high) {
            sum = (uint16_t)(sum ^ 0x1021u);
        }
    }
    return sum;
}

static void @put(struct @loop *r, uint8_t byte)
{
    r->sum = @summed(r->sum, byte);
    r->robot->put(r->robot->whom, byte);
}

/* A whole number, its lower bytes first. */
static void @put_whole(struct @loop *r, uint32_t x, uint8_t bytes)
{
    while (bytes-- != 0) {
        @put(r, (uint8_t)(x & 0xFFu));
        x >>= 8;
    }
}

/* A number as it lies in memory. */
static void @put_number(struct @loop *r, @number x)
{
    const uint8_t *const bytes = (const uint8_t *)&x;
    uint8_t i;
    for (i = 0; i < sizeof x; ++i) {
        @put(r, bytes[i]);
    }
}

static void @put_begin(struct @loop *r, uint8_t kind, uint8_t length)
{
    r->robot->put(r->robot->whom, 0xA7);
    r->sum = 0xFFFFu;
    @put(r, kind);
    @put(r, length);
}

static void @put_end(struct @loop *r)
{
    const uint16_t sum = r->sum;
    @put_whole(r, sum, 2);
}

/* What the plan says, to who asked over the line. */
static void @said(void *whom, uint8_t kind, uint16_t what, @number value)
{
    struct @loop *const r = whom;
    @put_begin(r, 'E', (uint8_t)(3 + sizeof value));
    @put(r, kind);
    @put_whole(r, what, 2);
    @put_number(r, value);
    @put_end(r);
}

)";

/// Calls that put every sense.
void add_senses(Lines& lines, const Chassis& chassis) {
    lines.add("@put_whole(r, now->clock_us, 4);");
    for (const Sense& sense : chassis.senses) {
        const std::string& name = sense.field.name;
        const std::string value = sense.bytes == 0 ? "@put_number(r, now->{0}{1});"
                                                   : fmt::format("@put_whole(r, now->{{0}}{{1}}, {});", sense.bytes);
        for (int k = 0; k < std::max(sense.field.count, 1); ++k) {
            lines.add(fmt::format(fmt::runtime(value), name, sense.field.count > 0 ? fmt::format("[{}]", k) : ""));
        }
    }
}

/// "4u + 3u * (uint8_t)sizeof(@number)" of the senses.
std::string content_length(const Chassis& chassis, int also, int also_numbers) {
    int bytes = 4 + also;
    int numbers = also_numbers;
    for (const Sense& sense : chassis.senses) {
        const int count = std::max(sense.field.count, 1);
        bytes += sense.bytes * count;
        numbers += sense.bytes == 0 ? count : 0;
    }
    return fmt::format("({} + {} * sizeof(@number))", bytes, numbers);
}

/// Calls that put the columns of the log, their names or what is in them.
void add_columns(Lines& lines, const Chassis& chassis, bool names) {
    const auto name = [&](const std::string& column) {
        lines.add(fmt::format("@put_text(r, {});", veiled(c_string("," + column))));
    };
    const auto value = [&](const char* put, const std::string& what) {
        lines.add("@put_text(r, \",\");");
        lines.add(fmt::format("{}(r, {});", put, what));
    };
    for (std::size_t i = 0; i < chassis.sensors(); ++i) {
        names ? name(fmt::format("raw_{}", i + 1)) : value("@put_digits", fmt::format("now->counts[{}], 1", i));
    }
    const std::string left = "now->left_deg - r->first_left_deg";
    const std::string right = "now->right_deg - r->first_right_deg";
    const std::string way = chassis.way_of("(" + left + ")", "(" + right + ")");
    const std::string turn = chassis.turn_of("(" + left + ")", "(" + right + ")");
    const std::array<std::string, 3> numbers[] = {{"left_deg", "left_deg", left},
                                                  {"right_deg", "right_deg", right},
                                                  {"left_deg", "way_mm", way},
                                                  {"left_deg", "by_wheels_deg", turn},
                                                  {"gyro_deg", "by_gyro_deg", "now->gyro_deg - r->first_gyro_deg"},
                                                  {"compass_deg", "by_compass_deg", "now->compass_deg"},
                                                  {"range_mm", "range_mm", "now->range_mm"},
                                                  {"battery_pct", "battery_pct", "now->battery_pct"}};
    for (const auto& [sense, column, what] : numbers) {
        if (chassis.has(sense)) {
            names ? name(column) : value("@put_decimal", what);
        }
    }
    if (chassis.has("button")) {
        names ? name("button") : value("@put_digits", "now->button ? 1 : 0, 1");
    }
    if (chassis.has("markers")) {
        names ? name("markers") : value("@put_markers", "now->markers");
    }
    for (std::size_t k = 0; chassis.has("markers_at") && k < chassis.shape.plan.places().size(); ++k) {
        names ? name("markers_" + chassis.shape.plan.places()[k])
              : value("@put_markers", fmt::format("now->markers_at[{}]", k));
    }
    if (chassis.has("heard")) {
        names ? name("heard") : value("@put_heard", "now->heard");
    }
    for (const char* side : {"left_pct", "right_pct"}) {
        names ? name(side) : value("@put_decimal", fmt::format("r->answer.{}", side));
    }
}

const char* const text_helpers = R"(static void @put_text(struct @loop *r, const char *text)
{
    while (*text != 0) {
        @put(r, (uint8_t)*text++);
    }
}

/* A whole number with at least so many digits. */
static void @put_digits(struct @loop *r, uint32_t x, uint8_t least)
{
    uint8_t digits[10];
    uint8_t count = 0;
    do {
        digits[count++] = (uint8_t)('0' + x % 10u);
        x /= 10u;
    } while (x != 0 || count < least);
    while (count-- != 0) {
        @put(r, digits[count]);
    }
}

/* A number with three decimals; beyond 4000000 without what lies beyond. */
static void @put_decimal(struct @loop *r, @number x)
{
    uint32_t thousandths;
    if (x < 0.0_) {
        @put(r, '-');
        x = -x;
    }
    thousandths = (uint32_t)((x < 4000000.0_ ? x : 4000000.0_) * 1000.0_ + 0.5_);
    @put_digits(r, thousandths / 1000u, 1);
    @put(r, '.');
    @put_digits(r, thousandths % 1000u, 3);
}

)";

const char* const checked_line = R"(/* The check sum of the line so far, and its end. */
static void @put_check(struct @loop *r, const char *before)
{
    static const char digits[] = "0123456789ABCDEF";
    const uint16_t sum = r->sum;
    @put_text(r, before);
    @put(r, (uint8_t)digits[sum >> 12]);
    @put(r, (uint8_t)digits[(sum >> 8) & 15u]);
    @put(r, (uint8_t)digits[(sum >> 4) & 15u]);
    @put(r, (uint8_t)digits[sum & 15u]);
    @put(r, '\n');
}

)";

/// Names that are set, parted by |.
std::string names_function(const Chassis& chassis, const char* function, const std::vector<std::string>& names) {
    Lines lines;
    lines.add("bool first = true;");
    for (std::size_t k = 0; k < names.size(); ++k) {
        lines.add(fmt::format("if ((bits & 0x{:04X}u) != 0) {{", 1U << k));
        lines.add(fmt::format("@put_text(r, first ? {} : {});", veiled(c_string(names[k])),
                              veiled(c_string("|" + names[k]))));
        lines.add_all("first = false;\n}");
    }
    return c_function(chassis.shape.pieces, fmt::format("static void {}", function),
                      {"struct @loop *r", "uint16_t bits"}, {}, lines.text());
}

std::string telling(const Chassis& chassis) {
    std::string text = chassis.shape.pieces(text_helpers) + chassis.shape.pieces(checked_line);
    if (chassis.has("markers")) {
        text += names_function(chassis, "@put_markers", chassis.shape.plan.markers());
    }
    if (chassis.has("heard")) {
        text += names_function(chassis, "@put_heard", chassis.shape.plan.heard());
    }
    Lines columns;
    columns.add_all("if (r->robot->put == 0) {\nreturn;\n}");
    columns.add_all("r->sum = 0xFFFFu;\n@put_text(r, \"time_ms\");");
    add_columns(columns, chassis, true);
    columns.add("@put_check(r, \",check_\");");
    Lines tell;
    tell.add_all("if (r->robot->put == 0 || r->tells == $TELLS_NOTHING) {\nreturn;\n}");
    tell.add("if (r->tells == $TELLS_TEXT) {");
    if (!chassis.asks("clock_ms")) { // nobody else counts it
        tell.add_all("if (!r->timed) {\nr->clock_us = now->clock_us;\nr->timed = true;\n}");
        tell.add("@pass_time(r, now->clock_us);");
    }
    tell.add_all("r->sum = 0xFFFFu;\n@put_digits(r, r->ms, 1);");
    tell.add("@put_text(r, \".\");");
    tell.add("@put_digits(r, r->rest_us, 3);");
    add_columns(tell, chassis, false);
    tell.add_all("@put_check(r, \",\");\nreturn;\n}");
    tell.add(fmt::format("@put_begin(r, 'T', (uint8_t){});", content_length(chassis, 0, 2)));
    add_senses(tell, chassis);
    tell.add_all("@put_number(r, r->answer.left_pct);\n@put_number(r, r->answer.right_pct);\n@put_end(r);");
    return text + c_function(chassis.shape.pieces, "void @tell_columns", {"struct @loop *r"}, {}, columns.text()) +
           c_function(chassis.shape.pieces, "static void @tell", {"struct @loop *r", "const struct @senses *now"}, {},
                      tell.text());
}

const char* const hearing = R"(/* One byte more: the kind of the frame that it ends, else 0. */
static uint8_t @hears(struct @ear *ear, uint8_t byte)
{
    const uint8_t at = ear->at;
    if (at == 0) {
        ear->sum = 0xFFFFu;
        ear->at = byte == 0xA7 ? 1 : 0;
        return 0;
    }
    ear->at = (uint8_t)(at + 1);
    if (at == 1) {
        ear->kind = byte;
    } else if (at == 2) {
        ear->length = byte;
        if (byte > sizeof ear->payload) {
            ear->at = 0;
        }
    } else if (at < ear->length + 3) {
        ear->payload[at - 3] = byte;
    } else if (at == ear->length + 3) {
        if (byte != (ear->sum & 0xFFu)) {
            ear->at = 0;
        }
        return 0;
    } else {
        ear->at = 0;
        return byte == ear->sum >> 8 ? ear->kind : 0;
    }
    ear->sum = @summed(ear->sum, byte);
    return 0;
}

static uint32_t @taken_whole(const uint8_t **from, uint8_t bytes)
{
    uint32_t x = 0;
    uint8_t i;
    for (i = 0; i < bytes; ++i) {
        x |= (uint32_t)(*from)[i] << (8 * i);
    }
    *from += bytes;
    return x;
}

)";

const char* const taken_number = R"(static @number @taken_number(const uint8_t **from)
{
    @number x = 0.0_;
    uint8_t *const bytes = (uint8_t *)&x;
    uint8_t i;
    for (i = 0; i < sizeof x; ++i) {
        bytes[i] = (*from)[i];
    }
    *from += sizeof x;
    return x;
}

)";

std::string unpack(const Chassis& chassis) {
    Lines lines;
    lines.add("now->clock_us = @taken_whole(&from, 4);");
    bool numbers = false;
    for (const Sense& sense : chassis.senses) {
        for (int k = 0; k < std::max(sense.field.count, 1); ++k) {
            const std::string into = sense.field.name + (sense.field.count > 0 ? fmt::format("[{}]", k) : "");
            numbers = numbers || sense.bytes == 0;
            lines.add(sense.bytes == 0   ? fmt::format("now->{} = @taken_number(&from);", into)
                      : sense.bytes == 1 ? fmt::format("now->{} = @taken_whole(&from, 1) != 0;", into)
                                         : fmt::format("now->{} = (uint16_t)@taken_whole(&from, 2);", into));
        }
    }
    return (numbers ? chassis.shape.pieces(taken_number) : "") +
           c_function(chassis.shape.pieces, "static void @unpack", {"struct @senses *now", "const uint8_t *from"}, {},
                      lines.text());
}

std::string serve(const Chassis& chassis) {
    std::string text = R"(void @greet(struct @loop *r)
{
    if (r->robot->put == 0) {
        return;
    }
    @put_begin(r, 'H', 6);
    @put(r, 1);
    @put(r, (uint8_t)sizeof(@number));
    @put_whole(r, #mark#u, 2);
    @put(r, (uint8_t)#length#);
    @put(r, $SENSORS);
    @put_end(r);
}

bool @serve(struct @loop *r, struct @ear *ear, uint8_t byte)
{
    const uint8_t kind = @hears(ear, byte);
    struct @senses now = {0};
    uint32_t took_us;
    if (kind != 'S' || r->robot->put == 0 || ear->length != #length#) {
        return kind != 0;
    }
    @unpack(&now, ear->payload);
    took_us = r->robot->clock_us(r->robot->whom);
    r->plan.say = @said;
    r->plan.whom = r;
    @decide_senses(r, &now);
    @listen(r);
    took_us = r->robot->clock_us(r->robot->whom) - took_us;
    @put_begin(r, 'A', (uint8_t)(9 + 2 * sizeof(@number)));
    @put_number(r, r->answer.left_pct);
    @put_number(r, r->answer.right_pct);
    @put_whole(r, r->answer.rule, 2);
    @put_whole(r, r->answer.block, 2);
    @put(r, r->answer.halted ? 1 : 0);
    @put_whole(r, took_us, 4);
    @put_end(r);
    return true;
}

)";
    const auto fill = [&](const std::string& hole, const std::string& with) {
        for (std::size_t at = text.find(hole); at != std::string::npos; at = text.find(hole)) {
            text.replace(at, hole.size(), with);
        }
    };
    fill("#mark#", std::to_string(chassis.mark));
    fill("#length#", content_length(chassis, 0, 0));
    return chassis.shape.pieces(text);
}

} // namespace

std::string putting_functions(const Chassis& chassis) { return chassis.shape.pieces(putting); }

std::string telling_functions(const Chassis& chassis) { return telling(chassis); }

std::string serving_functions(const Chassis& chassis) {
    return chassis.shape.pieces(hearing) + unpack(chassis) + serve(chassis);
}

} // namespace vast_turn::emit
