#include "vet/formula.hpp"

#include <algorithm>
#include <utility>

namespace vast_turn::vetting {

namespace {

constexpr long most_steps = 200'000;

Formula joined(Formula::Kind kind, Formula a, Formula b) {
    Formula f;
    f.kind = kind;
    f.parts.push_back(std::move(a));
    f.parts.push_back(std::move(b));
    return f;
}

} // namespace

Formula always() { return of_patterns(PatternSet().set()); }
Formula never() { return of_patterns({}); }

Formula of_patterns(const PatternSet& patterns) {
    Formula f;
    f.patterns = patterns;
    return f;
}

Formula of_choice(int variable, Values values) {
    Formula f;
    f.kind = Formula::Kind::choice;
    f.variable = variable;
    f.values = values;
    return f;
}

Formula negation(Formula f) {
    Formula out;
    out.kind = Formula::Kind::negation;
    out.parts.push_back(std::move(f));
    return out;
}

Formula both(Formula a, Formula b) { return joined(Formula::Kind::both, std::move(a), std::move(b)); }
Formula either(Formula a, Formula b) { return joined(Formula::Kind::either, std::move(a), std::move(b)); }

bool asks_variables(const Formula& f) {
    return f.kind == Formula::Kind::choice || std::any_of(f.parts.begin(), f.parts.end(), asks_variables);
}

bool is_loose(const Formula& f, const std::vector<Variable>& variables) {
    if (f.kind == Formula::Kind::choice) {
        return variables[static_cast<std::size_t>(f.variable)].loose;
    }
    return std::any_of(f.parts.begin(), f.parts.end(), [&](const Formula& part) { return is_loose(part, variables); });
}

Together::Truth Together::judge(const Formula& f, const Case& state) const {
    switch (f.kind) {
    case Formula::Kind::patterns: return f.patterns.test(pattern_) ? Truth::yes : Truth::no;
    case Formula::Kind::choice: {
        const Values left = state[static_cast<std::size_t>(f.variable)];
        return (left & f.values) == 0 ? Truth::no : (left & ~f.values) == 0 ? Truth::yes : Truth::open;
    }
    case Formula::Kind::negation: {
        const Truth inner = judge(f.parts[0], state);
        return inner == Truth::open ? Truth::open : inner == Truth::yes ? Truth::no : Truth::yes;
    }
    default: break;
    }
    const Truth decided = f.kind == Formula::Kind::both ? Truth::no : Truth::yes;
    const Truth a = judge(f.parts[0], state);
    if (a == decided) {
        return decided;
    }
    const Truth b = judge(f.parts[1], state);
    if (b == decided) {
        return decided;
    }
    return a == Truth::open || b == Truth::open ? Truth::open : a;
}

const Formula* Together::open_choice(const Formula& f, const Case& state) const {
    if (f.kind == Formula::Kind::choice) {
        return judge(f, state) == Truth::open ? &f : nullptr;
    }
    for (const Formula& part : f.parts) {
        if (judge(part, state) == Truth::open) {
            if (const Formula* found = open_choice(part, state)) {
                return found;
            }
        }
    }
    return nullptr;
}

bool Together::search(const std::vector<const Formula*>& all, Case& state) {
    const Formula* open = nullptr;
    for (const Formula* f : all) {
        if (++steps_ > most_steps) {
            gave_up_ = true;
            return false;
        }
        const Truth truth = judge(*f, state);
        if (truth == Truth::no) {
            return false;
        }
        if (truth == Truth::open && open == nullptr) {
            open = open_choice(*f, state);
        }
    }
    if (open == nullptr) {
        return true;
    }
    Values& left = state[static_cast<std::size_t>(open->variable)];
    const Values before = left;
    for (const Values part : {before & open->values, before & ~open->values}) {
        left = part;
        if (search(all, state)) {
            return true;
        }
        if (gave_up_) {
            break;
        }
    }
    state[static_cast<std::size_t>(open->variable)] = before;
    return false;
}

Verdict Together::can_hold(const std::vector<const Formula*>& all, Case* found) {
    Case state;
    for (const Variable& variable : variables_) {
        state.push_back(variable.all);
    }
    steps_ = 0;
    gave_up_ = false;
    const bool holds = search(all, state);
    if (gave_up_) {
        return Verdict::undecided;
    }
    if (!holds) {
        return Verdict::no;
    }
    if (found != nullptr) {
        *found = state;
    }
    const bool loose = std::any_of(all.begin(), all.end(), [&](const Formula* f) { return is_loose(*f, variables_); });
    return loose ? Verdict::undecided : Verdict::yes;
}

} // namespace vast_turn::vetting
