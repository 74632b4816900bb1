#include "vast_turn/settings/adjustable.hpp"

#include <algorithm>

#include <fmt/format.h>

#include "plan/text/source.hpp"
#include "plan/text/token.hpp"
#include "plan/text/words.hpp"
#include "vast_turn/base/problem.hpp"

namespace vast_turn {

namespace {

/// The text with one let as a var; of the same length, so that every line and column stays.
std::string with_var(const std::string& text, const std::string& file, const std::string& name) {
    const lang::Source source(text, file);
    lang::Problems unheard(source);
    const std::vector<lang::Token> tokens = lang::tokenize(source, unheard);
    for (std::size_t i = 0; i + 1 < tokens.size(); ++i) {
        const bool begins = i == 0 || tokens[i - 1].kind == lang::TokenKind::line_end;
        if (begins && tokens[i].text == "let" && tokens[i + 1].text == name) {
            std::string changed = text;
            changed.replace(tokens[i].span.from, 3, "var");
            return changed;
        }
    }
    return text;
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
    AdjustablePlan out{*compiled.plan, {}, {}};
    std::string changed = text;
    for (const std::string& movable : movable_lets(text, file)) {
        const std::string name = movable.substr(0, movable.find('='));
        const std::string tried = with_var(changed, file, name);
        Compiled with = compile_plan(tried, file);
        if (!with.plan) { // others are reckoned from it, or it is a constant's place
            out.fixed.push_back(name);
            continue;
        }
        out.lets.push_back(let_of(movable, text, file));
        changed = tried;
        out.plan = *with.plan;
    }
    return out;
}

} // namespace vast_turn
