#include <iterator>

#include <fmt/format.h>

#include "formats/write/csv_text.hpp"
#include "vast_turn/formats/write/trace_csv.hpp"
#include "vast_turn/sense/pattern.hpp"

namespace vast_turn {

namespace {

std::string marker_words(const Plan* plan, std::uint16_t markers) {
    std::string words;
    for (std::size_t k = 0; plan != nullptr && k < plan->markers().size(); ++k) {
        if (((markers >> k) & 1U) != 0) {
            words += (words.empty() ? "" : "|") + plan->markers()[k];
        }
    }
    return words;
}

using Text = std::back_insert_iterator<fmt::memory_buffer>;

void head(Text to, const Robot& robot) {
    fmt::format_to(to, "time_s,x_mm,y_mm,heading_deg,way_mm,left_deg,right_deg");
    fmt::format_to(to, "{}{}", robot.range_sensor ? ",range_mm" : "", robot.colour_sensors.empty() ? "" : ",markers");
    for (std::size_t i = 1; i <= robot.sensors.size(); ++i) {
        fmt::format_to(to, ",raw_{}", i);
    }
    for (std::size_t i = 1; i <= robot.sensors.size(); ++i) {
        fmt::format_to(to, ",reading_{}", i);
    }
    fmt::format_to(to, ",pattern,block,rule_line,rule,left_pct,right_pct\n");
}

/// Where the robot is and what its wheels have turned; heading counts from the first look there.
void place(Text to, const Robot& robot, const LookRecord& look, double first_heading_deg) {
    const double half_turn_mm = 0.5 * robot.track_mm * to_radians(look.heading_deg - first_heading_deg);
    const double degrees_per_mm = 360.0 / (pi * robot.wheel_mm);
    fmt::format_to(to, "{:.4f},{:.3f},{:.3f},{:.3f},{:.3f},{:.2f},{:.2f}", look.t_s, look.at.x, look.at.y,
                   look.heading_deg, look.way_mm, degrees_per_mm * (look.way_mm - half_turn_mm),
                   degrees_per_mm * (look.way_mm + half_turn_mm));
}

} // namespace

std::string trace_csv(const Run& run, const Robot& robot, const Plan* plan) {
    fmt::memory_buffer out;
    const Text to = std::back_inserter(out);
    head(to, robot);
    for (const LookRecord& look : run.looks) {
        place(to, robot, look, run.looks.front().heading_deg);
        if (robot.range_sensor) {
            fmt::format_to(to, ",{:.4f}", look.range_mm);
        }
        if (!robot.colour_sensors.empty()) {
            fmt::format_to(to, ",{}", marker_words(plan, look.markers));
        }
        for (std::size_t i = 0; i < robot.sensors.size(); ++i) {
            fmt::format_to(to, ",{}", look.raw[i]);
        }
        for (const double reading : readings_of(run, look)) {
            fmt::format_to(to, ",{:.4f}", reading);
        }
        fmt::format_to(to, ",{}", to_marks({look.line_bits, static_cast<int>(robot.sensors.size())}));
        if (plan != nullptr && look.rule != no_rule) {
            const RuleInfo& rule = plan->rule(look.rule);
            fmt::format_to(to, ",{},{},{}", rule.block, rule.line, csv_quoted(rule.condition));
        } else {
            fmt::format_to(to, ",{},,", plan != nullptr ? plan->blocks()[look.block] : std::string{});
        }
        fmt::format_to(to, ",{:.2f},{:.2f}\n", look.left_pct, look.right_pct);
    }
    return fmt::to_string(out);
}

} // namespace vast_turn
