/// Small functions of C that a plan may need: arithmetic, what lasts, what is said.

#include <string>
#include <utility>
#include <vector>

#include <fmt/format.h>

#include "emit/kernel.hpp"

namespace vast_turn::emit {

namespace {

const char* const settled = R"(/* x, made a finite number within the range of the arithmetic. */
static @number @settled(@number x)
{
    if (x >= -1e12_ && x <= 1e12_) {
        return x;
    }
    return x > 1e12_ ? 1e12_ : (x < -1e12_ ? -1e12_ : 0.0_);
}

)";

const char* const divided = R"(/* a / b; 0 when b is 0. */
static @number @divided(@number a, @number b)
{
    return b < 0.0_ || b > 0.0_ ? @settled(a / b) : 0.0_;
}

)";

const char* const clamped = R"(/* x kept within low..high; low when the borders are crossed over. */
static @number @clamped(@number x, @number low, @number high)
{
    const @number below = x < high ? x : high;
    return below > low ? below : low;
}

)";

const char* const within_power = R"(static @number @within_power(@number x)
{
    return @clamped(x, -100.0_, 100.0_);
}

)";

const char* const size = R"(static @number @size(@number x)
{
    return x < 0.0_ ? -x : x;
}

)";

const char* const smaller = R"(static @number @smaller(@number a, @number b)
{
    return a < b ? a : b;
}

)";

const char* const larger = R"(static @number @larger(@number a, @number b)
{
    return a > b ? a : b;
}

)";

const char* const bits_of = R"(static uint8_t @bits_of(uint8_t line)
{
    uint8_t count = 0;
    for (; line != 0; line = (uint8_t)(line & (line - 1))) {
        ++count;
    }
    return count;
}

)";

const char* const matches = R"(static bool @matches(const struct @look *in, uint8_t mask, uint8_t bits)
{
    return (in->line & mask) == bits;
}

)";

const char* const has = R"(static bool @has(uint16_t set, uint16_t bit)
{
    return (set & bit) != 0;
}

)";

const char* const rolled = R"(/* Degrees that the wheel of a side has turned. */
static @number @rolled(const struct @marks *now, const struct @marks *began, @number side)
{
    return @size(side > 0.0_ ? now->left_deg - began->left_deg : now->right_deg - began->right_deg);
}

)";

const char* const progress = R"(/* How far an item has come under its limit, 0 to 1. */
static @number @progress(@number done, @number limit)
{
    return limit > 0.0_ ? @clamped(done / limit, 0.0_, 1.0_) : 1.0_;
}

)";

const char* const ramp = R"(static @number @ramp(@number from, @number to, @number part)
{
    return @settled(from + @settled((to - from) * part));
}

)";

/// The clock without what was held is put in front. Words in capitals stand for its memory: cells, or a struct of its
/// own where each PID is asked for at most once a look.
const char* const pid = R"(
    const @number passed_ms = ms - MS;
    const @number last = m[3];
    @number value = kp * error;
    if (last >= (@number)s->look) { /* asked for again in this look */
        return m[4];
    }
    if (EVER) {
        const bool goes_on = BEFORE && passed_ms > 0.0_;
        @number part;
        if (goes_on) {
            INTEGRAL = @settled(INTEGRAL + error * passed_ms / 1000.0_);
        }
        part = ki * INTEGRAL;
        if (!(part >= -100.0_ && part <= 100.0_)) { /* as much as the motors can give */
            part = part > 0.0_ ? 100.0_ : -100.0_;
            INTEGRAL = part / ki;
        }
        value += part;
        if (goes_on) {
            value += kd * @settled((error - ERROR) * 1000.0_ / passed_ms);
        }
    }
    value = @settled(value);
    ERROR = error;
    MS = ms;
    NOW;
    m[4] = value;
    return value;
}

)";

const char* const lasts = R"(/* A condition that is followed at every look: for how long it has been true. */
static bool @lasts(struct @watch *w, bool is_so)
{
    if (!is_so) {
        w->looks = 0;
        w->holds = false;
    } else if (w->looks != 0xFFFFFFFFu) {
        w->looks++;
    }
    w->spent = false;
    return is_so;
}

)";

const char* const lasts_looks = R"(static void @lasts_looks(struct @watch *w, bool is_so, uint32_t looks, bool first)
{
    const bool before = w->holds;
    if (@lasts(w, is_so)) {
        w->holds = w->looks >= looks;
    }
    w->held = first ? w->holds : before;
}

)";

const char* const lasts_time =
    R"(static void @lasts_time(struct @watch *w, bool is_so, @number clock_ms, @number ms, bool first)
{
    const bool before = w->holds;
    if (@lasts(w, is_so)) {
        if (w->looks == 1) {
            w->since_ms = clock_ms;
        }
        w->holds = clock_ms - w->since_ms >= ms;
    }
    w->held = first ? w->holds : before;
}

)";

const char* const news =
    R"(/* Memory of a `fresh`: 0 nothing, 2 news, -1 acted upon; in a limit 1 says that it was false once. */
static void @news(const struct @watch *w, @number *cell, bool in_limit, bool hears)
{
    if (!w->holds) {
        *cell = in_limit ? 1.0_ : 0.0_;
    } else if (in_limit) {
        *cell = *cell > 0.5_ ? 2.0_ : 0.0_;
    } else if (!w->held && hears) {
        *cell = 2.0_;
    }
}

)";

