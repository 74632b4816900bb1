#include "vast_turn/formats/write/robot_json.hpp"

#include <cmath>

#include "formats/write/json_text.hpp"

namespace vast_turn {

namespace {

/// Null for straight on.
Json finite(double radius_mm) { return std::isfinite(radius_mm) ? Json(thousandths(radius_mm)) : Json(nullptr); }

} // namespace

std::string robot_json(const Robot& robot, const RobotFacts& facts) {
    Json powers = Json::array();
    for (const PowerFacts& one : facts.powers) {
        powers.push_back({{"power_pct", one.power_pct},
                          {"speed_mm_s", thousandths(one.speed_mm_s)},
                          {"between_looks_mm", thousandths(one.between_looks_mm)},
                          {"to_stop_mm", thousandths(one.to_stop_mm)},
                          {"tightest_bend_mm", finite(one.tightest_bend_mm)}});
        if (robot.drive) {
            powers.back()["slides_in_mm"] = thousandths(one.slides_in_mm);
        }
    }
    Json circles = Json::array();
    for (const CircleFacts& one : facts.circles) {
        circles.push_back(
            {{"outside_pct", one.outside_pct}, {"inside_pct", one.inside_pct}, {"radius_mm", finite(one.radius_mm)}});
    }
    return written({{"robot", robot.name},
                    {"sensors", robot.sensors.size()},
                    {"array_width_mm", thousandths(facts.array_width_mm)},
                    {"array_ahead_mm", thousandths(facts.array_ahead_mm)},
                    {"powers", powers},
                    {"circles", circles},
                    {"quarter_on_spot_deg", thousandths(facts.quarter_on_spot_deg)},
                    {"quarter_on_wheel_deg", thousandths(facts.quarter_on_wheel_deg)},
                    {"unlikely", facts.unlikely}});
}

} // namespace vast_turn
