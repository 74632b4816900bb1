#include "vast_turn/formats/write/replies_json.hpp"

#include "formats/write/json_text.hpp"

#include <cmath>
#include <iterator>

#include <fmt/format.h>

#include "formats/write/csv_text.hpp"
#include "vast_turn/robot/manoeuvre.hpp"

namespace vast_turn {

namespace {

Json numbers(const double* from, int count) {
    Json list = Json::array();
    for (int i = 0; i < count; ++i) {
        list.push_back(thousandths(from[i]));
    }
    return list;
}

Json output_json(const Motor& motor, double power) {
    const MotorCommand command = command_for(motor, power);
    return {{"output", motor.output},
            {"kind", name_of(motor.command)},
            {"value", thousandths(command.value)},
            {"backwards", command.backwards}};
}

Json look_json(const Plan& plan, const Look& look) {
    Json markers = Json::array();
    for (std::size_t k = 0; k < plan.markers().size(); ++k) {
        if (((look.markers >> k) & 1U) != 0) {
            markers.push_back(plan.markers()[k]);
        }
    }
    return {{"clock_ms", thousandths(look.clock_ms)},
            {"pattern", to_marks({look.line_bits, look.sensors})},
            {"readings", numbers(look.sensor, look.sensors)},
            {"offset", thousandths(look.offset)},
            {"last_side", look.last_side > 0.0 ? "left" : "right"},
            {"way_mm", thousandths(look.way_mm)},
            {"range_mm", thousandths(look.range_mm)},
            {"markers", markers},
            {"button", look.button}};
}

const char* stage_name(runtime::Stage stage) {
    switch (stage) {
    case runtime::Stage::guard: return "guard";
    case runtime::Stage::limit: return "limit";
    case runtime::Stage::rule: return "rule";
    case runtime::Stage::item: return "item";
    case runtime::Stage::branch: return "if";
    case runtime::Stage::begun: return "begins";
    case runtime::Stage::ended: return "ends";
    }
    return "";
}

Json step_json(const Plan& plan, const AskedStep& step) {
    Json json = {{"stage", stage_name(step.stage)}};
    if (step.stage == runtime::Stage::begun || step.stage == runtime::Stage::ended) {
        json["block"] = plan.blocks()[step.block];
        return json;
    }
    const RuleInfo& info = plan.rule(step.rule);
    json["block"] = info.block;
    json["line"] = info.line;
    json["mirrored"] = info.is_twin;
    json["condition"] = info.condition;
    json["acts"] = info.acts;
    json["holds"] = step.holds;
    if (!step.holds) {
        json["because"] = step.because;
    }
    return json;
}

Json in_hand_json(const Plan& plan, const InHand& in_hand) {
    Json json = {{"block", plan.blocks()[in_hand.block]}};
    if (in_hand.item != no_rule) {
        const RuleInfo& info = plan.rule(in_hand.item);
        json["line"] = info.line;
        json["item"] = info.acts;
    }
    return json;
}

Json event_json(const Plan& plan, const Event& event) {
    const char* kind = event_name(event.kind);
    switch (event.kind) {
    case EventKind::unanswered:
        return {{"event", kind}, {"pattern", to_marks({static_cast<std::uint8_t>(event.what), plan.sensors()})}};
    case EventKind::cut_short: return {{"event", kind}, {"block", plan.blocks()[event.what]}};
    case EventKind::tell:
        return {{"event", kind}, {"name", plan.texts()[event.what]}, {"value", thousandths(event.value)}};
    default: return {{"event", kind}, {"name", plan.texts()[event.what]}};
    }
}

Json reply_json(const Plan& plan, const Reply& reply, const Robot* robot) {
    Json steps = Json::array();
    for (const AskedStep& step : reply.steps) {
        steps.push_back(step_json(plan, step));
    }
    Json blocks = Json::array();
    for (const InHand& in_hand : reply.in_hand) {
        blocks.push_back(in_hand_json(plan, in_hand));
    }
    Json events = Json::array();
    for (int i = 0; i < reply.answer.events; ++i) {
        events.push_back(event_json(plan, reply.answer.event[i]));
    }
    const double left = reply.answer.left_pct;
    const double right = reply.answer.right_pct;
    Json json = {{"look", look_json(plan, reply.look)},
                 {"steps", steps},
                 {"in_hand", blocks},
                 {"unanswered", reply.unanswered},
                 {"held", reply.held},
                 {"left_pct", thousandths(left)},
                 {"right_pct", thousandths(right)},
                 {"halted", reply.answer.halted},
                 {"events", events},
                 {"memory", reply.memory}};
    if (robot != nullptr) {
        json["robot"] = to_text(manoeuvre_of(*robot, left, right));
        json["outputs"] = Json::array({output_json(robot->motors.left, left), output_json(robot->motors.right, right)});
    }
    return json;
}

Json power(const std::optional<double>& logged) { return logged ? Json(thousandths(*logged)) : Json(nullptr); }

} // namespace

std::string replies_json(const Plan& plan, const std::vector<Reply>& replies, const Robot* robot) {
    Json list = Json::array();
    for (const Reply& reply : replies) {
        list.push_back(reply_json(plan, reply, robot));
    }
    return written({{"plan", plan.name()}, {"looks", list}});
}

namespace {

Json seen_json(const Plan& plan, const Run& run, std::size_t look) {
    const LookRecord& record = run.looks[look];
    return {{"look", look + 1},
            {"time_s", thousandths(record.t_s)},
            {"pattern", to_marks({record.line_bits, plan.sensors()})},
            {"line", record.rule == no_rule ? Json(nullptr) : Json(plan.rule(record.rule).line)}};
}

/// A log on its course.
Json log_way_json(const Plan& plan, const LogComparison& log) {
    Json marks = Json::array();
    for (const LogMark& mark : log.marks) {
        marks.push_back({{"look", mark.look + 1},
                         {"at_mm", {thousandths(mark.at.x), thousandths(mark.at.y)}},
                         {"way_mm", thousandths(mark.way_mm)},
                         {"log_s", thousandths(mark.log_s)},
                         {"ideal_s", mark.ideal_s ? Json(thousandths(*mark.ideal_s)) : Json(nullptr)},
                         {"days", mark.days},
                         {"least_s", mark.days > 0 ? Json(thousandths(mark.least_s)) : Json(nullptr)},
                         {"most_s", mark.days > 0 ? Json(thousandths(mark.most_s)) : Json(nullptr)}});
    }
    Json poses = Json::array();
    for (const Pose& pose : log.way.poses) {
        poses.push_back({thousandths(pose.at.x), thousandths(pose.at.y), thousandths(pose.heading_deg)});
    }
    Json parting = nullptr;
    if (log.parting) {
        const bool has_look = log.parting->look.has_value();
        parting = {{"way_mm", thousandths(log.marks[log.parting->mark].way_mm)},
                   {"did_otherwise", log.parting->did_otherwise},
                   {"log", has_look ? seen_json(plan, log.recorded, *log.parting->look) : Json(nullptr)},
                   {"map", has_look ? seen_json(plan, log.ideal, log.parting->ideal_look) : Json(nullptr)}};
    }
    return {{"start", log.way.start},
            {"by", words_of(log.way.by)},
            {"alike", thousandths(log.way.alike)},
            {"alike_in_worst_second", thousandths(log.way.alike_worst)},
            {"lost", log.way.lost ? Json(*log.way.lost + 1) : Json(nullptr)},
            {"places", marks},
            {"parting", parting},
            {"days", log.days},
            {"same_way", log.same_way},
            {"in_time", log.in_time},
            {"timed", log.timed},
            {"of_the_days", log.is_of_the_days()},
            {"way", poses}};
}

} // namespace

std::string log_check_json(const Plan& plan, const std::vector<LoggedLook>& log, const LogCheck& check,
                           const Robot* robot, const LogComparison* on_course) {
    Json differing = Json::array();
    for (std::size_t i = 0; i < check.decisions.size(); ++i) {
        if (check.decisions[i].differs) {
            differing.push_back(i + 1);
        }
    }
    Json first = nullptr;
    if (check.first) {
        first = {{"look", *check.first + 1},
                 {"logged_left_pct", power(log[*check.first].left_pct)},
                 {"logged_right_pct", power(log[*check.first].right_pct)},
                 {"reply", reply_json(plan, *check.first_reply, robot)}};
    }
    Json all = {{"plan", plan.name()},
                {"looks", log.size()},
                {"compared", check.compared},
                {"differing", differing},
                {"first", first}};
    if (on_course != nullptr) {
        all["on_course"] = log_way_json(plan, *on_course);
    }
    return written(all);
}

std::string decisions_csv(const Plan& plan, const std::vector<LoggedLook>& log, const LogCheck& check) {
    fmt::memory_buffer out;
    const auto to = std::back_inserter(out);
    fmt::format_to(to,
                   "time_s,pattern,block,rule_line,rule,left_pct,right_pct,logged_left_pct,logged_right_pct,differs\n");
    const auto logged = [](const std::optional<double>& power) {
        return power ? fmt::format("{:g}", *power) : std::string{};
    };
    for (std::size_t i = 0; i < log.size(); ++i) {
        const Answer& answer = check.decisions[i].answer;
        const Look& look = log[i].look;
        fmt::format_to(to, "{:.4f},{},{}", look.clock_ms / 1000.0, to_marks({look.line_bits, look.sensors}),
                       plan.blocks()[answer.block]);
        if (answer.rule == no_rule) {
            fmt::format_to(to, ",,");
        } else {
            const RuleInfo& rule = plan.rule(answer.rule);
            fmt::format_to(to, ",{},{}", rule.line, csv_quoted(rule.condition));
        }
        fmt::format_to(to, ",{:.2f},{:.2f},{},{},{}\n", answer.left_pct, answer.right_pct, logged(log[i].left_pct),
                       logged(log[i].right_pct), check.decisions[i].differs ? 1 : 0);
    }
    return fmt::to_string(out);
}

std::string card_check_json(const Plan& plan, const Robot& robot, const std::vector<CardStep>& steps) {
    Json list = Json::array();
    for (const CardStep& step : steps) {
        list.push_back({{"card_under", step.card_under},
                        {"counts", step.counts},
                        {"pattern", to_marks(step.pattern)},
                        {"expected", to_marks(step.expected)},
                        {"left_pct", thousandths(step.left_pct)},
                        {"right_pct", thousandths(step.right_pct)},
                        {"outputs", Json::array({output_json(robot.motors.left, step.left_pct),
                                                 output_json(robot.motors.right, step.right_pct)})},
                        {"left_mm_s", thousandths(step.left_mm_s)},
                        {"right_mm_s", thousandths(step.right_mm_s)},
                        {"wrong", step.remark}});
    }
    return written({{"plan", plan.name()}, {"robot", robot.name}, {"steps", list}});
}

} // namespace vast_turn
