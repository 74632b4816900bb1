/// What `mirrored` means, word by word.

#include <algorithm>
#include <utility>

#include "plan/check/checked.hpp"
#include "plan/text/words.hpp"

namespace vast_turn::lang {

namespace {

Expr negated(Expr e) {
    Expr out;
    out.kind = ExprKind::unary;
    out.op = Op::negate;
    out.span = e.span;
    out.type = e.type;
    out.args.push_back(std::move(e));
    return out;
}

Expr mirror_pattern(Expr e) {
    std::reverse(e.text.begin(), e.text.end());
    e.mask = 0;
    e.bits = 0;
    for (std::size_t i = 0; i < e.text.size(); ++i) {
        const auto bit = static_cast<std::uint8_t>(1U << i);
        e.mask = static_cast<std::uint8_t>(e.mask | (e.text[i] == '?' ? 0U : bit));
        e.bits = static_cast<std::uint8_t>(e.bits | (e.text[i] == '#' ? bit : 0U));
    }
    return e;
}

/// A side that is written out is exchanged; one that is looked up mirrors by itself, so it stays
/// where a side is wanted and is negated where it counts as a number.
Expr mirror_value(const Expr& e, int sensors, bool side_wanted) {
    if (e.kind == ExprKind::pattern) {
        return mirror_pattern(e);
    }
    if (e.kind == ExprKind::side) {
        Expr out = e;
        out.value = -e.value;
        out.text = out.value > 0.0 ? "left" : "right";
        return out;
    }
    if (e.kind == ExprKind::name || e.kind == ExprKind::variable || e.kind == ExprKind::argument) {
        const InputWord* input = e.kind == ExprKind::name ? find_input(e.text) : nullptr;
        const bool flips = e.type.base == Base::side || (input != nullptr && input->to_the_left);
        return flips && !side_wanted ? negated(e) : e;
    }
    if (e.kind == ExprKind::marker) {
        Expr out = e;
        out.with = e.with == "left" ? "right" : e.with == "right" ? "left" : e.with;
        return out;
    }
    Expr out = e;
    out.args.clear();
    if (is_reading(e)) {
        Expr k = e.args[0];
        k.value = sensors + 1 - k.value;
        k.text = std::to_string(static_cast<int>(k.value));
        k.kind = ExprKind::constant;
        out.args.push_back(std::move(k));
        return out;
    }
    if (is_call(e, Op::rolled)) {
        out.args.push_back(mirror_value(e.args[0], sensors, true));
        return out;
    }
    const bool keeps_side = e.kind == ExprKind::unary && e.type.base == Base::side && side_wanted;
    const bool compares_sides = e.kind == ExprKind::binary && e.type.base == Base::truth && !e.args.empty() &&
                                e.args[0].type.base == Base::side && e.args[1].type.base == Base::side;
    for (const Expr& arg : e.args) {
        out.args.push_back(mirror_value(arg, sensors, keeps_side || compares_sides));
    }
    return out;
}

Act mirror_act(const Act& act, int sensors) {
    Act out = act;
    const MotionWord* motion = act.kind == ActKind::motion ? find_motion(act.name) : nullptr;
    for (std::size_t i = 0; i < out.args.size(); ++i) {
        const bool side = motion != nullptr ? motion->args[i] == Wants::side : act.args[i].type.base == Base::side;
        out.args[i] = mirror_value(act.args[i], sensors, side);
    }
    if (act.motion == Op::wheels) {
        std::swap(out.args[0], out.args[1]);
    }
    if (act.motion == Op::bend) {
        const bool is_negative = out.args[0].op == Op::negate;
        out.args[0] = is_negative ? Expr(out.args[0].args[0]) : negated(out.args[0]);
    }
    return out;
}

} // namespace

Rule mirror_image(const Rule& rule, int sensors) {
    Rule out = rule;
    out.is_mirrored = false;
    out.is_twin = true;
    if (!rule.is_else) {
        out.condition = mirror_value(rule.condition, sensors, false);
    }
    for (Act& act : out.acts) {
        act = mirror_act(act, sensors);
    }
    return out;
}

} // namespace vast_turn::lang
