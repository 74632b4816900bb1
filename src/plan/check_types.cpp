#include "plan/check_types.hpp"

#include <algorithm>

#include <fmt/format.h>

#include "plan/words.hpp"
#include "vast_turn/plan/runtime/arithmetic.hpp"

namespace vast_turn::lang {

namespace {

constexpr Type broken{Base::broken, {}};
constexpr Type truth{Base::truth, {}};
constexpr Type plain{Base::number, {}};

bool is_comparison(const std::string& op) {
    return op == "<" || op == "<=" || op == ">" || op == ">=" || op == "==" || op == "!=";
}

/// A side counts as +1 or -1 where a plain number is wanted.
bool is_numeric(const Type& t) { return t.base == Base::number || t.base == Base::side; }

Unit product(const Unit& a, const Unit& b, int sign) {
    const auto sum = [sign](int x, int y) { return static_cast<std::int8_t>(x + sign * y); };
    return {sum(a.mm, b.mm), sum(a.ms, b.ms), sum(a.deg, b.deg), sum(a.looks, b.looks)};
}

bool too_high(const Unit& u) {
    const auto beyond = [](int power) { return power > 8 || power < -8; };
    return beyond(u.mm) || beyond(u.ms) || beyond(u.deg) || beyond(u.looks);
}

class TypeChecker {
public:
    TypeChecker(const Names& names, const Source& source, Problems& problems)
        : names_(names), source_(source), problems_(problems) {}

    void check(Expr& e) {
        for (Expr& arg : e.args) {
            check(arg);
        }
        e.type = type_of(e);
    }

private:
    Type type_of(Expr& e) {
        if (e.type.base == Base::broken) {
            return broken; // reported by the parser
        }
        switch (e.kind) {
        case ExprKind::constant: return {Base::number, e.unit};
        case ExprKind::truth:
        case ExprKind::marker: return truth;
        case ExprKind::side: return {Base::side, {}};
        case ExprKind::pattern: return pattern(e);
        case ExprKind::name: return name(e);
        case ExprKind::call: return call(e);
        case ExprKind::unary: return unary(e);
        case ExprKind::binary: return binary(e);
        case ExprKind::lasting: return lasting(e);
        }
        return broken;
    }

    Type fault(Span span, std::string message, std::string cure) {
        problems_.error(span, std::move(message), std::move(cure));
        return broken;
    }

    Type pattern(const Expr& e) {
        const int marks = static_cast<int>(e.text.size());
        if (names_.sensors != 0 && marks != names_.sensors && marks != 0) {
            return fault(e.span, fmt::format("the pattern [{}] has {} mark{}", e.text, marks, marks == 1 ? "" : "s"),
                         fmt::format("patterns here have {} mark{}: sensors {} at line {}", names_.sensors,
                                     names_.sensors == 1 ? "" : "s", names_.sensors,
                                     source_.line_of(names_.sensors_span.from)));
        }
        if (marks == 0) {
            return fault(e.span, "this pattern has no marks", "write one mark a sensor: # line, . floor, ? either");
        }
        return truth;
    }

    Type name(Expr& e) {
        if (const auto let = names_.lets.find(e.text); let != names_.lets.end()) {
            const Span span = e.span;
            const std::string text = e.text;
            e = let->second;
            e.span = span;
            e.text = e.kind == ExprKind::constant ? text : e.text;
            return e.type;
        }
        const auto marker = std::find(names_.markers.begin(), names_.markers.end(), e.text);
        if (marker != names_.markers.end()) {
            e.kind = ExprKind::marker;
            e.value = static_cast<double>(marker - names_.markers.begin());
            return truth;
        }
        if (const InputWord* input = find_input(e.text)) {
            return input->type;
        }
        if (find_function(e.text) != nullptr) {
            return fault(e.span, fmt::format("`{}` needs its arguments in brackets", e.text),
                         fmt::format("write {}(...)", e.text));
        }
        if (is_for_later(e.text)) {
            return fault(e.span,
                         fmt::format("`{}` belongs to a part of the language that this version does not read", e.text),
                         fmt::format("for now a condition may use {}", one_of(value_words())));
        }
        std::vector<std::string> known = value_words();
        for (const auto& [let_name, value] : names_.lets) {
            known.push_back(let_name);
        }
        known.insert(known.end(), names_.markers.begin(), names_.markers.end());
        return fault(e.span, fmt::format("nothing here is called `{}`{}", e.text, did_you_mean(e.text, known)),
                     fmt::format("use {}, or write let {} = ... above", one_of(value_words()), e.text));
    }

