#include <memory>

#include <fmt/format.h>

#include "commands.hpp"
#include "print.hpp"
#include "vast_turn/files/plan_file.hpp"
#include "vast_turn/files/results.hpp"

namespace vturn {

using namespace vast_turn;

namespace {

struct TableCall {
    std::string plan;
    bool json = false;
};

std::vector<std::string> entry_cells(const Plan& plan, const TableRow& row, const TableEntry& entry, bool first) {
    const RuleInfo& rule = plan.rules()[static_cast<std::size_t>(entry.rule)];
    std::vector<std::string> cells;
    cells.push_back(first ? to_marks(row.pattern) : "");
    if (entry.wheels) {
        cells.push_back(fmt::format("{:g}", entry.wheels->left_pct));
        cells.push_back(fmt::format("{:g}", entry.wheels->right_pct));
    } else {
        cells.emplace_back(entry.keeps_motion ? "as" : "~");
        cells.emplace_back(entry.keeps_motion ? "before" : "~");
    }
    cells.push_back(fmt::format("{}{}", rule.line, rule.is_twin ? "m" : ""));
    cells.push_back(fmt::format("{} -> {}", rule.condition, rule.acts));
    cells.push_back(entry.when.empty() ? "" : fmt::format("only when {}", entry.when));
    return cells;
}

void print_table(const Streams& streams, const Plan& plan, const HabitTable& table) {
    const Paint paint(streams.colour);
    std::vector<std::vector<std::string>> rows;
    rows.push_back({"sees", "left %", "right %", "line", "rule", ""});
    int unanswered = 0;
    for (const TableRow& row : table.rows) {
        bool first = true;
        for (const TableEntry& entry : row.entries) {
            rows.push_back(entry_cells(plan, row, entry, first));
            first = false;
        }
        if (row.may_be_unanswered) {
            ++unanswered;
            rows.push_back(
                {first ? to_marks(row.pattern) : "", "as", "before", "-", "UNANSWERED", first ? "" : "otherwise"});
        }
    }
    streams.out << paint.strong(fmt::format("habit {}: {} patterns", table.habit, table.rows.size())) << "\n";
    print_columns(streams.out, rows, {1, 2, 3});
    const std::string verdict =
        unanswered == 0 ? paint.good("every pattern is answered")
                        : paint.bad(fmt::format("{} of {} patterns may be unanswered", unanswered, table.rows.size()));
    streams.out << "  " << verdict << "\n";
}

int show_table(const Streams& streams, const TableCall& options) {
    std::vector<Problem> warnings;
    const Plan plan = load_plan(options.plan, &warnings);
    print_warnings(streams, warnings);
    if (options.json) {
        streams.out << table_json(plan);
        return passed;
    }
    streams.out << fmt::format("plan \"{}\" for {} sensor{}; # line, . floor, from the left\n", plan.name(),
                               plan.sensors(), plan.sensors() == 1 ? "" : "s");
    for (const HabitTable& table : pattern_tables(plan)) {
        streams.out << "\n";
        print_table(streams, plan, table);
    }
    streams.out << fmt::format("\non the robot: {} bytes of memory, {} bytes of tables\n", plan.memory_bytes(),
                               plan.table_bytes());
    return passed;
}

} // namespace

void add_table(CLI::App& app, Streams& streams, int& status) {
    CLI::App* command =
        app.add_subcommand("table", "Every pattern, in every habit: what the wheels do and which rule decides");
    auto options = std::make_shared<TableCall>();
    command->add_option("PLAN", options->plan, "plan file (*.plan)")->required();
    command->add_flag("--json", options->json, "print JSON");
    command->footer("Example:\n  vturn table data/fern-house/left-first.plan\n\n"
                    "A row with `only when` needs more than the pattern; the row below it acts otherwise.\n"
                    "~ depends on a measured value; `m` behind a line marks the twin that `mirrored` adds.");
    command->callback([options, &streams, &status] { status = show_table(streams, *options); });
}

} // namespace vturn
