#include <set>

#include <doctest/doctest.h>
#include <nlohmann/json.hpp>

#include "support/fixtures.hpp"
#include "support/golden.hpp"
#include "vast_turn/formats/write/text_file.hpp"
#include "vast_turn/vet/finding.hpp"

using fixtures::call_vturn;
using fixtures::Called;
using Json = nlohmann::json;

namespace {

const char* const covered = "plan \"covered plän\"\n"
                            "sensors 3\n"
                            "\n"
                            "habit follow {\n"
                            "    seen >= 2      -> ahead(43)\n"
                            "    [##.]          -> wheels(14, 43)\n"
                            "    [#..]          -> bend(-21, 43)\n"
                            "    else           -> keep\n"
                            "}\n";

/// What the schema of SARIF 2.1.0 asks of the parts that are written: required properties, kinds, and words allowed.
void check_sarif(const Json& log) {
    CHECK(log.at("version") == "2.1.0");
    CHECK(log.at("$schema").get<std::string>().find("sarif-2.1.0") != std::string::npos);
    REQUIRE(log.at("runs").is_array());
    for (const Json& run : log.at("runs")) {
        const Json& driver = run.at("tool").at("driver");
        CHECK(driver.at("name").is_string());
        CHECK(run.at("columnKind") == "unicodeCodePoints");
        std::set<std::string> ids;
        for (const Json& rule : driver.at("rules")) {
            CHECK(ids.insert(rule.at("id").get<std::string>()).second); // unique
            CHECK(rule.at("shortDescription").at("text").is_string());
            CHECK(rule.at("fullDescription").at("text").is_string());
        }
        const std::set<std::string> levels{"none", "note", "warning", "error"};
        for (const Json& result : run.at("results")) {
            CHECK(result.at("message").at("text").is_string());
            CHECK(levels.count(result.at("level").get<std::string>()) == 1);
            const std::size_t index = result.at("ruleIndex").get<std::size_t>();
            CHECK(driver.at("rules").at(index).at("id") == result.at("ruleId"));
            for (const Json& location : result.at("locations")) {
                const Json& physical = location.at("physicalLocation");
                const std::string uri = physical.at("artifactLocation").at("uri");
                CHECK(uri.find_first_of(" \\\"<>") == std::string::npos);
                if (physical.contains("region")) {
                    CHECK(physical["region"].at("startLine").get<int>() >= 1);
                    CHECK(physical["region"].at("startColumn").get<int>() >= 1);
                    CHECK(physical["region"].at("endColumn").get<int>() >
                          physical["region"].at("startColumn").get<int>());
                }
            }
            for (const Json& fix : result.value("fixes", Json::array())) {
                for (const Json& change : fix.at("artifactChanges")) {
                    CHECK(change.at("artifactLocation").at("uri").is_string());
                    for (const Json& replacement : change.at("replacements")) {
                        CHECK(replacement.at("deletedRegion").at("startLine").is_number_integer());
                        CHECK(replacement.at("insertedContent").at("text").is_string());
                    }
                }
            }
            for (const Json& suppression : result.value("suppressions", Json::array())) {
                CHECK(suppression.at("kind") == "inSource");
                CHECK(suppression.at("justification").is_string());
            }
        }
    }
}

} // namespace

TEST_CASE("vet tells findings worst first, with line, caret, reason, cure and changed line; the status says how bad") {
    const fixtures::Folder folder;
    const std::string plan = folder.file("my plan.plan");
    vast_turn::write_file(plan, covered);
    const Called called = call_vturn({"vet", plan});
    CHECK(called.status == 1);
    CHECK(called.err.empty());
    CHECK(called.out.find("1 fault, 1 risk") != std::string::npos);
    const std::size_t fault = called.out.find("fault line 6: this rule never acts: line 5 stands before it");
    const std::size_t risk = called.out.find("line 7: this rule sees the line on the left [#..] and turns right");
    REQUIRE(fault != std::string::npos);
    REQUIRE(risk != std::string::npos);
    CHECK(fault < risk);
    CHECK(called.out.find("      6 |     [##.]          -> wheels(14, 43)\n        |     ^^^^^") != std::string::npos);
    CHECK(called.out.find("do:   move it above line 5, or remove it") != std::string::npos);
    CHECK(called.out.find("so:   [#..]          -> bend(21, 43)") != std::string::npos);
    CHECK(call_vturn({"vet", "data/fern-house/left-first.plan"}).status == 0); // a hint only
    const Called clean = call_vturn({"vet", "data/fern-house/plans/search.plan", "data/fern-house/plans/laps.plan"});
    CHECK(clean.status == 0);
    CHECK(clean.out ==
          "data/fern-house/plans/search.plan: nothing found\ndata/fern-house/plans/laps.plan: nothing found\n");
}

