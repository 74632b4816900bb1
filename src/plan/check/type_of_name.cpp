/// What names in expressions stand for.
#include "plan/check/type_checker.hpp"

#include <algorithm>

#include <fmt/format.h>

#include "vast_turn/runtime/look.hpp"

namespace vast_turn::lang {

Type TypeChecker::heard(const Expr& e, Heard& heard) {
    heard.number = numbered(names_.heard, heard.text, look_heard);
    return heard.number < 0 ? fault(e.span, fmt::format("a plan listens to at most {} names", look_heard),
                                    "use one name for several signals")
                            : truth_type;
}

Type TypeChecker::marker(Expr& e, const Name& name, std::size_t number) {
    const int place = name.with.empty() ? no_slot : numbered(names_.places, name.with, look_places);
    e.node = MarkerSeen{static_cast<int>(number), name.text, name.with, place};
    if (name.with.empty()) {
        return truth_type;
    }
    const std::string other = name.with == "left" ? "right" : name.with == "right" ? "left" : name.with;
    if (place < 0 || (names_.mirrored && numbered(names_.places, other, look_places) < 0)) {
        return fault(e.span, fmt::format("a plan asks at most {} colour sensors by name", look_places),
                     "leave out `at` where any sensor may see the marker");
    }
    return truth_type;
}

Type TypeChecker::name(Expr& e, const Name& name) {
    const auto named_marker = std::find(names_.markers.begin(), names_.markers.end(), name.text);
    if (named_marker != names_.markers.end()) {
        return marker(e, name, static_cast<std::size_t>(named_marker - names_.markers.begin()));
    }
    const InputWord* word = find_input(name.text);
    if (!name.with.empty() && (word == nullptr || word->op != Op::turned)) {
        return fault(e.span, fmt::format("`{}` is no marker, so no colour sensor sees it", name.text),
                     names_.markers.empty() ? "name the markers of the plan at its top: markers amber, teal"
                                            : fmt::format("markers here are {}", one_of(names_.markers)));
    }
    if (word != nullptr) {
        return input(e, name, *word);
    }
    if (names_.params != nullptr) {
        const auto param = std::find_if(names_.params->begin(), names_.params->end(),
                                        [&](const Param& p) { return p.name == name.text; });
        if (param != names_.params->end()) {
            e.node = Argument{static_cast<int>(param - names_.params->begin()), name.text};
            return param->type;
        }
    }
    if (const auto let = names_.lets.find(name.text); let != names_.lets.end()) {
        return from_let(e, name, let->second);
    }
    if (const auto var = names_.vars.find(name.text); var != names_.vars.end()) {
        e.node = Variable{var->second.number, name.text};
        return var->second.type;
    }
    return unknown_name(e, name);
}

Type TypeChecker::input(Expr& e, const Name& name, const InputWord& word) {
    e.node = Input{word.op, name.text, name.with};
    if (!find_source(name.with)) {
        return fault(e.span, fmt::format("`{}` tells no turn{}", name.with, did_you_mean(name.with, source_words())),
                     fmt::format("write turned by {}", one_of(source_words())));
    }
    return word.type;
}

/// The value of a let in the place of its name, which stays what it is called.
Type TypeChecker::from_let(Expr& e, const Name& name, const Expr& value) {
    const Span span = e.span;
    e = value;
    e.span = span;
    if (auto* constant = e.as<Constant>()) {
        constant->text = name.text;
    }
    return e.type;
}

Type TypeChecker::unknown_name(const Expr& e, const Name& name) {
    if (find_function(name.text) != nullptr) {
        return fault(e.span, fmt::format("`{}` needs its arguments in brackets", name.text),
                     fmt::format("write {}(...)", name.text));
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
    const std::string near = did_you_mean(name.text, known);
    const std::string colour =
        near.empty() && names_.markers.empty()
            ? fmt::format("if it is the colour of a plate, write markers {} below the sensors; else ", name.text)
            : std::string{};
    return fault(e.span, fmt::format("nothing here is called `{}`{}", name.text, near),
                 fmt::format("{}use {}, or write let {} = ... above", colour, one_of(value_words()), name.text));
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

Type TypeChecker::pattern(const Expr& e, const PatternMarks& pattern) {
    const int marks = static_cast<int>(pattern.marks.size());
    if (names_.sensors != 0 && marks != names_.sensors && marks != 0) {
        return fault(e.span, fmt::format("the pattern [{}] has {} mark{}", pattern.marks, marks, marks == 1 ? "" : "s"),
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