    Type call(Expr& e) {
        const FunctionWord* function = find_function(e.text);
        if (function == nullptr) {
            const char* what = find_motion(e.text) != nullptr ? "a motion, which stands behind ->" : "no function";
            return fault(e.span, fmt::format("`{}` is {}{}", e.text, what, did_you_mean(e.text, value_words())),
                         fmt::format("values are {}", one_of(value_words())));
        }
        if (static_cast<int>(e.args.size()) != function->args) {
            return fault(e.span,
                         fmt::format("`{}` takes {} argument{}, found {}", e.text, function->args,
                                     function->args == 1 ? "" : "s", e.args.size()),
                         fmt::format("give {} in the brackets", function->args));
        }
        if (e.text == "sensor" || e.text == "raw") {
            return sensor(e);
        }
        if (e.text == "rolled") {
            return rolled(e);
        }
        return same_units(e, fmt::format("the arguments of `{}`", e.text));
    }

    Type sensor(Expr& e) {
        Expr& k = e.args[0];
        if (k.type.base == Base::broken) {
            return broken;
        }
        fold(k);
        const int number = k.kind == ExprKind::constant && k.value >= 1 && k.value <= 8 ? static_cast<int>(k.value) : 0;
        const bool whole =
            k.type == plain && k.kind == ExprKind::constant && !(number < k.value) && !(number > k.value);
        if (!whole || number < 1 || (names_.sensors != 0 && number > names_.sensors)) {
            return fault(k.span, fmt::format("`{}` wants the number of a sensor, found {}", e.text, to_text(k)),
                         fmt::format("sensors are numbered 1 to {} from the left", names_.sensors));
        }
        return plain;
    }

    Type rolled(const Expr& e) {
        const Expr& side = e.args[0];
        if (side.type.base == Base::broken) {
            return broken;
        }
        if (side.type.base != Base::side) {
            return fault(side.span, fmt::format("`rolled` wants a side, found {}", to_text(side.type)),
                         "write rolled(left) or rolled(right)");
        }
        return {Base::number, find_input("turned")->type.unit};
    }

