/// Blocks in hand as functions of C: how they begin, hand over and end.

#include "emit/kernel.hpp"

#include <fmt/format.h>

#include "emit/blocks.hpp"
#include "emit/c_function.hpp"

namespace vast_turn::emit {

namespace {

using runtime::no_code;

/// Of a plan whose one habit is in hand for ever.
const char* const lone_in_hand = R"(static uint16_t @in_hand(const struct @state *s)
{
    (void)s;
    return 0;
}

)";

const char* const lone_takes = R"(/* A rule takes the look; whether it begins to act. */
static bool @takes(struct @state *s, struct @frame *f, uint16_t rule, struct @answer *out)
{
    const bool begins = f->acting != rule;
    (void)s;
    f->acting = rule;
    out->rule = rule;
    return begins;
}

)";

const char* const lone_unanswered =
    R"(static uint8_t @unanswered(struct @state *s, const struct @look *in, struct @frame *f, struct @answer *out)
{
    (void)out;
    f->acting = $NO_RULE;
    @say(s, $UNANSWERED, in->line, 0);
    return $ACTED;
}

)";

/// Where nothing is done only when a rule begins to act.
const char* const lone_unanswered_lean =
    R"(static uint8_t @unanswered(struct @state *s, const struct @look *in, struct @answer *out)
{
    (void)out;
    @say(s, $UNANSWERED, in->line, 0);
    return $ACTED;
}

)";

const char* const in_hand = R"(static uint16_t @in_hand(const struct @state *s)
{
    return s->depth == 0 ? 0 : s->frame[s->depth - 1].block;
}

)";

const char* const transfer = R"(/* Counts a transfer; false when there have been too many in this look. */
static bool @transfer(struct @state *s)
{
    if (s->transfers == 16) {
        @say(s, $CUT_SHORT, @in_hand(s), 0);
        return false;
    }
    s->transfers++;
    return true;
}

)";

const char* const may_leave = R"(/* The same for a rule; where it may not, the next look tries again. */
static bool @may_leave(struct @state *s, int at)
{
    if (@transfer(s)) {
        return true;
    }
    if (at >= 0) {
        s->frame[at].acting = $NO_RULE;
        s->frame[at].item_begun = false;
    }
    return false;
}

)";

const char* const end_block = R"(/* Ends the block in this frame, with all that it waits for. */
static uint8_t @end_block(struct @state *s, int at)
{
    const bool from_guard = s->frame[at].guard != $NO_RULE;
    s->depth = at;
    if (at == 0) {
        return $OVER;
    }
    @come_back(s, from_guard);
    return $MOVED_ON;
}

)";

const char* const takes = R"(/* A rule takes the look; whether it begins to act. */
static bool @takes(struct @state *s, struct @frame *f, uint16_t rule, struct @answer *out)
{
    const bool begins = f->acting != rule || f->acted_look < s->free_look;
    f->acting = rule;
    f->acted_look = s->look;
    out->rule = rule;
    out->block = f->block;
    return begins;
}

)";

const char* const unanswered =
    R"(static uint8_t @unanswered(struct @state *s, const struct @look *in, struct @frame *f, struct @answer *out)
{
    f->acting = $NO_RULE;
    out->block = f->block;
    @say(s, $UNANSWERED, in->line, 0);
    return $ACTED;
}

)";

const char* const asleep =
    R"(/* Whether a guard waits for what it has done: the block is in hand, or what has become of it. */
static bool @asleep(const struct @state *s, uint16_t block, uint16_t guard)
{
    for (int i = 0; i < s->depth; ++i) {
        if (s->frame[i].block == block || s->frame[i].guard == guard) {
            return true;
        }
    }
    return false;
}

)";

/// The same where the answer does not tell which rule and block acted.
std::string untold(std::string text) {
    for (const char* const told : {"    out->rule = rule;\n", "    out->block = f->block;\n"}) {
        const std::size_t at = text.find(told);
        if (at != std::string::npos) {
            text.erase(at, std::string(told).size());
        }
    }
    if (text.find("out->") == std::string::npos && text.find("(void)out;") == std::string::npos) {
        const std::size_t at = text.find("    return");
        text.insert(at, "    (void)out;\n");
    }
    return text;
}

std::string begin_item(const Shape& shape) {
    return fmt::format(
        "static void @begin_item(struct @state *s, struct @frame *f)\n{{\n{}    f->item_begun = true;\n}}\n\n",
        shape.marks.empty() ? "    (void)s;\n" : "    f->item_began = s->now;\n");
}

/// `case N: return cells;`
std::string block_cells(const Shape& shape) {
    std::string text = "/* Numbers that a block keeps while it is in hand. */\nstatic uint16_t @block_cells(uint16_t "
                       "block)\n{\n    switch (block) {\n";
    for (std::size_t i = 0; i < shape.tables.blocks.size(); ++i) {
        text += fmt::format("    case {}:\n        return {};\n", i, shape.tables.blocks[i].cells);
    }
    return text + "    default:\n        return 0;\n    }\n}\n\n";
}

