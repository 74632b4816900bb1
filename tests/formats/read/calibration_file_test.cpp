#include "vast_turn/formats/read/calibration_file.hpp"

#include <doctest/doctest.h>
#include <nlohmann/json.hpp>

#include "support/bench_array.hpp"
#include "support/fixtures.hpp"
#include "support/golden.hpp"
#include "vast_turn/base/problem.hpp"
#include "vast_turn/formats/write/calibration_json.hpp"
#include "vast_turn/formats/write/calibration_toml.hpp"

using namespace vast_turn;

namespace {

std::string calibration_message(const std::string& text) {
    return fixtures::message_of([&] { parse_calibration(text, "calibration"); });
}

} // namespace

TEST_CASE("every bad calibration gets its message") {
    golden::check_catalogue("tests/formats/read/bad-calibrations.txt", calibration_message);
}

TEST_CASE("a calibration written and read back reads the same") {
    for (std::uint64_t seed = 0; seed < 50; ++seed) {
        fixtures::BenchArray array(seed);
        const CalibrationReport report = calibrate(array.readings(), array.facts());
        const NamedCalibration read = parse_calibration(calibration_toml(report, "a \"quoted\" name"), "k");
        const Calibration made = report.calibration();
        REQUIRE(read.levels.sensors.size() == made.sensors.size());
        for (std::size_t i = 0; i < made.sensors.size(); ++i) {
            CHECK(read.channels[i] == report.sensors[i].channel);
            for (const double counts : {50.0, 200.0, 440.0, 700.0}) {
                const double a = SensorScale(made.sensors[i]).reading(counts);
                CHECK(SensorScale(read.levels.sensors[i]).reading(counts) == doctest::Approx(a).epsilon(0.001));
            }
            CHECK(read.levels.sensors[i].threshold == doctest::Approx(made.sensors[i].threshold).epsilon(0.001));
        }
    }
}

TEST_CASE("levels go to the robot's sensors by channel") {
    Robot robot = fixtures::ideal_robot(2);
    robot.sensors[0].channel = "P7";
    robot.sensors[1].channel = "P2";
    const char* const text = "[[sensor]]\nchannel = \"P2\"\nline_counts = 20\nfloor_counts = 820\n"
                             "[[sensor]]\nchannel = \"P7\"\nline_counts = 70\nfloor_counts = 870\n";
    const Calibration levels = calibration_for(robot, parse_calibration(text, "k"));
    CHECK(levels.sensors[0].line_counts == 70.0);
    CHECK(levels.sensors[1].threshold == doctest::Approx(0.5));
    robot.sensors[1].channel = "P3";
    CHECK_THROWS_AS(calibration_for(robot, parse_calibration(text, "k")), InputError);
    CHECK_THROWS_AS(calibration_for(fixtures::ideal_robot(1), parse_calibration(text, "k")), InputError);
}

TEST_CASE("a dead sensor reads floor for ever, before and after the file") {
    fixtures::BenchArray array(4, 2);
    array.sensors[1].line = array.sensors[1].floor;
    const CalibrationReport report = calibrate(array.readings(), array.facts());
    const NamedCalibration read = parse_calibration(calibration_toml(report, "x"), "k");
    CHECK(SensorScale(read.levels.sensors[1]).reading(3.0) == 0.0);
    const auto json = nlohmann::json::parse(calibration_json(report));
    CHECK(json["sensors"][1]["usable"] == false);
    CHECK(json["verdicts"][0]["kind"] == "dead");
    CHECK(json["verdicts"][0]["sensors"][0] == 2);
}
