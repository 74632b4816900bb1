#include "plan/check/check_types.hpp"

#include <algorithm>

#include <fmt/format.h>

#include "plan/text/words.hpp"
#include "vast_turn/runtime/arithmetic.hpp"
#include "vast_turn/runtime/look.hpp"

namespace vast_turn::lang {

namespace {

constexpr Type broken{Base::broken, {}};
constexpr Type truth{Base::truth, {}};
constexpr Type plain{Base::number, {}};

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
    TypeChecker(Names& names, Where where, const Source& source, Problems& problems)
        : names_(names), where_(where), source_(source), problems_(problems) {}

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
        case ExprKind::heard: return heard(e);
        case ExprKind::variable:
        case ExprKind::argument: return e.type;
        case ExprKind::side: return {Base::side, {}};
        case ExprKind::pattern: return pattern(e);
        case ExprKind::name: return name(e);
        case ExprKind::call: return call(e);
        case ExprKind::unary: return unary(e);
        case ExprKind::binary: return binary(e);
        case ExprKind::lasting: return lasting(e);
        case ExprKind::fresh: return fresh(e);
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

    /// The number of a name in a list that grows as names are used; -1 when it is full.
    static int numbered(std::vector<std::string>& list, const std::string& name, std::size_t most) {
        const auto at = std::find(list.begin(), list.end(), name);
        if (at != list.end()) {
            return static_cast<int>(at - list.begin());
        }
        if (list.size() == most) {
            return -1;
        }
        list.push_back(name);
        return static_cast<int>(list.size()) - 1;
    }

    Type heard(Expr& e) {
        e.value = numbered(names_.heard, e.text, look_heard);
        return e.value < 0 ? fault(e.span, fmt::format("a plan listens to at most {} names", look_heard),
                                   "use one name for several signals")
                           : truth;
    }

    Type marker(Expr& e, std::size_t number) {
        e.kind = ExprKind::marker;
        e.value = static_cast<double>(number);
        if (e.with.empty()) {
            return truth;
        }
        e.place = numbered(names_.places, e.with, look_places);
        const std::string other = e.with == "left" ? "right" : e.with == "right" ? "left" : e.with;
        if (e.place < 0 || (names_.mirrored && numbered(names_.places, other, look_places) < 0)) {
            return fault(e.span, fmt::format("a plan asks at most {} colour sensors by name", look_places),
                         "leave out `at` where any sensor may see the marker");
        }
        return truth;
    }

    Type name(Expr& e) {
        const auto named_marker = std::find(names_.markers.begin(), names_.markers.end(), e.text);
        if (named_marker != names_.markers.end()) {
            return marker(e, static_cast<std::size_t>(named_marker - names_.markers.begin()));
        }
        const InputWord* input = find_input(e.text);
        if (!e.with.empty() && e.op != Op::turned) {
            return fault(e.span, fmt::format("`{}` is no marker, so no colour sensor sees it", e.text),
                         names_.markers.empty() ? "name the markers of the plan at its top: markers amber, teal"
                                                : fmt::format("markers here are {}", one_of(names_.markers)));
        }
        if (input != nullptr) {
            return input_type(e, *input);
        }
        if (names_.params != nullptr) {
            const auto param = std::find_if(names_.params->begin(), names_.params->end(),
                                            [&](const Param& p) { return p.name == e.text; });
            if (param != names_.params->end()) {
                e.kind = ExprKind::argument;
                e.value = static_cast<double>(param - names_.params->begin());
                return param->type;
            }
        }
        if (const auto let = names_.lets.find(e.text); let != names_.lets.end()) {
            const Span span = e.span;
            const std::string text = e.text;
            e = let->second;
            e.span = span;
            e.text = e.kind == ExprKind::constant ? text : e.text;
            return e.type;
        }
        if (const auto var = names_.vars.find(e.text); var != names_.vars.end()) {
            e.kind = ExprKind::variable;
            e.value = var->second.number;
            return var->second.type;
        }
        return unknown_name(e);
    }

    Type input_type(const Expr& e, const InputWord& input) {
        if (!find_source(e.with)) {
            return fault(e.span, fmt::format("`{}` tells no turn{}", e.with, did_you_mean(e.with, source_words())),
                         fmt::format("write turned by {}", one_of(source_words())));
        }
        return input.type;
    }