/// A switch over the blocks that have something fresh, with a statement for each; empty when none has.
template <class Statement> std::string for_each_fresh(const Shape& shape, const char* block, Statement statement) {
    Lines lines;
    for (std::size_t i = 0; i < shape.tables.blocks.size(); ++i) {
        const runtime::Block& made = shape.tables.blocks[i];
        std::string statements;
        for (std::size_t n = 0; n < made.freshes; ++n) {
            statements += statement(shape.tables.freshes[made.first_fresh + n]);
        }
        if (!statements.empty()) {
            lines.add(fmt::format("case {}:", i));
            lines.add_all(statements);
            lines.add("break;");
        }
    }
    if (lines.text().empty()) {
        return "";
    }
    return fmt::format("switch ({}) {{\n", block) + lines.text() + "default:\nbreak;\n}\n";
}

std::string begin_block(const Shape& shape) {
    Lines lines;
    const std::string zero = shape.pieces.number(0.0);
    lines.add("uint16_t i;");
    lines.add("f->block = block;");
    if (!shape.marks.empty()) {
        lines.add("f->block_began = f->item_began = s->now;");
    }
    lines.add_all("f->acting = $NO_RULE;\nf->item = 0;\nf->item_begun = false;");
    lines.add("for (i = 0; i < cells; ++i) {");
    lines.add(shape.arguments > 0
                  ? fmt::format("c[i] = i < {} && arguments != 0 ? arguments[i] : {};", shape.arguments, zero)
                  : fmt::format("c[i] = {};", zero));
    lines.add("}");
    lines.add_all(for_each_fresh(shape, "block", [&](const runtime::Fresh& fresh) {
        return fresh.in_limit
                   ? std::string()
                   : fmt::format("if (s->watch[{0}].holds && !s->watch[{0}].held && !s->watch[{0}].spent) {{\n"
                                 "c[{1}] = {2};\n}}\n",
                                 fresh.watch, fresh.cell, shape.pieces.number(2.0));
    }));
    std::vector<std::string> parameters = {"struct @state *s", "int at", "uint16_t block"};
    if (shape.arguments > 0) {
        parameters.emplace_back("const @number *arguments");
    }
    return c_function(shape.pieces, "static void @begin_block", parameters,
                      {{"f", "struct @frame *const f = &s->frame[at];"},
                       {"c", "@number *const c = s->cell + f->cells;"},
                       {"cells", "const uint16_t cells = @block_cells(block);"}},
                      lines.text());
}

std::string come_back(const Shape& shape) {
    Lines lines;
    lines.add_all(for_each_fresh(shape, "f->block", [&](const runtime::Fresh& fresh) {
        return fresh.in_limit || fresh.guard != no_code
                   ? std::string()
                   : fmt::format(
                         "if (s->watch[{0}].holds && !s->watch[{0}].held && c[{1}] > -{2}) {{\nc[{1}] = {3};\n}}\n",
                         fresh.watch, fresh.cell, shape.pieces.number(0.5), shape.pieces.number(2.0));
    }));
    lines.add("f->acting = $NO_RULE;");
    if (shape.errands) {
        std::string errand;
        for (std::size_t i = 0; i < shape.tables.blocks.size(); ++i) {
            errand += shape.tables.blocks[i].is_errand
                          ? fmt::format("{}f->block == {}", errand.empty() ? "" : " || ", i)
                          : "";
        }
        lines.add(fmt::format("if (!from_guard && ({})) {{", errand));
        lines.add_all("f->item++;\nf->item_begun = false;\n}");
    }
    return "/* The innermost block goes on: an errand with its next item, unless only a guard came between. */\n" +
           c_function(shape.pieces, "static void @come_back", {"struct @state *s", "bool from_guard"},
                      {{"f", "struct @frame *const f = &s->frame[s->depth - 1];"},
                       {"c", "@number *const c = s->cell + f->cells;"}},
                      lines.text());
}

bool is_call_of_plan(const Shape& shape, std::size_t call) {
    for (std::size_t i = 0; i < shape.tables.plan.guards; ++i) {
        std::size_t at = shape.tables.rules[shape.tables.guards[shape.tables.plan.first_guard + i].rule].acts;
        for (; shape.tables.code[at].op != runtime::Op::end; ++at) {
            const runtime::Instruction& step = shape.tables.code[at];
            if ((step.op == runtime::Op::call || step.op == runtime::Op::become) && step.b == call) {
                return true;
            }
        }
    }
    return false;
}

/// In whose words the arguments of a call are read: the plan's, the block's, or those of the item that calls.
Where words_of_call(const Shape& shape, std::size_t call) {
    for (const runtime::Item& item : shape.tables.items) {
        if (item.kind == runtime::ItemKind::call && item.target == call) {
            return words_of_item(shape, item);
        }
    }
    return is_call_of_plan(shape, call) ? shape.plan_words() : shape.block_words();
}

