/// How a debugged run begins, and its break points.

#include <algorithm>
#include <cmath>
#include <filesystem>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include "debug/adapter.hpp"
#include "meant_files.hpp"
#include "vast_turn/formats/read/days_file.hpp"
#include "vast_turn/formats/read/plan_file.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/paint/course_file.hpp"

namespace vturn {

using namespace vast_turn;
using nlohmann::json;

namespace {

/// The members of a launch request; each is looked at with the type that it must have.
class LaunchArguments {
public:
    explicit LaunchArguments(const json& arguments) : arguments_(arguments) {
        static const std::vector<std::string> known = {"course",       "robot",       "plan",   "variant",
                                                       "start",        "seed",        "day",    "variation",
                                                       "limitSeconds", "stopOnEntry", "noDebug"};
        for (const auto& [key, value] : arguments.items()) {
            const bool is_clients = key.rfind("__", 0) == 0 || key == "type" || key == "name" || key == "request";
            const std::string near = nearest(key, known);
            if (!is_clients && std::find(known.begin(), known.end(), key) == known.end() && !near.empty()) {
                throw InputError("", fmt::format("there is no `{}` in a launch (did you mean `{}`?)", key, near),
                                 fmt::format("it may have {}", one_of(known)));
            }
        }
    }
    std::string text(const char* key, bool is_required = false) const {
        const auto at = arguments_.find(key);
        if (at == arguments_.end() && !is_required) {
            return "";
        }
        if (at == arguments_.end() || !at->is_string() || at->get<std::string>().empty()) {
            throw InputError("", fmt::format("a launch wants \"{}\" as a text", key),
                             fmt::format("write \"{}\": the name of a file or so", key));
        }
        return at->get<std::string>();
    }
    std::uint64_t whole(const char* key, std::uint64_t otherwise) const {
        const auto at = arguments_.find(key);
        if (at == arguments_.end()) {
            return otherwise;
        }
        if (!at->is_number_unsigned()) {
            throw InputError("", fmt::format("\"{}\" of a launch is a whole number from 0", key), "write one");
        }
        return at->get<std::uint64_t>();
    }
    double seconds(const char* key, double otherwise) const {
        const auto at = arguments_.find(key);
        if (at == arguments_.end()) {
            return otherwise;
        }
        const double value = at->is_number() ? at->get<double>() : 0.0;
        if (!(value > 0.0 && value <= 36000.0)) {
            throw InputError("", fmt::format("\"{}\" of a launch is above 0 and at most 36000", key), "write seconds");
        }
        return value;
    }
    bool truth(const char* key) const {
        const auto at = arguments_.find(key);
        return at != arguments_.end() && at->is_boolean() && at->get<bool>();
    }

private:
    const json& arguments_;
};

/// A file of a launch; when it names none, the one that the plan's folder means.
std::string given_or_meant(const LaunchArguments& arguments, FolderKind kind, const FolderMeaning& means) {
    std::string given = arguments.text(std::string(name_of(kind)).c_str());
    return given.empty() ? meant_file(means, kind) : given;
}

} // namespace

DebugAdapter::Json DebugAdapter::initialize(const Json& arguments) {
    const auto from_one = arguments.find("linesStartAt1");
    first_line_ = from_one != arguments.end() && from_one->is_boolean() && !from_one->get<bool>() ? 0 : 1;
    json capabilities;
    for (const char* can :
         {"supportsConfigurationDoneRequest", "supportsFunctionBreakpoints", "supportsConditionalBreakpoints",
          "supportsHitConditionalBreakpoints", "supportsLogPoints", "supportsStepBack", "supportsSetVariable",
          "supportsEvaluateForHovers", "supportsDataBreakpoints", "supportsExceptionInfoRequest",
          "supportsTerminateRequest", "supportsRestartRequest"}) {
        capabilities[can] = true;
    }
    const auto filter = [](const char* name, const char* label, bool on) {
        return json({{"filter", name}, {"label", label}, {"default", on}});
    };
    capabilities["exceptionBreakpointFilters"] = {
        filter("unanswered", "a look that no rule answers", false),
        filter("lost", "the line is nowhere under the array for three looks", false),
        filter("touched", "the robot touches something and drives on", true),
        filter("ended", "the run ends otherwise than by halt: lost, off course, touch, time over", true)};
    return capabilities;
}

void DebugAdapter::load(const Json& given) {
    const LaunchArguments arguments(given);
    std::vector<Problem> warnings;
    const std::string plan_path = arguments.text("plan", true);
    const std::string variant = arguments.text("variant");
    const FolderMeaning means = read_folder(std::filesystem::path(plan_path).parent_path().string());
    Course course =
        load_course(given_or_meant(arguments, FolderKind::course, means), variant.empty() ? as_drawn : variant);
    Robot robot = load_robot(given_or_meant(arguments, FolderKind::robot, means));
    if (const std::string days = arguments.text("variation"); !days.empty()) {
        robot.variation = load_days(days);
    }
    Plan plan = load_plan(plan_path, &warnings);
    RunOptions options;
    options.start = arguments.text("start");
    options.seed = arguments.whole("seed", options.seed);
    options.day = arguments.whole("day", 0);
    options.time_limit_s = arguments.seconds("limitSeconds", options.time_limit_s);
    stops_on_entry_ = arguments.truth("stopOnEntry");
    never_stops_ = arguments.truth("noDebug");
    debugged_.reset(new DebuggedRun{std::move(course), std::move(robot), std::move(plan),
                                    std::filesystem::weakly_canonical(std::filesystem::absolute(plan_path)).string(),
                                    options});
    was_told_over_ = false;
    for (const Problem& warning : warnings) {
        output("console", to_text(warning));
    }
}

DebugAdapter::Json DebugAdapter::launch(const Json& arguments) {
    load(arguments);
    launched_ = std::make_unique<json>(arguments);
    afterwards_.emplace_back([this] { event("initialized", json::object()); });
    return nullptr;
}

/// The files are read once more, so that a plan that was changed drives; the client sets its break points
/// anew behind the event.
DebugAdapter::Json DebugAdapter::restart(const Json& arguments) {
    if (!launched_) {
        throw InputError("", "nothing was launched", "send a launch request first");
    }
    const auto changed = arguments.find("arguments");
    load(changed != arguments.end() && changed->is_object() ? *changed : *launched_);
    lines_.clear();
    blocks_.clear();
    vars_.clear();
    exceptions_.clear();
    afterwards_.emplace_back([this] { event("initialized", json::object()); });
    return nullptr;
}

DebugAdapter::Json DebugAdapter::configuration_done(const Json& /*arguments*/) {
    debugged();
    afterwards_.emplace_back([this] {
        watch_all(true);
        if (run().is_over()) {
            return tell_end();
        }
        if (stops_on_entry_ && !never_stops_) {
            return tell_stopped("entry");
        }
        drive([](const SteppedRun&) { return false; });
    });
    return nullptr;
}

BreakPoint DebugAdapter::source_breakpoint(const Json& wanted, int line) {
    const auto text = [&wanted](const char* key) {
        const auto at = wanted.find(key);
        return at != wanted.end() && at->is_string() ? at->get<std::string>() : std::string();
    };
    const Plan& plan = debugged().plan;
    BreakPoint point{next_id_++, "breakpoint", stop_at_line(plan, line)};
    if (const std::string condition = text("condition"); !condition.empty()) {
        ProbeResult made = make_probe(plan, condition, "");
        if (!made.probe) {
            throw InputError(made.problems);
        }
        point.condition = std::move(made.probe);
    }
    if (const std::string hits = text("hitCondition"); !hits.empty()) {
        point.hits = HitRule(hits);
    }
    point.log = text("logMessage");
    return point;
}

namespace {

/// The first line from this one on at which something acts; 0 when there is none.
int acting_line(const Plan& plan, int line) {
    int found = 0;
    for (const RuleInfo& rule : plan.rules()) {
        found = rule.line >= line && (found == 0 || rule.line < found) ? rule.line : found;
    }
    return found;
}

json refusal(int id, const InputError& error) {
    return {{"id", id}, {"verified", false}, {"message", words_of(error)}};
}

/// The members of a list that are objects; what else stands in it is an empty one.
std::vector<json> objects_of(const json& arguments, const char* key) {
    std::vector<json> out;
    const auto at = arguments.find(key);
    if (at != arguments.end() && at->is_array()) {
        for (const json& one : *at) {
            out.push_back(one.is_object() ? one : json::object());
        }
    }
    return out;
}

} // namespace

DebugAdapter::Json DebugAdapter::set_breakpoints(const Json& arguments) {
    const auto from = arguments.find("source");
    const std::string path = from != arguments.end() && from->is_object() ? from->value("path", std::string()) : "";
    const bool is_plan = std::filesystem::weakly_canonical(path).string() == debugged().plan_path;
    json list = json::array();
    std::vector<BreakPoint> points;
    for (const json& wanted : objects_of(arguments, "breakpoints")) {
        const auto at = wanted.find("line");
        const int line = at != wanted.end() && at->is_number_integer() ? at->get<int>() + 1 - first_line_ : 0;
        const int acting = acting_line(debugged().plan, line);
        try {
            if (!is_plan || acting == 0) {
                throw InputError("",
                                 is_plan ? "nothing acts at this line or below it" : "this is not the plan that drives",
                                 is_plan ? "set it at a rule, a guard or an item" : "launch with this plan");
            }
            points.push_back(source_breakpoint(wanted, acting));
            points.back().stop.watch(run());
            list.push_back({{"id", points.back().id}, {"verified", true}, {"line", acting - 1 + first_line_}});
        } catch (const InputError& error) {
            list.push_back(refusal(next_id_++, error));
        }
    }
    if (is_plan) {
        lines_ = std::move(points);
    }
    return {{"breakpoints", list}};
}

DebugAdapter::Json DebugAdapter::set_named(const Json& arguments, const char* key, const char* reason,
                                           std::vector<BreakPoint>& points,
                                           Stop (*make)(const Plan& plan, const std::string& name)) {
    points.clear();
    json list = json::array();
    for (const json& wanted : objects_of(arguments, "breakpoints")) {
        const auto at = wanted.find(key);
        try {
            points.push_back(
                {next_id_++, reason,
                 make(debugged().plan, at != wanted.end() && at->is_string() ? at->get<std::string>() : "")});
            points.back().stop.watch(run());
            list.push_back({{"id", points.back().id}, {"verified", true}});
        } catch (const InputError& error) {
            list.push_back(refusal(next_id_++, error));
        }
    }
    return {{"breakpoints", list}};
}

DebugAdapter::Json DebugAdapter::set_function_breakpoints(const Json& arguments) {
    return set_named(arguments, "name", "function breakpoint", blocks_, stop_in_block);
}

DebugAdapter::Json DebugAdapter::set_data_breakpoints(const Json& arguments) {
    return set_named(arguments, "dataId", "data breakpoint", vars_, stop_on_change);
}

DebugAdapter::Json DebugAdapter::data_breakpoint_info(const Json& arguments) {
    const auto at = arguments.find("name");
    const std::string name = at != arguments.end() && at->is_string() ? at->get<std::string>() : "";
    const std::vector<std::string>& vars = debugged().plan.vars();
    if (std::find(vars.begin(), vars.end(), name) == vars.end()) {
        return {{"dataId", nullptr}, {"description", fmt::format("{} is no var of the plan", name)}};
    }
    return {{"dataId", name}, {"description", fmt::format("var {}", name)}, {"accessTypes", {"write"}}};
}

DebugAdapter::Json DebugAdapter::set_exception_breakpoints(const Json& arguments) {
    exceptions_.clear();
    stops_at_bad_end_ = false;
    const auto filters = arguments.find("filters");
    for (const json& filter : filters != arguments.end() && filters->is_array() ? *filters : json::array()) {
        if (filter == "unanswered") {
            exceptions_.push_back({next_id_++, "exception", stop_unanswered()});
        } else if (filter == "lost") {
            exceptions_.push_back({next_id_++, "exception", stop_at_loss()});
        } else if (filter == "touched") {
            exceptions_.push_back({next_id_++, "exception", Stop("a touch", [](const SteppedRun& at) {
                                       return static_cast<double>(at.run().touches.size());
                                   })});
        } else if (filter == "ended") {
            stops_at_bad_end_ = true;
        }
    }
    if (debugged_) {
        watch_all(false);
    }
    return nullptr;
}

} // namespace vturn
