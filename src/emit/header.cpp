#include "emit/header.hpp"

#include <algorithm>

#include <fmt/format.h>

#include "emit/state.hpp"

namespace vast_turn::emit {

namespace {

using runtime::Op;

/// The inputs that the plan asks for, and no others.
std::vector<CField> inputs(const Shape& shape) {
    const auto marked = [&](const char* name) {
        return std::any_of(shape.marks.begin(), shape.marks.end(), [&](const MarkField& m) { return m.name == name; });
    };
    const int sensors = shape.tables.sensors;
    const int places = static_cast<int>(shape.plan.places().size());
    const bool has_pid = shape.reads(Op::pid) || shape.reads(Op::pid_by);
    const bool lasts_time = std::any_of(shape.tables.watches.begin(), shape.tables.watches.end(),
                                        [](const auto& w) { return w.kind == runtime::WatchKind::time; });
    std::vector<CField> fields;
    const auto add = [&](bool asked, const char* type, const char* name, int count, const char* about) {
        if (asked) {
            fields.push_back({type, name, count, about});
        }
    };
    const char* const number = "@number";
    add(true, "uint8_t", "line", 0, "bit k is set when sensor k + 1 from the left sees line");
    add(shape.reads(Op::clock) || has_pid || marked("ms") || lasts_time, number, "clock_ms", 0, "since the first look");
    add(shape.reads(Op::sensor) || shape.reads(Op::weighted), number, "sensor", sensors,
        "from the left: 0 floor .. 1 line, never beyond");
    add(shape.reads(Op::raw), number, "raw", sensors, "counts of the converter");
    add(shape.reads(Op::offset) || shape.reads(Op::pid_by), number, "offset", 0, "of the line, positive to the left");
    add(shape.reads(Op::last_side), shape.form.wired ? "int8_t" : number, "last_side", 0,
        "where the line was last seen: 1 left, -1 right");
    add(marked("way_mm"), number, "way_mm", 0, "net way of the point midway between the wheels");
    add(marked("heading_deg") || shape.reads(Op::heading), number, "heading_deg", 0,
        "counter-clockwise, does not wrap: the best there is");
    add(marked("heading_by_wheels_deg"), number, "heading_by_wheels_deg", 0, "by the wheels");
    add(marked("heading_by_gyro_deg"), number, "heading_by_gyro_deg", 0, "by the gyro");
    add(marked("heading_by_compass_deg"), number, "heading_by_compass_deg", 0, "by the compass");
    add(marked("left_deg"), number, "left_deg", 0, "how far the left wheel has turned, net");
    add(marked("right_deg"), number, "right_deg", 0, "how far the right wheel has turned, net");
    add(shape.reads(Op::range), number, "range_mm", 0, "to what is ahead");
    add(shape.reads(Op::battery), number, "battery_pct", 0, "what is left of it, 0 .. 100");
    add(shape.reads(Op::button), "bool", "button", 0, "whether the start button is held");
    add(shape.reads(Op::marker), "uint16_t", "markers", 0, "what any colour sensor sees: $SEES_... or'ed");
    add(shape.reads(Op::marker) && places > 0, "uint16_t", "markers_at", places,
        "what one of them sees: markers_at[$AT_...]");
    add(shape.reads(Op::heard), "uint16_t", "heard", 0, "what is heard in this look: $HEARS_... or'ed");
    return fields;
}

std::string look_struct(const Shape& shape) {
    return shape.pieces("/* What is known at one look. All numbers must be finite and no larger than 1e9. */\n") +
           struct_text(shape, {"@look", inputs(shape)});
}

/// Numbers for names, as macros: a chip's `int` may be too short for the highest bit.
std::string numbered(const Shape& shape, const char* begin, const std::vector<std::string>& names, bool bits) {
    std::vector<std::string> constants;
    for (const std::string& name : names) {
        constants.push_back(c_constant(name));
    }
    constants = told_apart(std::move(constants));
    std::string text;
    for (std::size_t i = 0; i < names.size(); ++i) {
        text += fmt::format("#define {}{} {}u\n", begin, constants[i],
                            bits ? fmt::format("0x{:04X}", 1U << i) : std::to_string(i));
    }
    return shape.pieces(text) + (text.empty() ? "" : "\n");
}

const char* const events = R"(/* What a plan says in a look, besides its powers. */
enum {
    $NOTE,       /* number of its text: @text(what) */
    $LIGHT,      /* show this light; number of its name among the texts */
    $SOUND,      /* make this sound; likewise */
    $TELL,       /* send `value` to a device; number of its name among the texts */
    $UNANSWERED, /* no rule held; the bits of `line` */
    $CUT_SHORT   /* more than 16 transfers in one look; the block reached */
};
)";

const char* const say_type = R"(typedef void (*@say_function)(void *whom, uint8_t kind, uint16_t what, @number value);

)";

