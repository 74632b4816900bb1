#include "vet/formula.hpp"

#include <algorithm>
#include <utility>

namespace vast_turn::vetting {

namespace {

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
    effort_.spend();
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

const Formula* Together::open_choice(const Formula& f, const Case& state, int& count, int most) const {
    if (judge(f, state) != Truth::open) {
        return nullptr;
    }
    if (f.kind == Formula::Kind::choice) {
        ++count;
        return &f;
    }
    const Formula* first = nullptr;
    for (const Formula& part : f.parts) {
        const Formula* found = count < most ? open_choice(part, state, count, most) : nullptr;
        first = first == nullptr ? found : first;
    }
    return first;
}

bool Together::search(const std::vector<const Formula*>& all, Case& state) {
    std::vector<const Formula*> open; // what holds already goes on holding
    for (const Formula* f : all) {
        const Truth truth = judge(*f, state);
        if (truth == Truth::no || effort_.question_spent()) {
            return false;
        }
        if (truth == Truth::open) {
            open.push_back(f);
        }
    }
    if (open.empty()) {
        return true;
    }
    const Formula* chosen = nullptr;
    for (int fewest = 3, i = 0; fewest > 1 && i < static_cast<int>(open.size()); ++i) {
        int count = 0;
        const Formula* choice = open_choice(*open[static_cast<std::size_t>(i)], state, count, fewest);
        if (choice != nullptr && (chosen == nullptr || count < fewest)) {
            chosen = choice;
            fewest = count;
        }
    }
    if (chosen == nullptr) {
        return false; // the effort is spent
    }
    Values& left = state[static_cast<std::size_t>(chosen->variable)];
    const Values before = left;
    for (const Values part : {before & chosen->values, before & ~chosen->values}) {
        left = part;
        if (search(open, state)) {
            return true;
        }
        if (effort_.question_spent()) {
            break;
        }
    }
    left = before;
    return false;
}

Verdict Together::can_hold(const std::vector<const Formula*>& all, Case* found) {
    if (effort_.spent()) {
        effort_.give_up();
        return Verdict::undecided;
    }
    effort_.begin();
    effort_.spend(static_cast<long>(variables_.size()));
    Case state;
    for (const Variable& variable : variables_) {
        state.push_back(variable.all);
    }
    const bool holds = search(all, state);
    if (!holds && effort_.question_spent()) {
        effort_.give_up();
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
