/// Constants worked out before anything runs.
#include <fmt/format.h>

#include "plan/check/type_checker.hpp"
#include "vast_turn/runtime/arithmetic.hpp"

namespace vast_turn::lang {

namespace {

double folded(const Expr& e, bool& known) {
    std::uint32_t faults = 0;
    const double x = e.args.empty() ? 0.0 : e.args[0].value;
    const double y = e.args.size() > 1 ? e.args[1].value : 0.0;
    known = true;
    switch (e.op) {
    case Op::negate: return -x;
    case Op::add: return runtime::settled(x + y, faults);
    case Op::subtract: return runtime::settled(x - y, faults);
    case Op::multiply: return runtime::settled(x * y, faults);
    case Op::divide:
        if (y < 0.0 || y > 0.0) {
            return runtime::divided(x, y, faults);
        }
        break;
    case Op::min: return x < y ? x : y;
    case Op::max: return x > y ? x : y;
    case Op::abs: return x < 0.0 ? -x : x;
    case Op::clamp: return runtime::clamped(x, y, e.args[2].value);
    default: break;
    }
    known = false; // a division by zero stays, so that it is counted when it happens
    return 0.0;
}

} // namespace

void fold(Expr& e) {
    bool all_known = true;
    for (Expr& arg : e.args) {
        fold(arg);
        all_known = all_known && (arg.kind == ExprKind::constant || arg.kind == ExprKind::side);
    }
    const bool arithmetic = e.kind == ExprKind::unary || e.kind == ExprKind::binary || e.kind == ExprKind::call;
    if (!all_known || !arithmetic || !is_numeric(e.type)) {
        return;
    }
    bool known = false;
    const double value = folded(e, known);
    if (!known) {
        return;
    }
    const bool side = e.type.base == Base::side;
    e.text = side ? (value > 0.0 ? "left" : "right")
                  : (e.kind == ExprKind::binary ? fmt::format("({})", to_text(e)) : to_text(e));
    e.kind = side ? ExprKind::side : ExprKind::constant;
    e.op = Op::end;
    e.value = value;
    e.unit = e.type.unit;
    e.args.clear();
}

} // namespace vast_turn::lang
