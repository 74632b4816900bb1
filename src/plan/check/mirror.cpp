/// What `mirrored` means, word by word.

#include <algorithm>
#include <utility>

#include "plan/check/checked.hpp"
#include "plan/text/words.hpp"

namespace vast_turn::lang {

namespace {

Expr negated(Expr e) {
    Expr out;
    out.node = Unary{Op::negate};
    out.span = e.span;
    out.type = e.type;
    out.args.push_back(std::move(e));
    return out;
}

PatternMarks mirror_pattern(PatternMarks pattern) {
    std::reverse(pattern.marks.begin(), pattern.marks.end());
    pattern.mask = 0;
    pattern.bits = 0;
    for (std::size_t i = 0; i < pattern.marks.size(); ++i) {
        const auto bit = static_cast<std::uint8_t>(1U << i);
        pattern.mask = static_cast<std::uint8_t>(pattern.mask | (pattern.marks[i] == '?' ? 0U : bit));
        pattern.bits = static_cast<std::uint8_t>(pattern.bits | (pattern.marks[i] == '#' ? bit : 0U));
    }
    return pattern;
}

/// The value is one that is looked up: whether it changes its sign in a mirror.
bool flips(const Expr& e) {
    const InputWord* input = e.is<Input>() ? find_input(e.as<Input>()->text) : nullptr;
    return e.type.base == Base::side || (input != nullptr && input->to_the_left);
}

/// A value as it is in the mirrored robot's eyes. What is looked up and tells a side is negated, in a sum; where a side
/// is wanted it mirrors by itself, so it stays, and a side that is written out is exchanged. In a sum a written side is
/// the number +1 or -1 like any other: what the sum does (bend, wheels) is mirrored as a whole.
Expr mirror_value(const Expr& e, int sensors, bool side_wanted) {
    Expr out = e;
    if (auto* pattern = out.as<PatternMarks>()) {
        *pattern = mirror_pattern(*pattern);
        return out;
    }
    if (auto* side = out.as<SideWord>()) {
        side->value = side_wanted ? -side->value : side->value;
        return out;
    }
    if (e.is<Input>() || e.is<Variable>() || e.is<Argument>()) {
        return flips(e) && !side_wanted ? negated(e) : e;
    }
    if (auto* marker = out.as<MarkerSeen>()) {
        marker->at = marker->at == "left" ? "right" : marker->at == "right" ? "left" : marker->at;
        return out;
    }
    out.args.clear();
    if (is_reading(e)) {
        Expr k = e.args[0];
        const int number = sensors + 1 - static_cast<int>(written_value(k).value_or(0.0));
        k.node = Constant{static_cast<double>(number), {}, std::to_string(number)};
        out.args.push_back(std::move(k));
        return out;
    }
    if (is_call(e, Op::rolled)) {
        out.args.push_back(mirror_value(e.args[0], sensors, true));
        return out;
    }
    const bool keeps_side = e.is<Unary>() && e.type.base == Base::side && side_wanted;
    const bool compares_sides = e.is<Binary>() && e.type.base == Base::truth && e.args[0].type.base == Base::side &&
                                e.args[1].type.base == Base::side;
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
        const bool is_negative = is_unary(out.args[0], Op::negate);
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