/// Arguments that a call gives, those without and those with memory.
std::string arguments(const Shape& shape) {
    Lines lines;
    lines.add("switch (call) {");
    for (std::size_t i = 0; i < shape.tables.calls.size(); ++i) {
        const runtime::Call& call = shape.tables.calls[i];
        if (call.args == no_code && call.pid_args == no_code) {
            continue;
        }
        const Where where = words_of_call(shape, i);
        lines.add(fmt::format("case {}:", i));
        for (const bool with_pid : {false, true}) {
            std::size_t at = with_pid ? call.pid_args : call.args;
            if (at == no_code) {
                continue;
            }
            lines.add(with_pid ? "if (with_pid) {" : "if (!with_pid) {");
            while (true) {
                const std::vector<CValue> values = shape.expressions.values(at, where);
                if (shape.tables.code[at].op != runtime::Op::give) {
                    break;
                }
                lines.add(fmt::format("into[{}] = {};", shape.tables.code[at].b,
                                      shape.expressions.as_number(values.back()).text));
                ++at;
            }
            lines.add("}");
        }
        lines.add("break;");
    }
    lines.add_all("default:\nbreak;\n}");
    return "/* Arguments of a call in the words of the block that gives them. */\n" +
           c_function(shape.pieces, "static void @arguments",
                      {"struct @state *s", "const struct @look *in", "int at", "uint16_t call", "bool with_pid",
                       "@number *into"},
                      {{"f", "struct @frame *const f = &s->frame[at < 0 ? 0 : at];"},
                       {"c", "@number *const c = s->cell + f->cells;"}},
                      lines.text());
}

/// `do` and `become`.
/// How a block is begun above the one in hand, or in its place.
std::string entering_statements(const Shape& shape, bool enters) {
    const bool gives = shape.arguments > 0;
    Lines lines;
    if (gives) {
        lines.add(fmt::format("@number arguments[{}] = {{0}};", shape.arguments));
    }
    if (enters) {
        lines.add("struct @frame *const f = &s->frame[s->depth];");
    }
    if (gives) {
        lines.add_all("@arguments(s, in, at, call, false, arguments);\n@arguments(s, in, at, call, true, arguments);");
    }
    if (enters) {
        lines.add("if (s->depth == 0) {");
        lines.add(fmt::format("f->cells = {};", shape.first_cell()));
        lines.add_all("} else {\nconst struct @frame *const below = &s->frame[s->depth - 1];");
        lines.add_all("f->cells = (uint16_t)(below->cells + @block_cells(below->block));\n}");
        lines.add_all("f->call = call;\nf->caller = at;\nf->guard = guard;\ns->depth++;");
        lines.add(gives ? "@begin_block(s, s->depth - 1, block, arguments);" : "@begin_block(s, s->depth - 1, block);");
    } else {
        lines.add_all("at = at < 0 ? 0 : at;\ns->depth = at + 1;\ns->frame[at].call = $NO_CALL;");
        lines.add(gives ? "@begin_block(s, at, block, arguments);" : "@begin_block(s, at, block);");
    }
    lines.add("return $MOVED_ON;");
    return lines.text();
}

std::string entering(const Shape& shape, bool enters) {
    // Where two are never in hand only blocks that nothing comes to call others, and there is no room for those.
    const bool unreached = enters && shape.tables.frames == 1;
    std::vector<std::string> parameters = {"struct @state *s", "int at", "uint16_t call", "uint16_t block"};
    if (shape.arguments > 0) {
        parameters.insert(parameters.begin() + 1, "const struct @look *in");
    }
    if (enters) {
        parameters.emplace_back("uint16_t guard");
    }
    return c_function(shape.pieces, enters ? "static uint8_t @enter" : "static uint8_t @become", parameters, {},
                      unreached ? "    return $OVER;\n" : entering_statements(shape, enters));
}

const char* const refresh =
    R"(/* Arguments of all blocks in hand, by the values of their callers, the outermost first. */
static void @refresh_arguments(struct @state *s, const struct @look *in, bool with_pid)
{
    for (int i = 1; i < s->depth; ++i) {
        const struct @frame *const f = &s->frame[i];
        if (f->call != $NO_CALL) {
            @arguments(s, in, f->caller, f->call, with_pid, s->cell + f->cells);
        }
    }
}

)";

} // namespace

std::vector<Helper> block_helpers(const Shape& shape) {
    const auto told = [&](const char* text) { return shape.form.numbered ? std::string(text) : untold(text); };
    const char* const lone_silent = shape.form.asks_begin ? lone_unanswered : lone_unanswered_lean;
    return {{"@in_hand", shape.lone ? lone_in_hand : in_hand},
            {"@transfer", transfer},
            {"@may_leave", may_leave},
            {"@block_cells", block_cells(shape)},
            {"@begin_block", begin_block(shape)},
            {"@come_back", come_back(shape)},
            {"@end_block", end_block},
            {"@arguments", shape.arguments > 0 ? arguments(shape) : ""},
            {"@refresh_arguments", refresh},
            {"@enter", entering(shape, true)},
            {"@become", entering(shape, false)},
            {"@takes", told(shape.lone ? lone_takes : takes)},
            {"@unanswered", told(shape.lone ? lone_silent : unanswered)},
            {"@asleep", asleep},
            {"@begin_item", begin_item(shape)}};
}

} // namespace vast_turn::emit
