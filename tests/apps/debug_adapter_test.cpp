/// The Debug Adapter Protocol, as an editor speaks it.

#include <algorithm>
#include <filesystem>
#include <fstream>
#include <sstream>

#include <doctest/doctest.h>
#include <nlohmann/json.hpp>

#include "cli.hpp"
#include "support/fixtures.hpp"
#include "support/golden.hpp"

namespace {

using nlohmann::json;

const std::string demo_folder = "data/fern-house/";

std::string framed(const std::string& text) {
    return "Content-Length: " + std::to_string(text.size()) + "\r\n\r\n" + text;
}

/// What an adapter says to some requests, in order.
struct Exchange {
    std::vector<json> requests;
    std::vector<json> said;
    int status = 0;
    std::string err;

    void ask(const std::string& command, json arguments = json::object()) {
        requests.push_back({{"seq", requests.size() + 1},
                            {"type", "request"},
                            {"command", command},
                            {"arguments", std::move(arguments)}});
    }
    void launch(const std::string& on_course, const std::string& by_robot, const std::string& plan,
                json more = json::object()) {
        ask("initialize", {{"adapterID", "vturn"}, {"linesStartAt1", true}});
        more["course"] = demo_folder + on_course + ".course.toml";
        more["robot"] = demo_folder + by_robot + ".robot.toml";
        more["plan"] = plan;
        ask("launch", more);
    }
    void run() {
        std::string text;
        for (const json& request : requests) {
            text += framed(request.dump());
        }
        run_raw(text);
    }
    void run_raw(const std::string& text) {
        std::istringstream in(text);
        std::ostringstream out;
        std::ostringstream errors;
        status = vturn::run({"debug-adapter"}, {in, out, errors});
        err = errors.str();
        std::string rest = out.str();
        while (!rest.empty()) {
            const std::string name = "Content-Length: ";
            REQUIRE(rest.compare(0, name.size(), name) == 0);
            const std::size_t size = std::stoul(rest.substr(name.size()));
            const std::size_t from = rest.find("\r\n\r\n") + 4;
            said.push_back(json::parse(rest.substr(from, size)));
            rest.erase(0, from + size);
        }
    }
    /// The response to the k-th request of a kind, from 0.
    const json& response(const std::string& command, std::size_t k = 0) const {
        for (const json& one : said) {
            if (one["type"] == "response" && one["command"] == command && k-- == 0) {
                return one;
            }
        }
        FAIL("no response to " << command);
        return said.front();
    }
    std::vector<json> events(const std::string& name) const {
        std::vector<json> list;
        for (const json& one : said) {
            if (one["type"] == "event" && one["event"] == name) {
                list.push_back(one["body"]);
            }
        }
        return list;
    }
};

json breaks(const std::string& plan, const std::vector<json>& points) {
    return {{"source", {{"path", std::filesystem::absolute(plan).string()}}}, {"breakpoints", points}};
}

} // namespace

TEST_CASE("debug adapter: an exchange as it was recorded") {
    Exchange e;
    const std::string plan = demo_folder + "left-first.plan";
    e.launch("fern-house", "sprig-2", plan, {{"stopOnEntry", true}});
    e.ask("setBreakpoints", breaks(plan, {{{"line", 10}, {"condition", "travelled > 500mm"}}, {{"line", 6}}}));
    e.ask("setExceptionBreakpoints", {{"filters", {"ended"}}});
    e.ask("configurationDone");
    e.ask("threads");
    e.ask("continue", {{"threadId", 1}});
    e.ask("stackTrace", {{"threadId", 1}});
    e.ask("scopes", {{"frameId", 1}});
    for (int group = 1; group <= 5; ++group) {
        e.ask("variables", {{"variablesReference", group}});
    }
    e.ask("variables", {{"variablesReference", 100}});
    e.ask("stepBack", {{"threadId", 1}});
    e.ask("continue", {{"threadId", 1}});
    e.ask("evaluate", {{"expression", "travelled / elapsed"}});
    e.ask("disconnect");
    e.run();
    CHECK(e.status == 0);
    CHECK(e.err.empty());
    std::string transcript;
    for (const json& one : e.said) {
        transcript += one.dump() + "\n";
    }
    const std::string here = std::filesystem::current_path().string() + "/";
    for (std::size_t at = transcript.find(here); at != std::string::npos; at = transcript.find(here)) {
        transcript.erase(at, here.size());
    }
    golden::check("debug-exchange.txt", transcript);
}

