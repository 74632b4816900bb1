#include "vast_turn/settings/adjustable.hpp"

#include <algorithm>
#include <set>
#include <utility>

#include <fmt/format.h>

#include "plan/check/check_types.hpp"
#include "plan/check/checked.hpp"
#include "plan/lets_as_vars.hpp"
#include "plan/text/parser.hpp"
#include "plan/text/source.hpp"
#include "plan/text/words.hpp"
#include "vast_turn/base/problem.hpp"

namespace vast_turn {

namespace {

/// The lets that are reckoned from one, whatever lies between, in their order.
std::vector<std::string> reckoned_from(const std::string& text, const std::string& file, const std::string& name) {
    const lang::Source source(text, file);
    lang::Problems unheard(source);
    std::vector<std::string> all = {name};
    for (const lang::Let& let : lang::parse(source, unheard).lets) {
        const bool is_reckoned = lang::any_part(let.value, [&](const lang::Expr& part) {
            const auto* word = part.as<lang::Name>();
            return word != nullptr && std::find(all.begin(), all.end(), word->text) != all.end();
        });
        if (is_reckoned) {
            all.push_back(let.name);
        }
    }
    all.erase(all.begin());
    return all;
}

/// Of "cruise=36..84", with the let as it is now.
AdjustableLet let_of(const std::string& movable, const std::string& text, const std::string& file) {
    AdjustableLet let;
    const std::size_t equals = movable.find('=');
    const std::size_t dots = movable.find("..", equals);
    let.name = movable.substr(0, equals);
    let.now = plan_number(text, file, {Setting::Of::plan, let.name, ""});
    const auto least = parse_number(movable.substr(equals + 1, dots - equals - 1));
    const std::string rest = movable.substr(dots + 2);
    const auto most = parse_number(rest.substr(0, rest.find(':')));
    const auto fits = [&](const auto& end) { return end && (end->unit.empty() || end->unit == let.now.unit); };
    if (!fits(least) || !fits(most) || !(least->value < most->value)) {
        throw InputError(file, fmt::format("`{}` may be `{}`, which is no range", let.name, movable.substr(equals + 1)),
                         fmt::format("write it so: // may be 36{0}..84{0}", let.now.unit));
    }
    let.least = least->value;
    let.most = most->value;
    const auto unit = lang::find_unit(let.now.unit);
    let.factor = unit ? unit->factor : 1.0;
    return let;
}

} // namespace

AdjustablePlan adjustable_plan(const std::string& text, const std::string& file, std::vector<Problem>* warnings) {
    Compiled compiled = compile_plan(text, file);
    if (!compiled.plan) {
        throw InputError(std::move(compiled.problems));
    }
    if (warnings != nullptr) {
        warnings->insert(warnings->end(), compiled.problems.begin(), compiled.problems.end());
    }
    AdjustablePlan out{*compiled.plan, {}, {}, {}};
    std::set<std::string> as_vars;
    for (const std::string& movable : movable_lets(text, file)) {
        const std::string name = movable.substr(0, movable.find('='));
        const std::vector<std::string> reckoned = reckoned_from(text, file, name);
        std::set<std::string> tried = as_vars;
        tried.insert(name);
        tried.insert(reckoned.begin(), reckoned.end());
        Compiled with = lang::compile_plan(text, file, tried);
        if (!with.plan) { // it, or one that is reckoned from it, stands where a constant is wanted
            out.fixed.push_back(name);
            continue;
        }
        out.lets.push_back(let_of(movable, text, file));
        as_vars = std::move(tried);
        out.plan = *with.plan;
    }
    for (const lang::LaidVar& var : out.plan.checked().vars) {
        const bool is_own = std::any_of(out.lets.begin(), out.lets.end(),
                                        [&](const AdjustableLet& let) { return let.name == var.name; });
        if (!is_own && as_vars.contains(var.name)) {
            const bool is_plain = !lang::is_numeric(var.type) || var.type.unit == lang::Unit{};
            out.reckoned.push_back({var.name, var.first, is_plain ? "" : lang::to_text(var.type.unit)});
        }
    }
    return out;
}

std::vector<ReckonedLet> reckoned_with(const std::string& text, const std::string& file,
                                       const std::vector<Setting>& settings) {
    SettingsTaken taken;
    const std::string changed = plan_text_with(text, file, settings, taken);
    check_all_taken(settings, taken, lets_of(text, file));
    return adjustable_plan(changed, file).reckoned;
}

} // namespace vast_turn