    Type unknown_name(const Expr& e) {
        if (find_function(e.text) != nullptr) {
            return fault(e.span, fmt::format("`{}` needs its arguments in brackets", e.text),
                         fmt::format("write {}(...)", e.text));
        }
        std::vector<std::string> known = value_words();
        for (const auto& [let_name, value] : names_.lets) {
            known.push_back(let_name);
        }
        for (const auto& [var_name, var] : names_.vars) {
            known.push_back(var_name);
        }
        if (names_.params != nullptr) {
            for (const Param& param : *names_.params) {
                known.push_back(param.name);
            }
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
        if (e.op == Op::sensor || e.op == Op::raw) {
            return sensor(e);
        }
        if (e.op == Op::rolled) {
            return rolled(e);
        }
        if (e.op == Op::pid) {
            return pid(e);
        }
        if (e.op == Op::ramp) {
            return ramp(e);
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

    Type pid(const Expr& e) {
        if (where_ == Where::condition || where_ == Where::constant) {
            return fault(e.span, "a pid remembers from call to call, so it stands in a motion or act only",
                         where_ == Where::condition ? "keep its value: track steer = pid(...), and test steer"
                                                    : "write it where it is used");
        }
        for (std::size_t i = 0; i < e.args.size(); ++i) {
            const Type type = e.args[i].type;
            if (type.base == Base::broken) {
                return broken;
            }
            if (!is_numeric(type) || (i > 0 && type.unit != Unit{})) {
                return fault(e.args[i].span,
                             fmt::format("`pid` wants {} here, found {}",
                                         i == 0 ? "an error, a number" : "a plain number", to_text(type)),
                             "write pid(error, kp, ki, kd)");
            }
        }
        return plain;
    }

    Type ramp(const Expr& e) {
        if (where_ != Where::value_in_time && where_ != Where::value_on_way) {
            return fault(e.span, "a ramp goes along with the `over` of its item, and there is none here",
                         "write ahead(ramp(20, 60)) over 300mm in an errand");
        }
        const Type type = same_units(e, "the ends of a ramp");
        for (const Expr& end : e.args) {
            const bool nought = end.kind == ExprKind::constant && !(end.value < 0.0 || end.value > 0.0);
            if (nought && where_ == Where::value_on_way) {
                return fault(end.span, "a ramp from or to 0 over a way or turn would never start or never end",
                             "begin and end with the least power that moves the robot, or ramp over a time");
            }
        }
        return type;
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
        if (e.op == Op::invert) {
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
        if (e.op == Op::both || e.op == Op::either) {
            const bool left = wants_truth(e.args[0]);
            const bool right = wants_truth(e.args[1]);
            return left && right ? truth : broken;
        }
        if (a.base == Base::broken || b.base == Base::broken) {
            return broken;
        }
        if (is_comparison(e.op)) {
            return comparison(e);
        }
        if (e.op == Op::add || e.op == Op::subtract) {
            return same_units(e, fmt::format("both sides of {}", sign_of(e.op)));
        }
        for (const Expr& arg : e.args) {
            if (!is_numeric(arg.type)) {
                return fault(arg.span, fmt::format("expected a number here, found {}", to_text(arg.type)),
                             "only numbers can be multiplied and divided");
            }
        }
        const Unit unit = product(a.unit, b.unit, e.op == Op::multiply ? 1 : -1);
        return too_high(unit) ? fault(e.span, "the unit of this product is beyond use", "check what is multiplied here")
                              : Type{Base::number, unit};
    }

    Type comparison(const Expr& e) {
        const bool sides = e.args[0].type.base == Base::side && e.args[1].type.base == Base::side;
        if (sides && e.op != Op::equal && e.op != Op::not_equal) {
            return fault(e.span, "sides are equal or not, none is greater", "write == or !=");
        }
        return same_units(e, fmt::format("both sides of {}", sign_of(e.op))).base == Base::broken ? broken : truth;
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
        return judged_everywhere(e) ? truth : broken;
    }

    Type fresh(const Expr& e) { return wants_truth(e.args[0]) && judged_everywhere(e) ? truth : broken; }

    /// `lasting` and `fresh` are followed at every look, whichever block is in hand.
    bool judged_everywhere(const Expr& e) {
        return !any_part(e.args[0], [&](const Expr& part) {
            const InputWord* input = part.kind == ExprKind::name ? find_input(part.text) : nullptr;
            const bool rolls = is_call(part, Op::rolled);
            if (rolls || (input != nullptr && input->since_block)) {
                fault(
                    part.span,
                    fmt::format("`{}` counts from the start of its block, so `{}` cannot follow it", part.text, e.text),
                    fmt::format("`{}` is about the world: test patterns, sensors and the clock in it", e.text));
                return true;
            }
            if (part.kind == ExprKind::argument) {
                fault(part.span, fmt::format("`{}` cannot follow an argument, which each call gives anew", e.text),
                      fmt::format("keep it in a var and test that, or test `{}` beside it with `and`", part.text));
                return true;
            }
            if (part.kind == ExprKind::fresh) {
                fault(part.span,
                      fmt::format("`{}` cannot follow `fresh`, which is over once its rule has acted", e.text),
                      "write fresh (C lasting 3 looks), or one fresh only");
                return true;
            }
            return false;
        });
    }

    Names& names_;
    Where where_;
    const Source& source_;
    Problems& problems_;
};

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

void check_types(Expr& e, Names& names, Where where, const Source& source, Problems& problems) {
    TypeChecker(names, where, source, problems).check(e);
}

void check_condition(Expr& e, Names& names, const Source& source, Problems& problems) {
    check_types(e, names, Where::condition, source, problems);
    if (e.type.base != Base::truth && e.type.base != Base::broken) {
        problems.error(e.span, fmt::format("expected a condition here, found {}", to_text(e.type)),
                       "a condition is a pattern like [#.] or a comparison like seen > 0");
    }
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
    e.op = Op::end;
    e.value = value;
    e.unit = e.type.unit;
    e.args.clear();
}

} // namespace vast_turn::lang
