#pragma once

/// Notes which rules chose in a look.

#include "vast_turn/runtime/machine.hpp"
#include "vet/rule_knowledge.hpp"

namespace vast_turn::vetting {

/// Notes which rules chose in a look that ask for a marker or are meant for junctions. A copied mind has no follower.
struct ChoiceFollower : runtime::Follower {
    explicit ChoiceFollower(const RuleKnowledge& knowledge) : rules(knowledge) {
        chosen = [](runtime::Follower& self, const runtime::Machine&, RuleId rule) {
            static_cast<ChoiceFollower&>(self).take(rule);
            return rule;
        };
        seen = [](runtime::Follower& self, const runtime::Machine& machine, runtime::Stage stage, std::uint16_t number,
                  bool holds) {
            if (stage == runtime::Stage::guard && holds) {
                static_cast<ChoiceFollower&>(self).take(RuleId(number));
            } else if (stage == runtime::Stage::limit && holds) {
                static_cast<ChoiceFollower&>(self).take(RuleId(machine.program().rule_count + number));
            }
        };
    }

    void take(RuleId rule) {
        chose = chose || (rule != no_rule && rules.turns_by_marker[rule.index()]);
        const bool is_for_junctions = rule != no_rule && rules.for_junctions[rule.index()] != JunctionRule::none;
        at_junction = is_for_junctions && at_junction == no_rule ? rule : at_junction;
    }

    const RuleKnowledge& rules;
    bool chose = false;
    RuleId at_junction;
};

} // namespace vast_turn::vetting
