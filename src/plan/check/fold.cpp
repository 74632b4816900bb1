/// Constants worked out before anything runs.
#include <optional>
#include <vector>

#include <fmt/format.h>

#include "plan/check/type_checker.hpp"
#include "vast_turn/runtime/arithmetic.hpp"

namespace vast_turn::lang {

namespace {

/// The value of an operation on known values; nothing when it is none of arithmetic. A division by zero stays, so
/// that it is counted when it happens.
std::optional<double> folded(Op op, const std::vector<double>& values) {
    std::uint32_t faults = 0;
    const double x = values[0];
    const double y = values.size() > 1 ? values[1] : 0.0;
    switch (op) {
    case Op::negate: return -x;
    case Op::add: return runtime::settled(x + y, faults);
    case Op::subtract: return runtime::settled(x - y, faults);
    case Op::multiply: return runtime::settled(x * y, faults);
    case Op::divide: return y < 0.0 || y > 0.0 ? std::optional<double>(runtime::divided(x, y, faults)) : std::nullopt;
    case Op::min: return x < y ? x : y;
    case Op::max: return x > y ? x : y;
    case Op::abs: return x < 0.0 ? -x : x;
    case Op::clamp: return runtime::clamped(x, y, values[2]);
    default: return std::nullopt;
    }
}

} // namespace

void fold(Expr& e) {
    std::vector<double> values;
    for (Expr& arg : e.args) {
        fold(arg);
        if (const auto value = written_value(arg)) {
            values.push_back(*value);
        }
    }
    const bool arithmetic = e.is<Unary>() || e.is<Binary>() || e.is<Call>();
    if (!arithmetic || values.empty() || values.size() < e.args.size() || !is_numeric(e.type)) {
        return;
    }
    const std::optional<double> value = folded(op_of(e), values);
    if (!value) {
        return;
    }
    if (e.type.base == Base::side) {
        e.node = SideWord{*value};
    } else {
        e.node = Constant{*value, e.type.unit, e.is<Binary>() ? fmt::format("({})", to_text(e)) : to_text(e)};
    }
    e.args.clear();
}

} // namespace vast_turn::lang
