#include "vast_turn/formats/write/results.hpp"

#include <cmath>

#include <nlohmann/json.hpp>

#include "formats/write/route_graph_json.hpp"
#include "vast_turn/plan/explain/describe.hpp"
#include "vast_turn/robot/manoeuvre.hpp"

namespace vast_turn {

namespace {

using Json = nlohmann::ordered_json;

/// Rounded to what the number is good for, so that the text stays readable.
double rounded(double x, double places) { return std::round(x * places) / places; }
double mm(double x) { return rounded(x, 1000.0); }

Json point(Vec2 p) { return Json::array({mm(p.x), mm(p.y)}); }

std::string written(const Json& json) { return json.dump(2, ' ', false, Json::error_handler_t::replace) + "\n"; }

Json rule_json(const Plan& plan, int rule) {
    const RuleInfo& info = plan.rules()[static_cast<std::size_t>(rule)];
    return {{"block", info.block},      {"line", info.line},           {"column", info.column},
            {"mirrored", info.is_twin}, {"condition", info.condition}, {"acts", info.acts}};
}

Json route_json(const Course& course, const Run& run) {
    Json route = Json::array();
    for (const Visit& visit : run.visits) {
        route.push_back({{"place", course.places[visit.place].name}, {"t_s", rounded(visit.t_s, 1e4)}});
    }
    return route;
}

Json events_json(const Plan& plan, const Run& run) {
    Json events = Json::array();
    for (const RunEvent& event : run.events) {
        events.push_back({{"t_s", rounded(event.t_s, 1e4)},
                          {"at_mm", point(event.at)},
                          {"kind", event_name(event.event.kind)},
                          {"text", describe_event(plan, event.event)}});
    }
    return events;
}

Json run_object(const Scene& scene, const Plan& plan, const Run& run) {
    return {{"plan", plan.name()},
            {"plan_file", plan.file()},
            {"robot", scene.robot().name},
            {"course", scene.course().name},
            {"start", run.start},
            {"seed", run.seed},
            {"route", route_json(scene.course(), run)},
            {"ended", name_of(run.ending)},
            {"because", run.ended_because},
            {"time_s", rounded(run.time_s, 1e4)},
            {"way_mm", mm(run.way_mm)},
            {"mean_speed_mm_s", mm(run.mean_speed_mm_s())},
            {"end_at_mm", point(run.end_at)},
            {"looks", run.looks_done},
            {"unanswered", run.unanswered},
            {"events", events_json(plan, run)}};
}

Json rules_json(const Plan& plan, const std::vector<int>& rules) {
    Json list = Json::array();
    for (const int rule : rules) {
        list.push_back(rule_json(plan, rule));
    }
    return list;
}

Json parting_json(const Plan& plan, const Parting& parting) {
    return {{"after", parting.after},
            {"expected", parting.expected},
            {"instead", parting.instead},
            {"junction", parting.junction.empty() ? Json(nullptr) : Json(parting.junction)},
            {"from", parting.side},
            {"expected_way", parting.expected_way},
            {"taken_way", parting.taken_way},
            {"t_s", rounded(parting.t_s, 1e4)},
            {"at_mm", point(parting.at)},
            {"pattern", to_marks(parting.pattern)},
            {"rule", parting.rule < 0 ? Json(nullptr) : rule_json(plan, parting.rule)},
            {"called_by", rules_json(plan, parting.called_by)},
            {"held_too", rules_json(plan, parting.held_too)}};
}

Json wheels_json(const std::optional<Wheels>& wheels) {
    return wheels ? Json::array({mm(wheels->left_pct), mm(wheels->right_pct)}) : Json(nullptr);
}

Json manoeuvre_json(const Manoeuvre& m) {
    return {{"words", to_text(m)},
            {"radius_mm", m.kind == ManoeuvreKind::straight ? Json(nullptr) : Json(mm(m.radius_mm))},
            {"side", m.side > 0 ? "left" : (m.side < 0 ? "right" : "none")},
            {"speed_mm_s", mm(m.speed_mm_s)},
            {"turn_deg_s", mm(m.turn_deg_s)}};
}

Json entry_json(const Plan& plan, const TableEntry& entry, const Robot* robot) {
    Json json = {{"when", entry.when}, {"does", entry.does}, {"rule", rule_json(plan, entry.rule)}};
    json["wheels_pct"] = wheels_json(entry.wheels);
    json["crisp_wheels_pct"] = wheels_json(entry.crisp);
    const std::optional<Wheels> wheels = entry.wheels ? entry.wheels : entry.crisp;
    if (robot != nullptr && wheels) {
        json["robot"] = manoeuvre_json(manoeuvre_of(*robot, wheels->left_pct, wheels->right_pct));
    }
    return json;
}

} // namespace

std::string course_json(const Course& course, const RouteGraph& graph) {
    Json places = Json::array();
    for (const CoursePlace& place : course.places) {
        places.push_back({{"name", place.name}, {"at_mm", point(place.at)}, {"radius_mm", place.radius_mm}});
    }
    Json starts = Json::array();
    for (const StartPose& start : course.starts) {
        starts.push_back(
            {{"name", start.name}, {"at_mm", point(start.pose.at)}, {"heading_deg", start.pose.heading_deg}});
    }
    Json tapes = Json::array();
    for (const Tape& tape : course.tapes) {
        Json gaps = Json::array();
        for (const Gap& gap : tape.gaps) {
            gaps.push_back(Json::array({gap.from_mm, gap.length_mm}));
        }
        tapes.push_back({{"length_mm", mm(length_of(tape))},
                         {"width_mm", tape.width_mm},
                         {"closed", tape.closed},
                         {"gaps_mm", gaps}});
    }
    Json markers = Json::array();
    for (const Marker& marker : course.markers) {
        markers.push_back({{"colour", marker.colour},
                           {"at_mm", point(marker.at)},
                           {"size_mm", Json::array({marker.length_mm, marker.across_mm})},
                           {"heading_deg", marker.heading_deg}});
    }
    return written({{"course", course.name},
                    {"size_mm", Json::array({course.width_mm, course.height_mm})},
                    {"places", places},
                    {"starts", starts},
                    {"tapes", tapes},
                    {"markers", markers},
                    {"graph", route_graph_object(course, graph)}});
}

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

std::string run_json(const Scene& scene, const Plan& plan, const Run& run) {
    return written(run_object(scene, plan, run));
}

std::string trips_json(const std::vector<TripCase>& cases, const std::vector<PlanTrips>& all) {
    const Scene& scene = *cases.at(0).scene;
    Json plans = Json::array();
    int passed = 0;
    int failed = 0;
    for (const PlanTrips& one : all) {
        Json trips = Json::array();
        for (std::size_t i = 0; i < one.results.size(); ++i) {
            const TripResult& result = one.results[i];
            (result.passed ? passed : failed) += 1;
            Json trip = {{"trip", result.trip.name},
                         {"file", result.trip.file},
                         {"line", result.trip.line},
                         {"variant", cases[i].scene->course().variant},
                         {"passed", one.passes[i] == one.runs[i]},
                         {"runs", one.runs[i]},
                         {"runs_passed", one.passes[i]},
                         {"failures", result.failures}};
            trip["parting"] = result.parting ? parting_json(one.plan, *result.parting) : Json(nullptr);
            trip["cures"] = Json::array();
            for (const Cure& cure : one.cures[i]) {
                trip["cures"].push_back({{"change", cure.change},
                                         {"passes", cure.passes},
                                         {"from_there", cure.from_there},
                                         {"breaks", cure.breaks},
                                         {"mends", cure.mends}});
            }
            trip["run"] = run_object(*cases[i].scene, one.plan, result.run);
            trips.push_back(std::move(trip));
        }
        plans.push_back({{"plan", one.plan.name()}, {"file", one.plan.file()}, {"trips", trips}});
    }
    return written({{"course", scene.course().name},
                    {"robot", scene.robot().name},
                    {"passed", passed},
                    {"failed", failed},
                    {"plans", plans}});
}

std::string comparison_json(const std::vector<PlanFigures>& all) {
    const auto spread = [](const Spread& s) {
        return Json{{"mean", rounded(s.mean, 1e4)}, {"deviation", rounded(s.deviation, 1e4)}};
    };
    Json plans = Json::array();
    for (const PlanFigures& one : all) {
        plans.push_back({{"plan", one.plan.name()},
                         {"file", one.plan.file()},
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
