// vturn tune: a plan tuned, written, told and drawn; what cannot be tuned; going on where it was.
#include <cmath>

#include <doctest/doctest.h>
#include <nlohmann/json.hpp>

#include "support/fixtures.hpp"
#include "support/rounds.hpp"
#include "vast_turn/formats/read/text_file.hpp"
#include "vast_turn/formats/write/text_file.hpp"

using fixtures::call_vturn;
using fixtures::Called;

namespace {

const std::string tune_data = "data/fern-house/";

Called tuned(const std::string& plan, const std::vector<std::string>& more) {
    std::vector<std::string> words = {
        "tune", tune_data + "fern-house.course.toml", tune_data + "sprig-2.robot.toml", plan, "--filter", "ferns"};
    words.insert(words.end(), more.begin(), more.end());
    return call_vturn(words);
}

/// A search that is over soon.
const std::vector<std::string> soon = {"--sure", "80",          "--runs",
                                       "300",    "--variation", tune_data + "ordinary.days.toml"};

std::vector<std::string> and_soon(std::vector<std::string> words) {
    words.insert(words.end(), soon.begin(), soon.end());
    return words;
}

} // namespace

TEST_CASE("tune: what may move stands in the call or in the plan; the winner is written, told and drawn") {
    const fixtures::Folder folder;
    const std::string plan = tune_data + "left-first.plan";
    const std::string out = folder.file("tuned.plan");
    const std::vector<std::string> moves = {"--move", "cruise=36..84", "--move", "inside=-40..16"};
    std::vector<std::string> words = moves;
    words.insert(words.end(), {"-o", out, "--picture", folder.file("t.svg"), "--csv", folder.file("t.csv")});
    const Called told = tuned(plan, and_soon(words));
    REQUIRE(told.status == 0);
    CHECK(told.out.find("the fastest with which its trip holds on 80 % of days") != std::string::npos);
    CHECK(told.out.find("days that the search never saw") != std::string::npos);
    CHECK(told.out.find("less time") != std::string::npos);
    CHECK(vast_turn::read_file(folder.file("t.svg")).find("<svg") != std::string::npos);
    const std::string csv = vast_turn::read_file(folder.file("t.csv"));
    CHECK(csv.starts_with("cruise,inside,stage,days,failed,time_s,refuted,winner\n47,-24,start,"));
    CHECK(csv.find(",1\n") != std::string::npos); // the winner
    const std::string text = vast_turn::read_file(out);
    CHECK(text.find("// percent of full power") != std::string::npos);
    CHECK(text.find("let cruise = 47") == std::string::npos);
    CHECK(fixtures::compiled(text).name() == "left first");
    // The same by comments; and as JSON.
    const std::string said = folder.file("said.plan");
    std::string own = vast_turn::read_file(plan);
    for (const auto& [was, now] : {std::pair{"cruise = 47   //", "cruise = 47   // may be 36..84;"},
                                   std::pair{"inside = -24  //", "inside = -24  // may be -40..16,"}}) {
        const std::size_t at = own.find(was);
        REQUIRE(at != std::string::npos);
        own.replace(at, std::string(was).size(), now);
    }
    vast_turn::write_file(said, own);
    const auto json = nlohmann::json::parse(tuned(said, and_soon({"--json"})).out);
    CHECK(json["numbers"][1]["may_be"] == nlohmann::json({-40.0, 16.0}));
    CHECK(json["numbers"][0]["tuned"] > 47.0);
    CHECK(json["confirmed"]["time_s"] < json["now"]["time_s"]);
    CHECK(json["runs"] <= 300);
    CHECK(text.find("let cruise = " + nlohmann::json(json["numbers"][0]["tuned"]).dump().substr(0, 4)) !=
          std::string::npos);
}

TEST_CASE("tune: goes on where it was, and ends the same; the journal of another is refused") {
    const fixtures::Folder folder;
    const std::string plan = tune_data + "left-first.plan";
    const std::string journal = folder.file("the.journal");
    const Called whole = tuned(plan, and_soon({"--move", "cruise=36..84"}));
    CHECK(tuned(plan, and_soon({"--move", "cruise=36..84", "--resume", journal})).out == whole.out);
    const std::string lines = vast_turn::read_file(journal);
    vast_turn::write_file(journal, lines.substr(0, lines.size() / 2));
    const Called again = tuned(plan, and_soon({"--move", "cruise=36..84", "--resume", journal, "--jobs", "1"}));
    CHECK(again.out == whole.out);
    CHECK(again.err.find("days are known from") != std::string::npos);
    CHECK(vast_turn::read_file(journal).size() == lines.size());
    CHECK(tuned(plan, and_soon({"--move", "cruise=36..80", "--resume", journal})).out != whole.out); // knows the days
    const Called other = tuned(plan, and_soon({"--move", "inside=-40..16", "--resume", journal}));
    CHECK(other.status == 2);
    CHECK(other.err.find("the journal of another tuning") != std::string::npos);
}

TEST_CASE("tune: numbers of the robot are tuned too; what cannot be tuned is refused, and nothing is written" *
          doctest::skip(fixtures::sanitized())) {
    const std::string plan = tune_data + "left-first.plan";
    const Called of_robot = tuned(plan, and_soon({"--move", "robot.motors.lag_ms=20..120"}));
    CHECK(of_robot.out.find("robot.motors.lag_ms") != std::string::npos);
    const Called in_steps = tuned(plan, and_soon({"--move", "robot.look_ms=4..18:2", "--json"}));
    const auto json = nlohmann::json::parse(in_steps.out);
    for (const auto& it : json["tried"]) {
        const double value = it["at"][0];
        CHECK(value == std::round(value)); // others are no whole number of steps of the simulation
    }
    const fixtures::Folder folder;
    const auto refused = [&](std::vector<std::string> words, const std::string& says) {
        words.insert(words.end(), {"-o", folder.file("no.plan"), "--picture", folder.file("no.png")});
        const Called called = tuned(plan, and_soon(words));
        CHECK(called.status == 2);
        CHECK_MESSAGE(called.err.find(says) != std::string::npos, called.err);
        CHECK(folder.names().empty());
    };
    refused({}, "nothing says which numbers may move");
    refused({"--move", "cruse=36..84"}, "did you mean `cruise`?");
    refused({"--move", "cruise=36,47,84"}, "a least and a greatest value");
    refused({"--move", "cruise=50..84"}, "cruise is 47, and that is not within 50..84");
    refused({"--move", "day.left_motor=0.9..1"}, "days are as they come");
    refused({"--move", "robot.delay_varies_ms=1..4"}, "does not say what robot.delay_varies_ms is now");
    refused({"--move", "cruise=36mm..84mm"}, "found a number in mm");
}
