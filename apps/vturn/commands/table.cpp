#include <algorithm>
#include <memory>
#include <optional>

#include <fmt/format.h>

#include "call_files.hpp"
#include "commands/commands.hpp"
#include "print/print.hpp"
#include "print/print_table.hpp"
#include "vast_turn/formats/read/plan_file.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/formats/write/table_json.hpp"
#include "vast_turn/formats/write/text_file.hpp"
#include "vast_turn/robot/array.hpp"
#include "vast_turn/view/picture.hpp"

namespace vturn {

using namespace vast_turn;

namespace {

struct TableCall {
    std::string plan;
    std::string robot;
    std::string habit;
    std::string picture;
    bool each_pattern = false;
    bool json = false;
    bool markdown = false;
};

std::vector<HabitTable> tables_of(const Plan& plan, const Robot* robot, const std::string& habit) {
    std::vector<HabitTable> tables =
        pattern_tables(plan, robot != nullptr ? position_weights(*robot) : std::vector<double>{});
    if (habit.empty()) {
        return tables;
    }
    const auto at = std::find_if(tables.begin(), tables.end(), [&](const HabitTable& t) { return t.habit == habit; });
    if (at == tables.end()) {
        std::vector<std::string> known;
        for (const HabitTable& table : tables) {
            known.push_back(table.habit);
        }
        throw InputError(plan.file(), fmt::format("the plan has no habit `{}`{}", habit, did_you_mean(habit, known)),
                         known.empty() ? "it has errands only, which answer no patterns"
                                       : fmt::format("its habits are {}", one_of(known)));
    }
    return {*at};
}

int show_table(const Streams& streams, const TableCall& call) {
    std::vector<Problem> warnings;
    const Plan plan = load_plan(call.plan, &warnings);
    print_warnings(streams, warnings);
    const auto format = call.picture.empty() ? PictureFormat::png : format_for(call.picture);
    std::optional<Robot> robot;
    if (!call.robot.empty()) {
        robot = load_robot(call.robot);
        check_sensor_count(*robot, plan);
    }
    const TableLook look{robot ? &*robot : nullptr, call.each_pattern};
    const std::vector<HabitTable> tables = tables_of(plan, look.robot, call.habit);
    if (!call.picture.empty()) {
        if (tables.empty()) {
            throw InputError(plan.file(), "the plan has no habit, so there is no table to draw",
                             "draw its blocks: vturn draw");
        }
        write_output(streams, call.picture, draw_table(plan, tables.front(), look.robot, format));
    }
    if (call.json) {
        streams.out << table_json(plan, tables, look.robot);
        return passed;
    }
    if (call.markdown) {
        streams.out << table_markdown(plan, tables, look);
        return passed;
    }
    streams.out << fmt::format("plan \"{}\" for {} sensor{}; # line, . floor, from the left\n", plan.name(),
                               plan.sensors(), plan.sensors() == 1 ? "" : "s");
    for (const HabitTable& table : tables) {
        streams.out << "\n";
        print_table(streams, plan, table, look);
    }
    streams.out << fmt::format("\non the robot: {} bytes of memory, {} bytes of tables\n", plan.memory_bytes(),
                               plan.table_bytes());
    return passed;
}

} // namespace

void add_table(Parser& parser, Streams& streams) {
    Command command =
        parser.command("table", "Every pattern, in every habit: what the wheels do and which rule decides");
    auto options = std::make_shared<TableCall>();
    command.plan(options->plan);
    command.may_read(FolderKind::robot, "--robot", options->robot,
                     "robot file: tells what the robot does with those powers");
    command.option("--habit", options->habit, "this habit only");
    command.writes("-o,--output", options->picture,
                   "draw the first habit's table, or that of --habit, into this file (.png, .svg or .pdf)");
    command.flag("--each", options->each_pattern, "a row for every pattern, not one for all that act alike");
    command.alone();
    const Option json = command.prints_data("--json", options->json, "print JSON");
    command.prints_data("--markdown", options->markdown, "print Markdown").excludes(json);
    command.footer(
        "Example:\n  vturn table data/fern-house/five-wide.plan --robot data/fern-house/sprig-5.robot.toml -o "
        "table.png\n\n"
        "A row with `only when` needs more than the pattern; the row below it acts otherwise.\n"
        "Rows of `whatever it sees` come before all others; `as begun` is what the block does that the rule hands over "
        "to.\n"
        "~ depends on a measured value: the number is for readings of exactly 0 and 1, when those decide.\n"
        "`m` behind a line marks the twin that `mirrored` adds.");
    command.does([options, &streams] { return show_table(streams, *options); });
}

} // namespace vturn
