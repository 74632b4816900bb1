/// The look itself as functions of C: what comes before, guards, limits, then the innermost block.

#include <algorithm>
#include <string>
#include <vector>

#include <fmt/format.h>

#include "emit/blocks.hpp"
#include "emit/c_function.hpp"
#include "emit/kernel.hpp"

namespace vast_turn::emit {

namespace {

using runtime::no_block;
using runtime::no_code;

const char* const takes_guard = R"(/* Whether a guard that has acted takes the look. */
static bool @takes_guard(struct @state *s, const struct @look *in, struct @answer *out, uint16_t rule, uint16_t in_hand,
                         uint8_t outcome)
{
    s->halted = outcome == $OVER;
    if (!s->halted && !s->moved && outcome != $MOVED_ON#) {
        return false;
    }
    out->rule = rule;
    out->block = in_hand;
    if (outcome == $MOVED_ON) {
        s->halted = @decide(s, in, out) == $OVER;
    }
    return true;
}

)";

/// Guards of the plan, then of the blocks in hand, the outermost first.
std::string all_guards(const Shape& shape) {
    std::string text;
    Lines lines;
    if (shape.tables.plan.guards > 0) {
        text += guards_function(shape, no_block);
        lines.add_all("if (@guards_of_plan(s, in, out)) {\nreturn true;\n}");
    }
    Lines blocks;
    for (std::size_t i = 0; i < shape.tables.blocks.size(); ++i) {
        if (shape.tables.blocks[i].guards > 0) {
            text += guards_function(shape, static_cast<std::uint16_t>(i));
            blocks.add(fmt::format("case {}:", i));
            blocks.add(fmt::format("if (@guards_of_{}(s, in, out, i)) {{", shape.block_function(i)));
            blocks.add_all("return true;\n}\nbreak;");
        }
    }
    if (!blocks.text().empty()) {
        lines.add("const int in_hand = s->look == 1 ? 0 : s->depth; /* the first block begins in the first look */");
        lines.add_all("for (int i = 0; i < in_hand; ++i) {\nswitch (s->frame[i].block) {");
        lines.add_all(blocks.text());
        lines.add_all("default:\nbreak;\n}\n}");
    }
    lines.add("return false;");
    return text + c_function(shape.pieces, "static bool @guards_take_the_look", look_parameters(), {}, lines.text());
}

bool waits_under_limits(const Shape& shape) {
    return std::any_of(shape.tables.items.begin(), shape.tables.items.end(), [](const runtime::Item& item) {
        return item.kind == runtime::ItemKind::call && item.limit != runtime::LimitKind::none;
    });
}

/// Ends what waits under a limit that holds, the outermost first; empty when no item waits so.
std::string cut_off(const Shape& shape) {
    Lines blocks;
    for (std::size_t b = 0; b < shape.tables.blocks.size(); ++b) {
        const runtime::Block& block = shape.tables.blocks[b];
        Lines items;
        for (std::size_t i = 0; i < block.items; ++i) {
            const runtime::Item& item = shape.tables.items[block.first_item + i];
            if (item.kind == runtime::ItemKind::call && item.limit != runtime::LimitKind::none) {
                items.add(fmt::format("case {}:", i));
                items.add(fmt::format("over = {};", limit_truth(shape, item)));
                items.add("break;");
            }
        }
        if (!items.text().empty()) {
            blocks.add(fmt::format("case {}:", b));
            blocks.add("switch (f->item) {");
            blocks.add_all(items.text());
            blocks.add_all("default:\nbreak;\n}\nbreak;");
        }
    }
    if (blocks.text().empty()) {
        return "";
    }
    Lines lines;
    lines.add_all("for (int i = 0; i + 1 < s->depth; ++i) {\nstruct @frame *const f = &s->frame[i];");
    if (stands_in("c", blocks.text())) {
        lines.add("@number *const c = s->cell + f->cells;");
    }
    lines.add_all("bool over = false;\nif (s->frame[i + 1].guard != $NO_RULE) {\ncontinue;\n}\nswitch (f->block) {");
    lines.add_all(blocks.text());
    lines.add_all("default:\nbreak;\n}\nif (over) {\ns->transfers++;\n(void)@end_block(s, i + 1);\nreturn;\n}\n}");
    return "/* Ends what waits under a limit that holds, the outermost first. */\n" +
           c_function(shape.pieces, "static void @cut_off_at_limits", {"struct @state *s", "const struct @look *in"},
                      {}, lines.text());
}

std::string fresh_statement(const Shape& shape, const runtime::Fresh& fresh, const char* cells, const char* hears) {
    std::string heard = hears;
    if (fresh.guard != no_code) {
        const runtime::Guard& guard = shape.tables.guards[fresh.guard];
        heard = guard.callee == no_block ? "true" : fmt::format("!@asleep(s, {}, {})", guard.callee, guard.rule);
    }
    return fmt::format("@news(&s->watch[{}], &{}[{}], {}, {});", fresh.watch, cells, fresh.cell,
                       fresh.in_limit ? "true" : "false", heard);
}

std::string update_freshes(const Shape& shape) {
    if (shape.tables.freshes.empty()) {
        return "";
    }
    Lines lines;
    for (std::size_t i = 0; i < shape.tables.plan.freshes; ++i) {
        lines.add(fresh_statement(shape, shape.tables.freshes[shape.tables.plan.first_fresh + i], "s->cell", "false"));
    }
    Lines blocks;
    for (std::size_t b = 0; b < shape.tables.blocks.size(); ++b) {
        const runtime::Block& block = shape.tables.blocks[b];
        for (std::size_t i = 0; i < block.freshes; ++i) {
            if (i == 0) {
                blocks.add(fmt::format("case {}:", b));
            }
            blocks.add(fresh_statement(shape, shape.tables.freshes[block.first_fresh + i], "c", "i + 1 == s->depth"));
        }
        if (block.freshes > 0) {
            blocks.add("break;");
        }
    }
    if (!blocks.text().empty()) {
        lines.add_all("for (int i = 0; i < s->depth; ++i) {\n@number *const c = s->cell + s->frame[i].cells;");
        lines.add("switch (s->frame[i].block) {");
        lines.add_all(blocks.text());
        lines.add_all("default:\nbreak;\n}\n}");
    }
    return "/* What is fresh in this look. */\n" +
           c_function(shape.pieces, "static void @update_freshes", {"struct @state *s"}, {}, lines.text());
}

/// Where the robot stands, without what went by while a guard held.
std::string take_stand(const Shape& shape) {
    if (shape.marks.empty() && !shape.holds) {
        return "";
    }
    Lines lines;
    if (!shape.marks.empty()) {
        lines.add("struct @marks now;");
    }
    const auto each = [&](const char* form) {
        for (const MarkField& field : shape.marks) {
            lines.add(fmt::format(fmt::runtime(form), field.name));
        }
    };
    for (const MarkField& field : shape.marks) {
        lines.add(fmt::format("now.{} = {};", field.name, field.now));
    }
    if (!shape.marks.empty()) {
        lines.add_all("if (s->look == 1) {\ns->plan_began = now;\n}");
    }
    if (!shape.holds) {
        lines.add("s->now = now;");
        return c_function(shape.pieces, "static void @take_stand", {"struct @state *s", "const struct @look *in"}, {},
                          lines.text());
    }
    lines.add("if (s->look != 1 && s->was_held) {");
    each("s->held.{0} = s->held.{0} + (now.{0} - s->raw.{0});");
    lines.add_all("s->was_held = false;\n} else {\ns->free_look = s->look - 1;\n}");
    if (!shape.marks.empty()) {
        lines.add_all("s->raw = now;\ns->now = now;\nif (s->was_ever_held) {");
        each("s->now.{0} = now.{0} - s->held.{0};");
        lines.add("}");
    }
    return c_function(shape.pieces, "static void @take_stand", {"struct @state *s", "const struct @look *in"}, {},
                      lines.text());
}

std::string begin_look(const Shape& shape) {
    Lines lines;
    if (shape.counts_looks) {
        lines.add("s->look++;");
    }
    if (!shape.lone) {
        lines.add("s->transfers = 0;");
    }
    if (shape.form.counts_said) {
        lines.add("s->said = 0;");
    }
    for (std::size_t i = 0; i < shape.form.pids.size(); ++i) {
        lines.add_all(fmt::format("if (s->pid[{0}].asked > 1) {{\ns->pid[{0}].asked--;\n}}", i));
    }
    if (!shape.holds && !shape.lone) {
        lines.add("s->free_look = s->look - 1;");
    }
    if (!shape.marks.empty() || shape.holds) {
        lines.add("@take_stand(s, in);");
    }
    if (shape.reads(runtime::Op::weighted)) {
        std::string sum = shape.pieces.number(0.0);
        std::string weighted = sum;
        for (std::size_t i = 0; i < shape.tables.sensors; ++i) {
            sum += fmt::format(" + in->sensor[{}]", i);
            weighted += fmt::format(" + {} * in->sensor[{}]", shape.pieces.number(shape.tables.weights[i]), i);
        }
        lines.add("if (in->line != 0) {");
        lines.add(fmt::format("const @number sum = {};", sum));
        lines.add(
            fmt::format("s->weighted = sum > {} ? ({}) / sum : s->weighted;", shape.pieces.number(0.0), weighted));
        lines.add("}");
    }
    if (!shape.tables.watches.empty()) {
        lines.add(shape.freshes ? "@watch_conditions(s, in, s->look == 1);" : "@watch_conditions(s, in);");
    }
    const bool refreshes = shape.arguments > 0;
    if (!shape.lone) {
        lines.add("if (s->look == 1) {");
        lines.add("s->depth = 1;");
        lines.add(refreshes ? "@begin_block(s, 0, 0, 0);" : "@begin_block(s, 0, 0);");
        lines.add(refreshes ? "} else {" : "}");
    } else if (!shape.marks.empty()) {
        lines.add_all("if (s->look == 1) {\ns->frame[0].block_began = s->now;\n}");
    }
    if (refreshes) {
        lines.add_all("@refresh_arguments(s, in, false);\n}");
    }
    if (!shape.tables.freshes.empty()) {
        lines.add("@update_freshes(s);");
    }
    return c_function(shape.pieces, "static void @begin_look", {"struct @state *s", "const struct @look *in"}, {},
                      lines.text());
}

} // namespace

