#pragma once

/// Asks a plan look by look, wheels in the air, and explains every answer.

#include <string>
#include <vector>

#include "vast_turn/plan/mind.hpp"

namespace vast_turn {

/// One thing that a look came to, in order.
struct AskedStep {
    /// What was asked or happened.
    runtime::Stage stage = runtime::Stage::rule;
    RuleId rule;           ///< the rule, guard or item; of a block that began or ended no_rule
    std::size_t block = 0; ///< of one that began or ended: its number in Plan::blocks()
    bool holds = false;    ///< of a rule, guard, branch or limit
    std::string because;   ///< why it does not hold: "[#..] wants line under sensor 1"; empty when it does
};

/// A block that is in hand after the look.
struct InHand {
    std::size_t block = 0; ///< number in Plan::blocks()
    RuleId item;           ///< of an errand: the item in hand; no_rule behind the last, and of a habit
};

/// What a plan makes of one look.
struct Reply {
    /// As asked, and as answered.
    Look look;
    Answer answer;
    std::vector<AskedStep> steps;    ///< none once the plan has ended
    std::vector<InHand> in_hand;     ///< the first block first
    std::vector<std::string> memory; ///< what changed in its memory, a sentence each
    bool unanswered = false;         ///< no rule held
    bool held = false;               ///< a guard's `hold` took the look
};

/// Carries out a plan and explains it. The answers are those of a Mind.
///
///     Asker asker(plan);
///     const Reply reply = asker.ask(look);
///     for (const AskedStep& step : reply.steps) { ... plan.rule(step.rule).line ... }
class Asker {
public:
    /// Begins before the first look.
    explicit Asker(const Plan& plan);
    /// Goes on from where a mind stands.
    explicit Asker(const Mind& mind) : mind_(mind) {}

    /// Looks must come in the order of their clocks.
    Reply ask(const Look& look);

    /// Gives a var another value, as Mind::set_var() does.
    void set_var(std::size_t var, double value) { mind_.set_var(var, value); }

    /// What it asks.
    const Plan& plan() const { return mind_.plan(); }

private:
    Mind mind_;
};

} // namespace vast_turn
