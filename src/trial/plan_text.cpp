#include "trial/plan_text.hpp"

#include "plan/check/checked.hpp"
#include "plan/text/parser.hpp"

namespace vast_turn {

PlanText::PlanText(const Plan& plan) : source(plan.checked().source), text(source.text()) {
    lang::Problems unheard(source);
    tree = lang::parse(source, unheard);
    tokens = lang::tokenize(source, unheard);
}

} // namespace vast_turn
