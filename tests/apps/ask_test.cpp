/// `vturn ask` and the table with a robot, on the demo data.
#include <doctest/doctest.h>
#include <nlohmann/json.hpp>

#include "support/fixtures.hpp"
#include "support/golden.hpp"
#include "support/rounds.hpp"
#include "vast_turn/formats/read/text_file.hpp"
#include "vast_turn/formats/write/text_file.hpp"

using fixtures::call_vturn;
using fixtures::Called;
using fixtures::Folder;

namespace {

const std::string wide_plan = "data/fern-house/five-wide.plan";
const std::string left_plan = "data/fern-house/left-first.plan";
const std::string right_plan = "data/fern-house/right-first.plan";
const std::string wide_robot = "data/fern-house/sprig-5.robot.toml";
const std::string narrow_robot = "data/fern-house/sprig-2.robot.toml";
const std::string fern_house = "data/fern-house/fern-house.course.toml";

} // namespace

TEST_CASE("ask and table print what they printed") {
    golden::check("ask-pattern.txt", call_vturn({"ask", wide_plan, "--pattern", "##...", "--robot", wide_robot}).out);
    golden::check("ask-script.txt", call_vturn({"ask", left_plan, "--script", "data/fern-house/fork.looks"}).out);
    golden::check("ask-card.txt",
                  call_vturn({"ask", wide_plan, "--robot", wide_robot, "--card", "--fault", "swapped:2,4"}).out);
    golden::check("ask-pattern.json",
                  call_vturn({"ask", wide_plan, "--pattern", "##...", "--robot", wide_robot, "--json"}).out);
    golden::check("ask-card.json", call_vturn({"ask", left_plan, "--robot", narrow_robot, "--card", "--json"}).out);
    golden::check("table-five-wide.txt", call_vturn({"table", wide_plan, "--robot", wide_robot}).out);
    golden::check("table-five-wide.md", call_vturn({"table", wide_plan, "--robot", wide_robot, "--markdown"}).out);
}

TEST_CASE("the log of a run is decided again as it was; another plan differs from the fork on") {
    const Folder folder;
    const std::string trace = folder.file("trace.csv");
    REQUIRE(call_vturn({"run", fern_house, narrow_robot, left_plan, "--trace", trace}).status == 0);
    const Called same = call_vturn({"ask", left_plan, "--log", trace});
    CHECK(same.status == 0);
    CHECK(same.out.find("decides as logged at all 827 looks") != std::string::npos);
    const Called other = call_vturn({"ask", right_plan, "--log", trace, "-o", folder.file("decisions.csv")});
    CHECK(other.status == 1);
    golden::check("ask-log.txt", other.out);
    const std::string decisions = vast_turn::read_file(folder.file("decisions.csv"));
    CHECK(std::count(decisions.begin(), decisions.end(), '\n') == 828);
    const auto json = nlohmann::json::parse(call_vturn({"ask", right_plan, "--log", trace, "--json"}).out);
    CHECK(json["first"]["look"] == json["differing"][0]);
    CHECK(json["first"]["logged_left_pct"] == -24.0);
}

TEST_CASE("a log of raw counts is read with a calibration") {
    const Folder folder;
    const std::string trace = folder.file("trace.csv");
    const std::string levels = folder.file("k.calibration.toml");
    REQUIRE(call_vturn({"calibrate", "--simulate", fern_house, narrow_robot, "-o", levels}).status == 0);
    REQUIRE(
        call_vturn({"run", fern_house, narrow_robot, left_plan, "--trace", trace, "--calibration", levels}).status ==
        0);
    CHECK(call_vturn({"ask", left_plan, "--log", trace, "--robot", narrow_robot, "--calibration", levels}).status == 0);
    CHECK(call_vturn({"ask", left_plan, "--raw", "100,800", "--robot", narrow_robot, "--calibration", levels}).status ==
          0);
    CHECK(call_vturn({"ask", left_plan, "--raw", "100,800"}).status == 2);
}

TEST_CASE("exit status of ask: unanswered looks and wrong lamps are 1, calls that make no sense 2") {
    const Folder folder;
    vast_turn::write_file(folder.file("p.plan"), "plan \"p\"\nsensors 1\nhabit go {\n [#] -> still\n}\n");
    CHECK(call_vturn({"ask", folder.file("p.plan"), "--pattern", "#"}).status == 0);
    CHECK(call_vturn({"ask", folder.file("p.plan"), "--pattern", "."}).status == 1);
    CHECK(call_vturn({"ask", left_plan, "--robot", narrow_robot, "--card"}).status == 0);
    CHECK(call_vturn({"ask", left_plan, "--robot", narrow_robot, "--card", "--fault", "sensor1=dead"}).status == 1);
    for (const std::vector<std::string>& call : std::vector<std::vector<std::string>>{
             {"ask", left_plan}, {"ask", left_plan, "--pattern", "#."}, {"ask", left_plan, "--card"}}) {
        CAPTURE(call.size());
        CHECK(call_vturn(call).status == (call.size() == 4 ? 0 : 2));
    }
    CHECK(call_vturn({"ask", left_plan, "--pattern", "#.", "--readings", "1,0"}).status == 2);
    CHECK(call_vturn({"ask", left_plan, "--robot", wide_robot, "--pattern", "#."}).status == 2);
    CHECK(call_vturn({"table", left_plan, "--robot", wide_robot}).status == 2);
    CHECK(call_vturn({"table", left_plan, "--habit", "folow"}).err.find("did you mean `follow`?") != std::string::npos);
}

