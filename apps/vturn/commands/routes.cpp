#include <algorithm>
#include <memory>

#include <fmt/format.h>

#include "call_files.hpp"
#include "commands/commands.hpp"
#include "commands/run_options.hpp"
#include "print/print.hpp"
#include "vast_turn/formats/read/plan_file.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/formats/write/choices_json.hpp"
#include "vast_turn/formats/write/text_file.hpp"
#include "vast_turn/trial/rounds.hpp"
#include "vast_turn/view/choices_picture.hpp"

namespace vturn {

using namespace vast_turn;

namespace {

struct RoutesCall {
    std::string course;
    std::string variant = as_drawn;
    std::string robot;
    std::vector<std::string> plans;
    std::string picture;
    bool json = false;
    ChoiceOptions choices;
    DriveOptions drive;
};

/// "a -> b -> halts".
std::string told(const RouteGraph& graph, const Reach& reach) {
    std::string text = reach.start;
    for (const NodeId node : reach.nodes) {
        text += " -> " + graph.node(node).name;
    }
    if (reach.towards) {
        const std::string end = reach.end == ArmEnd::halted ? "halts" : "is lost";
        return reach.in_place.empty() ? fmt::format("{}, and {} {:.0f} mm before {}", text, end, reach.to_go_mm,
                                                    graph.node(reach.towards).name)
                                      : fmt::format("{}, and {} at {} on the way to {}", text, end, reach.in_place,
                                                    graph.node(reach.towards).name);
    }
    if (reach.nodes.empty()) {
        return text + ": on no line that leads to a junction";
    }
    if (reach.circles) {
        return text + fmt::format(", and round from {} for ever", graph.node(reach.nodes[reach.loop_from]).name);
    }
    switch (reach.end) {
    case ArmEnd::halted: return text + ", where it halts";
    case ArmEnd::lost: return text + ", where it is lost";
    default: return text + ", where it stays";
    }
}

bool differ(const std::vector<PlanChoices>& all, std::size_t arm) {
    return std::any_of(all.begin(), all.end(), [&](const PlanChoices& one) {
        return one.arms[arm].usual != all.front().arms[arm].usual ||
               one.arms[arm].usual_exit != all.front().arms[arm].usual_exit ||
               one.arms[arm].by_turns != all.front().arms[arm].by_turns;
    });
}

/// Rows of plans without memory that are told by rounds, and why.
void print_by_rounds(const Streams& streams, const RouteGraph& graph, const std::vector<PlanChoices>& all,
                     const std::vector<std::string>& names) {
    for (std::size_t p = 0; p < all.size(); ++p) {
        for (const Arm& arm : all[p].arms) {
            if (arm.in_rounds && !all[p].in_rounds) {
                streams.out << fmt::format(
                    "{}{}, from the {}: told by what rounds did there, most robots that were set there did otherwise\n",
                    all.size() > 1 ? names[p] + ", " : "", graph.node(arm.node).name,
                    arm_name(graph, arm.node, arm.from));
            }
        }
    }
}

/// Why robots stay where they do.
void print_stays(const Streams& streams, const RouteGraph& graph, const std::vector<PlanChoices>& all,
                 const std::vector<std::string>& names) {
    for (std::size_t p = 0; p < all.size(); ++p) {
        for (const Arm& arm : all[p].arms) {
            if (arm.usual == ArmEnd::stayed) {
                streams.out << fmt::format("{}{}, from the {}: stays, {}\n", all.size() > 1 ? names[p] + ", " : "",
                                           graph.node(arm.node).name, arm_name(graph, arm.node, arm.from),
                                           arm.stayed_because);
            }
        }
    }
}

void print_choices(const Streams& streams, const Course& course, const RouteGraph& graph,
                   const std::vector<PlanChoices>& all) {
    const Paint paint(streams.colour);
    streams.out << paint.strong(fmt::format("{}: what each plan does at each junction", course.name)) << "\n";
    std::vector<std::vector<std::string>> rows{{"at", "coming from"}};
    std::vector<std::pair<std::string, std::string>> plans;
    for (const PlanChoices& one : all) {
        plans.emplace_back(one.plan.name(), one.plan.file());
    }
    const std::vector<std::string> names = names_apart(plans);
    rows[0].insert(rows[0].end(), names.begin(), names.end());
    for (std::size_t i = 0; i < all.front().arms.size(); ++i) {
        const Arm& arm = all.front().arms[i];
        const Node& node = graph.node(arm.node);
        rows.push_back({node.name, arm_name(graph, arm.node, arm.from)});
        for (const PlanChoices& one : all) {
            rows.back().push_back(describe(graph, one.arms[i]));
        }
        if (differ(all, i)) {
            rows.back().push_back("<- they differ");
        }
    }
    print_columns(streams.out, rows);
    print_stays(streams, graph, all, names);
    print_by_rounds(streams, graph, all, names);
    for (const PlanChoices& one : all) {
        const std::string& name = names[static_cast<std::size_t>(&one - all.data())];
        if (one.in_rounds) {
            streams.out << fmt::format(
                "\n{} remembers what was before, so it was driven in rounds from every start too; "
                "where they came to is told by them\n",
                name);
        }
        streams.out << "\n" << name << " goes\n";
        for (const Reach& reach : one.reach) {
            streams.out << fmt::format("  {}{}\n", told(graph, reach),
                                       reach.share < 0.995 ? fmt::format(" ({:.0f} % sure)", 100.0 * reach.share) : "");
        }
    }
}

int show_routes(const Streams& streams, const RoutesCall& call) {
    const Course course = read_course(streams, call.course, call.variant);
    const Robot robot = call.drive.load(call.robot);
    const auto format = call.picture.empty() ? PictureFormat::png : format_for(call.picture);
    std::vector<Problem> warnings;
    std::vector<PlanChoices> all;
    for (const std::string& path : call.plans) {
        all.push_back({call.drive.set.plan(path, warnings), {}, {}, false});
        check_sensor_count(robot, all.back().plan);
    }
    call.drive.set.check();
    print_warnings(streams, warnings);
    const Scene scene(course, robot);
    const RouteGraph& graph = scene.graph();
    ChoiceOptions options = call.choices;
    options.run = call.drive.filled_for(robot);
    if (options.days || options.run.day > 0) {
        warn_of_days_alike(streams, robot);
    }
    for (PlanChoices& one : all) {
        PlanRoutes routes = find_routes(scene, one.plan, options);
        one.arms = std::move(routes.arms);
        one.reach = std::move(routes.reach);
        one.in_rounds = routes.in_rounds;
    }
    if (all.front().arms.empty()) {
        throw InputError(call.course, "the course has no junction and no end of a line", "draw some tape");
    }
    if (!call.picture.empty()) {
        write_output(streams, call.picture,
                     draw_choices(course, graph, all.front().plan.name(), all.front().arms, format));
    }
    if (call.json) {
        streams.out << choices_json(graph, all);
    } else {
        print_choices(streams, course, graph, all);
    }
    return passed;
}

} // namespace

void add_routes(Parser& parser, Streams& streams) {
    Command command = parser.command(
        "routes", "Which way each plan goes at every junction from every side, how sure, and where that leads");
    auto options = std::make_shared<RoutesCall>();
    command.course(options->course);
    command.robot(options->robot);
    command.plans(options->plans, "plan files, compared side by side");
    command.writes("-o,--output", options->picture,
                   "draw the first plan's choices into this file (.png, .svg or .pdf)");
    command.option("--repeat", options->choices.repeats, "robots set before each junction on each side")
        .shows_default()
        .within(1, 1000);
    command.flag("--days", options->choices.days, "each robot drives a day of its own, from --day on");
    command.option("--jobs", options->choices.threads, "threads; 0 for as many as there are. The result is the same")
        .shows_default()
        .within(0, 256);
    command.prints_data("--json", options->json, "print JSON");
    add_drive_options(command, options->drive);
    add_variant_option(command, options->variant);
    add_drawings_option(command, streams);
    command.footer("Example:\n  vturn routes data/fern-house/fern-house.course.toml data/fern-house/sprig-2.robot.toml "
                   "data/fern-house/left-first.plan data/fern-house/right-first.plan\n\n"
                   "Each robot is set a little beside the line and askew, and its plan begins anew.");
    command.does([options, &streams] { return show_routes(streams, *options); });
}

} // namespace vturn
