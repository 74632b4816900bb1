#include <iterator>

#include <fmt/format.h>

#include "files/csv_text.hpp"
#include "vast_turn/files/results.hpp"

namespace vast_turn {

std::string trace_csv(const Run& run, const Robot& robot, const Plan* plan) {
    fmt::memory_buffer out;
    const auto to = std::back_inserter(out);
    fmt::format_to(to, "time_s,x_mm,y_mm,heading_deg,way_mm");
    for (std::size_t i = 1; i <= robot.sensors.size(); ++i) {
        fmt::format_to(to, ",raw_{}", i);
    }
    for (std::size_t i = 1; i <= robot.sensors.size(); ++i) {
        fmt::format_to(to, ",reading_{}", i);
    }
    fmt::format_to(to, ",pattern,block,rule_line,rule,left_pct,right_pct\n");
    for (const LookRecord& look : run.looks) {
        fmt::format_to(to, "{:.4f},{:.3f},{:.3f},{:.3f},{:.3f}", look.t_s, look.at.x, look.at.y, look.heading_deg,
                       look.way_mm);
        for (std::size_t i = 0; i < robot.sensors.size(); ++i) {
            fmt::format_to(to, ",{}", look.raw[i]);
        }
        for (const double reading : readings_of(run, look)) {
            fmt::format_to(to, ",{:.4f}", reading);
        }
        fmt::format_to(to, ",{}", to_marks({look.line_bits, static_cast<int>(robot.sensors.size())}));
        if (plan != nullptr && look.rule != no_rule) {
            const RuleInfo& rule = plan->rules()[look.rule];
            fmt::format_to(to, ",{},{},{}", rule.block, rule.line, csv_quoted(rule.condition));
        } else {
            fmt::format_to(to, ",{},,", plan != nullptr ? plan->blocks()[look.block] : std::string{});
        }
        fmt::format_to(to, ",{:.2f},{:.2f}\n", look.left_pct, look.right_pct);
    }
    return fmt::to_string(out);
}

} // namespace vast_turn
