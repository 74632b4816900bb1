#include "emit/expressions.hpp"

#include <algorithm>
#include <cmath>
#include <utility>

#include <fmt/format.h>

#include "vast_turn/runtime/arithmetic.hpp"

namespace vast_turn::emit {

namespace {

using runtime::Op;

/// What the header says that the robot tells: no quantity is larger.
constexpr double largest_quantity = 1e9;
/// A little less than where the arithmetic cuts, so that rounding does not matter.
constexpr double surely_within = 0.99 * runtime::largest_number;

CValue truth_of(std::string text) { return {std::move(text), true, 0.0, 1.0}; }

CValue take(std::vector<CValue>& stack) {
    CValue last = std::move(stack.back());
    stack.pop_back();
    return last;
}

bool is_one_of_two(Op op) {
    return (op >= Op::add && op <= Op::max) || (op >= Op::less && op <= Op::either) || op == Op::ramp;
}

bool is_one_of_one(Op op) { return op == Op::negate || op == Op::abs || op == Op::invert || op == Op::rolled; }

} // namespace

const char* const turn_fields[4] = {"heading_deg", "heading_by_wheels_deg", "heading_by_gyro_deg",
                                    "heading_by_compass_deg"};

std::string Expressions::pattern(unsigned mask, unsigned bits) {
    return mask == 0 ? "true" : fmt::format("((in->line & 0x{:02X}u) == 0x{:02X}u)", mask, bits);
}

CValue Expressions::constant(double x) const {
    const double kept = pieces_.numbers() == NumberKind::binary32 ? static_cast<double>(static_cast<float>(x)) : x;
    return {pieces_.number(x), false, kept, kept};
}

CValue Expressions::settled(CValue value) const {
    if (value.low >= -surely_within && value.high <= surely_within) {
        return value;
    }
    return {pieces_("@settled(") + value.text + ")", false, std::max(value.low, -runtime::largest_number),
            std::min(value.high, runtime::largest_number)};
}

CValue Expressions::as_number(const CValue& value) const {
    return value.is_truth ? CValue{fmt::format("({} ? {} : {})", value.text, pieces_.number(1.0), pieces_.number(0.0)),
                                   false, 0.0, 1.0}
                          : value;
}

std::string Expressions::as_truth(const CValue& value) const {
    if (value.is_truth) {
        return value.text;
    }
    if (value.is_constant()) {
        return value.low > 0.5 ? "true" : "false";
    }
    return fmt::format("({} > {})", value.text, pieces_.number(0.5));
}

std::string Expressions::watch(std::size_t watch) const {
    return form_.watch_type.empty()
               ? fmt::format("s->watch[{}].holds", watch)
               : fmt::format("(s->watch[{}] >= {}u)", watch, looks_of_watch(tables_.watches[watch]));
}

/// What an input or a memory is now.
CValue Expressions::looked_up(const runtime::Instruction& step, const Where& where) const {
    const auto within = [](std::string text, double low, double high) {
        return CValue{std::move(text), false, low, high};
    };
    const auto any = [&](std::string text) { return within(std::move(text), -largest_quantity, largest_quantity); };
    const auto kept = [&](std::string text) {
        return within(std::move(text), -runtime::largest_number, runtime::largest_number);
    };
    const auto since = [&](const char* field) {
        return fmt::format("{}.{} - {}.{}", where.now, field, where.began, field);
    };
    const auto size_of = [&](const char* field) {
        return within(pieces_("@size(") + since(field) + ")", 0.0, 2.0 * largest_quantity);
    };
    switch (step.op) {
    case Op::constant: return constant(tables_.constants[step.b]);
    case Op::sensor: return within(fmt::format("in->sensor[{}]", step.a), 0.0, 1.0);
    case Op::raw: return any(fmt::format("in->raw[{}]", step.a));
    case Op::offset: return within("in->offset", -form_.offset_size, form_.offset_size);
    case Op::weighted: return any("s->weighted");
    case Op::seen: return within(pieces_("(@number)@bits_of(in->line)"), 0.0, max_sensors);
    case Op::last_side: return within(form_.wired ? whole_side : "in->last_side", -1.0, 1.0);
    case Op::clock: return any("in->clock_ms");
    case Op::elapsed: return any("(" + since("ms") + ")");
    case Op::looks: return any("(" + since("looks") + ")");
    case Op::travelled: return size_of("way_mm");
    case Op::turned: return size_of(turn_fields[step.a]);
    case Op::heading: return any("in->heading_deg");
    case Op::battery: return within("in->battery_pct", 0.0, 100.0);
    case Op::range: return any("in->range_mm");
    case Op::button: return truth_of("in->button");
    case Op::marker:
        return truth_of(pieces_("@has(in->") +
                        fmt::format("{}, 0x{:04X}u)",
                                    step.a == 0 ? "markers" : fmt::format("markers_at[{}]", step.a - 1), 1U << step.b));
    case Op::heard: return truth_of(pieces_("@has(in->heard, ") + fmt::format("0x{:04X}u)", 1U << step.b));
    case Op::var: return kept(fmt::format("s->cell[{}]", step.b));
    case Op::cell: return kept(fmt::format("{}[{}]", where.cells, step.b));
    case Op::fresh: return truth_of(fmt::format("({}[{}] > {})", where.cells, step.b, pieces_.number(1.5)));
    case Op::pattern: // not a bare comparison: compilers refuse two of them that never hold together
        return truth_of(pieces_("@matches(in, ") + fmt::format("0x{:02X}u, 0x{:02X}u)", step.a, step.b));
    default: return truth_of(watch(step.b));
    }
}

CValue Expressions::changed(Op op, const CValue& x, const Where& where) const {
    switch (op) {
    case Op::negate: {
        const CValue n = as_number(x);
        return {fmt::format("(-{})", n.text), false, -n.high, -n.low};
    }
    case Op::abs: {
        const CValue n = as_number(x);
        return {pieces_("@size(") + n.text + ")", false, 0.0, std::max(std::abs(n.low), std::abs(n.high))};
    }
    case Op::invert: return truth_of("!" + as_truth(x));
    default:
        return {pieces_("@rolled(&") + fmt::format("{}, &{}, {})", where.now, where.began, as_number(x).text), false,
                0.0, 2.0 * largest_quantity};
    }
}

CValue Expressions::compared(const char* sign, const CValue& a, const CValue& b) const {
    return truth_of(fmt::format("({} {} {})", as_number(a).text, sign, as_number(b).text));
}

CValue Expressions::clamped(const CValue& x, const CValue& low, const CValue& high) const {
    if (x.low >= low.high && x.high <= high.low && low.high <= high.low) {
        return x;
    }
    return {pieces_("@clamped(") + fmt::format("{}, {}, {})", x.text, low.text, high.text), false, low.low,
            std::max(std::min(x.high, high.high), low.high)};
}

CValue Expressions::joined(Op op, const CValue& left, const CValue& right, const Where& where) const {
    switch (op) {
    case Op::both: return truth_of(fmt::format("({} && {})", as_truth(left), as_truth(right)));
    case Op::either: return truth_of(fmt::format("({} || {})", as_truth(left), as_truth(right)));
    case Op::less: return compared("<", left, right);
    case Op::less_equal: return compared("<=", left, right);
    case Op::greater: return compared(">", left, right);
    case Op::greater_equal: return compared(">=", left, right);
    case Op::equal: return compared("==", left, right);
    case Op::not_equal: return compared("!=", left, right);
    default: break;
    }
    const CValue a = as_number(left);
    const CValue b = as_number(right);
    const auto simple = [&](const char* sign, double low, double high) {
        return settled({fmt::format("({} {} {})", a.text, sign, b.text), false, low, high});
    };
    switch (op) {
    case Op::add: return simple("+", a.low + b.low, a.high + b.high);
    case Op::subtract: return simple("-", a.low - b.high, a.high - b.low);
    case Op::multiply: {
        const auto [low, high] = std::minmax({a.low * b.low, a.low * b.high, a.high * b.low, a.high * b.high});
        return simple("*", low, high);
    }
    case Op::divide: {
        if (!b.is_constant() || b.low == 0.0) {
            return {pieces_("@divided(") + fmt::format("{}, {})", a.text, b.text), false, -runtime::largest_number,
                    runtime::largest_number};
        }
        const auto [low, high] = std::minmax({a.low / b.low, a.high / b.low});
        return simple("/", low, high);
    }
    case Op::min:
        return {pieces_("@smaller(") + fmt::format("{}, {})", a.text, b.text), false, std::min(a.low, b.low),
                std::min(a.high, b.high)};
    case Op::max:
        return {pieces_("@larger(") + fmt::format("{}, {})", a.text, b.text), false, std::max(a.low, b.low),
                std::max(a.high, b.high)};
    default:
        return {pieces_("@ramp(") + fmt::format("{}, {}, {})", a.text, b.text, where.progress), false,
                -runtime::largest_number, runtime::largest_number};
    }
}

CValue Expressions::pid(std::size_t& at, std::vector<CValue>& stack, const Where& where) const {
    const runtime::Instruction& step = tables_.code[at];
    std::vector<CValue> gains;
    if (step.op == Op::pid_by) {
        const std::uint16_t first = tables_.code[++at].b;
        for (std::size_t i = 0; i < 3; ++i) {
            gains.push_back(constant(tables_.constants[first + i]));
        }
    } else {
        for (std::size_t i = stack.size() - 3; i < stack.size(); ++i) {
            gains.push_back(as_number(stack[i]));
        }
        stack.resize(stack.size() - 3);
    }
    const bool of_offset = step.op == Op::pid_by && step.a != 0;
    const CValue error = of_offset ? looked_up({Op::offset, 0, 0}, where) : as_number(take(stack));
    const auto own = std::find(form_.pids.begin(), form_.pids.end(), step.b);
    const bool tame = form_.wired && own != form_.pids.end() &&
                      std::all_of(gains.begin(), gains.end(), [](const CValue& gain) { return gain.is_constant(); }) &&
                      is_tame_pid(std::max(std::abs(error.low), std::abs(error.high)), gains[0].low, gains[2].low);
    const std::string memory = own == form_.pids.end() ? fmt::format("{} + {}", where.cells, step.b)
                                                       : fmt::format("&s->pid[{}]", own - form_.pids.begin());
    return {pieces_(tame                      ? "@tame_pid(in, "
                    : own == form_.pids.end() ? "@pid(s, in, "
                                              : "@pid(in, ") +
                fmt::format("{}, {}, {}, {}, {})", memory, error.text, gains[0].text, gains[1].text, gains[2].text),
            false, -runtime::largest_number, runtime::largest_number};
}

std::vector<CValue> Expressions::values(std::size_t& at, const Where& where) const {
    std::vector<CValue> stack;
    for (;; ++at) {
        const runtime::Instruction& step = tables_.code[at];
        if (step.op < Op::negate) {
            stack.push_back(looked_up(step, where));
        } else if (is_one_of_one(step.op)) {
            stack.back() = changed(step.op, stack.back(), where);
        } else if (is_one_of_two(step.op)) {
            const CValue b = take(stack);
            stack.back() = joined(step.op, stack.back(), b, where);
        } else if (step.op == Op::clamp) {
            const CValue high = as_number(take(stack));
            const CValue low = as_number(take(stack));
            stack.back() = clamped(as_number(stack.back()), low, high);
        } else if (step.op == Op::pid || step.op == Op::pid_by) {
            stack.push_back(pid(at, stack, where));
        } else {
            return stack;
        }
    }
}

CValue Expressions::number(std::uint16_t at, const Where& where) const {
    std::size_t next = at;
    return as_number(values(next, where).back());
}

std::string Expressions::truth(std::uint16_t at, const Where& where) const {
    std::size_t next = at;
    return as_truth(values(next, where).back());
}

} // namespace vast_turn::emit
