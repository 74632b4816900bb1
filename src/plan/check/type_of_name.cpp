/// What names in expressions stand for.
#include "plan/check/type_checker.hpp"

#include <algorithm>

#include <fmt/format.h>

#include "vast_turn/runtime/look.hpp"

namespace vast_turn::lang {

Type TypeChecker::heard(Expr& e) {
    e.value = numbered(names_.heard, e.text, look_heard);
    return e.value < 0 ? fault(e.span, fmt::format("a plan listens to at most {} names", look_heard),
                               "use one name for several signals")
                       : truth_type;
}

Type TypeChecker::marker(Expr& e, std::size_t number) {
    e.kind = ExprKind::marker;
    e.value = static_cast<double>(number);
    if (e.with.empty()) {
        return truth_type;
    }
    e.place = numbered(names_.places, e.with, look_places);
    const std::string other = e.with == "left" ? "right" : e.with == "right" ? "left" : e.with;
    if (e.place < 0 || (names_.mirrored && numbered(names_.places, other, look_places) < 0)) {
        return fault(e.span, fmt::format("a plan asks at most {} colour sensors by name", look_places),
                     "leave out `at` where any sensor may see the marker");
    }
    return truth_type;
}

Type TypeChecker::name(Expr& e) {
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

Type TypeChecker::input_type(const Expr& e, const InputWord& input) {
    if (!find_source(e.with)) {
        return fault(e.span, fmt::format("`{}` tells no turn{}", e.with, did_you_mean(e.with, source_words())),
                     fmt::format("write turned by {}", one_of(source_words())));
    }
    return input.type;
}

Type TypeChecker::unknown_name(const Expr& e) {
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

int TypeChecker::numbered(std::vector<std::string>& list, const std::string& name, std::size_t most) {
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

Type TypeChecker::pattern(const Expr& e) {
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
    return truth_type;
}

} // namespace vast_turn::lang
