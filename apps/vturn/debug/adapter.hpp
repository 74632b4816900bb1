#pragma once

/// `vturn debug-adapter`: an editor debugs a plan that drives over a course, by the Debug Adapter Protocol.

#include <map>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include <nlohmann/json_fwd.hpp>

#include "cli.hpp"
#include "debug/break_points.hpp"
#include "vast_turn/course/board/course.hpp"
#include "vast_turn/sim/stepped_run.hpp"

namespace vturn {

/// What is debugged: what its launch request names, read and made ready.
struct DebuggedRun {
    vast_turn::Course course;
    vast_turn::Robot robot;
    vast_turn::Plan plan;
    std::string plan_path; ///< absolute
    vast_turn::RunOptions options;
    vast_turn::Scene scene{course, robot};
    vast_turn::SteppedRun run{scene, plan, options};
};

/// Answers requests until the client leaves. A run takes milliseconds, so each request is carried out whole before the
/// next is read.
class DebugAdapter {
public:
    explicit DebugAdapter(const Streams& streams) : streams_(streams) {}
    ~DebugAdapter();
    DebugAdapter(const DebugAdapter&) = delete;
    DebugAdapter& operator=(const DebugAdapter&) = delete;

    /// Returns when the client disconnects or its input ends. Throws InputError for input that is no protocol.
    void serve();

private:
    using Json = nlohmann::json;
    using Request = Json (DebugAdapter::*)(const Json& arguments);
    static const std::map<std::string, Request>& requests();
    void carry_out(const Json& request);

    Json initialize(const Json& arguments);
    Json launch(const Json& arguments);
    Json restart(const Json& arguments);
    Json configuration_done(const Json& arguments);
    Json set_breakpoints(const Json& arguments);
    Json set_function_breakpoints(const Json& arguments);
    Json data_breakpoint_info(const Json& arguments);
    Json set_data_breakpoints(const Json& arguments);
    Json set_exception_breakpoints(const Json& arguments);
    Json threads(const Json& arguments);
    Json stack_trace(const Json& arguments);
    Json scopes(const Json& arguments);
    Json variables(const Json& arguments);
    Json set_variable(const Json& arguments);
    Json evaluate(const Json& arguments);
    Json exception_info(const Json& arguments);
    Json go_on(const Json& arguments);
    Json one_look(const Json& arguments);
    Json to_other_line(const Json& arguments);
    Json out_of_block(const Json& arguments);
    Json one_look_back(const Json& arguments);
    Json go_back(const Json& arguments);
    Json pause(const Json& arguments);
    Json leave(const Json& arguments);

    /// Drives on until a break point stops it or `arrived` says so; tells where it stands then.
    void drive(const std::function<bool(const vast_turn::SteppedRun&)>& arrived);
    /// The break points that stop the run where it stands; log points are told, when `tells`.
    std::vector<const BreakPoint*> stopping(bool tells);
    std::vector<std::vector<BreakPoint>*> all_breakpoints();
    void watch_all(bool counts_anew);
    void back_to(std::size_t look);
    void load(const Json& arguments);
    void tell_stopped(const std::string& reason, const std::vector<const BreakPoint*>& at = {});
    void tell_end();
    void tell_events(std::size_t from);
    void event(const std::string& name, const Json& body);
    void output(const std::string& category, const std::string& text);
    DebuggedRun& debugged();
    vast_turn::SteppedRun& run() { return debugged().run; }
    Json source() const;
    /// Break points on something that has a name, which stands under `key`, in place of those of a list.
    Json set_named(const Json& arguments, const char* key, const char* reason, std::vector<BreakPoint>& points,
                   vast_turn::Stop (*make)(const vast_turn::Plan& plan, const std::string& name));
    BreakPoint source_breakpoint(const Json& wanted, int line);

    const Streams& streams_;
    std::unique_ptr<DebuggedRun> debugged_;
    std::unique_ptr<Json> launched_; ///< its arguments, for a restart
    std::vector<BreakPoint> lines_;
    std::vector<BreakPoint> blocks_;
    std::vector<BreakPoint> vars_;
    std::vector<BreakPoint> exceptions_;
    bool stops_at_bad_end_ = true;
    bool stops_on_entry_ = false;
    bool never_stops_ = false;
    int next_id_ = 1;
    int sequence_ = 1;
    int first_line_ = 1;
    bool leaves_ = false;
    bool was_told_over_ = false;
    std::vector<std::function<void()>> afterwards_; ///< events that follow the response
};

} // namespace vturn
