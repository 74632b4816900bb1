#include <algorithm>
#include <cstddef>
#include <string>
#include <utility>
#include <vector>

#include "trial/plan_additions.hpp"
#include "trial/recorder.hpp"
#include "vast_turn/robot/array.hpp"

namespace vast_turn {

Acted acted_before(const Plan& plan, const Scene& scene, const TripResult& failed, const RunOptions& options) {
    Acted acted;
    if (!scene.robot().sensors.empty()) {
        acted.array_ahead_mm = array_middle(scene.robot()).x;
    }
    const std::vector<LookRecord>& looks = failed.run.looks;
    acted.should_halt =
        failed.trip.ends == Ending::halted && !failed.trip.then_any && failed.run.ending != Ending::halted;
    if (looks.empty()) {
        return acted;
    }
    const std::size_t last = failed.parting
                                 ? std::min(std::max(failed.parting->left_way, failed.parting->look), looks.size() - 1)
                                 : looks.size() - 1;
    constexpr double reach_mm = 420.0;
    constexpr std::size_t most_patterns = 12;
    const double since_mm = looks[last].way_mm - reach_mm;
    for (const auto& [look, rule] : follow_run(scene, plan, failed.trip, options).acted) {
        if (look <= last && looks[look].way_mm > since_mm && rule != no_rule) {
            acted.lines.insert(plan.rule(rule).line);
            acted.blocks.insert(plan.rule(rule).block);
        }
        if (rule != no_rule) {
            acted.ever.insert(plan.rule(rule).line);
        }
    }
    for (std::size_t i = last + 1; i-- > 0 && looks[i].way_mm > since_mm;) {
        const LookRecord& look = looks[i];
        if (look.block < plan.blocks().size()) {
            acted.blocks.insert(plan.blocks()[look.block]);
        }
        std::string marks = to_marks({look.line_bits, static_cast<int>(failed.run.calibration.sensors.size())});
        if (acted.patterns.size() < most_patterns &&
            std::find(acted.patterns.begin(), acted.patterns.end(), marks) == acted.patterns.end()) {
            acted.patterns.push_back(std::move(marks));
        }
    }
    if (failed.parting) {
        for (const Decision& decision : failed.parting->decisions) {
            if (decision.rule != no_rule) {
                acted.lines.insert(plan.rule(decision.rule).line);
            }
        }
    }
    return acted;
}

} // namespace vast_turn