const char* const say = R"(/* At most 32 things are said in one look. */
static void @say(struct @state *s, uint8_t kind, uint16_t what, @number value)
{
    if (s->said < 32) {
        s->said++;
        if (s->say != 0) {
            s->say(s->whom, kind, what, value);
        }
    }
}

)";

/// Of a plan whose watches count nothing but looks.
const char* const lasted = R"(/* For how many looks in a row something has been true, as far as it matters. */
static COUNTER @lasted(COUNTER looks, bool is_so, COUNTER enough)
{
    return is_so ? (looks < enough ? (COUNTER)(looks + 1) : looks) : 0;
}

)";

/// What a lean program says goes to a function that the compiler knows, or nowhere.
const char* const lean_say = R"(/* At most 32 things are said in one look. */
static void @say(struct @state *s, uint8_t kind, uint16_t what, @number value)
{
    if (s->said < 32) {
        s->said++;
        $SAID(kind, what, value);
    }
}

)";

const char* const lean_say_all = R"(static void @say(struct @state *s, uint8_t kind, uint16_t what, @number value)
{
    (void)s;
    $SAID(kind, what, value);
}

)";

/// A text with another in the place of each of its words.
std::string with_word(std::string text, const std::string& word, const std::string& with) {
    for (std::size_t at = text.find(word); at != std::string::npos; at = text.find(word, at + with.size())) {
        text.replace(at, word.size(), with);
    }
    return text;
}

/// The same without the lines in which a word stands.
std::string without_lines(std::string text, const std::string& word) {
    for (std::size_t at = text.find(word); at != std::string::npos; at = text.find(word)) {
        const std::size_t begin = text.rfind('\n', at) + 1;
        text.erase(begin, text.find('\n', at) + 1 - begin);
    }
    return text;
}

/// Of a plan in which nothing is fresh: nobody asks whether a condition held in the look before.
std::string without_held(std::string text) {
    text = without_lines(without_lines(std::move(text), "const bool before"), "w->held");
    const std::string parameter = ", bool first";
    return text.erase(text.find(parameter), parameter.size());
}

using Words = std::vector<std::pair<std::string, std::string>>;

std::string with_words(std::string text, const Words& words) {
    for (const auto& [word, with] : words) {
        text = with_word(std::move(text), word, with);
    }
    return text;
}

std::string pid_in_cells(const Shape& shape) {
    std::string text = "/* proportional + integral + derivative; m keeps integral, error, clock, look and value. */\n"
                       "static @number @pid(struct @state *s, const struct @look *in, @number *m,\n"
                       "    @number error, @number kp, @number ki, @number kd)\n{\n    const @number ms = in->clock_ms";
    text += shape.holds ? " - s->held.ms;" : ";";
    const std::string before = shape.lone ? "(s->look - 1)" : "s->free_look";
    return with_words(text + pid, {{"MS", "m[2]"},
                                   {"EVER", "last >= 1.0_"},
                                   {"BEFORE", "last >= (@number)" + before},
                                   {"INTEGRAL", "m[0]"},
                                   {"ERROR", "m[1]"},
                                   {"NOW", "m[3] = (@number)s->look"}});
}

/// Of a plan whose one habit asks each of its PIDs at most once a look.
std::string own_pid() {
    std::string text =
        "/* proportional + integral + derivative, asked for at most once a look. */\n"
        "static @number @pid(const struct @look *in, struct @pid_memory *m,\n"
        "    @number error, @number kp, @number ki, @number kd)\n{\n    const @number ms = in->clock_ms;";
    text += pid;
    const std::string again =
        text.substr(text.find("    if (last"), text.find("    if (EVER") - text.find("    if (last"));
    text = without_lines(with_word(std::move(text), again, ""), "m[");
    return with_words(std::move(text), {{"MS", "m->ms"},
                                        {"EVER", "m->asked != 0"},
                                        {"BEFORE", "m->asked == 2"},
                                        {"INTEGRAL", "m->integral"},
                                        {"ERROR", "m->error"},
                                        {"NOW", "m->asked = 3"}});
}

} // namespace

std::vector<Helper> arithmetic_helpers(const Shape& shape) {
    std::vector<Helper> helpers = {
        {"@settled", settled}, {"@divided", divided},
        {"@clamped", clamped}, {"@within_power", within_power},
        {"@size", size},       {"@smaller", smaller},
        {"@larger", larger},   {"@matches", matches},
        {"@has", has},         {"@bits_of", bits_of},
        {"@rolled", rolled},   {"@progress", progress},
        {"@ramp", ramp},       {"@pid", shape.form.own_pids() ? own_pid() : pid_in_cells(shape)}};
    if (shape.form.own_pids()) { // where no term can leave the range of the arithmetic nothing is held against it
        const std::string bare = with_word(without_lines(own_pid(), "value = @settled(value)"), "@settled", "");
        helpers.push_back({"@tame_pid", with_word(bare, "@pid(", "@tame_pid(")});
    }
    return helpers;
}

std::vector<Helper> memory_helpers(const Shape& shape) {
    return {{"@lasts", shape.freshes ? lasts : without_lines(lasts, "spent")},
            {"@lasts_looks", shape.freshes ? lasts_looks : without_held(lasts_looks)},
            {"@lasts_time", shape.freshes ? lasts_time : without_held(lasts_time)},
            {"@news", news},
            {"@lasted", with_word(lasted, "COUNTER", shape.form.watch_type)},
            {"@say", !shape.form.lean ? say : (shape.form.counts_said ? lean_say : lean_say_all)}};
}

} // namespace vast_turn::emit
