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
    for (const std::string& misread : parting.misread) {
        lines.push_back(misread.starts_with("and ") ? misread : "amiss at " + misread);
    }
    for (const AskedIf& asked : parting.asked) {
        const RuleInfo& info = plan.rule(asked.item);
        lines.push_back(fmt::format("at {:.2f} s line {}: {}: {}", asked.t_s, info.line, info.acts,
                                    asked.holds ? "yes" : "no, " + asked.because));
    }
    if (!parting.otherwise.empty()) {
        lines.push_back(fmt::format("from there it goes as expected with {}", parting.otherwise));
    }
    for (const RuleId rule : parting.held_too) {
        lines.push_back(fmt::format("held too, but stands below: {}", describe_rule(plan, rule)));
    }
    return lines;
}

namespace {

/// Looks on end with the same pattern and rule.
struct Row {
    std::size_t first = 0;
    std::size_t last = 0;
};

Row row_at(const Run& run, std::size_t look) {
    const auto same = [&](std::size_t other) {
        return run.looks[other].line_bits == run.looks[look].line_bits && run.looks[other].rule == run.looks[look].rule;
    };
    Row row{look, look};
    while (row.first > 0 && same(row.first - 1)) {
        --row.first;
    }
    while (row.last + 1 < run.looks.size() && same(row.last + 1)) {
        ++row.last;
    }
    return row;
}

std::string words_of(const Pilot& pilot, const Run& run, Row row) {
    const LookRecord& look = run.looks[row.first];
    const auto sensors = static_cast<int>(run.calibration.sensors.size());
    const std::string by = pilot.plan() == nullptr ? std::string{}
                           : look.rule == no_rule  ? std::string("  no rule")
                                                   : fmt::format("  line {}", pilot.plan()->rule(look.rule).line);
    return fmt::format("{:.2f} s  [{}] {} look{}{}", look.t_s, to_marks({look.line_bits, sensors}),
                       row.last - row.first + 1, row.last == row.first ? "" : "s", by);
}

} // namespace

std::vector<std::string> looks_before(const Pilot& pilot, const Run& run, const Parting& parting) {
    constexpr std::size_t most = 5;
    std::vector<std::string> lines;
    if (run.looks.empty()) {
        return lines;
    }
    Row row = row_at(run, parting.look);
    row.last = parting.look;
    while (lines.size() < most) {
        lines.push_back(words_of(pilot, run, row));
        if (row.first == 0) {
            break;
        }
        row = row_at(run, row.first - 1);
    }
    std::reverse(lines.begin(), lines.end());
    return lines;
}

std::vector<std::string> looks_after(const Pilot& pilot, const Run& run, const Parting& parting) {
    constexpr std::size_t most = 3;
    std::vector<std::string> lines;
    std::size_t next = parting.look + 1;
    while (lines.size() < most && next < run.looks.size()) {
        Row row = row_at(run, next);
        row.first = next;
        lines.push_back(words_of(pilot, run, row));
        next = row.last + 1;
    }
    return lines;
}

} // namespace vast_turn
