#include "vet/rule_knowledge.hpp"

#include <algorithm>
#include <cmath>

#include "plan/check/check_types.hpp"
#include "plan/check/checked.hpp"

namespace vast_turn::vetting {

RuleKnowledge::RuleKnowledge(const Plan& plan)
    : turns_by_marker(plan.rules().size(), false), asks_line(plan.rules().size(), false),
      halts_by_line(plan.rules().size(), false), for_junctions(junction_rules(plan)), markers_(plan.rules().size(), 0) {
    const auto asks = [](const lang::Expr& e) {
        return lang::any_part(e, [](const lang::Expr& part) { return part.is<lang::MarkerSeen>(); });
    };
    const auto markers = [](const lang::Expr& e) {
        std::uint32_t bits = 0;
        lang::any_part(e, [&](const lang::Expr& part) {
            if (const auto* marker = part.as<lang::MarkerSeen>()) {
                bits |= 1U << static_cast<unsigned>(marker->number);
            }
            return false;
        });
        return bits;
    };
    std::size_t number = 0;
    const auto rules = [&](const std::vector<lang::Rule>& list) {
        for (const lang::Rule& rule : list) {
            asks_line[number] = rule.is_else || lang::any_part(rule.condition, asks_of_line);
            halts_by_line[number] = !rule.is_else && asks_line[number] &&
                                    !lang::any_part(rule.condition, asks_of_more) &&
                                    std::any_of(rule.acts.begin(), rule.acts.end(),
                                                [](const lang::Act& act) { return act.kind == lang::ActKind::halt; });
            markers_[number] = rule.is_else ? 0U : markers(rule.condition);
            turns_by_marker[number++] = !rule.is_else && asks(rule.condition) &&
                                        std::any_of(rule.acts.begin(), rule.acts.end(), [](const lang::Act& act) {
                                            return lang::is_transfer(act.kind) || act.kind == lang::ActKind::motion;
                                        });
        }
    };
    rules(plan.checked().guards);
    for (const lang::LaidBlock& block : plan.checked().blocks) {
        rules(block.guards);
        rules(block.rules);
    }
    for (const lang::LaidBlock& block : plan.checked().blocks) {
        for (const lang::LaidItem& item : block.items) {
            markers_[number] = markers(item.limit.value);
            turns_by_marker[number++] = asks(item.limit.value);
        }
    }
}

std::vector<int> RuleKnowledge::looks_needed(const Plan& plan, double look_ms) const {
    std::vector<int> most(plan.markers().size(), 1);
    lang::for_each_expression(plan.checked(), [&](const lang::Expr& whole) {
        lang::any_part(whole, [&](const lang::Expr& part) {
            if (!part.is<lang::Lasting>()) {
                return false;
            }
            const double limit = written_value(part.args[1]).value_or(0.0);
            // Held in this look and those before it; or without a break for so many milliseconds from the first on.
            const double looks = part.args[1].type.unit.looks != 0 ? limit : std::ceil(limit / look_ms - 1e-9) + 1.0;
            lang::any_part(part.args[0], [&](const lang::Expr& inner) {
                if (const auto* marker = inner.as<lang::MarkerSeen>()) {
                    int& needed = most[static_cast<std::size_t>(marker->number)];
                    needed = std::max(needed, static_cast<int>(std::min(std::ceil(looks), 1e6)));
                }
                return false;
            });
            return false;
        });
    });
    return most;
}

} // namespace vast_turn::vetting
