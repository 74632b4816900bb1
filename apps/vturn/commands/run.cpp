#include <memory>

#include <fmt/format.h>

#include "call_files.hpp"
#include "commands/commands.hpp"
#include "commands/driven_runs.hpp"
#include "commands/run_options.hpp"
#include "print/print.hpp"
#include "print/print_numbers.hpp"
#include "vast_turn/formats/read/plan_file.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/formats/write/text_file.hpp"
#include "vast_turn/formats/write/trace_csv.hpp"
#include "vast_turn/formats/write/trips_json.hpp"
#include "vast_turn/step/quantity.hpp"
#include "vast_turn/view/plot_picture.hpp"

namespace vturn {

using namespace vast_turn;

namespace {

struct RunCall {
    std::string course;
    std::string variant = as_drawn;
    std::string robot;
    std::string plan;
    std::string picture;
    std::string trace;
    std::vector<std::string> hears;
    std::string on;
    bool json = false;
    std::vector<std::string> plot; ///< quantities, as given
    std::string against = "time";
    std::vector<std::string> beside; ///< other plans
    int runs = 1;
    DriveOptions drive;
};

PlotPage plot_of(const Scene& scene, const std::vector<DrivenRun>& runs, const RunCall& call,
                 runtime::NumberKind numbers) {
    const bool by_way = call.against == "way";
    PlotPage page{
        fmt::format("{}: {}, {}", scene.course().name, scene.robot().name,
                    runs.size() == 1 ? fmt::format("\"{}\"", runs.front().name) : fmt::format("{} runs", runs.size())),
        "",
        by_way ? "way of the point between the wheels, mm" : "time, s",
        {}};
    for (const DrivenRun& one : runs) {
        page.about += fmt::format("{}{}: {} at {:.2f} s", page.about.empty() ? "" : "; ", one.name,
                                  name_of(one.run.ending), one.run.time_s);
    }
    for (const std::string& quantity : split_quantities(call.plot)) {
        PlotPanel panel;
        for (const DrivenRun& one : runs) {
            const Quantities values = quantities_of(*one.plan, one.run, quantity, numbers);
            panel.name = values.name;
            panel.unit = values.unit;
            panel.is_condition = values.is_condition;
            PlotCurve curve{one.name, {}, values.values};
            double farthest = 0.0; // a robot that backs up is drawn where it has been
            for (const LookRecord& look : one.run.looks) {
                farthest = std::max(farthest, static_cast<double>(look.way_mm));
                curve.x.push_back(by_way ? farthest : look.t_s);
            }
            panel.curves.push_back(std::move(curve));
        }
        page.panels.push_back(std::move(panel));
    }
    return page;
}

void check_plot(const RunCall& call) {
    if (call.plot.empty() && (!call.beside.empty() || call.runs > 1)) {
        throw InputError("", "--beside and --runs are of a plot", "say what to plot: --plot offset,left,right");
    }
    if (!call.plot.empty() && call.picture.empty()) {
        throw InputError("", "a plot wants a file", "write -o plot.png");
    }
    if (!call.plot.empty() && !call.on.empty()) {
        throw InputError("", "a plot asks the plan, and --on has another program decide", "leave one of them out");
    }
    if (call.against != "time" && call.against != "way") {
        throw InputError(
            "", fmt::format("there is no axis `{}`{}", call.against, did_you_mean(call.against, {"time", "way"})),
            "write --against time, or --against way");
    }
    constexpr std::size_t most_quantities = 8;
    if (split_quantities(call.plot).size() > most_quantities) {
        throw InputError("", "more than 8 quantities are too low to read on one page", "plot some of them");
    }
}

int drive_once(const Streams& streams, const RunCall& options) {
    check_plot(options);
    std::vector<Problem> warnings;
    const Course course = read_course(streams, options.course, options.variant);
    const Robot robot = options.drive.load(options.robot);
    std::vector<Plan> plans = {options.drive.set.plan(options.plan, warnings)}; // the others are plotted beside it
    for (const std::string& path : options.beside) {
        plans.push_back(options.drive.set.plan(path, warnings));
    }
    options.drive.set.check();
    const Plan& plan = plans.front();
    print_warnings(streams, warnings);
    const auto format = options.picture.empty() ? PictureFormat::png : format_for(options.picture);
    const Scene scene(course, robot);
    RunOptions drive_options = options.drive.filled_for(robot);
    for (const std::string& heard : options.hears) {
        drive_options.hears.push_back(heard_of(heard));
    }
    const bool is_short = drive_options.numbers == runtime::NumberKind::binary32;
    drive_options.keep_told = !options.trace.empty() || is_short || !options.plot.empty();
    if (drive_options.day > 0) {
        warn_of_days_alike(streams, robot);
    }
    std::optional<OtherMind> other;
    if (!options.on.empty()) {
        other.emplace(OtherProgram{.words = words_of_call(options.on)}, plan, robot);
    }
    const Run run = other ? drive(scene, plan, Decide(*other), drive_options) : drive(scene, plan, drive_options);
    if (!options.plot.empty()) {
        write_output(streams, options.picture,
                     draw_plot(plot_of(scene, driven_runs(scene, plans, drive_options, options.runs, &run), options,
                                       drive_options.numbers),
                               format));
    } else if (!options.picture.empty()) {
        write_output(streams, options.picture, draw_run(scene, &plan, run, format));
    }
    if (!options.trace.empty()) {
        write_output(streams, options.trace, trace_csv(run, robot, &plan));
    }
    const std::optional<NumbersCheck> numbers =
        is_short && !other ? std::optional(check_numbers(plan, run.told)) : std::nullopt;
    if (options.json) {
        streams.out << run_json(scene, plan, run, numbers ? &*numbers : nullptr, other ? &other->pace() : nullptr);
    } else {
        print_run(streams, scene, plan, run);
        if (other) {
            streams.out << told_pace(options.on, other->pace(), robot.look_ms);
        } else if (numbers) {
            print_numbers(streams, plan, *numbers, run.told);
        }
        if (run.ending == Ending::halted) {
            say_next(streams, "trips", "does it go where it should?");
        } else {
            say_next(streams, "step", "stop anywhere and see why");
        }
    }
    return run.ending == Ending::halted ? passed : answer_no;
}

} // namespace

void add_run(Parser& parser, Streams& streams) {
    Command command =
        parser.command("run", "Drives a robot over a course once: route, end, way, events; picture and trace");
    auto options = std::make_shared<RunCall>();
    command.course(options->course);
    command.robot(options->robot);
    command.plan(options->plan);
    command.writes("-o,--output", options->picture, "draw the path into this file (.png, .svg or .pdf)");
    command
        .option("--plot", options->plot,
                "draw these against time in place of the path: left and right (powers), x, y, facing, and any value or "
                "condition of the plan's language: offset,sensor(2),travelled,[##],laps")
        .one_value_each();
    command.option("--against", options->against, "what a plot is drawn against: time or way").shows_default();
    command.reads("--beside", options->beside, "another plan's run over it in the plot; may be given again")
        .one_value_each();
    command.option("--runs", options->runs, "so many runs of each plan in the plot, each of a further seed or day")
        .shows_default()
        .within(1, 100);
    command.writes("--trace", options->trace, "write every look into this file (CSV)");
    add_one_run_options(command, options->drive);
    command.option("--hear", options->hears, "a name is heard: bell@4.2 (seconds); may be given again")
        .one_value_each();
    add_drive_options(command, options->drive);
    add_on_option(command, options->on);
    command.prints_data("--json", options->json, "print JSON");
    add_variant_option(command, options->variant);
    add_drawings_option(command, streams);
    command.footer(
        "Example:\n  vturn run data/fern-house/fern-house.course.toml data/fern-house/sprig-2.robot.toml \\\n"
        "      data/fern-house/left-first.plan -o run.png --trace run.csv\n\n"
        "Exit status: 0 when the plan halted, 1 when the run ended in another way, 2 for unusable input.");
    command.does([options, &streams] { return drive_once(streams, *options); });
}

} // namespace vturn