TEST_CASE("vet --json and --sarif say the same") {
    const fixtures::Folder folder;
    const std::string plan = folder.file("my plan.plan");
    std::string text = covered;
    text.insert(text.find("    [#..]"), "    // vet: allow turns-away because the line is to be left\n");
    vast_turn::write_file(plan, text);
    const Called as_json = call_vturn({"vet", plan, "--json"});
    CHECK(as_json.status == 1);
    const Json json = Json::parse(as_json.out);
    const Json& one = json.at("plans").at(0);
    CHECK(one.at("plan") == "covered plän");
    REQUIRE(one.at("findings").size() == 1);
    CHECK(one["findings"][0].at("code") == "never-acts");
    CHECK(one["findings"][0].at("line") == 6);
    CHECK(one["findings"][0].at("column") == 5);
    REQUIRE(one.at("allowed").size() == 1);
    CHECK(one["allowed"][0].at("because") == "the line is to be left");
    const Called as_sarif = call_vturn({"vet", plan, "--sarif"});
    CHECK(as_sarif.status == 1);
    const Json sarif = Json::parse(as_sarif.out);
    check_sarif(sarif);
    const Json& results = sarif.at("runs").at(0).at("results");
    REQUIRE(results.size() == 2);
    CHECK(results[0].at("level") == "error");
    CHECK(results[0]
              .at("locations")[0]
              .at("physicalLocation")
              .at("artifactLocation")
              .at("uri")
              .get<std::string>()
              .find("my%20plan.plan") != std::string::npos);
    CHECK(results[1].at("suppressions")[0].at("justification") == "the line is to be left");
    CHECK(results[1].at("fixes").size() == 1);
    check_sarif(
        Json::parse(call_vturn({"vet", "data/fern-house/gentle.plan", "--robot", "data/fern-house/sprig-2.robot.toml",
                                "--course", "data/fern-house/fern-house.course.toml", "--sarif"})
                        .out));
}

TEST_CASE("vet --explain prints the section of the page; unknown codes are named with the nearest") {
    for (const vast_turn::FindingKind& kind : vast_turn::finding_kinds()) {
        const Called called = call_vturn({"vet", "--explain", kind.code});
        CHECK(called.status == 0);
        CHECK(called.out.find(std::string("## ") + kind.code) == 0);
        CHECK(called.out.find(kind.why) != std::string::npos);
        CHECK(called.out.find("\n## ", 3) == std::string::npos);
    }
    const Called unknown = call_vturn({"vet", "--explain", "never-act"});
    CHECK(unknown.status == 2);
    CHECK(unknown.err.find("did you mean `never-acts`") != std::string::npos);
}