TEST_CASE("debug adapter: break points on lines, with conditions, counts and logs; on blocks and vars") {
    const fixtures::Folder folder;
    const std::string plan = folder.file("counted.plan");
    std::ofstream(plan) << "plan \"counted\"\nsensors 2\nvar bends = 0\n\nhabit follow {\n"
                           "    fresh [#.] -> set bends = bends + 1\n    [##] lasting 14 looks -> do park\n"
                           "    [#?] -> wheels(-24, 47)\n    [?#] -> wheels(47, -24)\n    else -> ahead(47)\n}\n\n"
                           "errand park {\n    ahead(20) over 10mm\n    note(\"parked\")\n    halt\n}\n";
    Exchange e;
    e.launch("fern-house", "sprig-2", plan);
    e.ask("setBreakpoints", breaks(plan, {{{"line", 8}, {"hitCondition", "3"}},
                                          {{"line", 10}, {"logMessage", "bend {bends}, {travelled} {nothing}"}},
                                          {{"line", 10}, {"condition", "bends > 1000"}},
                                          {{"line", 9}, {"hitCondition", "often"}},
                                          {{"line", 10}, {"condition", "bend > 1"}},
                                          {{"line", 99}}}));
    e.ask("setFunctionBreakpoints", {{"breakpoints", {{{"name", "park"}}, {{"name", "prak"}}}}});
    e.ask("dataBreakpointInfo", {{"name", "bends"}});
    e.ask("dataBreakpointInfo", {{"name", "knots"}});
    e.ask("configurationDone");
    e.ask("setBreakpoints", breaks(plan, {}));
    e.ask("setDataBreakpoints", {{"breakpoints", {{{"dataId", "bends"}}}}});
    e.ask("continue", {{"threadId", 1}});
    e.ask("variables", {{"variablesReference", 3}});
    e.ask("setDataBreakpoints", {{"breakpoints", json::array()}});
    e.ask("continue", {{"threadId", 1}});
    e.ask("stackTrace", {{"threadId", 1}});
    e.ask("stepOut", {{"threadId", 1}});
    e.run();
    CHECK(e.status == 0);
    const json points = e.response("setBreakpoints")["body"]["breakpoints"];
    REQUIRE(points.size() == 6);
    CHECK(points[0]["verified"] == true);
    CHECK(points[3]["message"].get<std::string>().find("`often` is no count of hits") == 0);
    CHECK(points[4]["message"].get<std::string>().find("did you mean `bends`?") != std::string::npos);
    CHECK(points[5]["message"].get<std::string>().find("nothing acts at this line or below it") == 0);
    const json blocks = e.response("setFunctionBreakpoints")["body"]["breakpoints"];
    CHECK(blocks[0]["verified"] == true);
    CHECK(blocks[1]["verified"] == false);
    CHECK(e.response("dataBreakpointInfo")["body"]["dataId"] == "bends");
    CHECK(e.response("dataBreakpointInfo", 1)["body"]["dataId"].is_null());
    const std::vector<json> stops = e.events("stopped");
    REQUIRE(stops.size() == 3);
    CHECK(stops[0]["reason"] == "breakpoint");
    CHECK(stops[0]["hitBreakpointIds"] == json::array({points[0]["id"]}));
    CHECK(stops[1]["reason"] == "data breakpoint");
    CHECK(stops[1]["description"] == "var bends");
    CHECK(stops[2]["reason"] == "function breakpoint");
    CHECK(e.response("variables")["body"]["variables"][0]["value"].get<std::string>() > "3");
    const json frames = e.response("stackTrace")["body"]["stackFrames"];
    REQUIRE(frames.size() == 2);
    CHECK(frames[0]["name"] == "park");
    CHECK(frames[0]["line"] == 14);
    CHECK(frames[1]["name"] == "follow");
    CHECK(frames[1]["line"] == 7);
    std::vector<std::string> out;
    for (const json& one : e.events("output")) {
        out.push_back(one["output"]);
    }
    REQUIRE(out.size() >= 3);
    CHECK(out[0].find("bend ") == 0);
    CHECK(out[0].find("mm {nothing}\n") != std::string::npos);
    CHECK(out[out.size() - 2].find(": note parked\n") != std::string::npos);
    CHECK(out.back().find("halt at ") == 0);
    CHECK(e.events("terminated").size() == 1);
    CHECK(e.events("exited").at(0)["exitCode"] == 0);
}

