#include "plan/explain/explain_condition.hpp"

#include <algorithm>

#include <fmt/format.h>

#include "plan/compile/expression_code.hpp"

namespace vast_turn::lang {

namespace {

std::string why_not_pattern(const PatternMarks& pattern, const Look& look) {
    const unsigned wrong = (static_cast<unsigned>(look.line_bits) ^ pattern.bits) & pattern.mask;
    std::string wants;
    for (unsigned i = 0; i < look.sensors; ++i) {
        if (((wrong >> i) & 1U) != 0) {
            const char* what = ((static_cast<unsigned>(pattern.bits) >> i) & 1U) != 0 ? "line" : "floor";
            wants += fmt::format("{}{} under sensor {}", wants.empty() ? "" : ", ", what, i + 1);
        }
    }
    return fmt::format("[{}] wants {}", pattern.marks, wants);
}

/// The parts of a comparison that were looked up.
void list_inputs(const Expr& e, std::vector<const Expr*>& list) {
    const bool reading = is_reading(e) || is_call(e, Op::rolled);
    if (e.is<Input>() || e.is<Variable>() || e.is<Argument>() || reading) {
        const bool known = std::any_of(list.begin(), list.end(), [&](const Expr* other) { return same(*other, e); });
        if (!known) {
            list.push_back(&e);
        }
        return;
    }
    for (const Expr& arg : e.args) {
        list_inputs(arg, list);
    }
}

} // namespace

std::string with_unit(double value, const Type& type) {
    if (type.base == Base::truth) {
        return value > 0.5 ? "true" : "false";
    }
    if (type.base == Base::side) {
        return value > 0.0 ? "left" : "right";
    }
    const std::string unit = to_text(type.unit);
    const std::string number = fmt::format("{:.4g}", value);
    return unit == "no unit" ? number : (unit == "looks" ? number + " looks" : number + unit);
}

double ConditionReader::value(const Expr& e) const {
    std::vector<runtime::Instruction> code;
    std::vector<double> constants;
    ExpressionCode(code, constants, memory_, machine_.program().own_weights).append(e);
    code.push_back({});
    return machine_.value_of(code.data(), constants.data());
}

std::string ConditionReader::why_not_lasting(const Expr& e) const {
    if (!holds(e.args[0])) {
        return why_not(e.args[0]);
    }
    const runtime::WatchState& watch = machine_.storage().watches[memory_.watch(e)];
    const Type limit = e.args[1].type;
    const bool in_looks = limit.unit.looks != 0;
    const double so_far = in_looks ? watch.looks : look_.clock_ms - watch.since_ms;
    return fmt::format("{} has lasted {} of {}", to_text(e.args[0]),
                       in_looks ? fmt::format("{:g}", so_far) : with_unit(so_far, limit),
                       with_unit(written_value(e.args[1]).value_or(0.0), limit));
}

std::string ConditionReader::why_not(const Expr& e) const {
    if (const auto* pattern = e.as<PatternMarks>()) {
        return why_not_pattern(*pattern, look_);
    }
    if (e.is<Lasting>()) {
        return why_not_lasting(e);
    }
    if (e.is<MarkerSeen>()) {
        return fmt::format("{} is not in view", to_text(e));
    }
    if (const auto* heard = e.as<Heard>()) {
        return fmt::format("{} is not heard", heard->text);
    }
    if (e.is<Fresh>()) {
        return holds(e.args[0]) ? fmt::format("{} is no news", to_text(e.args[0])) : why_not(e.args[0]);
    }
    if (is_unary(e, Op::invert)) {
        return fmt::format("{} holds", to_text(e.args[0]));
    }
    if (is_binary(e, Op::both) || is_binary(e, Op::either)) {
        std::string all;
        for (const Expr& part : e.args) {
            all += holds(part) ? "" : (all.empty() ? "" : "; ") + why_not(part);
        }
        return all;
    }
    std::vector<const Expr*> asked;
    list_inputs(e, asked);
    std::string all;
    for (const Expr* part : asked) {
        all += fmt::format("{}{} is {}", all.empty() ? "" : ", ", to_text(*part), with_unit(value(*part), part->type));
    }
    return all.empty() ? fmt::format("{} never holds", to_text(e)) : all;
}

} // namespace vast_turn::lang
