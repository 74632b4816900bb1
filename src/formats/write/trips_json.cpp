#include "vast_turn/formats/write/trips_json.hpp"

#include "formats/write/rule_json.hpp"
#include "vast_turn/plan/explain/describe.hpp"
#include "vast_turn/trial/matched_route.hpp"

namespace vast_turn {

namespace {

Json route_json(const Course& course, const Run& run) {
    Json route = Json::array();
    for (const Visit& visit : run.visits) {
        route.push_back({{"place", course.places[visit.place].name}, {"t_s", rounded(visit.t_s, 1e4)}});
    }
    return route;
}

/// What it did at the junctions that it came to; null where that cannot be told.
Json choices_json(const Scene& scene, const Run& run) {
    const MatchedRoute route = match_run(scene, run);
    if (!route.told) {
        return nullptr;
    }
    Json choices = Json::array();
    for (const Choice& choice : route.choices) {
        const Node& node = scene.graph().node(choice.node);
        choices.push_back({{"junction", node.name},
                           {"way", way_name(node, choice.from, choice.to)},
                           {"t_s", rounded(choice.t_s, 1e4)}});
    }
    return choices;
}

Json events_json(const Plan* plan, const Run& run) {
    Json events = Json::array();
    for (const RunEvent& event : run.events) {
        Json json = {
            {"t_s", rounded(event.t_s, 1e4)}, {"at_mm", point_json(event.at)}, {"kind", event_name(event.event.kind)}};
        // Only a plan has names for the numbers of its events.
        if (plan != nullptr) {
            json["text"] = describe_event(*plan, event.event);
        } else {
            json["number"] = event.event.what;
        }
        events.push_back(std::move(json));
    }
    return events;
}

Json run_object(const Scene& scene, const Pilot& pilot, const Run& run) {
    Json json{{"plan", pilot.name()},
              {"plan_file", pilot.file()},
              {"robot", scene.robot().name},
              {"course", scene.course().name},
              {"start", run.start},
              {"seed", run.seed},
              {"day", run.day},
              {"route", route_json(scene.course(), run)},
              {"ended", name_of(run.ending)},
              {"because", run.ended_because},
              {"time_s", rounded(run.time_s, 1e4)},
              {"way_mm", thousandths(run.way_mm)},
              {"mean_speed_mm_s", thousandths(run.mean_speed_mm_s())},
              {"end_at_mm", point_json(run.end_at)},
              {"looks", run.looks_done},
              {"unanswered", run.unanswered},
              {"events", events_json(pilot.plan(), run)}};
    if (scene.robot().drive) {
        json["slid_s"] = rounded(run.slid_s, 1e4);
        Json touches = Json::array();
        for (const Touch& touch : run.touches) {
            touches.push_back(
                {{"t_s", rounded(touch.t_s, 1e4)}, {"at_mm", point_json(touch.at)}, {"what", touch.what}});
        }
        json["touches"] = std::move(touches);
    }
    return json;
}

Json rules_json(const Plan& plan, const std::vector<RuleId>& rules) {
    Json list = Json::array();
    for (const RuleId rule : rules) {
        list.push_back(rule_json(plan, rule));
    }
    return list;
}

Json parting_json(const Pilot& pilot, const Parting& parting) {
    const Plan* plan = pilot.plan();
    Json json = {{"after", parting.after},
                 {"expected", parting.expected},
                 {"instead", parting.instead},
                 {"junction", parting.junction.empty() ? Json(nullptr) : Json(parting.junction)},
                 {"from", parting.side},
                 {"expected_way", parting.expected_way},
                 {"taken_way", parting.taken_way},
                 {"t_s", rounded(parting.t_s, 1e4)},
                 {"at_mm", point_json(parting.at)},
                 {"pattern", to_marks(parting.pattern)}};
    json["rule"] = plan == nullptr || parting.rule == no_rule ? Json(nullptr) : rule_json(*plan, parting.rule);
    json["better"] = plan == nullptr || parting.better == no_rule ? Json(nullptr) : rule_json(*plan, parting.better);
    json["otherwise"] = parting.otherwise.empty() ? Json(nullptr) : Json(parting.otherwise);
    json["called_by"] = plan == nullptr ? Json::array() : rules_json(*plan, parting.called_by);
    json["misread"] = parting.misread;
    json["asked"] = Json::array();
    for (const AskedIf& asked : plan == nullptr ? std::vector<AskedIf>{} : parting.asked) {
        json["asked"].push_back({{"t_s", rounded(asked.t_s, 1e4)},
                                 {"if", rule_json(*plan, asked.item)},
                                 {"holds", asked.holds},
                                 {"because", asked.because}});
    }
    json["held_too"] = plan == nullptr ? Json::array() : rules_json(*plan, parting.held_too);
    json["told"] = explain(pilot, parting);
    return json;
}

Json cures_json(const std::vector<Cure>& cures) {
    Json list = Json::array();
    for (const Cure& cure : cures) {
        list.push_back({{"change", cure.change},
                        {"passes", cure.passes},
                        {"from_there", cure.from_there},
                        {"kind", name_of(cure.kind)},
                        {"line", cure.line},
                        {"held", cure.held},
                        {"repeats", cure.repeats},
                        {"slower", cure.slower},
                        {"breaks", cure.breaks},
                        {"mends", cure.mends}});
        if (cure.layouts.taken > 0) {
            list.back()["layouts_held"] = cure.layouts.held;
            list.back()["layouts_held_without"] = cure.layouts.before;
        }
    }
    return list;
}

Json bounds_json(const ShareBounds& bounds) { return {rounded(bounds.low, 1e6), rounded(bounds.high, 1e6)}; }

Json margins_json(const Margins& margins) {
    Json list = Json::array();
    for (const Margin& margin : margins.margins) {
        const auto bound = [](const std::optional<double>& value) {
            return value ? Json(rounded(*value, 1e6)) : Json(nullptr);
        };
        list.push_back({{"quantity", margin.quantity},
                        {"unit", margin.unit},
                        {"usual", margin.usual},
                        {"low", bound(margin.low)},
                        {"high", bound(margin.high)}});
    }
    return {{"holds_on_ideal_days", margins.holds}, {"alone", list}};
}

Json days_json(const DaysTaken& days) {
    Json causes = Json::array();
    for (const Cause& cause : days.causes) {
        causes.push_back({{"quantity", cause.quantity},
                          {"unit", cause.unit},
                          {"side", cause.both_ways ? "both"
                                   : cause.is_high ? "above"
                                                   : "below"},
                          {"bound", rounded(cause.bound, 1e6)},
                          {"failures", cause.failures},
                          {"of_failures", cause.of_failures},
                          {"passes", cause.passes},
                          {"of_passes", cause.of_passes},
                          {"chance", cause.chance},
                          {"told", describe(cause)}});
    }
    return {{"share", bounds_json(days.share)},
            {"sure", days.sure ? Json(*days.sure) : Json(nullptr)},
            {"decided", days.decided ? Json(*days.decided) : Json(nullptr)},
            {"failed_days", days.failed},
            {"causes", causes},
            {"margins", days.margins ? margins_json(*days.margins) : Json(nullptr)}};
}

Json case_json(const TripCase& one, const Pilot& pilot, const CaseReport& report) {
    const TripResult& result = report.result;
    Json trip = {{"trip", result.trip.name},     {"file", result.trip.file},
                 {"line", result.trip.line},     {"variant", one.scene->course().variant},
                 {"passed", report.holds()},     {"runs", report.runs},
                 {"runs_passed", report.passed}, {"failures", result.failures}};
    trip["days"] = report.days ? days_json(*report.days) : Json(nullptr);
    trip["parting"] = result.parting ? parting_json(pilot, *result.parting) : Json(nullptr);
    trip["cures"] = cures_json(report.cures);
    trip["changes_tried"] = report.changes_tried;
    trip["run"] = run_object(*one.scene, pilot, result.run);
    return trip;
}

Json pace_json(const Pace& pace, const Scene& scene) {
    return {{"looks", pace.looks},
            {"late", pace.late},
            {"slowest_ms", pace.slowest_ms},
            {"period_ms", scene.robot().look_ms}};
}

} // namespace

std::string run_json(const Scene& scene, const Pilot& pilot, const Run& run, const NumbersCheck* numbers,
                     const Pace* pace) {
    Json json = run_object(scene, pilot, run);
    if (pace != nullptr) {
        json["on"] = pace_json(*pace, scene);
    }
    json["choices"] = choices_json(scene, run);
    if (numbers != nullptr) {
        json["numbers"] = {{"kind", "float"},
                           {"looks", numbers->looks},
                           {"differing", numbers->differing},
                           {"first_s", numbers->first ? Json(run.told[*numbers->first].clock_ms / 1000.0) : Json()}};
    }
    return written(json);
}

std::string trips_json(const LayoutsReport& report) {
    Json plans = Json::array();
    for (std::size_t p = 0; p < report.pilots.size(); ++p) {
        const PilotLayouts& one = report.pilots[p];
        Json outcomes = Json::array();
        for (const LayoutOutcome& outcome : one.outcomes) {
            outcomes.push_back({{"layout", outcome.layout},
                                {"trip", outcome.trip},
                                {"passed", outcome.all_passed()},
                                {"runs", outcome.runs},
                                {"runs_passed", outcome.passed},
                                {"time_s", outcome.time_s},
                                {"failures", outcome.failures}});
        }
        Json trips = Json::array();
        for (std::size_t i = 0; report.looked_into && i < report.looked_into->cases.size(); ++i) {
            trips.push_back(case_json(report.looked_into->cases[i], one.pilot, report.looked_into->pilots[p].cases[i]));
        }
        plans.push_back(
            {{"plan", one.pilot.name()}, {"file", one.pilot.file()}, {"outcomes", outcomes}, {"looked_into", trips}});
    }
    return written({{"course", report.course},
                    {"robot", report.robot},
                    {"layouts", report.layouts},
                    {"passed", report.passed()},
                    {"failed", report.taken() - report.passed()},
                    {"plans", plans}});
}

std::string trips_json(const TripReport& report, const Pace* pace) {
    const Scene& scene = *report.cases.at(0).scene;
    Json plans = Json::array();
    for (const PilotReport& one : report.pilots) {
        Json trips = Json::array();
        for (std::size_t i = 0; i < one.cases.size(); ++i) {
            trips.push_back(case_json(report.cases[i], one.pilot, one.cases[i]));
        }
        plans.push_back({{"plan", one.pilot.name()}, {"file", one.pilot.file()}, {"trips", trips}});
    }
    Json json{{"course", scene.course().name},
              {"robot", scene.robot().name},
              {"passed", report.passed()},
              {"failed", report.taken() - report.passed()},
              {"plans", plans}};
    if (pace != nullptr) {
        json["on"] = pace_json(*pace, scene);
    }
    return written(json);
}

} // namespace vast_turn
