/// What a program talks of over the serial line besides its looks: what its plan says, and commands as text, carried
/// out and answered.

#include <algorithm>

#include <fmt/format.h>

#include "emit/c_function.hpp"
#include "emit/chassis.hpp"

namespace vast_turn::emit {

namespace {

/// What the plan says, in the form in which looks are told.
const char* const saying = R"(#if $TALKS
static void @says_over_line(void *whom, uint8_t kind, uint16_t what, @number value)
{
    struct @loop *const r = whom;
    if (r->robot->say != 0) {
        r->robot->say(r->robot->whom, kind, what, value);
    }
    if (r->robot->put == 0 || r->tells == $TELLS_NOTHING || kind > $TELL) {
        return;
    }
    if (r->tells == $TELLS_SHORT) {
        @said(whom, kind, what, value);
        return;
    }
    r->sum = 0xFFFFu;
    @put_text(r, kind == $NOTE ? "!note," : kind == $LIGHT ? "!light," : kind == $SOUND ? "!sound," : "!tell,");
    @put_text(r, @text(what));
    if (kind == $TELL) {
        @put_text(r, ", ");
        @put_decimal(r, value);
    }
    @put_check(r, ",");
}

)";

const char* const parsing = R"(/* Whether the words go on with these; then `at` stands behind them. */
static bool @goes_on_with(const char **at, const char *words)
{
    const char *from = *at;
    while (*words != 0) {
        if (*from++ != *words++) {
            return false;
        }
    }
    *at = from;
    return true;
}

/* A number such as 44 or -0.25, and what ends it, which is passed over; false for any other. */
static bool @takes_number(const char **at, char end, @number *x)
{
    const bool below = **at == '-';
    uint32_t whole = 0;
    uint32_t part = 1;
    bool any = false;
    bool point = false;
    if (below) {
        ++*at;
    }
    for (; (**at >= '0' && **at <= '9') || (**at == '.' && !point); ++*at) {
        if (**at == '.') {
            point = true;
        } else if (whole >= 400000000u) {
            return false;
        } else {
            whole = whole * 10u + (uint32_t)(**at - '0');
            part = point ? part * 10u : part;
            any = true;
        }
    }
    if (!any || **at != end) {
        return false;
    }
    *at += end != 0;
    *x = (@number)whole / (@number)part;
    if (below) {
        *x = -*x;
    }
    return true;
}

)";

const char* const carrying_out =
    R"(/* Carries out a command; what it answers in place of the command's own words, or 0. */
static const char *@obeys(struct @loop *r, struct @hearing *h)
{
    const char *at = h->words;
    @number sensor, floor_counts, line_counts#value#;
    if (@goes_on_with(&at, "motors,")) {
        const bool off = @goes_on_with(&at, "off");
        if ((!off && !@goes_on_with(&at, "on")) || *at != 0) {
            return "motors,off or motors,on";
        }
        r->motors_off = off;
        return 0;
    }
    if (@goes_on_with(&at, "tell,")) {
        const uint8_t tells = @goes_on_with(&at, "text")      ? $TELLS_TEXT
                              : @goes_on_with(&at, "short")   ? $TELLS_SHORT
                              : @goes_on_with(&at, "nothing") ? $TELLS_NOTHING
                                                         : 255;
        if (tells == 255 || *at != 0) {
            return "tell text, short or nothing";
        }
        r->tells = tells;
        return 0;
    }
    if (@goes_on_with(&at, "level,")) {
        if (!@takes_number(&at, ',', &sensor) || !@takes_number(&at, ',', &floor_counts) || !@takes_number(&at, 0, &line_counts) ||
            sensor < 1.0_ || sensor >= (@number)($SENSORS + 1) || (@number)(uint8_t)sensor != sensor) {
            return "level,SENSOR,FLOOR,LINE";
        }
        h->levels.floor_counts[(uint8_t)sensor - 1] = floor_counts;
        h->levels.line_counts[(uint8_t)sensor - 1] = line_counts;
        return 0;
    }
    if (@goes_on_with(&at, "use") && *at == 0) {
        @learned(r, &h->levels);
        return 0;
    }
#set#    return "unknown";
}

static void @answers(struct @loop *r, struct @hearing *h)
{
    const char *const why_not = @obeys(r, h);
    r->sum = 0xFFFFu;
    @put_text(r, why_not == 0 ? "=" : "?");
    @put_text(r, why_not == 0 ? h->words : why_not);
    @put_check(r, ",");
    if (why_not == 0 && h->words[0] == 't' && r->tells == $TELLS_TEXT) {
        @tell_columns(r);
    }
}

bool @hear(struct @loop *r, struct @hearing *h, uint8_t byte)
{
    uint8_t length = h->length;
    uint8_t i;
    uint16_t sum = 0xFFFFu;
    uint16_t told = 0;
    if (byte != '\n') {
        if (byte != '\r' && length < sizeof h->words) {
            h->words[length] = (char)byte;
            h->length = (uint8_t)(length + 1);
        }
        return false;
    }
    h->length = 0;
    if (r->robot->put == 0 || length < 6 || length == sizeof h->words || h->words[length - 5] != ',') {
        return false; /* too short, too long, or without a check sum */
    }
    length = (uint8_t)(length - 5);
    for (i = 0; i < length; ++i) {
        sum = @summed(sum, (uint8_t)h->words[i]);
    }
    for (i = 1; i < 5; ++i) {
        const char c = h->words[length + i];
        told = (uint16_t)((uint16_t)(told << 4) + (uint16_t)(c >= 'A' ? c - 'A' + 10 : c - '0'));
    }
    h->words[length] = 0;
    if (told != sum) {
        r->sum = 0xFFFFu;
        @put_text(r, "?its check sum is wrong");
        @put_check(r, ",");
        return false;
    }
    @answers(r, h);
    return true;
}
#endif

)";

} // namespace

int longest_command(const Chassis& chassis) {
    std::size_t longest = 0;
    for (const std::string& var : chassis.shape.plan.vars()) {
        longest = std::max(longest, var.size());
    }
    // "level,N,-4294967.296,-4294967.296" or "set,NAME,-4294967.296", a check sum and one more
    return static_cast<int>(std::min<std::size_t>(std::max<std::size_t>(34, longest + 17) + 6, 250));
}

std::string command_functions(const Chassis& chassis) {
    Lines set;
    const std::vector<std::string>& vars = chassis.shape.plan.vars();
    if (!vars.empty()) {
        set.add("if (@goes_on_with(&at, \"set,\")) {");
        set.add("int16_t cell = -1;");
        for (std::size_t i = 0; i < vars.size(); ++i) {
            set.add(fmt::format("{}if (@goes_on_with(&at, {})) {{", i == 0 ? "" : "} else ",
                                veiled(c_string(vars[i] + ","))));
            set.add(fmt::format("cell = {};", i));
        }
        set.add("}");
        set.add_all("if (cell < 0 || !@takes_number(&at, 0, &value)) {\nreturn \"set,NAME,NUMBER of a number that it "
                    "has\";\n}");
        set.add_all("r->plan.cell[cell] = value;\nreturn 0;\n}");
    }
    std::string text = std::string(saying) + parsing + carrying_out;
    const auto fill = [&](const std::string& hole, const std::string& with) {
        text.replace(text.find(hole), hole.size(), with);
    };
    fill("#value#", vars.empty() ? "" : ", value");
    fill("#set#", set.text());
    return chassis.shape.pieces(text);
}

} // namespace vast_turn::emit
