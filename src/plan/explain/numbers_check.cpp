#include "vast_turn/plan/explain/numbers_check.hpp"

#include "vast_turn/plan/mind.hpp"

namespace vast_turn {

NumbersCheck check_numbers(const Plan& plan, const std::vector<Look>& looks) {
    Mind precise(plan);
    Mind coarse(plan, runtime::NumberKind::binary32);
    NumbersCheck check;
    for (const Look& look : looks) {
        Answer by_double;
        Answer by_float;
        precise(look, by_double);
        coarse(look, by_float);
        if (by_double.rule != by_float.rule || by_double.halted != by_float.halted) {
            ++check.differing;
            if (!check.first) {
                check.first = check.looks;
                check.by_double = by_double.rule;
                check.by_float = by_float.rule;
            }
        }
        ++check.looks;
    }
    return check;
}

} // namespace vast_turn
