// vturn fit: a robot file from logs, what it cannot tell, and logs of another robot.
#include <set>
#include <sstream>
#include <string>
#include <vector>

#include <doctest/doctest.h>
#include <nlohmann/json.hpp>

#include "support/fixtures.hpp"
#include "support/rounds.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/formats/read/text_file.hpp"
#include "vast_turn/formats/write/text_file.hpp"

using fixtures::call_vturn;
using fixtures::Called;

namespace {

const std::string fit_data = "data/fern-house/";

/// A log without these columns.
std::string without(const std::string& csv, const std::set<std::string>& columns) {
    std::istringstream lines(csv);
    std::string out;
    std::vector<bool> kept;
    for (std::string line; std::getline(lines, line);) {
        std::istringstream cells(line);
        std::string row;
        const bool head = kept.empty();
        std::size_t at = 0;
        for (std::string cell; std::getline(cells, cell, ',');) {
            if (head) {
                kept.push_back(columns.count(cell) == 0);
            }
            if (kept[at++]) {
                row += (row.empty() ? "" : ",") + cell;
            }
        }
        out += row + "\n";
    }
    return out;
}

} // namespace

TEST_CASE("fit: the drive that tells is written, driven, and its log changes the robot file" *
          doctest::skip(fixtures::sanitized())) {
    const fixtures::Folder folder;
    const std::string filed = fit_data + "sprig-2.robot.toml";
    const std::string drive = folder.file("telling.plan");
    const std::string log = folder.file("told.csv");
    const Called written = call_vturn({"fit", filed, "--drives", drive});
    CAPTURE(written.err);
    REQUIRE(written.status == 0);
    // A cart whose right motor is weak and whose motors are slow to follow.
    const Called run =
        call_vturn({"run", fit_data + "mist-loop.course.toml", filed, drive, "--set", "robot.motors.lag_ms=63", "--set",
                    "robot.motors.right.gain=0.9", "--lost-s", "99", "--trace", log});
    CAPTURE(run.err);
    REQUIRE(run.out.find("halt at") != std::string::npos);
    const std::string fitted = folder.file("fitted.robot.toml");
    const Called told = call_vturn({"fit", filed, log, "-o", fitted});
    CHECK(told.status == 0);
    CHECK(told.err.empty());
    CHECK(told.out.find("lag of the motors") != std::string::npos);
    CHECK(told.out.find("other than the file") != std::string::npos);
    CHECK(told.out.find("needs: ") != std::string::npos);
    const vast_turn::Robot found = vast_turn::load_robot(fitted);
    CHECK(found.motors.lag_ms == doctest::Approx(63.0).epsilon(0.01));
    CHECK(found.motors.right.gain == doctest::Approx(0.9).epsilon(0.01));
    const auto json = nlohmann::json::parse(call_vturn({"fit", filed, log, "--json"}).out);
    CHECK(json["doubts"].empty());
    CHECK(json["numbers"].size() > 4);
    for (const auto& number : json["numbers"]) {
        CHECK(number["low"].get<double>() <= number["high"].get<double>());
    }
    // Another robot's: said, and nothing is written.
    const std::string none = folder.file("none.robot.toml");
    const Called other = call_vturn({"fit", fit_data + "sprig-5.robot.toml", log, "-o", none});
    CHECK(other.status == 1);
    CHECK(other.out.find("this log is not of that robot") != std::string::npos);
    CHECK(other.err.find("not written") != std::string::npos);
    CHECK_THROWS(vast_turn::read_file(none));
}

