#include <algorithm>

#include <fmt/format.h>

#include "vast_turn/plan/explain/describe.hpp"
#include "vast_turn/trial/parting.hpp"

namespace vast_turn {

std::vector<std::string> explain(const Pilot& pilot, const Parting& parting) {
    std::vector<std::string> lines;
    lines.push_back(
        fmt::format("after \"{}\" expected \"{}\", came to \"{}\"", parting.after, parting.expected, parting.instead));
    if (!parting.junction.empty()) {
        lines.push_back(fmt::format("at \"{}\", coming from the {}: took {}{}", parting.junction, parting.side,
                                    parting.taken_way,
                                    parting.expected_way.empty() ? "" : ", expected " + parting.expected_way));
    }
    lines.push_back(fmt::format("decided at {:.2f} s, {:.0f},{:.0f} mm, seeing [{}]", parting.t_s, parting.at.x,
                                parting.at.y, to_marks(parting.pattern)));
    if (pilot.plan() == nullptr) {
        return lines;
    }
    const Plan& plan = *pilot.plan();
    lines.push_back(parting.rule == no_rule ? std::string("by no rule: none held, so the last motion was kept")
                                            : fmt::format("by {}", describe_rule(plan, parting.rule)));
    for (const RuleId rule : parting.called_by) {
        lines.push_back(fmt::format("called by {}", describe_rule(plan, rule)));
    }
    if (!parting.otherwise.empty()) {
        lines.push_back(fmt::format("from there it goes as expected with {}", parting.otherwise));
    }
    for (const RuleId rule : parting.held_too) {
        lines.push_back(fmt::format("held too, but stands below: {}", describe_rule(plan, rule)));
    }
    return lines;
}

std::vector<std::string> looks_before(const Pilot& pilot, const Run& run, const Parting& parting) {
    constexpr std::size_t most = 5;
    std::vector<std::string> lines;
    if (run.looks.empty()) {
        return lines;
    }
    const auto sensors = static_cast<int>(run.calibration.sensors.size());
    std::size_t last = parting.look;
    while (lines.size() < most) {
        const LookRecord& look = run.looks[last];
        std::size_t first = last;
        while (first > 0 && run.looks[first - 1].line_bits == look.line_bits &&
               run.looks[first - 1].rule == look.rule) {
            --first;
        }
        const std::string by = pilot.plan() == nullptr ? std::string{}
                               : look.rule == no_rule  ? std::string("  no rule")
                                                       : fmt::format("  line {}", pilot.plan()->rule(look.rule).line);
        lines.push_back(fmt::format("{:.2f} s  [{}] {} look{}{}", run.looks[first].t_s,
                                    to_marks({look.line_bits, sensors}), last - first + 1, last == first ? "" : "s",
                                    by));
        if (first == 0) {
            break;
        }
        last = first - 1;
    }
    std::reverse(lines.begin(), lines.end());
    return lines;
}

} // namespace vast_turn
