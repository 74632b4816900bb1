#include "debug/adapter.hpp"

#include <algorithm>
#include <filesystem>
#include <utility>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include "debug/messages.hpp"
#include "debug/variables.hpp"
#include "vast_turn/plan/explain/describe.hpp"

namespace vturn {

using namespace vast_turn;
using nlohmann::json;

namespace {

constexpr int robot_thread = 1;

std::string text_of(const json& arguments, const char* key) {
    const auto at = arguments.find(key);
    return at != arguments.end() && at->is_string() ? at->get<std::string>() : std::string();
}

int number_of(const json& arguments, const char* key, int otherwise) {
    const auto at = arguments.find(key);
    return at != arguments.end() && at->is_number_integer() ? at->get<int>() : otherwise;
}

} // namespace

DebugAdapter::~DebugAdapter() = default;

const std::map<std::string, DebugAdapter::Request>& DebugAdapter::requests() {
    static const std::map<std::string, Request> all = {
        {"initialize", &DebugAdapter::initialize},
        {"launch", &DebugAdapter::launch},
        {"restart", &DebugAdapter::restart},
        {"configurationDone", &DebugAdapter::configuration_done},
        {"setBreakpoints", &DebugAdapter::set_breakpoints},
        {"setFunctionBreakpoints", &DebugAdapter::set_function_breakpoints},
        {"dataBreakpointInfo", &DebugAdapter::data_breakpoint_info},
        {"setDataBreakpoints", &DebugAdapter::set_data_breakpoints},
        {"setExceptionBreakpoints", &DebugAdapter::set_exception_breakpoints},
        {"threads", &DebugAdapter::threads},
        {"stackTrace", &DebugAdapter::stack_trace},
        {"scopes", &DebugAdapter::scopes},
        {"variables", &DebugAdapter::variables},
        {"setVariable", &DebugAdapter::set_variable},
        {"evaluate", &DebugAdapter::evaluate},
        {"exceptionInfo", &DebugAdapter::exception_info},
        {"continue", &DebugAdapter::go_on},
        {"next", &DebugAdapter::one_look},
        {"stepIn", &DebugAdapter::to_other_line},
        {"stepOut", &DebugAdapter::out_of_block},
        {"stepBack", &DebugAdapter::one_look_back},
        {"reverseContinue", &DebugAdapter::go_back},
        {"pause", &DebugAdapter::pause},
        {"terminate", &DebugAdapter::leave},
        {"disconnect", &DebugAdapter::leave}};
    return all;
}

void DebugAdapter::serve() {
    while (!leaves_) {
        const std::optional<std::string> text = read_message(streams_.in);
        if (!text) {
            return;
        }
        const json request = json::parse(*text, nullptr, false);
        if (request.is_discarded() || !request.is_object()) {
            throw InputError("standard input", "a message is no JSON object", "speak the Debug Adapter Protocol");
        }
        if (text_of(request, "type") == "request") {
            carry_out(request);
        }
    }
}

void DebugAdapter::carry_out(const Json& request) {
    const std::string command = text_of(request, "command");
    json response = {
        {"type", "response"}, {"request_seq", number_of(request, "seq", 0)}, {"command", command}, {"success", true}};
    afterwards_.clear();
    try {
        const auto known = requests().find(command);
        if (known == requests().end()) {
            throw InputError("", fmt::format("there is no request `{}` here", command), "");
        }
        const auto arguments = request.find("arguments");
        json body =
            (this->*known->second)(arguments != request.end() && arguments->is_object() ? *arguments : json::object());
        if (!body.is_null()) {
            response["body"] = std::move(body);
        }
    } catch (const InputError& error) {
        afterwards_.clear();
        response["success"] = false;
        response["message"] = words_of(error);
        response["body"] = {{"error", {{"id", 1}, {"format", words_of(error)}, {"showUser", true}}}};
        if (command == "launch" || command == "restart") {
            output("stderr", error.what());
        }
    }
    response["seq"] = sequence_++;
    write_message(streams_.raw_out(), response.dump());
    for (const auto& then : std::exchange(afterwards_, {})) {
        then();
    }
}

void DebugAdapter::event(const std::string& name, const Json& body) {
    write_message(streams_.raw_out(),
                  json({{"seq", sequence_++}, {"type", "event"}, {"event", name}, {"body", body}}).dump());
}

void DebugAdapter::output(const std::string& category, const std::string& text) {
    event("output", {{"category", category}, {"output", text}});
}

DebuggedRun& DebugAdapter::debugged() {
    if (!debugged_) {
        throw InputError("", "nothing was launched", "send a launch request first");
    }
    return *debugged_;
}

DebugAdapter::Json DebugAdapter::source() const {
    return {{"name", std::filesystem::path(debugged_->plan_path).filename().string()}, {"path", debugged_->plan_path}};
}

void DebugAdapter::tell_stopped(const std::string& reason, const std::vector<const BreakPoint*>& at) {
    json body = {{"reason", reason}, {"threadId", robot_thread}, {"allThreadsStopped", true}};
    if (!at.empty()) {
        json ids = json::array();
        for (const BreakPoint* point : at) {
            ids.push_back(point->id);
        }
        body["hitBreakpointIds"] = ids;
        body["description"] = at.front()->stop.words();
    }
    event("stopped", body);
}

/// How it ended; a run that ended well is over for the client too, another may be gone back in.
void DebugAdapter::tell_end() {
    const Run& whole = run().run();
    const bool well = whole.ending == Ending::halted;
    if (!was_told_over_) {
        output(well ? "stdout" : "stderr",
               fmt::format("{} at {:.3f} s, {:.0f},{:.0f} mm: {}\n", name_of(whole.ending), whole.time_s,
                           whole.end_at.x, whole.end_at.y, whole.ended_because));
    }
    if (!well && stops_at_bad_end_ && !never_stops_ && !was_told_over_) {
        was_told_over_ = true;
        event("stopped", {{"reason", "exception"},
                          {"threadId", robot_thread},
                          {"allThreadsStopped", true},
                          {"description", name_of(whole.ending)},
                          {"text", whole.ended_because}});
        return;
    }
    event("terminated", json::object());
    event("exited", {{"exitCode", well ? 0 : 1}});
}

/// Notes, lights and the like that were said since.
void DebugAdapter::tell_events(std::size_t from) {
    const std::vector<RunEvent>& events = run().run().events;
    for (std::size_t i = from; i < events.size(); ++i) {
        output("stdout", fmt::format("{:.3f} s: {} {}\n", events[i].t_s, event_name(events[i].event.kind),
                                     describe_event(run().mind()->plan(), events[i].event)));
    }
}

std::vector<std::vector<BreakPoint>*> DebugAdapter::all_breakpoints() {
    return {&lines_, &blocks_, &vars_, &exceptions_};
}

void DebugAdapter::watch_all(bool counts_anew) {
    for (std::vector<BreakPoint>* list : all_breakpoints()) {
        for (BreakPoint& point : *list) {
            point.stop.watch(run());
            point.come = counts_anew ? 0 : point.come;
        }
    }
}

std::vector<const BreakPoint*> DebugAdapter::stopping(bool tells) {
    std::vector<const BreakPoint*> out;
    for (std::vector<BreakPoint>* list : all_breakpoints()) {
        for (BreakPoint& point : *list) {
            if (!point.stops(run())) {
                continue;
            }
            if (point.log.empty()) {
                out.push_back(&point);
            } else if (tells) {
                output("console", log_text(point.log, run()) + "\n");
            }
        }
    }
    return out;
}

void DebugAdapter::drive(const std::function<bool(const SteppedRun&)>& arrived) {
    SteppedRun& driven = run();
    std::size_t said = driven.run().events.size();
    watch_all(false);
    while (driven.next()) {
        tell_events(said);
        said = driven.run().events.size();
        const std::vector<const BreakPoint*> at = never_stops_ ? std::vector<const BreakPoint*>{} : stopping(true);
        if (!at.empty()) {
            return tell_stopped(at.front()->reason, at);
        }
        if (arrived(driven)) {
            return tell_stopped("step");
        }
    }
    tell_events(said);
    tell_end();
}

DebugAdapter::Json DebugAdapter::go_on(const Json& /*arguments*/) {
    debugged();
    afterwards_.emplace_back([this] { drive([](const SteppedRun&) { return false; }); });
    return {{"allThreadsContinued", true}};
}

DebugAdapter::Json DebugAdapter::one_look(const Json& /*arguments*/) {
    debugged();
    afterwards_.emplace_back([this] { drive([](const SteppedRun&) { return true; }); });
    return nullptr;
}

DebugAdapter::Json DebugAdapter::to_other_line(const Json& /*arguments*/) {
    const RuleId now = run().answer().rule;
    afterwards_.emplace_back(
        [this, now] { drive([now](const SteppedRun& at) { return !(at.answer().rule == now); }); });
    return nullptr;
}

DebugAdapter::Json DebugAdapter::out_of_block(const Json& /*arguments*/) {
    const int deep = run().mind()->machine().depth();
    afterwards_.emplace_back(
        [this, deep] { drive([deep](const SteppedRun& at) { return at.mind()->machine().depth() < deep; }); });
    return nullptr;
}

/// To a look before this one. Where hits are counted they are counted from the start, by driving there once more.
void DebugAdapter::back_to(std::size_t look) {
    was_told_over_ = false;
    const bool counts = std::any_of(lines_.begin(), lines_.end(), [](const BreakPoint& one) { return one.hits; });
    if (!counts) {
        run().to_look(look);
        return;
    }
    run().to_look(0);
    watch_all(true);
    while (run().at() < look && run().next()) {
        stopping(false);
    }
}

DebugAdapter::Json DebugAdapter::one_look_back(const Json& /*arguments*/) {
    const std::size_t at = run().at();
    back_to(at == 0 ? 0 : at - 1);
    afterwards_.emplace_back([this, at] { tell_stopped(at == 0 ? "entry" : "step"); });
    return nullptr;
}

/// The last look before this one at which a break point would have stopped, found by driving there once more.
DebugAdapter::Json DebugAdapter::go_back(const Json& /*arguments*/) {
    SteppedRun& driven = run();
    const std::size_t from = driven.at();
    driven.to_look(0);
    watch_all(true);
    std::size_t last = 0;
    std::vector<const BreakPoint*> at;
    while (driven.at() + 1 < from && driven.next()) {
        std::vector<const BreakPoint*> here = stopping(false);
        if (!here.empty()) {
            last = driven.at();
            at = std::move(here);
        }
    }
    back_to(last);
    afterwards_.emplace_back([this, at] { tell_stopped(at.empty() ? "entry" : at.front()->reason, at); });
    return nullptr;
}

DebugAdapter::Json DebugAdapter::pause(const Json& /*arguments*/) {
    debugged();
    afterwards_.emplace_back([this] { tell_stopped("pause"); });
    return nullptr;
}

DebugAdapter::Json DebugAdapter::leave(const Json& /*arguments*/) {
    leaves_ = true;
    if (debugged_) {
        afterwards_.emplace_back([this] { event("terminated", json::object()); });
    }
    return nullptr;
}

DebugAdapter::Json DebugAdapter::threads(const Json& /*arguments*/) {
    return {{"threads", {{{"id", robot_thread}, {"name", debugged_ ? debugged_->robot.name : "robot"}}}}};
}

DebugAdapter::Json DebugAdapter::stack_trace(const Json& arguments) {
    json frames = json::array();
    const std::vector<ShownBlock> blocks = shown_blocks(run());
    const auto first = static_cast<std::size_t>(std::max(0, number_of(arguments, "startFrame", 0)));
    const int levels = number_of(arguments, "levels", 0);
    for (std::size_t i = first; i < blocks.size() && (levels <= 0 || frames.size() < static_cast<std::size_t>(levels));
         ++i) {
        frames.push_back({{"id", blocks[i].number + 1},
                          {"name", blocks[i].name},
                          {"source", source()},
                          {"line", blocks[i].line - 1 + first_line_},
                          {"column", first_line_}});
    }
    return {{"stackFrames", frames}, {"totalFrames", blocks.size()}};
}

DebugAdapter::Json DebugAdapter::scopes(const Json& arguments) {
    const int block = number_of(arguments, "frameId", 1) - 1;
    json list = json::array();
    const auto scope = [&](const char* name, int group) {
        list.push_back({{"name", name}, {"variablesReference", group}, {"expensive", false}});
    };
    scope("Readings", readings);
    scope("Inputs", inputs);
    scope("Vars", vars);
    scope("Block", blocks_from + std::max(0, block));
    scope("Pids", pids);
    scope("Robot", robot_state);
    return {{"scopes", list}};
}

DebugAdapter::Json DebugAdapter::variables(const Json& arguments) {
    json list = json::array();
    for (const ShownValue& value : shown_values(run(), number_of(arguments, "variablesReference", 0))) {
        json one = {{"name", value.name}, {"value", value.value}, {"variablesReference", 0}};
        if (value.can_be_set) {
            one["evaluateName"] = value.name; // the plan's language has a word for each of those
        } else {
            one["presentationHint"] = {{"attributes", {"readOnly"}}};
        }
        list.push_back(one);
    }
    return {{"variables", list}};
}

DebugAdapter::Json DebugAdapter::set_variable(const Json& arguments) {
    if (run().is_over()) {
        throw InputError("", "the run is over", "go back first");
    }
    const int group = number_of(arguments, "variablesReference", 0);
    const std::string name = text_of(arguments, "name");
    run().instead(change_of(run(), group, name, text_of(arguments, "value")));
    for (const ShownValue& value : shown_values(run(), group)) {
        if (value.name == name) {
            return {{"value", value.value}};
        }
    }
    return nullptr;
}

DebugAdapter::Json DebugAdapter::evaluate(const Json& arguments) {
    ProbeResult made = make_probe(run().mind()->plan(), text_of(arguments, "expression"), "", true);
    if (!made.probe) {
        throw InputError(made.problems);
    }
    return {{"result", made.probe->words(made.probe->value(*run().mind(), run().look()))}, {"variablesReference", 0}};
}

DebugAdapter::Json DebugAdapter::exception_info(const Json& /*arguments*/) {
    const Run& so_far = run().run();
    const bool over = run().is_over();
    return {{"exceptionId", over ? name_of(so_far.ending) : "exception"},
            {"description", over ? so_far.ended_because : "it was asked to stop here"},
            {"breakMode", "always"}};
}

} // namespace vturn
