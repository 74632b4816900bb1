#include "print/print_table.hpp"

#include <algorithm>

#include <fmt/format.h>

#include "print/print.hpp"
#include "vast_turn/robot/manoeuvre.hpp"

namespace vturn {

using namespace vast_turn;

namespace {

constexpr std::size_t rows_shown_singly = 8; // more patterns than these are grouped
constexpr std::size_t patterns_a_line = 4;

/// What one case of a row says, apart from the patterns.
struct CaseWords {
    std::string left;
    std::string right;
    std::string does;
    std::string line;
    std::string rule;
    std::string when;
};

CaseWords words_of(const Plan& plan, const TableEntry& entry, const Robot* robot) {
    const RuleInfo& rule = plan.rule(entry.rule);
    CaseWords words;
    const std::optional<Wheels> wheels = entry.wheels          ? entry.wheels
                                         : entry.begins_wheels ? entry.begins_wheels
                                                               : entry.crisp;
    if (wheels) {
        const char* about = entry.wheels || entry.begins_wheels ? "" : "~";
        words.left = fmt::format("{}{:.4g}", about, wheels->left_pct);
        words.right = fmt::format("{}{:.4g}", about, wheels->right_pct);
        words.does = robot != nullptr ? to_text(manoeuvre_of(*robot, wheels->left_pct, wheels->right_pct)) : "";
    } else if (!entry.goes_to.empty()) {
        const bool goes_on = entry.begins_with.starts_with("keep");
        words.left = "as";
        words.right = goes_on ? "before" : "begun";
        words.does = goes_on ? "as before" : fmt::format("as {} begins", entry.goes_to);
    } else {
        words.left = entry.keeps_motion ? "as" : "~";
        words.right = entry.keeps_motion ? "before" : "~";
        words.does = entry.keeps_motion ? "as before" : "as measured";
    }
    if (entry.halts) {
        words.does = "halts";
    }
    words.line = fmt::format("{}{}", rule.line, rule.is_twin ? "m" : "");
    words.rule = fmt::format("{} -> {}", rule.condition, rule.acts);
    words.when = entry.when.empty() ? "" : fmt::format("only when {}", entry.when);
    if (!entry.begins_with.empty()) {
        words.when += fmt::format("{}begins with {}", words.when.empty() ? "" : "; ", entry.begins_with);
    }
    return words;
}

/// The cases of a row behind those that are told once.
std::vector<CaseWords> cases_of(const Plan& plan, const TableRow& row, const Robot* robot, std::size_t from) {
    std::vector<CaseWords> cases;
    for (std::size_t i = from; i < row.entries.size(); ++i) {
        cases.push_back(words_of(plan, row.entries[i], robot));
    }
    if (row.may_be_unanswered) {
        cases.push_back({"as", "before", "as before", "-", "UNANSWERED", cases.empty() ? "" : "otherwise"});
    }
    return cases;
}

std::vector<RowGroup> rows_to_show(const HabitTable& table, bool each_pattern) {
    if (!each_pattern && table.rows.size() > rows_shown_singly) {
        return grouped(table);
    }
    std::vector<RowGroup> rows;
    for (const TableRow& row : table.rows) {
        rows.push_back({{row.pattern}, &row});
    }
    return rows;
}

/// The patterns of a group, a few in a line.
std::vector<std::string> pattern_lines(const RowGroup& group) {
    std::vector<std::string> lines;
    for (std::size_t i = 0; i < group.patterns.size(); ++i) {
        if (i % patterns_a_line == 0) {
            lines.emplace_back();
        }
        lines.back() += (lines.back().empty() ? "" : " ") + to_marks(group.patterns[i]);
    }
    return lines;
}

std::vector<std::string> cells_of(const std::string& patterns, const CaseWords& words, bool with_robot) {
    std::vector<std::string> cells = {patterns, words.left, words.right};
    if (with_robot) {
        cells.push_back(words.does);
    }
    cells.insert(cells.end(), {words.line, words.rule, words.when});
    return cells;
}

void add_group(std::vector<std::vector<std::string>>& rows, const Plan& plan, const RowGroup& group, const Robot* robot,
               std::size_t from) {
    const std::vector<std::string> patterns = pattern_lines(group);
    const std::vector<CaseWords> cases = cases_of(plan, *group.row, robot, from);
    for (std::size_t i = 0; i < std::max(patterns.size(), cases.size()); ++i) {
        const std::string left = i < patterns.size() ? patterns[i] : "";
        rows.push_back(i < cases.size() ? cells_of(left, cases[i], robot != nullptr) : std::vector<std::string>{left});
    }
}

std::string verdict_on(const HabitTable& table, const Paint& paint) {
    std::string list;
    std::size_t count = 0;
    for (const TableRow& row : table.rows) {
        if (row.may_be_unanswered) {
            list += (++count <= 12 ? " " + to_marks(row.pattern) : "");
        }
    }
    if (count == 0) {
        return paint.good("every pattern is answered");
    }
    return paint.bad(fmt::format("{} of {} patterns may be unanswered:{}{}", count, table.rows.size(), list,
                                 count > 12 ? " ..." : ""));
}

std::vector<std::string> head_cells(bool with_robot) {
    std::vector<std::string> cells = {"sees", "left %", "right %"};
    if (with_robot) {
        cells.emplace_back("the robot");
    }
    cells.insert(cells.end(), {"line", "rule", ""});
    return cells;
}

/// A cell of a Markdown table; patterns and code keep their marks.
std::string markdown_cell(const std::string& text, bool code) {
    std::string safe;
    for (const char c : text) {
        safe += c == '|' ? std::string("\\|") : std::string(1, c);
    }
    return code && !safe.empty() ? "`" + safe + "`" : safe;
}

} // namespace

void print_table(const Streams& streams, const Plan& plan, const HabitTable& table, const TableLook& look) {
    const Paint paint(streams.colour);
    const std::vector<RowGroup> groups = rows_to_show(table, look.each_pattern);
    std::vector<std::vector<std::string>> rows = {head_cells(look.robot != nullptr)};
    const std::size_t once = common_cases(table);
    for (std::size_t i = 0; i < once; ++i) {
        rows.push_back(cells_of(i == 0 ? "whatever it sees" : "",
                                words_of(plan, table.rows.front().entries[i], look.robot), look.robot != nullptr));
    }
    for (const RowGroup& group : groups) {
        add_group(rows, plan, group, look.robot, once);
    }
    const std::string in_groups =
        groups.size() < table.rows.size() ? fmt::format(" in {} groups", groups.size()) : std::string{};
    streams.out << paint.strong(fmt::format("habit {}: {} patterns{}", table.habit, table.rows.size(), in_groups))
                << "\n";
    print_columns(streams.out, rows, {1, 2, look.robot != nullptr ? 4UL : 3UL});
    streams.out << "  " << verdict_on(table, paint) << "\n";
}

std::string table_markdown(const Plan& plan, const std::vector<HabitTable>& tables, const TableLook& look) {
    std::string out = fmt::format(
        "# {}\n\n`#` line, `.` floor, from the left. `~`: when readings are exactly 0 and 1.\n", plan.name());
    for (const HabitTable& table : tables) {
        out += fmt::format(
            "\n## habit {}\n\n| sees | left % | right % |{} line | rule | |\n|---|---:|---:|{}---:|---|---|\n",
            table.habit, look.robot != nullptr ? " the robot |" : "", look.robot != nullptr ? "---|" : "");
        const std::size_t once = common_cases(table);
        const auto add_row = [&](const std::string& patterns, const CaseWords& words) {
            out += fmt::format("| {} | {} | {} |{} {} | {} | {} |\n", patterns, words.left, words.right,
                               look.robot != nullptr ? " " + words.does + " |" : "", words.line,
                               words.rule == "UNANSWERED" ? "**UNANSWERED**" : markdown_cell(words.rule, true),
                               markdown_cell(words.when, false));
        };
        for (std::size_t i = 0; i < once; ++i) {
            add_row(i == 0 ? "whatever it sees" : "", words_of(plan, table.rows.front().entries[i], look.robot));
        }
        for (const RowGroup& group : rows_to_show(table, look.each_pattern)) {
            std::string patterns;
            for (const Pattern& pattern : group.patterns) {
                patterns += (patterns.empty() ? "" : " ") + markdown_cell(to_marks(pattern), true);
            }
            for (const CaseWords& words : cases_of(plan, *group.row, look.robot, once)) {
                add_row(patterns, words);
                patterns.clear();
            }
        }
    }
    return out;
}

} // namespace vturn
