#include "trial/plan_counts.hpp"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

namespace vast_turn {

namespace {

/// Whether a part of the text sets a var.
bool is_set(const PlanText& plan, const std::string& var, lang::Span span) {
    for (std::size_t i = 1; i < plan.tokens.size(); ++i) {
        const lang::Token& token = plan.tokens[i];
        if (token.text == var && plan.follows(i, "set") && token.span.from >= span.from && token.span.to <= span.to) {
            return true;
        }
    }
    return false;
}

/// Begins at a whole number and is compared.
bool may_count(const PlanText& plan, const lang::Let& var) {
    const auto* begins = var.value.as<lang::Constant>();
    bool is_compared = false;
    for (std::size_t i = 0; i + 1 < plan.tokens.size(); ++i) {
        is_compared = is_compared || (plan.tokens[i].text == var.name &&
                                      lang::is_comparison(lang::operator_of(plan.tokens[i + 1].text)));
    }
    return begins != nullptr && begins->value == std::round(begins->value) && is_compared;
}

std::string counting(const lang::Let& var) { return fmt::format("set {} = {} + 1", var.name, var.name); }

} // namespace

std::vector<MissingCount> missing_counts(const PlanText& plan) {
    std::vector<MissingCount> list;
    for (const lang::Let& var : plan.tree.vars) {
        if (!may_count(plan, var)) {
            continue;
        }
        for (const lang::Block& block : plan.tree.blocks) {
            for (const lang::Rule& rule : block.rules) {
                const bool calls = !rule.acts.empty() && rule.acts.front().kind == lang::ActKind::call;
                if (calls && !is_set(plan, var.name, rule.span)) {
                    list.push_back({rule.acts.front().span, counting(var), 0.0});
                }
            }
            if (!block.items.empty() &&
                !is_set(plan, var.name, {block.items.front().span.from, block.items.back().span.to})) {
                list.push_back({block.items.front().span, counting(var), 0.5});
            }
        }
    }
    return list;
}

std::vector<std::string> never_counted(const PlanText& plan) {
    std::vector<std::string> list;
    for (const lang::Let& var : plan.tree.vars) {
        if (may_count(plan, var) && !is_set(plan, var.name, {0, plan.text.size()})) {
            list.push_back(counting(var));
        }
    }
    return list;
}

} // namespace vast_turn
