#include "vast_turn/plan/explain/log_check.hpp"

#include <cmath>

namespace vast_turn {

namespace {

/// One look of a log in full: the plan is carried up to it once more.
Reply asked_again(Mind mind, const std::vector<LoggedLook>& log, std::size_t at) {
    Answer answer;
    for (std::size_t i = 0; i < at; ++i) {
        mind(log[i].look, answer);
    }
    return Asker(mind).ask(log[at].look);
}

} // namespace

LogCheck check_log(const Plan& plan, const std::vector<LoggedLook>& log, double tolerance_pct,
                   runtime::NumberKind numbers) {
    const auto off = [tolerance_pct](const std::optional<double>& logged, double decided) {
        return logged && std::abs(*logged - decided) > tolerance_pct;
    };
    LogCheck check;
    Mind mind(plan, numbers);
    for (const LoggedLook& logged : log) {
        LogDecision decision;
        mind(logged.look, decision.answer);
        decision.differs =
            off(logged.left_pct, decision.answer.left_pct) || off(logged.right_pct, decision.answer.right_pct);
        check.compared += logged.left_pct || logged.right_pct ? 1 : 0;
        if (decision.differs) {
            ++check.differing;
            check.first = check.first.value_or(check.decisions.size());
        }
        check.decisions.push_back(decision);
    }
    if (check.first) {
        check.first_reply = asked_again(Mind(plan, numbers), log, *check.first);
    }
    return check;
}

} // namespace vast_turn
