
#include <sstream>

#include <doctest/doctest.h>
#include <nlohmann/json.hpp>
#include <pugixml.hpp>

#include "support/fern_house.hpp"
#include "support/fixtures.hpp"
#include "vast_turn/formats/write/course_json.hpp"
#include "vast_turn/formats/write/table_json.hpp"
#include "vast_turn/formats/write/trace_csv.hpp"
#include "vast_turn/formats/write/trips_json.hpp"
#include "vast_turn/formats/write/trips_junit.hpp"

using namespace vast_turn;

namespace {

struct ResultHouse : fixtures::FernHouse {
    Run run = drive(scene, plan);

    std::vector<TripCase> cases() const { return cases_of(scene, trips); }

    TripReport report() const {
        TripReportOptions options;
        options.cures = false;
        return report_trips(cases(), {plan}, options);
    }
};

std::vector<std::string> lines_of(const std::string& text) {
    std::vector<std::string> lines;
    std::istringstream in(text);
    for (std::string line; std::getline(in, line);) {
        lines.push_back(line);
    }
    return lines;
}

} // namespace

TEST_CASE("the trace has a line a look with time, pose, readings, pattern, rule and wheels") {
    const ResultHouse f;
    const auto lines = lines_of(trace_csv(f.run, f.robot, &f.plan));
    REQUIRE(lines.size() == f.run.looks.size() + 1);
    CHECK(lines[0] == "time_s,x_mm,y_mm,heading_deg,way_mm,left_deg,right_deg,raw_1,raw_2,reading_1,reading_2,pattern,"
                      "block,rule_line,"
                      "rule,left_pct,right_pct");
    CHECK(lines[1].starts_with("0.0000,186.000,790.000,0.000,"));
    CHECK(lines[1].ends_with(",..,follow,11,\"else\",47.00,47.00"));
    CHECK(lines.back().ends_with(",##,follow,8,\"[##] lasting 14 looks\",0.00,0.00"));
}

TEST_CASE("a rule with quotation marks or commas stays one field of the trace") {
    const ResultHouse f;
    const Plan plan = fixtures::compiled(fixtures::plan_text(2, "clamp(offset, -1, 1) >= -1 -> still"));
    RunOptions options;
    options.time_limit_s = 0.01;
    const auto lines = lines_of(trace_csv(drive(f.scene, plan, options), f.robot, &plan));
    CHECK(lines[1].find(",\"clamp(offset, -1, 1) >= -1\",") != std::string::npos);
}

TEST_CASE("the trace of own code leaves the rule empty") {
    const ResultHouse f;
    RunOptions options;
    options.time_limit_s = 0.01;
    const Run run = drive(f.scene, Decide([](const Look&, Answer& answer) { answer = Answer{}; }), options);
    CHECK(lines_of(trace_csv(run, f.robot, nullptr))[1].ends_with(",..,,,,0.00,0.00"));
}

TEST_CASE("a run as JSON") {
    const ResultHouse f;
    const auto json = nlohmann::json::parse(run_json(f.scene, f.plan, f.run));
    CHECK(json["plan"] == "left first");
    CHECK(json["ended"] == "halt");
    CHECK(json["route"].size() == 3);
    CHECK(json["route"][2]["place"] == "mist room");
    CHECK(json["time_s"].get<double>() == doctest::Approx(f.run.time_s));
    CHECK(json["looks"] == f.run.looks_done);
    CHECK(json["events"][0]["text"] == "on the pad");
}

TEST_CASE("a course and a table as JSON") {
    const ResultHouse f;
    const auto course = nlohmann::json::parse(course_json(f.course, find_route_graph(f.course)));
    CHECK(course["places"].size() == 4);
    CHECK(course["tapes"][0]["width_mm"] == 19.0);
    CHECK(course["layout"].is_null());
    Course made = f.course;
    made.laid = LaidOut{"floor.pieces.toml", "bench aisle\naisle bench\n", 5, 2};
    made.things = {{"watering can", {310.0, 205.0}, {60.0, 40.0}, 2.0, 7.5}};
    made.walls = {{{10.0, 20.0}, {10.0, 400.0}}};
    const auto whole = nlohmann::json::parse(course_json(made, find_route_graph(made)));
    CHECK(whole["layout"]["rows"] == nlohmann::json::array({"bench aisle", "aisle bench"}));
    CHECK(whole["layout"]["number"] == 2);
    CHECK(whole["things"][0]["when"] == "from 2 s, until 7.5 s");
    CHECK(whole["walls"][0]["to_mm"] == nlohmann::json::array({10.0, 400.0}));
    const auto table = nlohmann::json::parse(table_json(f.plan, pattern_tables(f.plan)));
    CHECK(table["sensors"] == 2);
    const auto& row = table["habits"][0]["rows"][3];
    CHECK(row["pattern"] == "##");
    CHECK(row["entries"][0]["when"] == "lasting 14 looks");
    CHECK(row["entries"][1]["wheels_pct"] == nlohmann::json::array({-24.0, 47.0}));
    CHECK(row["entries"][1]["rule"]["line"] == 9);
}

TEST_CASE("trips as JSON say what failed, where and by which rule") {
    const ResultHouse f;
    const auto json = nlohmann::json::parse(trips_json(f.report()));
    CHECK(json["passed"] == 1);
    CHECK(json["failed"] == 1);
    const auto& failed = json["plans"][0]["trips"][1];
    CHECK(failed["passed"] == false);
    CHECK(failed["parting"]["expected"] == "dock");
    CHECK(failed["parting"]["rule"]["line"] == 9);
    CHECK(failed["parting"]["held_too"][0]["line"] == 10);
    CHECK(json["plans"][0]["trips"][0]["parting"].is_null());
}

TEST_CASE("trips as JUnit XML: a suite a plan, a case a trip") {
    const ResultHouse f;
    pugi::xml_document document;
    REQUIRE(document.load_string(trips_junit(f.report()).c_str()));
    const pugi::xml_node suite = document.child("testsuites").child("testsuite");
    CHECK(suite.attribute("name").as_string() == std::string("left first"));
    CHECK(suite.attribute("tests").as_int() == 2);
    CHECK(suite.attribute("failures").as_int() == 1);
    const pugi::xml_node failed = suite.find_child_by_attribute("testcase", "name", "fetch pots");
    CHECK(
        std::string(failed.child("failure").attribute("message").as_string()).find("expected sharp bend, fork, dock") !=
        std::string::npos);
    CHECK(std::string(failed.child("failure").text().as_string()).find("line 9") != std::string::npos);
    CHECK_FALSE(suite.find_child_by_attribute("testcase", "name", "water the ferns").child("failure"));
}

TEST_CASE("names with markup and control characters stay valid XML") {
    ResultHouse f;
    f.trips[0].name = "a<b>&\"\x01";
    pugi::xml_document document;
    REQUIRE(document.load_string(trips_junit(f.report()).c_str()));
    CHECK(document.child("testsuites").child("testsuite").child("testcase").attribute("name").as_string() ==
          std::string("a<b>&\"\u2401"));
}
