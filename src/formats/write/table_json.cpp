#include "vast_turn/formats/write/table_json.hpp"

#include "formats/write/rule_json.hpp"
#include "vast_turn/robot/manoeuvre.hpp"

namespace vast_turn {

namespace {

Json wheels_json(const std::optional<Wheels>& wheels) {
    return wheels ? Json::array({thousandths(wheels->left_pct), thousandths(wheels->right_pct)}) : Json(nullptr);
}

Json manoeuvre_json(const Manoeuvre& m) {
    return {{"words", to_text(m)},
            {"radius_mm", m.kind == ManoeuvreKind::straight ? Json(nullptr) : Json(thousandths(m.radius_mm))},
            {"side", m.side > 0 ? "left" : (m.side < 0 ? "right" : "none")},
            {"speed_mm_s", thousandths(m.speed_mm_s)},
            {"turn_deg_s", thousandths(m.turn_deg_s)}};
}

Json entry_json(const Plan& plan, const TableEntry& entry, const Robot* robot) {
    Json json = {{"when", entry.when}, {"does", entry.does}, {"rule", rule_json(plan, entry.rule)}};
    json["wheels_pct"] = wheels_json(entry.wheels);
    json["crisp_wheels_pct"] = wheels_json(entry.crisp);
    if (!entry.goes_to.empty()) {
        json["goes_to"] = entry.goes_to;
        json["begins_with"] = entry.begins_with;
        json["begins_wheels_pct"] = wheels_json(entry.begins_wheels);
    }
    const std::optional<Wheels> wheels = entry.wheels ? entry.wheels : entry.crisp;
    if (robot != nullptr && wheels) {
        json["robot"] = manoeuvre_json(manoeuvre_of(*robot, wheels->left_pct, wheels->right_pct));
    }
    return json;
}

} // namespace

std::string table_json(const Plan& plan, const std::vector<HabitTable>& tables, const Robot* robot) {
    Json habits = Json::array();
    for (const HabitTable& table : tables) {
        Json rows = Json::array();
        for (const TableRow& row : table.rows) {
            Json entries = Json::array();
            for (const TableEntry& entry : row.entries) {
                entries.push_back(entry_json(plan, entry, robot));
            }
            rows.push_back({{"pattern", to_marks(row.pattern)},
                            {"may_be_unanswered", row.may_be_unanswered},
                            {"entries", entries}});
        }
        habits.push_back({{"habit", table.habit}, {"rows", rows}});
    }
    return written({{"plan", plan.name()},
                    {"sensors", plan.sensors()},
                    {"memory_bytes", plan.memory_bytes()},
                    {"table_bytes", plan.table_bytes()},
                    {"habits", habits}});
}

} // namespace vast_turn