std::string decide_functions(const Shape& shape) {
    Lines lines;
    if (!shape.transfers) {
        lines.add(fmt::format("return @{}(s, in, out);", shape.block_function(0)));
    } else {
        if (shape.arguments > 0) {
            lines.add("@refresh_arguments(s, in, true);");
        }
        lines.add_all("uint8_t outcome = $MOVED_ON;\nwhile (outcome == $MOVED_ON) {\nswitch (@in_hand(s)) {");
        for (std::size_t i = 0; i < shape.tables.blocks.size(); ++i) {
            lines.add(i + 1 == shape.tables.blocks.size() ? std::string("default:") : fmt::format("case {}:", i));
            lines.add(fmt::format("outcome = @{}(s, in, out);", shape.block_function(i)));
            lines.add("break;");
        }
        lines.add_all("}\n}\nreturn outcome;");
    }
    std::string text = "/* The innermost block acts, and what comes after it, until something has acted. */\n" +
                       c_function(shape.pieces, "static uint8_t @decide", look_parameters(), {}, lines.text());
    if (shape.guards) {
        std::string piece = takes_guard;
        const std::size_t at = piece.find('#');
        piece.replace(at, 1, shape.holds ? " && !s->was_held" : "");
        if (!shape.form.numbered) {
            const std::string told = "    out->rule = rule;\n    out->block = in_hand;\n";
            piece.replace(piece.find(told), told.size(), "    (void)rule;\n    (void)in_hand;\n");
        }
        text += shape.pieces(piece) + all_guards(shape);
    }
    return text;
}

