#include <algorithm>
#include <set>

#include <fmt/format.h>

#include "plan/check/check_types.hpp"
#include "vet/collector.hpp"

namespace vast_turn::vetting {

namespace {

using lang::Op;

using lang::Expr;

/// A marker that must be in view for a condition to hold, where nothing asks for news; null for none.
const Expr* marker_in_view(const Expr& e) {
    if (e.is<lang::MarkerSeen>()) {
        return &e;
    }
    if (e.is<lang::Lasting>()) {
        return marker_in_view(e.args[0]);
    }
    if (is_binary(e, Op::both)) {
        const Expr* left = marker_in_view(e.args[0]);
        return left != nullptr ? left : marker_in_view(e.args[1]);
    }
    if (is_binary(e, Op::either)) {
        const Expr* left = marker_in_view(e.args[0]);
        return left != nullptr && marker_in_view(e.args[1]) != nullptr ? left : nullptr;
    }
    return nullptr;
}

/// A condition that remembers something may keep the rule from acting again.
bool remembers(const Expr& e) {
    return lang::any_part(e, [](const Expr& part) { return part.is<lang::Variable>() || part.is<lang::Fresh>(); });
}

} // namespace

void check_markers(Collector& out) {
    std::set<std::size_t> told;
    for (std::size_t i = 0; i < out.text().blocks.size(); ++i) {
        const lang::LaidBlock& block = out.text().blocks[i];
        for (const lang::Rule& rule : block.rules) {
            if (!out.is_reached(i) || rule.is_else || rule.acts.empty() ||
                rule.acts.back().kind != lang::ActKind::call || remembers(rule.condition)) {
                continue;
            }
            const Expr* marker = marker_in_view(rule.condition);
            if (marker == nullptr || !told.insert(rule.span.from).second) {
                continue;
            }
            const bool bare = rule.condition.is<lang::MarkerSeen>();
            out.add("marker-repeats", rule.span,
                    fmt::format("when `{}` comes back while {} is still in view, it is done again",
                                rule.acts.back().name, lang::to_text(*marker)),
                    "write fresh before the marker: then it is done once for each plate",
                    bare && !rule.is_twin ? out.line_with(rule.condition.span, "fresh " + lang::to_text(rule.condition))
                                          : std::string{});
        }
    }
}

} // namespace vast_turn::vetting
