#pragma once

/// Asks a plan look by look, wheels in the air, and explains every answer.

#include <string>
#include <vector>

#include "vast_turn/plan/mind.hpp"

namespace vast_turn {

/// One rule that was tested in a look.
struct RuleCheck {
    int rule = 0; ///< number in Plan::rules()
    bool holds = false;
    std::string because; ///< why it does not hold: "[#..] wants line under sensor 1"; empty when it does
};

/// One block that a look passed through.
struct BlockVisit {
    int block = 0;
    std::vector<RuleCheck> checks; ///< in the order in which they were tested; the last holds, unless none did
    bool answered = false;
};

/// What a plan makes of one look.
struct Reply {
    Look look;
    Answer answer;
    std::vector<BlockVisit> visits;  ///< one, and one more for each transfer; none once it has halted
    std::vector<std::string> memory; ///< what changed in its memory, a sentence each
    int block_before = 0;            ///< the block in hand before the look
};

/// Carries out a plan and explains it. The answers are those of a Mind.
class Asker {
public:
    explicit Asker(const Plan& plan);
    /// Goes on from where a mind stands.
    explicit Asker(const Mind& mind) : mind_(mind) {}

    /// Looks must come in the order of their clocks.
    Reply ask(const Look& look);

    const Plan& plan() const { return mind_.plan(); }

private:
    Mind mind_;
    bool halted_ = false;
};

} // namespace vast_turn
