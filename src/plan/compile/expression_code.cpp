#include "plan/compile/expression_code.hpp"

#include <algorithm>

#include "plan/text/words.hpp"

namespace vast_turn::lang {

namespace {

bool has_constant_gains(const Expr& pid) {
    return std::all_of(pid.args.begin() + 1, pid.args.end(),
                       [](const Expr& gain) { return written_value(gain).has_value(); });
}

} // namespace

int ExpressionCode::append(const Expr& e) {
    depth_ = deepest_ = 0;
    value(e);
    return deepest_;
}

void ExpressionCode::value(const Expr& e) {
    const bool reading = is_reading(e);
    if (reading || !(e.is<Unary>() || e.is<Binary>() || e.is<Call>())) {
        deepest_ = std::max(deepest_, ++depth_);
        return reading ? emit(op_of(e), 0, static_cast<std::uint8_t>(e.args[0].as<Constant>()->value - 1.0)) : leaf(e);
    }
    const bool is_pid = is_call(e, Op::pid);
    if (is_pid && has_constant_gains(e)) {
        const bool of_offset = is_input(e.args[0], Op::offset) && !own_weights_;
        if (of_offset) {
            deepest_ = std::max(deepest_, ++depth_);
        } else {
            value(e.args[0]);
        }
        emit(Op::pid_by, static_cast<std::uint16_t>(memory_.cell(e)), of_offset ? 1 : 0);
        return emit(Op::pid_by, gains(e));
    }
    for (const Expr& arg : e.args) {
        value(arg);
    }
    depth_ -= static_cast<int>(e.args.size()) - 1;
    emit(op_of(e), is_pid ? static_cast<std::uint16_t>(memory_.cell(e)) : std::uint16_t{0});
}

void ExpressionCode::leaf(const Expr& e) {
    const auto number = [](int n) { return static_cast<std::uint16_t>(n); };
    struct Leaves {
        ExpressionCode& code;
        const Expr& e;
        decltype(number) as_number;

        void operator()(const Constant& n) const { code.emit(Op::constant, code.constant(n.value)); }
        void operator()(const Truth& n) const { code.emit(Op::constant, code.constant(n.holds ? 1.0 : 0.0)); }
        void operator()(const SideWord& n) const { code.emit(Op::constant, code.constant(n.value)); }
        void operator()(const PatternMarks& n) const { code.emit(Op::pattern, n.bits, n.mask); }
        void operator()(const MarkerSeen& n) const {
            code.emit(Op::marker, as_number(n.number), static_cast<std::uint8_t>(n.place + 1));
        }
        void operator()(const Heard& n) const { code.emit(Op::heard, as_number(n.number)); }
        void operator()(const Variable& n) const { code.emit(Op::var, as_number(n.number)); }
        void operator()(const Argument& n) const { code.emit(Op::cell, as_number(n.number)); } // first in the block
        void operator()(const Lasting& /*n*/) const { code.emit(Op::watch, as_number(code.memory_.watch(e))); }
        void operator()(const Fresh& /*n*/) const { code.emit(Op::fresh, as_number(code.memory_.cell(e))); }
        void operator()(const Input& n) const {
            const auto source = static_cast<std::uint8_t>(find_source(n.by).value_or(runtime::Source::best));
            code.emit(n.op == Op::offset && code.own_weights_ ? Op::weighted : n.op, 0, source);
        }
        // Not in a checked plan, and not a leaf.
        void operator()(const Name& /*n*/) const {}
        void operator()(const Call& /*n*/) const {}
        void operator()(const Unary& /*n*/) const {}
        void operator()(const Binary& /*n*/) const {}
    };
    std::visit(Leaves{*this, e, number}, e.node);
}

/// The three gains of a pid, one after the other among the constants.
std::uint16_t ExpressionCode::gains(const Expr& pid) {
    const auto first = static_cast<std::uint16_t>(constants_.size());
    for (std::size_t i = 1; i < pid.args.size(); ++i) {
        const double gain = written_value(pid.args[i]).value_or(0.0);
        constant_numbers_.emplace(gain, constants_.size());
        constants_.push_back(gain);
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
