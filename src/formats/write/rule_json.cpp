#include "formats/write/rule_json.hpp"

namespace vast_turn {

Json rule_json(const Plan& plan, RuleId rule) {
    const RuleInfo& info = plan.rule(rule);
    return {{"block", info.block},      {"line", info.line},           {"column", info.column},
            {"mirrored", info.is_twin}, {"condition", info.condition}, {"acts", info.acts}};
}

} // namespace vast_turn
