#pragma once

/// Asks a plan look by look, wheels in the air, and explains every answer.

#include <string>
#include <vector>

#include "vast_turn/plan/mind.hpp"

namespace vast_turn {

/// One thing that a look came to, in order.
struct AskedStep {
    /// What was asked or happened; its number means what `number` says.
    runtime::Stage stage = runtime::Stage::rule;
    int number = 0;      ///< in Plan::rules(); of begun and ended a block in Plan::blocks()
    bool holds = false;  ///< of a rule, guard, branch or limit
    std::string because; ///< why it does not hold: "[#..] wants line under sensor 1"; empty when it does
};

/// A block that is in hand after the look.
struct InHand {
    int block = 0;
    int item = -1; ///< of an errand: the item in hand, a number in Plan::rules(); -1 behind the last
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
class Asker {
public:
    /// Begins before the first look.
    explicit Asker(const Plan& plan);
    /// Goes on from where a mind stands.
    explicit Asker(const Mind& mind) : mind_(mind) {}

    /// Looks must come in the order of their clocks.
    Reply ask(const Look& look);

    /// What it asks.
    const Plan& plan() const { return mind_.plan(); }

private:
    Mind mind_;
};

} // namespace vast_turn
