#include "vast_turn/plan/log_check.hpp"

#include <cmath>

namespace vast_turn {

LogCheck check_log(const Plan& plan, const std::vector<LoggedLook>& log, double tolerance_pct) {
    const auto off = [tolerance_pct](const std::optional<double>& logged, double decided) {
        return logged && std::abs(*logged - decided) > tolerance_pct;
    };
    LogCheck check;
    Mind mind(plan);
    for (const LoggedLook& logged : log) {
        const std::optional<Mind> before = check.first ? std::nullopt : std::optional(mind);
        LogDecision decision;
        mind(logged.look, decision.answer);
        decision.differs =
            off(logged.left_pct, decision.answer.left_pct) || off(logged.right_pct, decision.answer.right_pct);
        check.compared += logged.left_pct || logged.right_pct ? 1 : 0;
        if (decision.differs) {
            ++check.differing;
            if (!check.first) {
                check.first = check.decisions.size();
                check.first_reply = Asker(*before).ask(logged.look);
            }
        }
        check.decisions.push_back(decision);
    }
    return check;
}

} // namespace vast_turn
