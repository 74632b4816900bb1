/// What functions take and give.
#include "plan/check/type_checker.hpp"

#include <algorithm>

#include <fmt/format.h>

namespace vast_turn::lang {

Type TypeChecker::call(Expr& e, const Call& call) {
    const FunctionWord* function = find_function(call.text);
    if (function == nullptr) {
        const char* what = find_motion(call.text) != nullptr ? "a motion, which stands behind ->" : "no function";
        return fault(e.span, fmt::format("`{}` is {}{}", call.text, what, did_you_mean(call.text, value_words())),
                     fmt::format("values are {}", one_of(value_words())));
    }
    if (static_cast<int>(e.args.size()) != function->args) {
        return fault(e.span,
                     fmt::format("`{}` takes {} argument{}, found {}", call.text, function->args,
                                 function->args == 1 ? "" : "s", e.args.size()),
                     fmt::format("give {} in the brackets", function->args));
    }
    if (call.op == Op::sensor || call.op == Op::raw) {
        return sensor(e, call);
    }
    if (call.op == Op::rolled) {
        return rolled(e);
    }
    if (call.op == Op::pid) {
        return pid(e);
    }
    if (call.op == Op::ramp) {
        return ramp(e);
    }
    return same_units(e, fmt::format("the arguments of `{}`", call.text));
}

Type TypeChecker::sensor(Expr& e, const Call& call) {
    Expr& k = e.args[0];
    if (k.type.base == Base::broken) {
        return broken_type;
    }
    fold(k);
    const double value = k.is<Constant>() ? k.as<Constant>()->value : 0.0;
    const int number = value >= 1.0 && value <= 8.0 ? static_cast<int>(value) : 0;
    const bool whole = k.type == plain_type && k.is<Constant>() && !(number < value) && !(number > value);
    if (!whole || number < 1 || (names_.sensors != 0 && number > names_.sensors)) {
        return fault(k.span, fmt::format("`{}` wants the number of a sensor, found {}", call.text, to_text(k)),
                     fmt::format("sensors are numbered 1 to {} from the left", names_.sensors));
    }
    return plain_type;
}

Type TypeChecker::rolled(const Expr& e) {
    const Expr& side = e.args[0];
    if (side.type.base == Base::broken) {
        return broken_type;
    }
    if (side.type.base != Base::side) {
        return fault(side.span, fmt::format("`rolled` wants a side, found {}", to_text(side.type)),
                     "write rolled(left) or rolled(right)");
    }
    return {Base::number, find_input("turned")->type.unit};
}

Type TypeChecker::pid(const Expr& e) {
    if (where_ == Where::condition || where_ == Where::constant) {
        return fault(e.span, "a pid remembers from call to call, so it stands in a motion or act only",
                     where_ == Where::condition ? "keep its value: track steer = pid(...), and test steer"
                                                : "write it where it is used");
    }
    for (std::size_t i = 0; i < e.args.size(); ++i) {
        const Type type = e.args[i].type;
        if (type.base == Base::broken) {
            return broken_type;
        }
        if (!is_numeric(type) || (i > 0 && type.unit != Unit{})) {
            return fault(e.args[i].span,
                         fmt::format("`pid` wants {} here, found {}", i == 0 ? "an error, a number" : "a plain number",
                                     to_text(type)),
                         "write pid(error, kp, ki, kd)");
        }
    }
    return plain_type;
}

Type TypeChecker::ramp(const Expr& e) {
    if (where_ != Where::value_in_time && where_ != Where::value_on_way) {
        return fault(e.span, "a ramp goes along with the `over` of its item, and there is none here",
                     "write ahead(ramp(20, 60)) over 300mm in an errand");
    }
    const Type type = same_units(e, "the ends of a ramp");
    for (const Expr& end : e.args) {
        const auto* constant = end.as<Constant>();
        const bool nought = constant != nullptr && !(constant->value < 0.0 || constant->value > 0.0);
        if (nought && where_ == Where::value_on_way) {
            return fault(end.span, "a ramp from or to 0 over a way or turn would never start or never end",
                         "begin and end with the least power that moves the robot, or ramp over a time");
        }
    }
    return type;
}

} // namespace vast_turn::lang
