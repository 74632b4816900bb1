/// The plan with which somebody begins.
#include "begin/first_files.hpp"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "vast_turn/plan/format.hpp"

namespace vturn {

namespace {

/// What sees line at one edge only follows that edge.
std::string edge_plan(int sensors) {
    return fmt::format("// {} the left edge of the line: the more line it sees, the more it turns left.\n"
                       "// At a fork that is the way to the left.\n"
                       "plan \"follow\"\n"
                       "sensors {}\n"
                       "\n"
                       "let cruise = 27                             // percent of full power\n"
                       "let gain = 37\n"
                       "\n"
                       "habit follow {{                              // the first rule that holds acts\n"
                       "    sensor(1) > 0.93 lasting 660ms -> note(\"at the end\"), halt\n"
                       "    else                           -> bend(gain * (sensor(1) - 0.5), cruise)\n"
                       "}}\n",
                       sensors == 1 ? "One sensor follows" : "Both sensors lie over the line, so the left one follows",
                       sensors);
}

struct PlanRow {
    std::string condition;
    std::string acts;
    std::string why;
};

std::string rows_text(const std::vector<PlanRow>& rows) {
    std::size_t condition = 0;
    std::size_t acts = 0;
    for (const PlanRow& row : rows) {
        condition = std::max(condition, row.condition.size());
        acts = std::max(acts, row.why.empty() ? 0 : row.acts.size());
    }
    std::string text;
    for (const PlanRow& row : rows) {
        text += row.why.empty()
                    ? fmt::format("    {:<{}} -> {}\n", row.condition, condition, row.acts)
                    : fmt::format("    {:<{}} -> {:<{}}  // {}\n", row.condition, condition, row.acts, acts, row.why);
    }
    return text;
}

/// For about how long all sensors see line where the practice course forks.
double fork_ms(const FirstRobot& robot) {
    constexpr double arms_radius_mm = 236.0;
    constexpr double ms_a_mm = 7.0;
    return ms_a_mm * std::sqrt(arms_radius_mm * robot.line_mm);
}

/// The powers of a row, clear of the dead band of the motors.
struct Steering {
    double turn_pct;
    bool is_slow;
};

constexpr double cruise_pct = 39.0;
constexpr double slow_pct = 30.0;

Steering steering(double turn_pct) {
    constexpr double moves_pct = 9.0;
    Steering way{turn_pct, std::abs(turn_pct) > 21.0};
    const double power = way.is_slow ? slow_pct : cruise_pct;
    const double size = std::abs(turn_pct);
    if (std::abs(power - size) < moves_pct) {
        way.turn_pct = std::copysign(size < power ? power - moves_pct : power + moves_pct, turn_pct);
    }
    return way;
}

/// How far to turn when this sensor, from 0, is the leftmost that sees line; of the first, whether the next does not.
Steering steering_at(const FirstRobot& robot, std::size_t k, bool is_alone) {
    constexpr double most_pct = 46.0;
    const double least_outside_pct = robot.sensors == 2 ? 39.0 : 23.0; // what holds the course's bends
    const double half_span = robot.span_mm() / 2;
    // The line's left edge lies about half a spacing to the left of the leftmost sensor that sees it, and belongs half
    // a line to the left of the middle.
    const double edge_mm = half_span - static_cast<double>(k) * robot.spacing_mm + robot.spacing_mm / 2;
    const double wanted_mm = std::max(robot.line_mm, robot.spacing_mm) / 2;
    const double pct_a_mm = std::min(1.5, most_pct / half_span);
    double turn = std::clamp(std::round(pct_a_mm * (edge_mm - wanted_mm)), -most_pct, most_pct);
    if (k == 0 && is_alone) {
        turn = std::max(turn, least_outside_pct);
    } else if (k + 1 == static_cast<std::size_t>(robot.sensors)) {
        turn = std::min(turn, -least_outside_pct);
    }
    return steering(turn);
}

std::vector<PlanRow> rows_of(const FirstRobot& robot) {
    const auto sensors = static_cast<std::size_t>(robot.sensors);
    const bool straddles = robot.sensors == 2 && !robot.follows_an_edge();
    const std::string all = "[" + std::string(sensors, '#') + "]";
    const std::string none = "[" + std::string(sensors, '.') + "]";
    std::vector<PlanRow> rows = {{fmt::format("{} lasting {:g}ms", all, straddles ? 260.0 : std::round(fork_ms(robot))),
                                  "note(\"at the end\"), halt", "the pad, longer than a fork lasts"}};
    if (sensors >= 3) {
        rows.push_back(
            {sensors == 3 ? all : fmt::format("seen >= {}", sensors - 1), "ahead(slow)", "a fork begins, or the pad"});
    }
    const auto add = [&](const std::string& pattern, const Steering& way, const char* why) {
        const char* power = way.is_slow ? "slow" : "cruise";
        rows.push_back(
            {pattern,
             way.turn_pct == 0.0 ? fmt::format("ahead({})", power) : fmt::format("bend({:g}, {})", way.turn_pct, power),
             why});
    };
    for (std::size_t k = 0; k < sensors; ++k) {
        const std::string pattern = "[" + std::string(k, '.') + "#" + std::string(sensors - k - 1, '?') + "]";
        const Steering over_two = steering_at(robot, 0, false);
        if (k == 0 && sensors >= 3 && over_two.turn_pct < steering_at(robot, 0, true).turn_pct) { // not as far aside
            add("[##" + std::string(sensors - 2, '?') + "]", over_two, "");
        }
        add(pattern, steering_at(robot, k, true), k == 0 ? "far to the left, or a way leads there" : "");
    }
    if (straddles) {
        rows.push_back({none, "ahead(cruise)", "the line is between them"});
    } else {
        rows.push_back({none + " lasting 210ms", "rotate(last_side, 29)", "lost: turn to where it was seen last"});
        rows.push_back({none, "keep", robot.spacing_mm >= robot.line_mm ? "between two sensors" : "a little gap"});
    }
    return rows;
}

/// The leftmost sensor that sees line says how far to turn, so that at a fork it takes the way to the left.
std::string table_plan(const FirstRobot& robot) {
    const bool misses_the_line = robot.sensors > 2 && robot.spacing_mm > robot.line_mm;
    const std::string text = rows_text(rows_of(robot));
    const auto constant = [&](const char* name, double pct, const char* why) {
        return text.find(fmt::format("{})", name)) == std::string::npos
                   ? std::string{}
                   : fmt::format("let {:<40}{}\n", fmt::format("{} = {:g}", name, pct), why);
    };
    return fmt::format(
        "// The leftmost sensor that sees line says how far to turn. `?` is either. At a fork that is the "
        "way to the left.\n"
        "{}"
        "plan \"follow\"\n"
        "sensors {}\n"
        "\n"
        "{}{}"
        "\n"
        "habit follow {{                              // the first rule that holds acts\n"
        "{}"
        "}}\n",
        misses_the_line ? "// vet: allow line-misfit because the last motion is kept between two sensors\n" : "",
        robot.sensors, constant("cruise", cruise_pct, "// percent of full power"),
        constant("slow", slow_pct, "// where it turns"), text);
}

} // namespace

std::string first_plan(const FirstRobot& robot) {
    const std::string text = robot.follows_an_edge() ? edge_plan(robot.sensors) : table_plan(robot);
    return vast_turn::format_plan(text, "follow.plan").text;
}

} // namespace vturn
