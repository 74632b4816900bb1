/// What stands at a place, in words.
#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "assist/body.hpp"
#include "plan/text/words.hpp"
#include "vast_turn/assist/word_help.hpp"
#include "vast_turn/robot/manoeuvre.hpp"

namespace vast_turn {

namespace {

using lang::Token;
using lang::TokenKind;

std::string code(std::string_view text) { return fmt::format("```plan\n{}\n```\n", text); }

std::string about_word(const WordHelp& help) {
    return code(help.usage) + fmt::format("{}\n\n", help.meaning) + code(help.example);
}

/// A time, a way or a number of looks in the units of the others.
std::string about_number(double value, const lang::UnitWord& unit, const Robot* robot) {
    if (robot == nullptr || robot->look_ms <= 0.0) {
        return "";
    }
    const double base = value * unit.factor;
    if (unit.unit.ms == 1) {
        return fmt::format("{:g} ms: {:.3g} looks of {}\n\n", base, std::ceil(base / robot->look_ms - 1e-9),
                           robot->name);
    }
    if (unit.unit.looks == 1) {
        return fmt::format("{:g} looks of {}: {:g} ms\n\n", base, robot->name, base * robot->look_ms);
    }
    if (unit.unit.mm == 1 && robot->top_speed_mm_s > 0.0) {
        return fmt::format("{:g} mm: {:.3g} s at full power of {}\n\n", base, base / robot->top_speed_mm_s,
                           robot->name);
    }
    if (unit.unit.deg == 1 && robot->top_speed_mm_s > 0.0) {
        const double deg_s = 2.0 * robot->top_speed_mm_s / robot->track_mm * 57.29577951308232;
        return fmt::format("{:g} degrees: {:.3g} s on the spot at full power of {}\n\n", base, base / deg_s,
                           robot->name);
    }
    return "";
}

std::string line_of(const std::string& text, std::size_t byte) {
    const std::size_t from = byte == 0 ? 0 : text.rfind('\n', byte - 1) + 1;
    std::string line = text.substr(from, std::min(text.find('\n', byte), text.size()) - from);
    while (!line.empty() && (line.back() == '\r' || line.back() == ' ')) {
        line.pop_back();
    }
    const std::size_t begin = line.find_first_not_of(' ');
    return begin == std::string::npos ? "" : line.substr(begin);
}

std::string about_thing(const NamedThing& thing, const std::string& text) {
    std::string told = thing.declared ? code(line_of(text, thing.declared->from)) : fmt::format("**{}** ", thing.name);
    return told + fmt::format("{}; it stands {} time{} in this plan\n\n", name_of(thing.kind), thing.uses.size(),
                              thing.uses.size() == 1 ? "" : "s");
}

/// Some patterns of many.
std::string marks_list(const std::vector<Pattern>& patterns) {
    constexpr std::size_t most = 8;
    std::string list;
    for (std::size_t i = 0; i < std::min(most, patterns.size()); ++i) {
        list += fmt::format("{}`{}`", i == 0 ? "" : " ", to_marks(patterns[i]));
    }
    return list + (patterns.size() > most ? fmt::format(" and {} more", patterns.size() - most) : "");
}

std::string about_powers(const TableEntry& entry, const Robot* robot) {
    const std::optional<Wheels> wheels = entry.wheels          ? entry.wheels
                                         : entry.begins_wheels ? entry.begins_wheels
                                                               : entry.crisp;
    if (entry.halts) {
        return "the run ends";
    }
    if (!wheels && !entry.goes_to.empty()) {
        return fmt::format("`{}` begins{}", entry.goes_to,
                           entry.begins_with.empty() ? "" : fmt::format(" with `{}`", entry.begins_with));
    }
    if (!wheels) {
        return entry.keeps_motion ? "the wheels go on as before" : "the powers depend on what is measured";
    }
    std::string told = fmt::format("wheels {:.4g} / {:.4g} %", wheels->left_pct, wheels->right_pct);
    if (robot != nullptr) {
        const Manoeuvre does = manoeuvre_of(*robot, wheels->left_pct, wheels->right_pct);
        told += fmt::format("; {}: {}, {:.0f} mm/s", robot->name, to_text(does), does.speed_mm_s);
    }
    if (entry.begins_wheels) {
        return fmt::format("`{}` begins with `{}`: {}", entry.goes_to, entry.begins_with, told);
    }
    return told + (entry.wheels ? "" : " when readings are exactly 0 and 1");
}

/// For which patterns the rules of a line act, and what happens then.
std::string about_rule(const Plan& plan, const std::vector<HabitTable>& tables, int line, const Robot* robot) {
    struct Case {
        const TableEntry* entry;
        std::vector<Pattern> patterns;
    };
    std::string told;
    for (const HabitTable& table : tables) {
        std::vector<Case> cases;
        for (const TableRow& row : table.rows) {
            for (const TableEntry& entry : row.entries) {
                if (plan.rule(entry.rule).line != line) {
                    continue;
                }
                const auto alike = std::find_if(cases.begin(), cases.end(), [&](const Case& one) {
                    return one.entry->rule == entry.rule && one.entry->when == entry.when &&
                           one.entry->wheels == entry.wheels && one.entry->crisp == entry.crisp;
                });
                if (alike == cases.end()) {
                    cases.push_back({&entry, {row.pattern}});
                } else {
                    alike->patterns.push_back(row.pattern);
                }
            }
        }
        constexpr std::size_t most = 4;
        for (std::size_t i = 0; i < std::min(most, cases.size()); ++i) {
            const TableEntry& entry = *cases[i].entry;
            told += fmt::format("- in `{}` for {}{}{}: {}\n", table.habit, marks_list(cases[i].patterns),
                                entry.when.empty() ? "" : fmt::format(", only when `{}`", entry.when),
                                plan.rule(entry.rule).is_twin ? " (the twin)" : "", about_powers(entry, robot));
        }
        if (cases.size() > most) {
            told += fmt::format("- in `{}` {} more cases: vturn table\n", table.habit, cases.size() - most);
        }
    }
    return told;
}

} // namespace

std::optional<TextSpan> WrittenPlan::stretch_at(std::size_t byte) const {
    const std::size_t i = body_->scan.token_at(byte, true);
    if (i == assist::no_token) {
        return std::nullopt;
    }
    const Token& token = body_->scan.token(i);
    return TextSpan{token.span.from, token.span.to};
}

std::string WrittenPlan::about(std::size_t byte, const Robot* robot) const {
    const assist::Scan& scan = body_->scan;
    const std::size_t i = scan.token_at(byte, true);
    if (i == assist::no_token) {
        return "";
    }
    const Token& token = scan.token(i);
    std::string told;
    if (const NamedThing* thing = name_at(byte)) {
        told += about_thing(*thing, body_->text);
    } else if (const WordHelp* help = token.kind == TokenKind::word ? find_word_help(token.text) : nullptr) {
        told += about_word(*help);
    } else if (token.kind == TokenKind::number) {
        const bool apart =
            token.unit.empty() && i + 1 < scan.tokens.size() && scan.token(i + 1).kind == TokenKind::word;
        if (const auto unit = lang::find_unit(apart ? scan.token(i + 1).text : token.unit)) {
            told += about_number(token.value, *unit, robot);
        }
    }
    const bool fits =
        robot == nullptr || !body_->plan || robot->sensors.size() == static_cast<std::size_t>(body_->plan->sensors());
    if (body_->plan && scan.block_at(byte) >= 0) {
        const auto line = std::upper_bound(body_->lines.begin(), body_->lines.end(), byte) - body_->lines.begin();
        const std::string rule =
            about_rule(*body_->plan, body_->tables(), static_cast<int>(line), fits ? robot : nullptr);
        told += rule.empty() ? "" : fmt::format("This rule acts\n{}", rule);
    }
    return told;
}

} // namespace vast_turn