    Type same_units(const Expr& e, const std::string& what) {
        for (const Expr& arg : e.args) {
            if (arg.type.base == Base::broken) {
                return broken;
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

    Type different_units(const Expr& a, const Expr& b) {
        const bool a_is_bare = a.kind == ExprKind::constant && a.type.unit == Unit{};
        const bool b_is_bare = b.kind == ExprKind::constant && b.type.unit == Unit{};
        const Expr& wrong = a_is_bare ? a : b;
        const Unit wanted = (a_is_bare ? b : a).type.unit;
        const std::string cure = a_is_bare || b_is_bare
                                     ? fmt::format("give `{}` its unit, {}", to_text(wrong), to_text(wanted))
                                     : std::string("compare and add only what has the same unit");
        return fault(wrong.span,
                     fmt::format("`{}` is {}, `{}` is {}", to_text(a), to_text(a.type), to_text(b), to_text(b.type)),
                     cure);
    }

    Type unary(const Expr& e) {
        const Expr& arg = e.args[0];
        if (arg.type.base == Base::broken) {
            return broken;
        }
        if (e.text == "not") {
            return wants_truth(arg) ? truth : broken;
        }
        if (!is_numeric(arg.type)) {
            return fault(arg.span, fmt::format("expected a number behind -, found {}", to_text(arg.type)),
                         "write `not` for conditions");
        }
        return arg.type;
    }

    bool wants_truth(const Expr& e) {
        if (e.type.base == Base::truth || e.type.base == Base::broken) {
            return e.type.base == Base::truth;
        }
        fault(e.span, fmt::format("expected a condition here, found {}", to_text(e.type)),
              "a condition is a pattern like [#.] or a comparison like seen > 0");
        return false;
    }

    Type binary(const Expr& e) {
        const Type a = e.args[0].type;
        const Type b = e.args[1].type;
        if (e.text == "and" || e.text == "or") {
            const bool left = wants_truth(e.args[0]);
            const bool right = wants_truth(e.args[1]);
            return left && right ? truth : broken;
        }
        if (a.base == Base::broken || b.base == Base::broken) {
            return broken;
        }
        if (is_comparison(e.text)) {
            return comparison(e);
        }
        if (e.text == "+" || e.text == "-") {
            return same_units(e, fmt::format("both sides of {}", e.text));
        }
        for (const Expr& arg : e.args) {
            if (!is_numeric(arg.type)) {
                return fault(arg.span, fmt::format("expected a number here, found {}", to_text(arg.type)),
                             "only numbers can be multiplied and divided");
            }
        }
        const Unit unit = product(a.unit, b.unit, e.text == "*" ? 1 : -1);
        return too_high(unit) ? fault(e.span, "the unit of this product is beyond use", "check what is multiplied here")
                              : Type{Base::number, unit};
    }

    Type comparison(const Expr& e) {
        const bool sides = e.args[0].type.base == Base::side && e.args[1].type.base == Base::side;
        if (sides && e.text != "==" && e.text != "!=") {
            return fault(e.span, "sides are equal or not, none is greater", "write == or !=");
        }
        return same_units(e, fmt::format("both sides of {}", e.text)).base == Base::broken ? broken : truth;
    }

    Type lasting(Expr& e) {
        const bool condition = wants_truth(e.args[0]);
        Expr& limit = e.args[1];
        if (!condition || limit.type.base == Base::broken) {
            return broken;
        }
        fold(limit);
        const Unit unit = limit.type.unit;
        const bool time = unit == Unit{0, 1, 0, 0};
        const bool looks = unit == Unit{0, 0, 0, 1};
        if (limit.kind != ExprKind::constant || (!time && !looks) || limit.type.base != Base::number) {
            return fault(
                limit.span,
                fmt::format("`lasting` wants a constant time or number of looks, found {}", to_text(limit.type)),
                "write lasting 40ms or lasting 3 looks");
        }
        if (limit.value < 0.0 || (looks && limit.value < 1.0)) {
            return fault(limit.span, "nothing can last that short", "write at least 1 look, or a time");
        }
        return since_block(e.args[0]) ? broken : truth;
    }

    bool since_block(const Expr& e) {
        return any_part(e, [this](const Expr& part) {
            const InputWord* input = part.kind == ExprKind::name ? find_input(part.text) : nullptr;
            const bool rolls = part.kind == ExprKind::call && part.text == "rolled";
            if (!rolls && (input == nullptr || !input->since_block)) {
                return false;
            }
            fault(part.span,
                  fmt::format("`{}` counts from the start of its block, so `lasting` cannot follow it", part.text),
                  "`lasting` is about the world: test patterns, sensors and the clock in it");
            return true;
        });
    }

    const Names& names_;
    const Source& source_;
    Problems& problems_;
};

double folded(const Expr& e, bool& known) {
    std::uint32_t faults = 0;
    const double x = e.args.empty() ? 0.0 : e.args[0].value;
    const double y = e.args.size() > 1 ? e.args[1].value : 0.0;
    known = true;
    if (e.text == "-" && e.args.size() == 1) {
        return -x;
    }
    if (e.text == "+") {
        return runtime::settled(x + y, faults);
    }
    if (e.text == "-") {
        return runtime::settled(x - y, faults);
    }
    if (e.text == "*") {
        return runtime::settled(x * y, faults);
    }
    if (e.text == "/" && (y < 0.0 || y > 0.0)) {
        return runtime::divided(x, y, faults);
    }
    if (e.text == "min") {
        return x < y ? x : y;
    }
    if (e.text == "max") {
        return x > y ? x : y;
    }
    if (e.text == "abs") {
        return x < 0.0 ? -x : x;
    }
    if (e.text == "clamp") {
        return runtime::clamped(x, y, e.args[2].value);
    }
    known = false; // a division by zero stays, so that it is counted when it happens
    return 0.0;
}

} // namespace

void check_types(Expr& e, const Names& names, const Source& source, Problems& problems) {
    TypeChecker(names, source, problems).check(e);
}

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
    e.value = value;
    e.unit = e.type.unit;
    e.args.clear();
}

} // namespace vast_turn::lang