TEST_CASE("debug adapter: back and forth, other values, and an end that can be gone back from") {
    const std::string plan = demo_folder + "gentle.plan";
    Exchange e;
    e.launch("fern-house", "sprig-2", plan, {{"seed", 3}, {"limitSeconds", 20.5}});
    e.ask("setBreakpoints", breaks(plan, {{{"line", 9}}}));
    e.ask("setExceptionBreakpoints", {{"filters", {"ended", "unanswered", "touched"}}});
    e.ask("configurationDone");
    for (int k = 0; k < 60; ++k) {
        e.ask("continue", {{"threadId", 1}});
    }
    e.run();
    REQUIRE(e.status == 0);
    // It goes off course; the client is told so and may go back before it is over.
    const std::vector<json> stops = e.events("stopped");
    const auto end = std::find_if(stops.begin(), stops.end(), [](const json& s) { return s["reason"] == "exception"; });
    REQUIRE(end != stops.end());
    CHECK((*end)["description"] == "off course");
    CHECK(e.events("exited").at(0)["exitCode"] == 1);
    const auto hits = static_cast<int>(end - stops.begin());
    REQUIRE(hits > 1);

    Exchange lost;
    lost.launch("fern-house", "sprig-2", plan, {{"seed", 3}, {"limitSeconds", 20.5}});
    lost.ask("setExceptionBreakpoints", {{"filters", {"lost"}}});
    lost.ask("configurationDone");
    lost.ask("continue", {{"threadId", 1}});
    lost.run();
    REQUIRE(lost.events("stopped").size() == 1);
    CHECK(lost.events("stopped")[0]["reason"] == "exception");
    CHECK(lost.events("stopped")[0]["description"] == "the line lost");

    Exchange back;
    back.launch("fern-house", "sprig-2", plan, {{"seed", 3}, {"limitSeconds", 20.5}});
    back.ask("setBreakpoints", breaks(plan, {{{"line", 9}}}));
    back.ask("setExceptionBreakpoints", {{"filters", {"ended"}}});
    back.ask("configurationDone");
    for (int k = 0; k < hits; ++k) {
        back.ask("continue", {{"threadId", 1}});
    }
    back.ask("exceptionInfo", {{"threadId", 1}});
    back.ask("setVariable", {{"variablesReference", 1}, {"name", "sensor(1)"}, {"value", "1"}}); // it is over
    back.ask("reverseContinue", {{"threadId", 1}});
    back.ask("reverseContinue", {{"threadId", 1}});
    back.ask("variables", {{"variablesReference", 2}});
    back.ask("setVariable", {{"variablesReference", 1}, {"name", "sensor(1)"}, {"value", "0"}});
    back.ask("setVariable", {{"variablesReference", 1}, {"name", "sensor(2)"}, {"value", "1"}});
    back.ask("setVariable", {{"variablesReference", 1}, {"name", "sensor(2)"}, {"value", "2"}});
    back.ask("setVariable", {{"variablesReference", 2}, {"name", "offset"}, {"value", "2"}});
    back.ask("setVariable", {{"variablesReference", 2}, {"name", "button"}, {"value", "true"}});
    back.ask("variables", {{"variablesReference", 2}});
    back.ask("stepIn", {{"threadId", 1}});
    back.ask("next", {{"threadId", 1}});
    back.ask("stepBack", {{"threadId", 1}});
    back.ask("pause", {{"threadId", 1}});
    back.ask("restart");
    back.ask("configurationDone");
    back.ask("terminate");
    back.run();
    REQUIRE(back.status == 0);
    CHECK(back.response("exceptionInfo")["body"]["exceptionId"] == "off course");
    CHECK(back.response("setVariable")["message"] == "the run is over; go back first");
    const std::vector<json> after = back.events("stopped");
    REQUIRE(after.size() >= static_cast<std::size_t>(hits) + 7);
    CHECK(after[static_cast<std::size_t>(hits) + 1]["reason"] == "breakpoint");
    CHECK(after[static_cast<std::size_t>(hits) + 2]["reason"] == "breakpoint");
    CHECK(back.response("setVariable", 1)["body"]["value"] == "0.000");
    CHECK(back.response("setVariable", 2)["body"]["value"] == "1.000");
    CHECK(back.response("setVariable", 3)["success"] == false);
    CHECK(back.response("setVariable", 4)["message"].get<std::string>().find("`2` is no value") != std::string::npos);
    CHECK(back.response("setVariable", 5)["body"]["value"] == "true");
    const json now = back.response("variables", 1)["body"]["variables"];
    CHECK(now[1]["value"] == "[.#]");
    CHECK(back.events("initialized").size() == 2);
}