std::string before_functions(const Shape& shape) {
    return take_stand(shape) + (shape.tables.watches.empty() ? "" : watches_function(shape)) + update_freshes(shape) +
           begin_look(shape) + cut_off(shape);
}

std::string look_functions(const Shape& shape) {
    Lines begin;
    if (!shape.lone) {
        begin.add("int i;");
    }
    begin.add_all("*s = (struct @state){0};");
    if (!shape.form.lean) {
        begin.add_all("s->say = say;\ns->whom = whom;");
    }
    for (std::size_t i = 0; i < shape.tables.first_vars.size(); ++i) {
        begin.add(fmt::format("s->cell[{}] = {}; /* {} */", i, shape.pieces.number(shape.tables.first_vars[i]),
                              veiled(c_comment(shape.plan.vars()[i]))));
    }
    if (shape.lone) {
        begin.add_all(shape.form.asks_begin ? "s->frame[0].acting = $NO_RULE;" : "");
    } else {
        begin.add_all(fmt::format("for (i = 0; i < {}; ++i) {{", shape.tables.frames));
        begin.add_all("s->frame[i].acting = s->frame[i].guard = $NO_RULE;");
        begin.add_all("s->frame[i].call = $NO_CALL;\ns->frame[i].caller = -1;\n}");
        begin.add(fmt::format("s->frame[0].cells = {};", shape.first_cell()));
    }
    Lines look;
    look.add_all(shape.form.numbered ? "out->rule = $NO_RULE;\nout->block = @in_hand(s);" : "");
    look.add_all("if (!s->halted) {\n@begin_look(s, in);");
    if (shape.guards) {
        look.add("if (!@guards_take_the_look(s, in, out)) {");
    }
    if (waits_under_limits(shape)) {
        look.add("@cut_off_at_limits(s, in);");
    }
    look.add("s->halted = @decide(s, in, out) == $OVER;");
    look.add_all(shape.guards ? "}\n}" : "}");
    const std::string stands = shape.holds ? "s->halted || s->was_held" : "s->halted";
    const std::string zero = shape.pieces.number(0.0);
    if (shape.form.keeps_powers) {
        look.add(fmt::format("out->left_pct = {} ? {} : s->left;", stands, zero));
        look.add(fmt::format("out->right_pct = {} ? {} : s->right;", stands, zero));
    } else {
        look.add_all(fmt::format("if ({}) {{\nout->left_pct = out->right_pct = {};\n}}", stands, zero));
    }
    look.add("out->halted = s->halted;");
    const std::string scope = shape.form.wired ? "static " : "";
    std::vector<std::string> of_begin = {"struct @state *s"};
    if (!shape.form.lean) {
        of_begin.insert(of_begin.end(), {"@say_function say", "void *whom"});
    }
    return c_function(shape.pieces, scope + "void @begin", of_begin, {}, begin.text()) +
           c_function(shape.pieces, scope + "void @look", look_parameters(), {}, look.text());
}

} // namespace vast_turn::emit