/// A lean program keeps nothing for it in its memory.
const char* const lean_saying =
    R"(
/* Where it goes: to a function of yours, whose name you give the compiler with -D$SAID=NAME; else
 * nowhere. */
#ifdef $SAID
#ifdef __cplusplus
extern "C"
#endif
void $SAID(uint8_t kind, uint16_t what, @number value);
#else
#define $SAID(kind, what, value) ((void)(kind), (void)(what), (void)(value))
#endif

)";

const char* const full_begin =
    R"(/* Before the first look. `say` is told what the plan says, with `whom` in front; it may be 0. */
void @begin(struct @state *s, @say_function say, void *whom);

)";

const char* const lean_begin = R"(/* Before the first look. */
void @begin(struct @state *s);

)";

const char* const look_entry = R"(/* Decides one look; looks must come in the order of their clocks. */
void @look(struct @state *s, const struct @look *in, struct @answer *out);

)";

const char* const functions = R"(#ifdef __cplusplus
extern "C" {
#endif

#entries#/* The text of a note, the name of a light, sound or device; "" when there is no such number. */
const char *@text(uint16_t number);

#ifdef __cplusplus
}
#endif

)";

} // namespace

CStruct answer_struct(const Shape& shape) {
    CStruct answer{"@answer",
                   {{"@number", "left_pct", 0, "-100 .. 100, positive forward"},
                    {"@number", "right_pct", 0, "likewise"},
                    {"bool", "halted", 0, "the run is over; powers are 0"}}};
    if (shape.form.numbered) {
        answer.fields.push_back(
            {"uint16_t", "rule", 0, "rule, guard or item that acted last in this look, 0xFFFF none"});
        answer.fields.push_back({"uint16_t", "block", 0, "block that acted last in this look"});
    }
    return answer;
}

std::vector<std::string> look_fields(const Shape& shape) {
    std::vector<std::string> names;
    for (const CField& field : inputs(shape)) {
        names.push_back(field.name);
    }
    return names;
}

std::string file_head(const Shape& shape, const char* about) {
    const std::string& file = shape.plan.file();
    const std::string from = file.substr(file.find_last_of('/') + 1);
    return fmt::format(
        "/* The plan \"{}\"{}: {}\n"
        " *\n"
        " * Written by `vturn export`. This file belongs to whoever owns the plan and may be used without\n"
        " * any condition. It needs no library. Compile it without contraction of a product and a sum into\n"
        " * one step (-std=c99, or -ffp-contract=off), so that it decides as it did on the map.\n"
        " */\n",
        veiled(c_comment(shape.plan.name())), from.empty() ? "" : veiled(c_comment(" of " + from)), about);
}

std::string header_text(const Shape& shape) {
    std::string text = file_head(shape, "what a robot's program includes.");
    text += "#ifndef $H\n#define $H\n\n#include <stdbool.h>\n#include <stdint.h>\n\n";
    text += fmt::format("typedef {} @number;\n\n", shape.pieces.numbers() == NumberKind::binary32 ? "float" : "double");
    text = shape.pieces(text);
    if (shape.reads(Op::marker)) {
        text += numbered(shape, "$SEES_", shape.plan.markers(), true);
        text += numbered(shape, "$AT_", shape.plan.places(), false);
    }
    text += numbered(shape, "$HEARS_", shape.plan.heard(), true);
    std::string declared = functions;
    const std::string hole = "#entries#";
    declared.replace(declared.find(hole), hole.size(),
                     shape.form.wired ? "" : std::string(shape.form.lean ? lean_begin : full_begin) + look_entry);
    return text + look_struct(shape) + shape.pieces(events) + shape.pieces(shape.form.lean ? lean_saying : say_type) +
           struct_text(shape, answer_struct(shape)) + state_text(shape) + shape.pieces(declared);
}

std::string source_constants(const Shape& shape) {
    return shape.pieces("/* What comes of asking a block: a rule or item acted, it handed over, all is over. */\n"
                        "enum { $ACTED, $MOVED_ON, $OVER };\n\n#define $NO_RULE 0xFFFFu\n#define $NO_CALL 0xFFFFu\n\n");
}

} // namespace vast_turn::emit