TEST_CASE("fit: unusable logs are refused with what to do") {
    const fixtures::Folder folder;
    const std::string filed = fit_data + "sprig-2.robot.toml";
    const auto refused = [&](const std::string& text) {
        const std::string log = folder.file("bad.csv");
        vast_turn::write_file(log, text);
        const Called call = call_vturn({"fit", filed, log});
        CAPTURE(call.err);
        CHECK(call.status == 2);
        return call.err;
    };
    CHECK(refused("left_pct,right_pct\n1,2\n").find("time_s") != std::string::npos);
    CHECK(refused("time_s,left_pct\n0,1\n").find("right_pct") != std::string::npos);
    CHECK(refused("time_s,left_pct,right_pct\n0,1,1\n0.01,1,1\n").find("tells too little") != std::string::npos);
    CHECK(refused("time_s,left_pct,right_pct\n0.2,1,1\n0.1,1,x\n").find(":3:") != std::string::npos);
    CHECK(
        refused("time_s,left_pct,right_pct,left_deg,right_deg\n0.2,1,1,1e200,0\n").find("more than any robot tells") !=
        std::string::npos);
    CHECK(call_vturn({"fit", filed}).status == 2);
    CHECK(call_vturn({"fit", filed, "--drives", folder.file("a.plan"), "-o", folder.file("b.robot.toml")}).status == 2);
}

TEST_CASE("fit: a cart without encoders is told by the course that it drove, a cart with worn wheels, too" *
          doctest::skip(fixtures::sanitized())) { // tests/recorded goes the same way
    const fixtures::Folder folder;
    const std::string filed = fit_data + "sprig-5.robot.toml";
    const std::string course = fit_data + "mist-loop.course.toml";
    const std::string log = folder.file("told.csv");
    const std::string fitted = folder.file("fitted.robot.toml");
    const Called run =
        call_vturn({"run", course, filed, fit_data + "plans/five-table.plan", "--set", "robot.top_speed_mm_s=341",
                    "--set", "robot.wheel_mm=54.3", "--limit-s", "16", "--trace", log});
    REQUIRE(run.err.empty());
    const std::string told = vast_turn::read_file(log);
    // Where it was stands in no robot's log.
    vast_turn::write_file(log, without(told, {"x_mm", "y_mm", "heading_deg", "way_mm", "left_deg", "right_deg",
                                              "by_wheels_deg", "block", "rule_line", "rule"}));
    const Called bare = call_vturn({"fit", filed, log});
    CHECK(bare.out.find("or the course of the run (--course)") != std::string::npos);
    const Called ruled = call_vturn({"fit", filed, log, "--course", course, "-o", fitted});
    CAPTURE(ruled.out);
    CHECK(ruled.status == 0);
    CHECK(ruled.err.empty());
    CHECK(vast_turn::load_robot(fitted).top_speed_mm_s == doctest::Approx(341.0).epsilon(0.012));
    vast_turn::write_file(
        log, without(told, {"x_mm", "y_mm", "heading_deg", "way_mm", "by_wheels_deg", "block", "rule_line", "rule"}));
    const Called wheels = call_vturn({"fit", filed, log, "--course", course, "-o", fitted});
    CAPTURE(wheels.out);
    CHECK(wheels.status == 0);
    CHECK(vast_turn::load_robot(fitted).wheel_mm == doctest::Approx(54.3).epsilon(0.012));
    CHECK(vast_turn::load_robot(fitted).top_speed_mm_s == doctest::Approx(341.0).epsilon(0.012));
    // Of another course: said, and what needs none is told all the same.
    CHECK(wheels.out.find(" s from door, by the wheels' turns: ") != std::string::npos);
    const Called elsewhere = call_vturn({"fit", filed, log, "--course", fit_data + "drain.course.toml"});
    CHECK(elsewhere.err.find("its way is not found on the course") != std::string::npos);
    CHECK(elsewhere.out.find("top speed") != std::string::npos);
    CHECK(elsewhere.out.find("size of both wheels") != std::string::npos);
    CHECK(call_vturn({"fit", filed, log, "--course", course, "--start", "nowhere"})
              .err.find("the course has no start `nowhere`") != std::string::npos);
    CHECK(call_vturn({"fit", filed, log, "--start", "gate"}).err.find("name it with --course") != std::string::npos);
}
