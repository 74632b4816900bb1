// --set on the commands that drive, and vturn sweep.
#include <doctest/doctest.h>
#include <nlohmann/json.hpp>

#include "support/fixtures.hpp"
#include "support/rounds.hpp"
#include "vast_turn/formats/read/text_file.hpp"
#include "vast_turn/formats/write/text_file.hpp"

using fixtures::call_vturn;
using fixtures::Called;

namespace {

const std::string swept_data = "data/fern-house/";
const std::vector<std::string> swept_files = {swept_data + "fern-house.course.toml", swept_data + "sprig-2.robot.toml",
                                              swept_data + "left-first.plan"};

Called on_ferns(const std::string& command, const std::vector<std::string>& more) {
    std::vector<std::string> words = {command};
    words.insert(words.end(), swept_files.begin(), swept_files.end());
    words.insert(words.end(), more.begin(), more.end());
    return call_vturn(words);
}

} // namespace

TEST_CASE("--set: a number of the plan, the robot or the day is another in every command that drives" *
          doctest::skip(fixtures::sanitized())) {
    const fixtures::Folder folder;
    const std::string faster = folder.file("faster.plan");
    std::string text = vast_turn::read_file(swept_files[2]);
    const std::size_t at = text.find("cruise = 47");
    REQUIRE(at != std::string::npos);
    vast_turn::write_file(faster, text.replace(at, 11, "cruise = 60"));
    const std::string by_file = call_vturn({"run", swept_files[0], swept_files[1], faster}).out;
    CHECK(on_ferns("run", {"--set", "cruise=60"}).out == by_file);
    CHECK(on_ferns("run", {}).out != by_file);
    CHECK(on_ferns("run", {"--set", "robot.motors.lag_ms=150"}).out != on_ferns("run", {}).out);
    CHECK(on_ferns("run", {"--set", "day.left_motor=0.9"}).out != on_ferns("run", {}).out);
    for (const char* command : {"trips", "compare", "routes", "step"}) {
        CAPTURE(command);
        CHECK(on_ferns(command, {"--set", "cruise=60"}).out != on_ferns(command, {}).out);
        const Called wrong = on_ferns(command, {"--set", "cruse=60"});
        CHECK(wrong.status == 2);
        CHECK(wrong.err.find("did you mean `cruise`?") != std::string::npos);
    }
    const std::vector<std::string> vet = {"vet",      swept_files[2], "--robot", swept_files[1],
                                          "--course", swept_files[0], "--set",   "inside=21"};
    const Called vetted = call_vturn(vet);
    CHECK(vetted.status == 1);
    CHECK(vetted.out.find("bend-too-tight") != std::string::npos);
    CHECK(on_ferns("run", {"--set", "cruise=60%"}).status == 2);
    CHECK(on_ferns("run", {"--set", "cruise=60mm"}).err.find("found a number in mm") != std::string::npos);
    CHECK(on_ferns("run", {"--set", "robot.look_ms=-1"}).err.find("as it was set") != std::string::npos);
}

TEST_CASE("sweep: a table of where the trips hold, as JSON, CSV and picture too") {
    const fixtures::Folder folder;
    const std::vector<std::string> words = {"--filter", "ferns",         "--over",   "cruise=39,63",
                                            "--over",   "inside=-24,16", "--repeat", "40"};
    const Called table = on_ferns("sweep", words);
    CHECK(table.status == 0);
    CHECK(table.out.find("Fern house: Sprig-2, 1 trip, 40 runs at each of 4 points") != std::string::npos);
    CHECK(table.out.find("fastest that is sure") != std::string::npos);
    CHECK(table.out.find("0 of 40") != std::string::npos); // 16 does not hold the bend
    std::vector<std::string> more = words;
    more.insert(more.end(), {"--json", "--csv", folder.file("s.csv"), "-o", folder.file("s.svg"), "--jobs", "1"});
    const Called json = on_ferns("sweep", more);
    const auto told = nlohmann::json::parse(json.out);
    REQUIRE(told["points"].size() == 4);
    CHECK(told["axes"][1]["name"] == "inside");
    CHECK(told["fastest_sure"] == nlohmann::json({63.0, -24.0}));
    CHECK(told["points"][1]["passed"] == 0);
    const std::string csv = vast_turn::read_file(folder.file("s.csv"));
    CHECK(csv.find("cruise,inside,runs,passed,") == 0);
    CHECK(std::count(csv.begin(), csv.end(), '\n') == 5);
    CHECK(vast_turn::read_file(folder.file("s.svg")).find("<svg") != std::string::npos);
    const Called filled =
        on_ferns("sweep", {"--filter", "ferns", "--over", "cruise=39..63", "--over", "day.battery=0.8..1", "--fill",
                           "6", "--repeat", "2", "-o", folder.file("fill.png")});
    CHECK(filled.out.find("2 runs at each of 6 points") != std::string::npos);
    CHECK(filled.status == 1); // two runs make nothing sure
    const Called line = on_ferns("sweep", {"--filter", "ferns", "--over", "cruise=39,47", "--repeat", "2", "--sure",
                                           "30", "-o", folder.file("line.png")});
    CHECK(line.status == 0);
}

TEST_CASE("sweep: what cannot be swept is refused, and nothing is written") {
    const fixtures::Folder folder;
    const auto refused = [&](std::vector<std::string> words, const std::string& says) {
        words.insert(words.end(), {"-o", folder.file("no.png")});
        const Called called = on_ferns("sweep", words);
        CHECK(called.status == 2);
        CHECK_MESSAGE(called.err.find(says) != std::string::npos, called.err);
        CHECK(folder.names().empty());
    };
    refused({}, "--over");
    refused({"--over", "cruise"}, "it names no values");
    refused({"--over", "cruse=39,40"}, "did you mean `cruise`?");
    refused({"--over", "cruise=39..60"}, "a range without steps");
    refused({"--over", "robot.look_mss=9,10"}, "look_ms");
    refused({"--over", "cruise=39,40", "--filter", "nowhere"}, "no trip has \"nowhere\" in its name");
}
