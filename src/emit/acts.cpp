#include "emit/acts.hpp"

#include <algorithm>
#include <utility>

#include <fmt/format.h>

namespace vast_turn::emit {

namespace {

using runtime::Op;

/// A power as it can be given.
std::string power_text(const Shape& shape, const CValue& power) {
    return power.low >= -100.0 && power.high <= 100.0 ? power.text : shape.pieces("@within_power(") + power.text + ")";
}

class ActsWriter {
public:
    ActsWriter(Lines& lines, const Shape& shape, const ActsAt& at) : lines_(lines), shape_(shape), at_(at) {}

    bool run(std::size_t next) {
        const std::vector<runtime::Instruction>& code = shape_.tables.code;
        std::size_t once_until = 0;
        while (true) {
            std::vector<CValue> stack = shape_.expressions.values(next, at_.where);
            if (once_until != 0 && next >= once_until) {
                once_until = 0;
                lines_.add("}");
            }
            const runtime::Instruction& step = code[next++];
            if (step.op == Op::end) {
                return false;
            }
            if (step.op == Op::once) {
                if (!at_.always_begins) {
                    once_until = step.b;
                    lines_.add("if (begins) {");
                }
            } else if (step.op <= Op::keep) {
                motion(step, stack);
            } else if (!said(step, stack)) {
                leave(step);
                return true;
            }
        }
    }

private:
    CValue number(const CValue& value) const { return shape_.expressions.as_number(value); }

    void powers(const CValue& left, const CValue& right) {
        lines_.add(fmt::format("{} = {};", shape_.power("left"), power_text(shape_, left)));
        lines_.add(fmt::format("{} = {};", shape_.power("right"), power_text(shape_, right)));
    }

    void motion(const runtime::Instruction& step, const std::vector<CValue>& stack) {
        if (at_.guard != "$NO_RULE") { // whether a guard takes the look
            lines_.add("s->moved = true;");
        }
        if (step.op == Op::keep) {
            return;
        }
        const CValue zero = shape_.expressions.constant(0.0);
        if (step.op == Op::still) {
            return powers(zero, zero);
        }
        const bool given = step.a != 0;
        const CValue last = given ? shape_.expressions.constant(shape_.tables.constants[step.b]) : number(stack.back());
        const std::size_t before = stack.size() - (given ? 1 : 2);
        if (step.op == Op::ahead) {
            lines_.add(
                fmt::format("{} = {} = {};", shape_.power("left"), shape_.power("right"), power_text(shape_, last)));
        } else if (step.op == Op::wheels) {
            powers(number(stack[before]), last);
        } else {
            turning(step.op, number(stack[before]), last);
        }
    }

    /// Motions whose first number is used for both wheels.
    void turning(Op op, CValue first, CValue power) {
        const bool whole = first.text == whole_side;
        const bool plain = (first.is_constant() || (whole && op != Op::bend)) && power.is_constant();
        const auto named = [&](CValue& value, const char* name) {
            if (!value.is_constant()) {
                lines_.add(fmt::format("const @number {} = {};", name, value.text));
                value.text = name;
            }
        };
        if (!plain) {
            lines_.add("{");
            if (op == Op::bend || !whole) {
                named(first, op == Op::bend ? "change" : "side");
            }
            named(power, "power");
        }
        if (op == Op::bend) {
            powers(
                {fmt::format("{} - {}", power.text, first.text), false, power.low - first.high, power.high - first.low},
                {fmt::format("{} + {}", power.text, first.text), false, power.low + first.low,
                 power.high + first.high});
        } else {
            const CValue other = op == Op::pivot ? shape_.expressions.constant(0.0)
                                                 : CValue{"-" + power.text, false, -power.high, -power.low};
            const auto by_side = [&](const CValue& left, const CValue& right) {
                if (first.is_constant()) {
                    return first.low > 0.0 ? left : right;
                }
                const std::string is_left = whole ? "in->last_side > 0" : "side > " + shape_.pieces.number(0.0);
                return CValue{fmt::format("{} ? {} : {}", is_left, left.text, right.text), false,
                              std::min(left.low, right.low), std::max(left.high, right.high)};
            };
            powers(by_side(other, power), by_side(power, other));
        }
        if (!plain) {
            lines_.add("}");
        }
    }

    /// Events and memory; false when the step is none of these.
    bool said(const runtime::Instruction& step, const std::vector<CValue>& stack) {
        const auto say = [&](const char* kind, const std::string& value) {
            lines_.add(fmt::format("@say(s, {}, {}, {});", kind, step.b, value));
        };
        switch (step.op) {
        case Op::note: say("$NOTE", "0"); return true;
        case Op::light: say("$LIGHT", "0"); return true;
        case Op::sound: say("$SOUND", "0"); return true;
        case Op::tell: say("$TELL", number(stack.back()).text); return true;
        case Op::set: lines_.add(fmt::format("s->cell[{}] = {};", step.b, number(stack.back()).text)); return true;
        default: return false;
        }
    }

    void leave(const runtime::Instruction& step) {
        if (step.op == Op::halt) {
            return lines_.add("return $OVER;");
        }
        if (step.op == Op::hold) {
            lines_.add("s->was_held = s->was_ever_held = true;");
            return lines_.add("return $ACTED;");
        }
        lines_.add(fmt::format("if (!@may_leave(s, {})) {{", at_.at));
        lines_.add("return $ACTED;");
        lines_.add("}");
        if (step.op == Op::done) {
            return lines_.add(at_.at == "-1" ? "return $OVER;" : fmt::format("return @end_block(s, {});", at_.at));
        }
        const std::uint16_t block = shape_.tables.calls[step.b].block;
        const std::string in = shape_.arguments > 0 ? "in, " : "";
        if (step.op == Op::call) {
            lines_.add(fmt::format("return @enter(s, {}{}, {}, {}, {});", in, at_.at, step.b, block, at_.guard));
        } else {
            lines_.add(fmt::format("return @become(s, {}{}, {}, {});", in, at_.at, step.b, block));
        }
    }

    Lines& lines_;
    const Shape& shape_;
    const ActsAt& at_;
};

} // namespace

bool write_acts(Lines& lines, const Shape& shape, std::uint16_t code, const ActsAt& at) {
    return ActsWriter(lines, shape, at).run(code);
}

} // namespace vast_turn::emit