TEST_CASE("large tables are grouped, and shown row by row when asked" * doctest::skip(fixtures::sanitized())) {
    const Folder folder;
    const auto lines = [](const std::string& text) { return std::count(text.begin(), text.end(), '\n'); };
    const Called grouped = call_vturn({"table", wide_plan});
    const Called each = call_vturn({"table", wide_plan, "--each", "-o", folder.file("t.svg")});
    CHECK(lines(grouped.out) < lines(each.out));
    CHECK(each.out.find("habit follow: 32 patterns\n") != std::string::npos);
    CHECK(vast_turn::read_file(folder.file("t.svg")).find("<svg") != std::string::npos);
    for (int sensors = 1; sensors <= 8; ++sensors) {
        vast_turn::write_file(folder.file("p.plan"), "plan \"p\"\nsensors " + std::to_string(sensors) +
                                                         "\nhabit go {\n seen > 2 -> bend(30 * offset, 40)\n}\n");
        const Called called = call_vturn({"table", folder.file("p.plan"), "-o", folder.file("t.png")});
        CHECK(called.status == 0);
        CHECK(called.out.find(sensors < 3 ? "UNANSWERED" : "~") != std::string::npos);
    }
}

TEST_CASE("a plan that asks for what the robot cannot tell is refused, not left waiting") {
    const Folder folder;
    vast_turn::write_file(folder.file("p.plan"),
                          "plan \"p\"\nsensors 2\nhabit go {\n range < 90mm -> still\n else -> ahead(40)\n}\n");
    const Called called = call_vturn({"run", fern_house, narrow_robot, folder.file("p.plan")});
    CHECK(called.status == 2);
    CHECK(called.err.find("the plan asks for range") != std::string::npos);
    CHECK(call_vturn({"ask", folder.file("p.plan"), "--pattern", "..", "--range", "80mm"}).out.find("left 0 %") !=
          std::string::npos);
}

TEST_CASE("ask --log --course: the way of a log, whether the map has it so, and whether it is one of the robot's days" *
          doctest::skip(fixtures::sanitized())) {
    const fixtures::Folder folder;
    const std::string house = "data/fern-house/";
    const std::string log = folder.file("day.csv");
    const std::string days = house + "ordinary.days.toml";
    REQUIRE(call_vturn({"run", house + "glass-wing.course.toml", house + "sprig-5.robot.toml", house + "rounds.plan",
                        "--day", "7", "--variation", days, "--trace", log})
                .status == 0);
    std::vector<std::string> call = {"ask",         house + "rounds.plan",
                                     "--log",       log,
                                     "--robot",     house + "sprig-5.robot.toml",
                                     "--course",    house + "glass-wing.course.toml",
                                     "--variation", days};
    const auto with = [&](const std::vector<std::string>& more) {
        std::vector<std::string> all = call;
        all.insert(all.end(), more.begin(), more.end());
        return call_vturn(all);
    };
    const std::string picture = folder.file("log.png");
    const Called found = with({"-o", picture});
    CAPTURE(found.out);
    CAPTURE(found.err);
    CHECK(found.status == 0);
    CHECK(found.out.find("mm from west door, by the wheels' turns") != std::string::npos);
    CHECK(found.out.find("its run of an ideal day goes the same way") != std::string::npos);
    CHECK(found.out.find("of 60 days 60 went its whole way") != std::string::npos);
    CHECK(vast_turn::read_file(picture).starts_with("\x89PNG"));
    CHECK(with({"--json", "--days", "10"}).out.find("\"of_the_days\": true") != std::string::npos);
    CHECK(with({"--start", "ramp", "--days", "5"}).status == 1); // it did not begin there
    CHECK(with({"--start", "rampe", "--days", "5"}).err.find("did you mean ramp?") != std::string::npos);
    call.resize(6);
    CHECK(with({"-o", picture}).err.find("there is no picture without the course") != std::string::npos);
    const Called page = call_vturn({"report", house + "glass-wing.course.toml", house + "sprig-5.robot.toml",
                                    house + "rounds.plan", "--log", log, "-o", folder.file("page.html")});
    CAPTURE(page.err);
    CHECK(page.out.find("log " + log) != std::string::npos);
    CHECK(vast_turn::read_file(folder.file("page.html")).find("\"log\"") != std::string::npos);
    CHECK(call_vturn({"ask", house + "rounds.plan", "--log", log, "--course", house + "glass-wing.course.toml"})
              .err.find("a log is put on the course by its robot") != std::string::npos);
}
