#include "vet/block_logic.hpp"

#include <algorithm>
#include <map>
#include <utility>

namespace vast_turn::vetting {

namespace {

/// Which of the pattern sets inside formulas a pattern lies in: patterns that agree in all are alike.
void signature(const Formula& f, std::size_t bits, std::string& out) {
    if (f.kind == Formula::Kind::patterns) {
        out += f.patterns.test(bits) ? '1' : '0';
    }
    for (const Formula& part : f.parts) {
        signature(part, bits, out);
    }
}

bool takes_the_look(const lang::Rule& guard) {
    return std::any_of(guard.acts.begin(), guard.acts.end(), [](const lang::Act& act) {
        return act.kind == lang::ActKind::motion || lang::is_transfer(act.kind);
    });
}

} // namespace

BlockLogic::BlockLogic(const Plan& plan, std::size_t block, Effort& effort)
    : block_(plan.checked().blocks[block]), first_rule_(plan.tables().blocks[block].first_rule), effort_(effort),
      reader_(plan.checked()) {
    std::vector<const lang::Rule*> guards;
    for (const std::vector<lang::Rule>* list : {&plan.checked().guards, &block_.guards}) {
        for (const lang::Rule& guard : *list) {
            if (takes_the_look(guard)) {
                guards.push_back(&guard);
                reader_.announce(guard.condition);
            }
        }
    }
    for (const lang::Rule& rule : block_.rules) {
        if (!rule.is_else) {
            reader_.announce(rule.condition);
        }
    }
    for (const lang::Rule& rule : block_.rules) {
        conditions_.push_back(rule.is_else ? always() : reader_.read(rule.condition));
        against_.push_back(negation(conditions_.back()));
    }
    for (const lang::Rule* guard : guards) {
        guards_against_.push_back(negation(reader_.read(guard->condition)));
    }
    relations_ = reader_.relations(effort_);
    std::map<std::string, std::size_t> known;
    const PatternSet all = reader_.all_patterns();
    for (std::size_t bits = 0; bits < all.size(); ++bits) {
        if (!all.test(bits)) {
            continue;
        }
        std::string sign;
        for (const std::vector<Formula>* list : {&conditions_, &guards_against_, &relations_}) {
            for (const Formula& f : *list) {
                signature(f, bits, sign);
            }
        }
        const auto [at, is_new] = known.emplace(std::move(sign), patterns_.size());
        if (is_new) {
            patterns_.push_back(static_cast<unsigned>(bits));
            alike_.emplace_back();
        }
        alike_[at->second].set(bits);
    }
}

std::vector<const Formula*> BlockLogic::acting(std::size_t rule) const {
    std::vector<const Formula*> all{&conditions_[rule]};
    for (std::size_t i = 0; i < rule; ++i) {
        all.push_back(&against_[i]);
    }
    return all;
}

Verdict BlockLogic::in_any_pattern(const std::vector<const Formula*>& some) const {
    std::vector<const Formula*> all = some;
    for (const Formula& relation : relations_) {
        all.push_back(&relation);
    }
    Verdict best = Verdict::no;
    for (const unsigned pattern : patterns_) {
        const Verdict here = Together(reader_.variables(), pattern, effort_).can_hold(all);
        if (here == Verdict::yes) {
            return here;
        }
        best = here == Verdict::undecided ? here : best;
    }
    return best;
}

BlockLogic::Unanswered BlockLogic::unanswered() const {
    std::vector<const Formula*> none;
    for (const std::vector<Formula>* list : {&against_, &guards_against_, &relations_}) {
        for (const Formula& f : *list) {
            none.push_back(&f);
        }
    }
    Unanswered out;
    for (std::size_t i = 0; i < patterns_.size(); ++i) {
        const Verdict open = Together(reader_.variables(), patterns_[i], effort_).can_hold(none);
        out.undecided = out.undecided || open == Verdict::undecided;
        if (open != Verdict::yes) {
            continue;
        }
        bool any = false;
        for (const Formula& condition : conditions_) {
            std::vector<const Formula*> holds{&condition};
            for (const Formula& relation : relations_) {
                holds.push_back(&relation);
            }
            any = any || Together(reader_.variables(), patterns_[i], effort_).can_hold(holds) != Verdict::no;
        }
        (any ? out.sometimes : out.always) |= alike_[i];
    }
    return out;
}

Verdict BlockLogic::can_act(std::size_t rule) const { return in_any_pattern(acting(rule)); }

Verdict BlockLogic::can_hold(std::size_t rule) const { return in_any_pattern({&conditions_[rule]}); }

std::vector<std::size_t> BlockLogic::covered_by(std::size_t rule) const {
    std::vector<std::size_t> cover;
    for (std::size_t i = 0; i < rule; ++i) {
        if (in_any_pattern({&conditions_[rule], &conditions_[i]}) != Verdict::no) {
            cover.push_back(i);
        }
    }
    // Those that can be left out, from the last: a reader looks for the first that covers it.
    for (std::size_t i = cover.size(); i-- > 0;) {
        std::vector<const Formula*> all{&conditions_[rule]};
        for (std::size_t k = 0; k < cover.size(); ++k) {
            if (k != i) {
                all.push_back(&against_[cover[k]]);
            }
        }
        if (in_any_pattern(all) == Verdict::no) {
            cover.erase(cover.begin() + static_cast<std::ptrdiff_t>(i));
        }
    }
    return cover;
}

bool BlockLogic::implies(std::size_t a, std::size_t b) const {
    return in_any_pattern({&conditions_[a], &against_[b]}) == Verdict::no;
}

PatternSet BlockLogic::takes_from(std::size_t first, std::size_t second) const {
    std::vector<const Formula*> all = acting(first);
    all.push_back(&conditions_[second]);
    for (const Formula& relation : relations_) {
        all.push_back(&relation);
    }
    PatternSet set;
    for (std::size_t i = 0; i < patterns_.size(); ++i) {
        if (Together(reader_.variables(), patterns_[i], effort_).can_hold(all) == Verdict::yes) {
            set |= alike_[i];
        }
    }
    return set;
}

bool BlockLogic::asks_pattern(std::size_t rule) const {
    const PatternSet everywhere = PatternSet().set();
    const auto asks = [&](const auto& self, const Formula& f) -> bool {
        if (f.kind == Formula::Kind::patterns) {
            return f.patterns != everywhere && f.patterns.any();
        }
        return std::any_of(f.parts.begin(), f.parts.end(), [&](const Formula& part) { return self(self, part); });
    };
    return asks(asks, conditions_[rule]);
}

} // namespace vast_turn::vetting
