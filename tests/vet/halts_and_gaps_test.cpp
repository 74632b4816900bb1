/// What vet says of plans that end on their line, and of gaps behind which robots miss it.
#include <algorithm>

#include <doctest/doctest.h>

#include "support/fixtures.hpp"
#include "support/rounds.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/paint/course_file.hpp"
#include "vast_turn/vet/vet.hpp"

using namespace vast_turn;

namespace {

const char* const two_sensors = R"(name = "Sprig-2"
track_mm = 113
wheel_mm = 52
top_speed_mm_s = 390
look_ms = 9
[[sensor]]
at_mm = [71, HALF]
[[sensor]]
at_mm = [71, -HALF]
)";

Robot robot_with(const std::string& half_mm) {
    std::string text = two_sensors;
    for (std::size_t at = text.find("HALF"); at != std::string::npos; at = text.find("HALF")) {
        text.replace(at, 4, half_mm);
    }
    return parse_robot(text, "robot");
}

const char* const bay = R"(name = "bay"
size_mm = [1500, 900]
line = { colour = "#1B1B1B", width_mm = 21 }
[[tape]]
path = "M 90,700 H 500 A 110,110 0 0 0 610,590 V 460 A 110,110 0 0 1 720,350 H 1200"
[[tape]]
path = "M 1200,350 H 1290"
width_mm = 110
[[start]]
name = "door"
at_mm = [130, 700]
heading_deg = 0
)";

VetReport vetted(const std::string& plan_text, const Robot& robot, const std::string& course_text) {
    const Plan plan = fixtures::compiled(plan_text);
    const Course course = parse_course(course_text, "course");
    return vet(plan, {&robot, &course, nullptr});
}

const Finding* found(const VetReport& report, const std::string& code) {
    const auto at = std::find_if(report.findings.begin(), report.findings.end(),
                                 [&](const Finding& finding) { return finding.kind->code == code; });
    return at == report.findings.end() ? nullptr : &*at;
}

std::string fact(const VetReport& report, const std::string& what) {
    const auto at =
        std::find_if(report.facts.begin(), report.facts.end(), [&](const auto& one) { return one.what == what; });
    return at == report.facts.end() ? "" : at->value;
}

const char* const docks = R"(plan "docks"
sensors 2
habit follow {
    [##] lasting 11 looks -> halt
    [#.] mirrored         -> wheels(6, 41)
    else                  -> ahead(41)
}
)";

} // namespace

TEST_CASE("vet: two sensors that both fit on the tape take it for the pad and halt, beside it they dock" *
          doctest::skip(fixtures::sanitized())) {
    const VetReport within = vetted(docks, robot_with("7"), bay);
    const Finding* halt = found(within, "halts-on-line");
    REQUIRE(halt != nullptr);
    CHECK(halt->grade == Grade::fault);
    CHECK(halt->message.find("where it sees [##]") != std::string::npos);
    CHECK(halt->cure ==
          "the line is 21 mm wide, those sensors stand 14 mm apart: set them wider apart, or ask for more "
          "than the line");
    CHECK(fact(within, "highest speed for this course").empty()); // it came to nothing by which to tell one
    CHECK(found(vetted(docks, robot_with("17"), bay), "halts-on-line") == nullptr);
    // Who asks for more than the line means to halt there.
    std::string by_way = docks;
    by_way.replace(by_way.find("[##] lasting 11 looks"), 21, "[##] and travelled > 90mm");
    CHECK(found(vetted(by_way, robot_with("7"), bay), "halts-on-line") == nullptr);
}

TEST_CASE("vet: a highest speed is told only where drives tried it, not for what a junction would bear") {
    const std::string crossing =
        "name = \"bare crossing\"\nsize_mm = [1500, 900]\n"
        "line = { colour = \"#1B1B1B\", width_mm = 21 }\n[[tape]]\npath = \"M 90,450 H 1300\"\n"
        "[[tape]]\npath = \"M 700,120 V 780\"\n[[start]]\nname = \"door\"\nat_mm = [130, 450]\n"
        "heading_deg = 0\n";
    CHECK(fact(vetted(docks, robot_with("17"), crossing), "highest speed for this course").empty());
    std::string bent = crossing;
    bent.replace(bent.find("H 1300"), 6, "H 1100 A 120,120 0 0 1 1220,570 V 800");
    CHECK_FALSE(fact(vetted(docks, robot_with("17"), bent), "highest speed for this course").empty());
}

TEST_CASE("vet: who goes straight over a gap in a bend and meets a later piece of the line has missed it") {
    std::string gap = bay;
    gap.replace(gap.find("[[tape]]\npath = \"M 1200"), 8, "gaps_mm = [[470, 81]]\n[[tape]]");
    const std::string straight_on = R"(plan "straight on"
sensors 2
habit follow {
    [#.] mirrored -> wheels(-11, 41)
    else          -> ahead(41)
}
)";
    const VetReport report = vetted(straight_on, robot_with("17"), gap);
    const Finding* missed = found(report, "gap-missed");
    REQUIRE(missed != nullptr);
    CHECK(missed->grade == Grade::fault);
    CHECK(missed->message.find("behind the gap of 8") == 0);
    CHECK(missed->message.find("in each of") != std::string::npos);
    CHECK(found(vetted(straight_on, robot_with("17"), bay), "gap-missed") == nullptr);
}

TEST_CASE("vet: a robot that circles at a gap until it halts by its way has not meant to") {
    const Robot robot = parse_robot(R"(name = "Sprig-1"
track_mm = 113
wheel_mm = 52
top_speed_mm_s = 390
look_ms = 9
[[sensor]]
at_mm = [71, 9]
)",
                                    "robot");
    std::string gap = bay;
    gap.replace(gap.find("[[tape]]\npath = \"M 1200"), 8, "gaps_mm = [[260, 81]]\n[[tape]]");
    const std::string rides = R"(plan "rides the edge"
sensors 1
habit follow {
    travelled > 2.1m -> halt
    else             -> bend(31 * (sensor(1) - 0.53), 33)
}
)";
    const VetReport report = vetted(rides, robot, gap);
    const Finding* lost = found(report, "gap-too-long");
    REQUIRE(lost != nullptr);
    CHECK(lost->message.find("does not come over") != std::string::npos);
    // The speed of steering that is reckoned at each look.
    CHECK(fact(report, "fastest forward") == "129 mm/s, 1.2 mm between two looks");
}

TEST_CASE("vet: where all powers are reckoned the speed is that of trial drives, and without any it is not told") {
    const std::string reckoned = R"(plan "reckoned"
sensors 2
habit follow {
    else -> wheels(39 - 21 * offset * abs(offset), 39 + 21 * offset * abs(offset))
}
)";
    const Robot robot = robot_with("15");
    const std::string forward = fact(vetted(reckoned, robot, bay), "fastest forward");
    REQUIRE(!forward.empty());
    CHECK(std::stod(forward) == doctest::Approx(0.39 * 390.0).epsilon(0.04));
    const Plan plan = fixtures::compiled(reckoned);
    const VetReport alone = vet(plan, {&robot, nullptr, nullptr});
    CHECK(fact(alone, "fastest forward").empty());
    CHECK(std::any_of(alone.undecided.begin(), alone.undecided.end(),
                      [](const std::string& what) { return what.find("how fast it goes forward") == 0; }));
}
