#include <memory>

#include <fmt/format.h>

#include "call_files.hpp"
#include "commands/commands.hpp"
#include "print/print.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/formats/write/robot_json.hpp"
#include "vast_turn/formats/write/text_file.hpp"
#include "vast_turn/view/robot_picture.hpp"

namespace vturn {

using namespace vast_turn;

namespace {

struct RobotCall {
    std::string robot;
    std::string picture;
    bool json = false;
};

void print_powers(const Streams& streams, const Robot& robot, const RobotFacts& facts) {
    std::vector<std::vector<std::string>> rows{
        {"power, %", "speed, mm/s", "way a look, mm", "way to stop, mm", "tightest bend, mm"}};
    if (robot.drive) {
        rows.front().emplace_back("slides in a bend of, mm");
    }
    for (const PowerFacts& one : facts.powers) {
        rows.push_back({fmt::format("{:g}", one.power_pct), fmt::format("{:.0f}", one.speed_mm_s),
                        fmt::format("{:.1f}", one.between_looks_mm), fmt::format("{:.1f}", one.to_stop_mm),
                        radius_text(one.tightest_bend_mm)});
        if (robot.drive) {
            rows.back().push_back(fmt::format("{:.0f}", one.slides_in_mm));
        }
    }
    print_columns(streams.out, rows);
}

void print_circles(const Streams& streams, const RobotFacts& facts) {
    std::vector<std::vector<std::string>> rows{{"outside, %"}};
    for (const CircleFacts& one : facts.circles) {
        const std::string outside = fmt::format("{:g}", one.outside_pct);
        if (rows.size() == 1 || rows.back().front() != outside) {
            rows.push_back({outside});
        }
        if (rows.size() == 2) {
            rows.front().push_back(fmt::format("inside {:g} %", one.inside_pct));
        }
        rows.back().push_back(radius_text(one.radius_mm));
    }
    streams.out << "\nRadius of the turn, mm, by the power of the wheels\n";
    print_columns(streams.out, rows);
}

int tell_robot(const Streams& streams, const RobotCall& call) {
    const auto format = call.picture.empty() ? PictureFormat::png : format_for(call.picture);
    const Robot robot = load_robot(call.robot);
    const RobotFacts facts = facts_of(robot);
    if (!call.picture.empty()) {
        write_output(streams, call.picture, draw_robot(robot, facts, format));
    }
    if (call.json) {
        streams.out << robot_json(robot, facts);
        return facts.unlikely.empty() ? passed : answer_no;
    }
    const Paint paint(streams.colour);
    streams.out << paint.strong(fmt::format("{}: {} line sensor{} over {:.3g} mm, {:.3g} mm ahead of the axle",
                                            robot.name, robot.sensors.size(), robot.sensors.size() == 1 ? "" : "s",
                                            facts.array_width_mm, facts.array_ahead_mm))
                << "\n";
    print_powers(streams, robot, facts);
    print_circles(streams, facts);
    streams.out << fmt::format(
        "\nA quarter turn: {:.1f} deg of each wheel on the spot, {:.1f} deg of one about the other\n",
        facts.quarter_on_spot_deg, facts.quarter_on_wheel_deg);
    for (const std::string& odd : facts.unlikely) {
        streams.out << paint.bad("unlikely") << "  " << odd << "\n";
    }
    return facts.unlikely.empty() ? passed : answer_no;
}

} // namespace

void add_robot(Parser& parser, Streams& streams) {
    Command command = parser.command(
        "robot", "A robot by itself: to scale, its ways and turns at each power, values that no robot has");
    auto options = std::make_shared<RobotCall>();
    command.robot(options->robot);
    command.writes("-o,--output", options->picture, "draw it into this file (.png, .svg or .pdf)");
    command.prints_data("--json", options->json, "print JSON");
    command.footer(
        "Example:\n  vturn robot data/fern-house/sprig-5.robot.toml -o robot.png\n\n"
        "Settled motion of tyres that hold; the way to stop is from the look that says so. The tightest\n"
        "bend has the outside wheel at full power: a robot as fast in the mean turns on no smaller circle.\n\n"
        "Exit status: 0, 1 when a value is unlikely, 2 for unusable input.");
    command.does([options, &streams] { return tell_robot(streams, *options); });
}

} // namespace vturn
