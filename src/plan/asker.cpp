#include "vast_turn/plan/asker.hpp"

#include <algorithm>
#include <cassert>
#include <cmath>

#include <fmt/format.h>

#include "plan/checked.hpp"
#include "plan/explain_condition.hpp"

namespace vast_turn {

namespace {

using lang::Expr;

/// Every rule of a plan with what it takes to explain it.
struct Known {
    const lang::Rule* rule;
    std::size_t first_watch; // of its condition
    int block;
};

std::vector<Known> rules_of(const Plan& plan) {
    std::vector<Known> all;
    std::size_t watches = 0;
    int block = 0;
    for (const lang::LaidBlock& laid : plan.checked().blocks) {
        for (const lang::Rule& rule : laid.rules) {
            all.push_back({&rule, watches, block});
            watches += rule.is_else ? 0 : lang::watches_in(rule.condition);
        }
        ++block;
    }
    return all;
}

/// The `lasting` parts of a plan by the number of their watch.
void list_watches(const Expr& e, std::vector<const Expr*>& list) {
    for (const Expr& arg : e.args) {
        list_watches(arg, list);
    }
    if (e.kind == lang::ExprKind::lasting) {
        list.push_back(&e);
    }
}

class Explainer {
public:
    Explainer(const Plan& plan, const Mind& before, const Mind& after, const Look& look)
        : plan_(plan), before_(before), after_(after), look_(look), rules_(rules_of(plan)) {}

    std::vector<BlockVisit> visits(const runtime::Trail& trail, const Answer& answer) const {
        std::vector<BlockVisit> all;
        for (std::uint8_t i = 0; i < trail.count; ++i) {
            all.push_back(visit(rules_[trail.rule[i]].block, trail.rule[i], i == 0));
        }
        const bool unanswered = std::any_of(answer.event, answer.event + answer.events,
                                            [](const Event& event) { return event.kind == EventKind::unanswered; });
        if (unanswered) {
            all.push_back(visit(after_.machine().block(), -1, trail.count == 0));
        }
        return all;
    }

    std::vector<std::string> memory() const {
        std::vector<std::string> changes;
        const std::string& then = plan_.blocks()[before_.machine().block()];
        const std::string& now = plan_.blocks()[after_.machine().block()];
        if (then != now) {
            changes.push_back(fmt::format("the block in hand was {}, now it is {}", then, now));
        }
        std::vector<const Expr*> lasting;
        for (const Known& known : rules_) {
            if (!known.rule->is_else) {
                list_watches(known.rule->condition, lasting);
            }
        }
        for (std::size_t i = 0; i < lasting.size(); ++i) {
            add_watch(*lasting[i], before_.machine().watches()[i], after_.machine().watches()[i], changes);
        }
        return changes;
    }

private:
    /// The block that was in hand when the look began goes on with its clocks; one that a transfer
    /// reaches begins now.
    lang::Facts facts(bool was_in_hand) const {
        const runtime::Memory then = before_.machine().memory();
        const bool goes_on = was_in_hand && then.started;
        lang::Facts facts;
        facts.look = &look_;
        facts.elapsed_ms = goes_on ? look_.clock_ms - then.began_ms : 0.0;
        facts.looks = goes_on ? then.looks + 1.0 : 0.0;
        facts.travelled_mm = goes_on ? std::abs(look_.way_mm - then.began_way_mm) : 0.0;
        facts.turned_deg = goes_on ? std::abs(look_.heading_deg - then.began_heading_deg) : 0.0;
        facts.rolled_left_deg = goes_on ? std::abs(look_.left_deg - then.began_left_deg) : 0.0;
        facts.rolled_right_deg = goes_on ? std::abs(look_.right_deg - then.began_right_deg) : 0.0;
        facts.offset = plan_.tables().own_weights ? after_.machine().memory().weighted : look_.offset;
        facts.watches = after_.machine().watches();
        return facts;
    }

    BlockVisit visit(int block, int acting, bool was_in_hand) const {
        BlockVisit out;
        out.block = block;
        out.answered = acting >= 0;
        const lang::Facts known = facts(was_in_hand);
        for (std::size_t i = 0; i < rules_.size(); ++i) {
            const int number = static_cast<int>(i);
            if (rules_[i].block != block || (acting >= 0 && number > acting)) {
                continue;
            }
            RuleCheck check{number, number == acting, {}};
            if (!check.holds) {
                // The runtime passed it by, so its words must be of a condition that does not hold.
                assert(!lang::ConditionReader(known, rules_[i].first_watch).holds(rules_[i].rule->condition));
                check.because = lang::ConditionReader(known, rules_[i].first_watch).why_not(rules_[i].rule->condition);
            }
            out.checks.push_back(std::move(check));
        }
        return out;
    }

    void add_watch(const Expr& e, const runtime::WatchState& then, const runtime::WatchState& now,
                   std::vector<std::string>& changes) const {
        if (then.looks == now.looks && then.holds == now.holds) {
            return;
        }
        const std::string limit = lang::to_text(e.args[1]);
        const std::string what = fmt::format("`{}`", lang::to_text(e.args[0]));
        if (now.looks == 0) {
            changes.push_back(fmt::format("{} is over after {} looks", what, then.looks));
        } else if (!now.holds) {
            changes.push_back(fmt::format("{} has held for {} look{}, {:.4g}ms; {} are wanted", what, now.looks,
                                          now.looks == 1 ? "" : "s", look_.clock_ms - now.since_ms, limit));
        } else if (!then.holds) {
            changes.push_back(fmt::format("{} has now lasted {}", what, limit));
        }
    }

    const Plan& plan_;
    const Mind& before_;
    const Mind& after_;
    const Look& look_;
    std::vector<Known> rules_;
};

} // namespace

Asker::Asker(const Plan& plan) : mind_(plan) {}

Reply Asker::ask(const Look& look) {
    const Mind before = mind_;
    runtime::Trail trail;
    Reply reply;
    reply.look = look;
    reply.block_before = before.machine().block();
    mind_.follow(&trail);
    mind_(look, reply.answer);
    mind_.follow(nullptr);
    if (!halted_) {
        const Explainer explainer(plan(), before, mind_, look);
        reply.visits = explainer.visits(trail, reply.answer);
        reply.memory = explainer.memory();
    }
    halted_ = reply.answer.halted;
    return reply;
}

} // namespace vast_turn
