#include "plan/explain_condition.hpp"

#include <algorithm>
#include <bit>

#include <fmt/format.h>

#include "plan/check_types.hpp"
#include "plan/words.hpp"
#include "vast_turn/plan/runtime/arithmetic.hpp"

namespace vast_turn::lang {

namespace {

double truth(bool b) { return b ? 1.0 : 0.0; }

/// A number as people write it in a plan.
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

std::string why_not_pattern(const Expr& e, const Look& look) {
    const unsigned wrong = (static_cast<unsigned>(look.line_bits) ^ e.bits) & e.mask;
    std::string wants;
    for (unsigned i = 0; i < look.sensors; ++i) {
        if (((wrong >> i) & 1U) != 0) {
            const char* what = ((static_cast<unsigned>(e.bits) >> i) & 1U) != 0 ? "line" : "floor";
            wants += fmt::format("{}{} under sensor {}", wants.empty() ? "" : ", ", what, i + 1);
        }
    }
    return fmt::format("[{}] wants {}", e.text, wants);
}

/// The parts of a comparison that were looked up.
void list_inputs(const Expr& e, std::vector<const Expr*>& list) {
    const bool reading = e.kind == ExprKind::call && (e.text == "sensor" || e.text == "raw" || e.text == "rolled");
    if (e.kind == ExprKind::name || reading) {
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

std::size_t watches_in(const Expr& e) {
    std::size_t count = e.kind == ExprKind::lasting ? 1 : 0;
    for (const Expr& arg : e.args) {
        count += watches_in(arg);
    }
    return count;
}

double ConditionReader::input(const Expr& e) const {
    const Look& look = *facts_.look;
    switch (find_input(e.text)->op) {
    case runtime::Op::offset: return facts_.offset;
    case runtime::Op::seen: return std::popcount(look.line_bits);
    case runtime::Op::last_side: return look.last_side;
    case runtime::Op::clock: return look.clock_ms;
    case runtime::Op::elapsed: return facts_.elapsed_ms;
    case runtime::Op::looks: return facts_.looks;
    case runtime::Op::travelled: return facts_.travelled_mm;
    case runtime::Op::turned: return facts_.turned_deg;
    case runtime::Op::heading: return look.heading_deg;
    case runtime::Op::battery: return look.battery_pct;
    case runtime::Op::range: return look.range_mm;
    case runtime::Op::button: return truth(look.button);
    default: return 0.0;
    }
}

double ConditionReader::call(const Expr& e) {
    const auto sensor = static_cast<std::size_t>(e.args[0].value - 1.0);
    const runtime::Op op = find_function(e.text)->op;
    if (op == runtime::Op::sensor) {
        return facts_.look->sensor[sensor];
    }
    if (op == runtime::Op::raw) {
        return facts_.look->raw[sensor];
    }
    std::vector<double> args;
    for (const Expr& arg : e.args) {
        args.push_back(value(arg));
    }
    switch (op) {
    case runtime::Op::rolled: return args[0] > 0.0 ? facts_.rolled_left_deg : facts_.rolled_right_deg;
    case runtime::Op::min: return args[0] < args[1] ? args[0] : args[1];
    case runtime::Op::max: return args[0] > args[1] ? args[0] : args[1];
    case runtime::Op::abs: return args[0] < 0.0 ? -args[0] : args[0];
    default: return runtime::clamped(args[0], args[1], args[2]);
    }
}

double ConditionReader::binary(const Expr& e) {
    const double a = value(e.args[0]);
    const double b = value(e.args[1]);
    std::uint32_t faults = 0;
    switch (e.text[0]) {
    case '+': return runtime::settled(a + b, faults);
    case '-': return runtime::settled(a - b, faults);
    case '*': return runtime::settled(a * b, faults);
    case '/': return runtime::divided(a, b, faults);
    case '<': return truth(e.text == "<" ? a < b : a <= b);
    case '>': return truth(e.text == ">" ? a > b : a >= b);
    case '=': return truth(!(a < b) && !(a > b));
    case '!': return truth(a < b || a > b);
    case 'a': return truth(a > 0.5 && b > 0.5);
    default: return truth(a > 0.5 || b > 0.5);
    }
}

double ConditionReader::value(const Expr& e) {
    switch (e.kind) {
    case ExprKind::constant:
    case ExprKind::truth:
    case ExprKind::side: return e.value;
    case ExprKind::pattern: return truth((facts_.look->line_bits & e.mask) == e.bits);
    case ExprKind::marker: return truth(((facts_.look->markers >> static_cast<unsigned>(e.value)) & 1U) != 0);
    case ExprKind::name: return input(e);
    case ExprKind::call: return call(e);
    case ExprKind::unary: {
        const double inner = value(e.args[0]);
        return e.text == "not" ? truth(!(inner > 0.5)) : -inner;
    }
    case ExprKind::binary: return binary(e);
    case ExprKind::lasting: {
        next_watch_ += watches_in(e.args[0]);
        return truth(facts_.watches[next_watch_++].holds);
    }
    }
    return 0.0;
}

std::string ConditionReader::why_not_lasting(const Expr& e) {
    ConditionReader inner(facts_, next_watch_);
    std::string because =
        inner.holds(e.args[0]) ? std::string{} : ConditionReader(facts_, next_watch_).why_not(e.args[0]);
    next_watch_ += watches_in(e.args[0]);
    const runtime::WatchState& watch = facts_.watches[next_watch_++];
    if (!because.empty()) {
        return because;
    }
    const Type limit = e.args[1].type;
    const bool in_looks = limit.unit.looks != 0;
    const double so_far = in_looks ? watch.looks : facts_.look->clock_ms - watch.since_ms;
    return fmt::format("{} has lasted {} of {}", to_text(e.args[0]),
                       in_looks ? fmt::format("{:g}", so_far) : with_unit(so_far, limit),
                       with_unit(e.args[1].value, limit));
}

std::string ConditionReader::why_not(const Expr& e) {
    if (e.kind == ExprKind::pattern) {
        return why_not_pattern(e, *facts_.look);
    }
    if (e.kind == ExprKind::lasting) {
        return why_not_lasting(e);
    }
    if (e.kind == ExprKind::marker) {
        return fmt::format("{} is not in view", e.text);
    }
    if (e.kind == ExprKind::unary && e.text == "not") {
        next_watch_ += watches_in(e);
        return fmt::format("{} holds", to_text(e.args[0]));
    }
    if (e.kind == ExprKind::binary && (e.text == "and" || e.text == "or")) {
        std::string all;
        for (const Expr& part : e.args) {
            const std::size_t watch = next_watch_;
            if (!ConditionReader(facts_, watch).holds(part)) {
                all += (all.empty() ? "" : "; ") + ConditionReader(facts_, watch).why_not(part);
            }
            next_watch_ = watch + watches_in(part);
        }
        return all;
    }
    std::vector<const Expr*> inputs;
    list_inputs(e, inputs);
    std::string all;
    for (const Expr* part : inputs) {
        all += fmt::format("{}{} is {}", all.empty() ? "" : ", ", to_text(*part),
                           with_unit(ConditionReader(facts_, 0).value(*part), part->type));
    }
    return all.empty() ? fmt::format("{} never holds", to_text(e)) : all;
}

} // namespace vast_turn::lang
