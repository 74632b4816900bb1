/// What operators take and give, and what lasts.
#include "plan/check/type_checker.hpp"

#include <algorithm>

#include <fmt/format.h>

namespace vast_turn::lang {

namespace {

Unit product(const Unit& a, const Unit& b, int sign) {
    const auto sum = [sign](int x, int y) { return static_cast<std::int8_t>(x + sign * y); };
    return {sum(a.mm, b.mm), sum(a.ms, b.ms), sum(a.deg, b.deg), sum(a.looks, b.looks)};
}

bool too_high(const Unit& u) {
    const auto beyond = [](int power) { return power > 8 || power < -8; };
    return beyond(u.mm) || beyond(u.ms) || beyond(u.deg) || beyond(u.looks);
}

} // namespace

void TypeChecker::check(Expr& e) {
    for (Expr& arg : e.args) {
        check(arg);
    }
    e.type = type_of(e);
}

Type TypeChecker::type_of(Expr& e) {
    if (e.type.base == Base::broken) {
        return broken_type; // reported by the parser
    }
    struct Kinds {
        TypeChecker& of;
        Expr& e;

        Type operator()(const Constant& n) const { return {Base::number, n.unit}; }
        Type operator()(const Truth& /*n*/) const { return truth_type; }
        Type operator()(const SideWord& /*n*/) const { return {Base::side, {}}; }
        Type operator()(const PatternMarks& n) const { return of.pattern(e, n); }
        Type operator()(const Name& n) const { return of.name(e, Name(n)); } // a copy: another node takes its place
        Type operator()(const Input& /*n*/) const { return e.type; }
        Type operator()(const MarkerSeen& /*n*/) const { return truth_type; }
        Type operator()(Heard& n) const { return of.heard(e, n); }
        Type operator()(const Variable& /*n*/) const { return e.type; }
        Type operator()(const Argument& /*n*/) const { return e.type; }
        Type operator()(const Call& n) const { return of.call(e, n); }
        Type operator()(const Unary& n) const { return of.unary(e, n.op); }
        Type operator()(const Binary& n) const { return of.binary(e, n.op); }
        Type operator()(const Lasting& /*n*/) const { return of.lasting(e); }
        Type operator()(const Fresh& /*n*/) const { return of.fresh(e); }
    };
    return std::visit(Kinds{*this, e}, e.node);
}

Type TypeChecker::fault(Span span, std::string message, std::string cure) {
    problems_.error(span, std::move(message), std::move(cure));
    return broken_type;
}

Type TypeChecker::same_units(const Expr& e, const std::string& what) {
    for (const Expr& arg : e.args) {
        if (arg.type.base == Base::broken) {
            return broken_type;
        }
        if (!is_numeric(arg.type)) {
            return fault(arg.span, fmt::format("expected a number here, found {}", to_text(arg.type)),
                         fmt::format("{} are numbers", what));
        }
        if (arg.type.unit != e.args[0].type.unit) {
            return different_units(e.args[0], arg);
        }
    }
    return {Base::number, e.args[0].type.unit};
}

Type TypeChecker::different_units(const Expr& a, const Expr& b) {
    const bool a_is_bare = a.is<Constant>() && a.type.unit == Unit{};
    const bool b_is_bare = b.is<Constant>() && b.type.unit == Unit{};
    const Expr& wrong = a_is_bare ? a : b;
    const Unit wanted = (a_is_bare ? b : a).type.unit;
    const std::string cure = a_is_bare || b_is_bare
                                 ? fmt::format("give `{}` its unit, {}", to_text(wrong), to_text(wanted))
                                 : std::string("compare and add only what has the same unit");
    return fault(wrong.span,
                 fmt::format("`{}` is {}, `{}` is {}", to_text(a), to_text(a.type), to_text(b), to_text(b.type)), cure);
}

Type TypeChecker::unary(const Expr& e, Op op) {
    const Expr& arg = e.args[0];
    if (arg.type.base == Base::broken) {
        return broken_type;
    }
    if (op == Op::invert) {
        return wants_truth(arg) ? truth_type : broken_type;
    }
    if (!is_numeric(arg.type)) {
        return fault(arg.span, fmt::format("expected a number behind -, found {}", to_text(arg.type)),
                     "write `not` for conditions");
    }
    return arg.type;
}

bool TypeChecker::wants_truth(const Expr& e) {
    if (e.type.base == Base::truth || e.type.base == Base::broken) {
        return e.type.base == Base::truth;
    }
    fault(e.span, fmt::format("expected a condition here, found {}", to_text(e.type)),
          "a condition is a pattern like [#.] or a comparison like seen > 0");
    return false;
}

Type TypeChecker::binary(const Expr& e, Op op) {
    const Type a = e.args[0].type;
    const Type b = e.args[1].type;
    if (op == Op::both || op == Op::either) {
        const bool left = wants_truth(e.args[0]);
        const bool right = wants_truth(e.args[1]);
        return left && right ? truth_type : broken_type;
    }
    if (a.base == Base::broken || b.base == Base::broken) {
        return broken_type;
    }
    if (is_comparison(op)) {
        return comparison(e, op);
    }
    if (op == Op::add || op == Op::subtract) {
        return same_units(e, fmt::format("both sides of {}", sign_of(op)));
    }
    for (const Expr& arg : e.args) {
        if (!is_numeric(arg.type)) {
            return fault(arg.span, fmt::format("expected a number here, found {}", to_text(arg.type)),
                         "only numbers can be multiplied and divided");
        }
    }
    const Unit unit = product(a.unit, b.unit, op == Op::multiply ? 1 : -1);
    return too_high(unit) ? fault(e.span, "the unit of this product is beyond use", "check what is multiplied here")
                          : Type{Base::number, unit};
}

Type TypeChecker::comparison(const Expr& e, Op op) {
    const bool sides = e.args[0].type.base == Base::side && e.args[1].type.base == Base::side;
    if (sides && op != Op::equal && op != Op::not_equal) {
        return fault(e.span, "sides are equal or not, none is greater", "write == or !=");
    }
    return same_units(e, fmt::format("both sides of {}", sign_of(op))).base == Base::broken ? broken_type : truth_type;
}

Type TypeChecker::lasting(Expr& e) {
    const bool condition = wants_truth(e.args[0]);
    Expr& limit = e.args[1];
    if (!condition || limit.type.base == Base::broken) {
        return broken_type;
    }
    fold(limit);
    const Unit unit = limit.type.unit;
    const bool time = unit == Unit{0, 1, 0, 0};
    const bool looks = unit == Unit{0, 0, 0, 1};
    const auto* constant = limit.as<Constant>();
    if (constant == nullptr || (!time && !looks) || limit.type.base != Base::number) {
        return fault(limit.span,
                     fmt::format("`lasting` wants a constant time or number of looks, found {}", to_text(limit.type)),
                     "write lasting 40ms or lasting 3 looks");
    }
    if (constant->value < 0.0 || (looks && constant->value < 1.0)) {
        return fault(limit.span, "nothing can last that short", "write at least 1 look, or a time");
    }
    return judged_everywhere(e, "lasting") ? truth_type : broken_type;
}

bool TypeChecker::judged_everywhere(const Expr& e, const char* word) {
    return !any_part(e.args[0], [&](const Expr& part) {
        if (counts_from_block(part)) {
            const std::string name = part.is<Call>() ? part.as<Call>()->text : part.as<Input>()->text;
            fault(part.span,
                  fmt::format("`{}` counts from the start of its block, so `{}` cannot follow it", name, word),
                  fmt::format("`{}` is about the world: test patterns, sensors and the clock in it", word));
            return true;
        }
        if (const auto* argument = part.as<Argument>()) {
            fault(part.span, fmt::format("`{}` cannot follow an argument, which each call gives anew", word),
                  fmt::format("keep it in a var and test that, or test `{}` beside it with `and`", argument->text));
            return true;
        }
        if (part.is<Fresh>()) {
            fault(part.span, fmt::format("`{}` cannot follow `fresh`, which is over once its rule has acted", word),
                  "write fresh (C lasting 3 looks), or one fresh only");
            return true;
        }
        return false;
    });
}

} // namespace vast_turn::lang
