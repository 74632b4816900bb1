#include "plan/compile/expression_code.hpp"

#include <algorithm>

#include "plan/text/words.hpp"

namespace vast_turn::lang {

namespace {

bool has_constant_gains(const Expr& pid) {
    return std::all_of(pid.args.begin() + 1, pid.args.end(),
                       [](const Expr& gain) { return gain.kind == ExprKind::constant || gain.kind == ExprKind::side; });
}

} // namespace

void list_parts(const Expr& e, ExprKind kind, std::vector<const Expr*>& list) {
    for (const Expr& arg : e.args) {
        list_parts(arg, kind, list);
    }
    if (e.kind == kind) {
        list.push_back(&e);
    }
}

int ExpressionCode::append(const Expr& e) {
    depth_ = deepest_ = 0;
    value(e);
    return deepest_;
}

void ExpressionCode::value(const Expr& e) {
    const bool reading = is_reading(e);
    const bool leaf_part = e.kind != ExprKind::unary && e.kind != ExprKind::binary && e.kind != ExprKind::call;
    if (leaf_part || reading) {
        deepest_ = std::max(deepest_, ++depth_);
        return reading ? emit(e.op, 0, static_cast<std::uint8_t>(e.args[0].value - 1.0)) : leaf(e);
    }
    if (is_call(e, Op::pid) && has_constant_gains(e)) {
        const bool of_offset = is_input(e.args[0], Op::offset) && !own_weights_;
        if (of_offset) {
            deepest_ = std::max(deepest_, ++depth_);
        } else {
            value(e.args[0]);
        }
        emit(Op::pid_by, static_cast<std::uint16_t>(e.cell), of_offset ? 1 : 0);
        return emit(Op::pid_by, gains(e));
    }
    for (const Expr& arg : e.args) {
        value(arg);
    }
    depth_ -= static_cast<int>(e.args.size()) - 1;
    emit(e.op, e.op == Op::pid ? static_cast<std::uint16_t>(e.cell) : std::uint16_t{0});
}

void ExpressionCode::leaf(const Expr& e) {
    const auto number = static_cast<std::uint16_t>(e.value < 0.0 ? 0.0 : e.value);
    switch (e.kind) {
    case ExprKind::pattern: return emit(Op::pattern, e.bits, e.mask);
    case ExprKind::marker: return emit(Op::marker, number, static_cast<std::uint8_t>(e.place + 1));
    case ExprKind::heard: return emit(Op::heard, number);
    case ExprKind::variable: return emit(Op::var, number);
    case ExprKind::argument: return emit(Op::cell, static_cast<std::uint16_t>(e.cell));
    case ExprKind::lasting: return emit(Op::watch, static_cast<std::uint16_t>(e.watch));
    case ExprKind::fresh: return emit(Op::fresh, static_cast<std::uint16_t>(e.cell));
    case ExprKind::name: {
        const auto source = static_cast<std::uint8_t>(find_source(e.with).value_or(runtime::Source::best));
        return emit(e.op == Op::offset && own_weights_ ? Op::weighted : e.op, 0, source);
    }
    default: return emit(Op::constant, constant(e.value));
    }
}

/// The three gains of a pid, one after the other among the constants.
std::uint16_t ExpressionCode::gains(const Expr& pid) {
    const auto first = static_cast<std::uint16_t>(constants_.size());
    for (std::size_t i = 1; i < pid.args.size(); ++i) {
        constant_numbers_.emplace(pid.args[i].value, constants_.size());
        constants_.push_back(pid.args[i].value);
    }
    return first;
}

std::uint16_t ExpressionCode::constant(double x) {
    const auto [known, is_new] = constant_numbers_.emplace(x, constants_.size());
    if (is_new) {
        constants_.push_back(x);
    }
    return static_cast<std::uint16_t>(known->second);
}

} // namespace vast_turn::lang
