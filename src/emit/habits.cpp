/// Habits, guards and watches as functions of C.

#include <algorithm>
#include <cmath>
#include <string>
#include <vector>

#include <fmt/format.h>

#include "emit/acts.hpp"
#include "emit/blocks.hpp"

namespace vast_turn::emit {

namespace {

std::vector<std::string> with_at() {
    std::vector<std::string> list = look_parameters();
    list.emplace_back("int at");
    return list;
}

std::vector<Local> frame_locals(const Shape& shape) {
    return {{"f", "struct @frame *const f = &s->frame[at];"},
            {"c", fmt::format("@number *const c = {};", shape.cells_of_frame())}};
}

} // namespace

std::vector<std::string> look_parameters() {
    return {"struct @state *s", "const struct @look *in", "struct @answer *out"};
}

std::string rule_truth(const Shape& shape, const runtime::Rule& rule, const Where& where) {
    std::string all;
    const auto also = [&](const std::string& part) { all += (all.empty() ? "" : " && ") + part; };
    if (rule.mask != 0) {
        also(Expressions::pattern(rule.mask, rule.bits));
    }
    if (rule.watch != runtime::no_code) {
        also(shape.expressions.watch(rule.watch));
    }
    if (rule.condition != runtime::no_code) {
        also(shape.expressions.truth(rule.condition, where));
    }
    return all.empty() ? "true" : all;
}

void spend_rule(Lines& lines, const Shape& shape, const runtime::Block& block, const runtime::Rule& rule,
                const std::string& cells) {
    for (std::size_t i = block.first_fresh; i < static_cast<std::size_t>(block.first_fresh) + block.freshes; ++i) {
        const runtime::Fresh& fresh = shape.tables.freshes[i];
        if (fresh.cell >= rule.fresh_cell && fresh.cell < rule.fresh_cell + rule.fresh_cells) {
            lines.add(fmt::format("{}[{}] = -{};", cells, fresh.cell, shape.pieces.number(1.0)));
            lines.add(fmt::format("s->watch[{}].spent = true;", fresh.watch));
        }
    }
}

std::string habit_function(const Shape& shape, std::size_t block) {
    const runtime::Block& made = shape.tables.blocks[block];
    const Where where = shape.block_words();
    Lines lines;
    bool always = false;
    for (std::size_t number = made.first_rule;
         number < static_cast<std::size_t>(made.first_rule) + made.rules && !always; ++number) {
        const runtime::Rule& rule = shape.tables.rules[number];
        const std::string condition = rule_truth(shape, rule, where);
        always = condition == "true";
        lines.add(fmt::format("/* {} */", shape.told(number)));
        lines.add(always ? "{" : fmt::format("if ({}) {{", unbracketed(condition)));
        Lines inner(0);
        spend_rule(inner, shape, made, rule, where.cells);
        const bool ends_lone = shape.form.lean && shape.lone && halts(shape.tables, rule.acts);
        const bool left = write_acts(inner, shape, rule.acts, {where, "at", "$NO_RULE", ends_lone});
        const bool asks_begin = stands_in("begins", inner.text());
        if (shape.keeps_acting()) {
            lines.add(fmt::format("{}@takes(s, f, {}, out);", asks_begin ? "const bool begins = " : "", number));
        }
        lines.add_all(inner.text());
        if (!left) {
            lines.add("return $ACTED;");
        }
        lines.add("}");
    }
    if (!always) {
        lines.add(shape.keeps_acting() ? "return @unanswered(s, in, f, out);" : "return @unanswered(s, in, out);");
    }
    std::vector<Local> locals = {{"at", shape.transfers ? "const int at = s->depth - 1;" : "const int at = 0;"}};
    const std::vector<Local> of_frame = frame_locals(shape);
    locals.insert(locals.end(), of_frame.begin(), of_frame.end());
    return c_function(shape.pieces, fmt::format("static uint8_t @{}", shape.block_function(block)), look_parameters(),
                      locals, lines.text());
}

namespace {

/// Whether a guard waits for what it has done to come back.
std::string awake(const Shape& shape, const runtime::Guard& guard) {
    return guard.callee == runtime::no_block
               ? ""
               : shape.pieces(fmt::format("!@asleep(s, {}, {})", guard.callee, guard.rule));
}

void write_guard(Lines& lines, const Shape& shape, const runtime::Block& owner, const runtime::Guard& guard,
                 bool of_plan) {
    const runtime::Rule& rule = shape.tables.rules[guard.rule];
    const Where where = of_plan ? shape.plan_words() : shape.block_words();
    const std::string wakes = awake(shape, guard);
    const std::string truth = rule_truth(shape, rule, where);
    const std::string number = shape.pieces.number(0.0);
    const std::string stamp = fmt::format("{}[{}]", where.cells, guard.stamp_cell);
    lines.add(fmt::format("/* {} */", shape.told(guard.rule)));
    lines.add(fmt::format("if ({}) {{", wakes.empty() ? unbracketed(truth) : wakes + " && " + truth));
    spend_rule(lines, shape, owner, rule, where.cells);
    lines.add(
        fmt::format("const bool begins = {0} < {1} || {0} < (@number)s->free_look;", stamp, shape.pieces.number(1.0)));
    lines.add(guard.callee == runtime::no_block ? fmt::format("{} = (@number)s->look;", stamp)
                                                : fmt::format("{} = {};", stamp, number));
    lines.add(shape.holds ? "s->moved = s->was_held = false;" : "s->moved = false;");
    lines.add(of_plan ? "const uint16_t in_hand = @in_hand(s);" : "const uint16_t in_hand = f->block;");
    if (!guard.holds && shape.arguments > 0) {
        lines.add("@refresh_arguments(s, in, true);");
    }
    lines.add(fmt::format("if (@takes_guard(s, in, out, {}, in_hand, @acts_{}(s, in, out, at, begins))) {{", guard.rule,
                          guard.rule));
    lines.add("return true;");
    lines.add("}");
    lines.add("}");
}

std::string guard_acts(const Shape& shape, const runtime::Guard& guard, bool of_plan) {
    Lines lines;
    const Where where = of_plan ? shape.plan_words() : shape.block_words();
    if (!write_acts(lines, shape, shape.tables.rules[guard.rule].acts,
                    {where, of_plan ? "-1" : "at", std::to_string(guard.rule), false})) {
        lines.add("return $ACTED;");
    }
    std::vector<std::string> parameters = with_at();
    parameters.emplace_back("bool begins");
    return c_function(shape.pieces, fmt::format("static uint8_t @acts_{}", guard.rule), parameters, frame_locals(shape),
                      lines.text());
}

} // namespace

std::string guards_function(const Shape& shape, std::uint16_t block) {
    const bool of_plan = block == runtime::no_block;
    const runtime::Block& owner = of_plan ? shape.tables.plan : shape.tables.blocks[block];
    std::string text;
    Lines lines;
    for (std::size_t i = 0; i < owner.guards; ++i) {
        const runtime::Guard& guard = shape.tables.guards[owner.first_guard + i];
        text += guard_acts(shape, guard, of_plan);
        write_guard(lines, shape, owner, guard, of_plan);
    }
    lines.add("return false;");
    const std::string name = of_plan ? "plan" : shape.block_function(block);
    std::vector<Local> locals = frame_locals(shape);
    if (of_plan) {
        locals.insert(locals.begin(), Local{"at", "const int at = -1;"});
    }
    return text + c_function(shape.pieces, fmt::format("static bool @guards_of_{}", name),
                             of_plan ? look_parameters() : with_at(), locals, lines.text());
}

std::string watches_function(const Shape& shape) {
    const char* const first = shape.freshes ? ", first" : "";
    const bool counted = !shape.form.watch_type.empty();
    Lines lines;
    for (std::size_t i = 0; i < shape.tables.watches.size(); ++i) {
        const runtime::Watch& watch = shape.tables.watches[i];
        std::string truth =
            watch.condition == runtime::no_code ? "" : shape.expressions.truth(watch.condition, shape.plan_words());
        if (watch.mask != 0 || truth.empty()) {
            truth =
                fmt::format("{}{}{}", Expressions::pattern(watch.mask, watch.bits), truth.empty() ? "" : " && ", truth);
        }
        const bool timed = watch.kind == runtime::WatchKind::time;
        if (timed) {
            lines.add(fmt::format("@lasts_time(&s->watch[{}], {}, in->clock_ms, {}{});", i, truth,
                                  shape.pieces.number(watch.limit), first));
        } else {
            lines.add(fmt::format(fmt::runtime(counted ? "s->watch[{0}] = @lasted(s->watch[{0}], {1}, {2}u);"
                                                       : "@lasts_looks(&s->watch[{0}], {1}, {2}u{3});"),
                                  i, truth, looks_of_watch(watch), first));
        }
    }
    std::vector<std::string> parameters = {"struct @state *s", "const struct @look *in"};
    if (shape.freshes) {
        parameters.emplace_back("bool first");
    }
    return c_function(shape.pieces, "static void @watch_conditions", parameters, {}, lines.text());
}

} // namespace vast_turn::emit
