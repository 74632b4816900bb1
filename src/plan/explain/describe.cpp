#include "vast_turn/plan/explain/describe.hpp"

#include <fmt/format.h>

#include "vast_turn/sense/pattern.hpp"

namespace vast_turn {

std::string describe_rule(const Plan& plan, RuleId rule) {
    const RuleInfo& info = plan.rule(rule);
    if (info.kind == RuleKind::item) {
        return fmt::format("line {}: {}{}{}", info.line, info.acts, info.condition.empty() ? "" : " ", info.condition);
    }
    return fmt::format("line {}{}: {}{} -> {}", info.line, info.is_twin ? " (mirrored)" : "",
                       info.kind == RuleKind::guard ? "guard " : "", info.condition, info.acts);
}

std::string describe_event(const Plan& plan, const Event& event) {
    switch (event.kind) {
    case EventKind::tell: return fmt::format("{} {:g}", plan.texts()[event.what], event.value);
    case EventKind::unanswered:
        return fmt::format("no rule holds for [{}]", to_marks({static_cast<std::uint8_t>(event.what), plan.sensors()}));
    case EventKind::cut_short:
        return fmt::format("more than 16 transfers in one look, in {}", plan.blocks()[event.what]);
    default: return plan.texts()[event.what];
    }
}

} // namespace vast_turn
