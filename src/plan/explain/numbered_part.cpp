#include "plan/explain/numbered_part.hpp"

namespace vast_turn {

NumberedPart numbered_part(const lang::CheckedPlan& plan, std::size_t number) {
    const auto within = [&number](const auto& list) -> decltype(list.data()) {
        if (number < list.size()) {
            return &list[number];
        }
        number -= list.size();
        return nullptr;
    };
    if (const lang::Rule* rule = within(plan.guards)) {
        return {rule, nullptr};
    }
    for (const lang::LaidBlock& block : plan.blocks) {
        for (const auto* list : {&block.guards, &block.rules}) {
            if (const lang::Rule* rule = within(*list)) {
                return {rule, nullptr};
            }
        }
    }
    for (const lang::LaidBlock& block : plan.blocks) {
        if (const lang::LaidItem* item = within(block.items)) {
            return {nullptr, item};
        }
    }
    return {};
}

} // namespace vast_turn