TEST_CASE("debug adapter: hits are counted from the start, also behind a step back") {
    const std::string plan = demo_folder + "left-first.plan";
    Exchange e;
    e.launch("fern-house", "sprig-2", plan);
    e.ask("setBreakpoints", breaks(plan, {{{"line", 9}, {"hitCondition", "== 3"}}}));
    e.ask("configurationDone");
    e.ask("stepBack", {{"threadId", 1}});
    e.ask("continue", {{"threadId", 1}});
    e.ask("variables", {{"variablesReference", 2}});
    e.ask("continue", {{"threadId", 1}});
    e.run();
    const std::vector<json> stops = e.events("stopped");
    REQUIRE(stops.size() == 3);
    CHECK(stops[0]["reason"] == "breakpoint");
    CHECK(stops[1]["reason"] == "step");
    CHECK(stops[2]["reason"] == "breakpoint");
    CHECK(e.events("terminated").size() == 1);
}

TEST_CASE("debug adapter: what it cannot do is told in its response, what is no protocol ends it") {
    Exchange e;
    e.ask("stackTrace");
    e.ask("initialize");
    e.ask("launch",
          {{"course", demo_folder + "fern-house.course.toml"}, {"robot", demo_folder + "sprig-2.robot.toml"}});
    e.ask("launch", {{"course", demo_folder + "fern-house.course.toml"},
                     {"robot", demo_folder + "sprig-2.robot.toml"},
                     {"plan", demo_folder + "rounds.plan"}});
    e.ask("launch", {{"course", 3}});
    e.ask("launch", {{"corse", "x"}});
    e.ask("launch", {{"course", demo_folder + "fern-house.course.toml"},
                     {"robot", demo_folder + "sprig-2.robot.toml"},
                     {"plan", demo_folder + "left-first.plan"},
                     {"seed", -1}});
    e.ask("launch", {{"course", demo_folder + "fern-house.course.toml"},
                     {"robot", demo_folder + "sprig-2.robot.toml"},
                     {"plan", demo_folder + "left-first.plan"},
                     {"limitSeconds", "x"}});
    e.ask("dance");
    e.ask("restart");
    e.run();
    CHECK(e.status == 0);
    CHECK(e.response("stackTrace")["message"] == "nothing was launched; send a launch request first");
    CHECK(e.response("launch")["message"].get<std::string>().find("a launch wants \"plan\"") == 0);
    CHECK(e.response("launch", 1)["message"].get<std::string>().find("written for 5 line sensors") !=
          std::string::npos);
    CHECK(e.response("launch", 2)["success"] == false);
    CHECK(e.response("launch", 3)["message"].get<std::string>().find("did you mean `course`?") != std::string::npos);
    CHECK(e.response("launch", 4)["message"].get<std::string>().find("\"seed\"") == 0);
    CHECK(e.response("launch", 5)["message"].get<std::string>().find("\"limitSeconds\"") == 0);
    CHECK(e.response("dance")["success"] == false);
    CHECK(e.response("restart")["success"] == false);

    Exchange folders; // what a launch does not name is what the plan's folder means
    const fixtures::Folder folder;
    CHECK(fixtures::call_vturn({"new", folder.file("mine"), "--sensors", "2"}).status == 0);
    folders.ask("initialize");
    folders.ask("launch", {{"plan", folder.file("mine/follow.plan")}, {"stopOnEntry", true}});
    folders.ask("launch", {{"plan", demo_folder + "left-first.plan"}});
    std::filesystem::copy(demo_folder + "left-first.plan", folder.file("alone.plan"));
    folders.ask("launch", {{"plan", folder.file("alone.plan")}});
    folders.run();
    CHECK(folders.response("launch")["success"] == true);
    CHECK(folders.response("launch", 1)["message"].get<std::string>().find(
              "no course is named, and data/fern-house has ") == 0);
    CHECK(folders.response("launch", 2)["message"].get<std::string>().find("no course is named, and ") == 0);

    for (const std::string& text :
         {std::string("hello\r\n\r\n"), std::string("Content-Length: 99\r\n\r\n{}"),
          std::string("Content-Length: x\r\n\r\n"), std::string("Content-Length: 99999999999\r\n\r\n"), framed("[]"),
          framed("{"), std::string(9000, 'a'), std::string("Content-Length: 2\r\n")}) {
        CAPTURE(text.substr(0, 40));
        Exchange bad;
        bad.run_raw(text);
        CHECK(bad.status == 2);
        CHECK_FALSE(bad.err.empty());
    }
    Exchange odd; // messages that are no requests, and members of other types, are no harm
    odd.run_raw(framed("{}") + framed(R"({"type":"event"})") +
                framed(R"({"type":"request","seq":"x","command":"setBreakpoints","arguments":{"breakpoints":3}})") +
                framed(R"({"type":"request","command":7,"arguments":[]})"));
    CHECK(odd.status == 0);
    CHECK(odd.said.size() == 2);
}

TEST_CASE("debug adapter: hostile members within a debugged run") {
    const std::string plan = demo_folder + "left-first.plan";
    Exchange e;
    e.launch("fern-house", "sprig-2", plan, {{"stopOnEntry", true}});
    e.ask("configurationDone");
    for (const json& odd : {json(nullptr), json(-1), json(1e300), json("x"), json::array({1}), json({{"a", 1}})}) {
        for (const char* command :
             {"setBreakpoints", "setFunctionBreakpoints", "setDataBreakpoints", "dataBreakpointInfo",
              "setExceptionBreakpoints", "stackTrace", "scopes", "variables", "setVariable", "evaluate"}) {
            e.ask(command, {{"source", odd},
                            {"breakpoints", json::array({odd})},
                            {"filters", odd},
                            {"name", odd},
                            {"frameId", odd},
                            {"startFrame", odd},
                            {"levels", odd},
                            {"variablesReference", odd},
                            {"value", odd},
                            {"expression", odd}});
        }
    }
    e.ask("variables", {{"variablesReference", 2147483647}});
    e.ask("evaluate", {{"expression", std::string(3000, '(')}});
    e.run();
    CHECK(e.status == 0);
    CHECK(e.said.size() > 60);
}
