#include "vast_turn/formats/write/comparison_json.hpp"

#include "formats/write/json_text.hpp"

namespace vast_turn {

std::string comparison_json(const std::vector<TripCase>& cases, const std::vector<PilotFigures>& all, int layouts) {
    const auto spread = [](const Spread& s) {
        return Json{{"mean", rounded(s.mean, 1e4)}, {"deviation", rounded(s.deviation, 1e4)}};
    };
    Json plans = Json::array();
    for (const PilotFigures& one : all) {
        Json trips = Json::array();
        for (std::size_t i = 0; i < one.cases.size(); ++i) {
            const CaseFigures& figures = one.cases[i];
            trips.push_back({{"trip", cases[i].trip.name},
                             {"start", cases[i].trip.from},
                             {"variant", layouts > 0 ? Json(nullptr) : Json(cases[i].scene->course().variant)},
                             {"runs", figures.runs},
                             {"passed", figures.passed},
                             {"gained", figures.against.gained},
                             {"lost", figures.against.lost},
                             {"better", {figures.against.better.low, figures.against.better.high}},
                             {"time_s", spread(figures.time_s)},
                             {"mean_mm_s", spread(figures.mean_mm_s)},
                             {"top_mm_s", spread(figures.top_mm_s)},
                             {"steering_change_pct", spread(figures.steering_change_pct)},
                             {"aside_mm", spread(figures.aside_mm)},
                             {"farthest_mm", spread(figures.farthest_mm)},
                             {"unanswered", spread(figures.unanswered)},
                             {"losses", spread(figures.losses)}});
        }
        plans.push_back({{"plan", one.pilot.name()},
                         {"file", one.pilot.file()},
                         {"runs", one.runs},
                         {"passed", one.passed},
                         {"gained", one.against.gained},
                         {"lost", one.against.lost},
                         {"better", {one.against.better.low, one.against.better.high}},
                         {"trips", trips}});
    }
    Json json = {{"plans", plans}};
    if (layouts > 0) {
        json["layouts"] = layouts;
    }
    return written(json);
}

} // namespace vast_turn
