#include "vast_turn/formats/write/comparison_json.hpp"

#include "formats/write/json_text.hpp"

namespace vast_turn {

std::string comparison_json(const std::vector<PilotFigures>& all) {
    const auto spread = [](const Spread& s) {
        return Json{{"mean", rounded(s.mean, 1e4)}, {"deviation", rounded(s.deviation, 1e4)}};
    };
    Json plans = Json::array();
    for (const PilotFigures& one : all) {
        plans.push_back({{"plan", one.pilot.name()},
                         {"file", one.pilot.file()},
                         {"runs", one.runs},
                         {"passed", one.passed},
                         {"time_s", spread(one.time_s)},
                         {"mean_mm_s", spread(one.mean_mm_s)},
                         {"top_mm_s", spread(one.top_mm_s)},
                         {"steering_change_pct", spread(one.steering_change_pct)},
                         {"aside_mm", spread(one.aside_mm)},
                         {"farthest_mm", spread(one.farthest_mm)},
                         {"unanswered", spread(one.unanswered)},
                         {"losses", spread(one.losses)}});
    }
    return written({{"plans", plans}});
}

} // namespace vast_turn