TEST_CASE("vet with a robot, a course and a calibration; what does not fit is refused") {
    const Called with_robot =
        call_vturn({"vet", "data/fern-house/gentle.plan", "--robot", "data/fern-house/sprig-2.robot.toml", "--course",
                    "data/fern-house/fern-house.course.toml"});
    CHECK(with_robot.status == 1); // the run flies off there too
    CHECK(with_robot.out.find("it does not hold the bend of") != std::string::npos);
    CHECK(with_robot.out.find("fastest forward") != std::string::npos);
    const fixtures::Folder folder;
    const std::string levels = folder.file("sprig-2.calibration.toml");
    REQUIRE(call_vturn({"calibrate", "--simulate", "data/fern-house/fern-house.course.toml",
                        "data/fern-house/sprig-2.robot.toml", "-o", levels})
                .status == 0);
    const Called with = call_vturn({"vet", "data/fern-house/left-first.plan", "--robot",
                                    "data/fern-house/sprig-2.robot.toml", "--calibration", levels});
    CHECK(with.status == 0);
    CHECK(call_vturn({"vet", "data/fern-house/plans/search.plan", "--calibration", levels}).status == 2);
    CHECK(call_vturn({"vet", "data/fern-house/plans/search.plan", "--robot", "data/fern-house/sprig-2.robot.toml"})
              .status == 2);
    CHECK(call_vturn({"vet"}).err.find("no plan is named") != std::string::npos);
    CHECK(call_vturn({"vet", "nowhere.plan"}).status == 2);
    CHECK(call_vturn({"vet", "data/fern-house/gentle.plan", "--json", "--sarif"}).status == 2);
}

TEST_CASE("vet --chip says what a look costs there and whether the program fits; what is no chip is refused") {
    const std::string plan = "data/fern-house/plans/five-pid.plan";
    const auto vet = [&](const std::string& chip) {
        return call_vturn({"vet", plan, "--robot", "data/fern-house/sprig-5.robot.toml", "--chip", chip});
    };
    const Called roomy = vet("8-bit,16MHz,24kB,1.5kB");
    CHECK(roomy.status == 0);
    CHECK(roomy.out.find("a look on the chip") != std::string::npos);
    CHECK(roomy.out.find(" cycles in the mean, ") != std::string::npos);
    CHECK(roomy.out.find(" of 12 ms (") != std::string::npos);
    CHECK(roomy.out.find(" of 24576 bytes of flash, 157 of 1536 of memory, beside your own") != std::string::npos);
    const Called tight = vet("32-bit,0.1MHz,1kB,100B");
    CHECK(tight.status == 1);
    CHECK(tight.out.find("on this chip, the robot looks every 12 ms (chip-too-slow)") != std::string::npos);
    CHECK(tight.out.find("it remembers 176 bytes, this chip has memory for 100 (chip-too-small)") != std::string::npos);
    CHECK(tight.out.find(" bytes of flash, this chip has 1024 (chip-too-small)") != std::string::npos);
    CHECK(vet("8-bit").out.find(" of 12 ms") == std::string::npos); // no clock, no time
    for (const auto& [chip, words] : {std::pair{"16-bit", "did you mean `8-bit`?"},
                                      {"8-bit,16Mhz", "`16Mhz` is neither a clock nor a size"},
                                      {"8-bit,1kB,2kB,3kB", "`3kB` comes after flash and memory"},
                                      {"8-bit,8MHz,9MHz", "`9MHz` comes after another clock"},
                                      {"8-bit,", "nothing stands behind the last comma"},
                                      {"8-bit,16MHz,-2kB", "`-2kB` is neither"}}) {
        const Called refused = vet(chip);
        CHECK(refused.status == 2);
        CHECK_MESSAGE(refused.err.find(words) != std::string::npos, refused.err);
    }
    CHECK(call_vturn({"vet", plan, "--chip", "8-bit"}).status == 2); // of which robot?
    const fixtures::Folder folder;
    vast_turn::write_file(folder.file("no-start.course.toml"),
                          "name = \"bare\"\nsize_mm = [410, 290]\nline = { colour = \"#1B1B1B\", width_mm = 19 }\n"
                          "[[tape]]\npath = \"M 60,150 H 340\"\n");
    const Called nowhere = call_vturn({"vet", plan, "--robot", "data/fern-house/sprig-5.robot.toml", "--course",
                                       folder.file("no-start.course.toml"), "--chip", "8-bit"});
    CHECK_MESSAGE(nowhere.out.find("not decided: what it costs on the chip: the course has no start") !=
                      std::string::npos,
                  nowhere.out, nowhere.err);
}
