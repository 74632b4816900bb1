#include <cmath>

#include <doctest/doctest.h>

#include "support/fixtures.hpp"
#include "vast_turn/paint/surface.hpp"
#include "vast_turn/sim/run.hpp"

using namespace vast_turn;

namespace {

/// Looks of a robot that stands still on a board for a while.
std::vector<LookRecord> standing(const Course& course, const Robot& robot, std::uint64_t seed = 1,
                                 double seconds = 2.0) {
    const Scene scene(course, robot);
    RunOptions options;
    options.seed = seed;
    options.time_limit_s = seconds;
    options.lost_after_s = 1e6;
    return drive(scene, Decide([](const Look&, Answer& answer) { answer = Answer{}; }), options).looks;
}

} // namespace

TEST_CASE("counts are adc_max times reflectance, rounded") {
    Robot robot = fixtures::ideal_robot(3, 60.0);
    robot.sensors[0].adc_max = 4095;
    const auto looks = standing(fixtures::board({"M 0,300 H 1000"}), robot, 1, 0.05);
    CHECK(looks[0].raw[0] == std::lround(4095 * 237.0 / 255.0));
    CHECK(looks[0].raw[1] == std::lround(1023 * 27.0 / 255.0));
    CHECK(looks[0].raw[2] == std::lround(1023 * 237.0 / 255.0));
    CHECK(looks[0].line_bits == 0b010);
}

TEST_CASE("line is what the calibration calls line, also when it is lighter than the floor") {
    Course night = fixtures::board({"M 0,300 H 1000"});
    std::swap(night.floor, night.line);
    paint_surface(night, 1.0);
    const Robot robot = fixtures::ideal_robot(3, 60.0);
    CHECK(standing(night, robot, 1, 0.05)[0].line_bits == 0b010);
}

TEST_CASE("noise has the given deviation, differs between sensors and looks, and follows the seed") {
    Robot robot = fixtures::ideal_robot(6);
    for (LineSensor& sensor : robot.sensors) {
        sensor.noise = 5.0;
    }
    const Course course = fixtures::board({"M 0,50 H 1000"});
    const auto looks = standing(course, robot, 9, 20.0);
    double sum = 0.0;
    double squares = 0.0;
    double products = 0.0;
    for (const LookRecord& look : looks) {
        const double a = look.raw[0] - 1023 * 237.0 / 255.0;
        const double b = look.raw[5] - 1023 * 237.0 / 255.0;
        sum += a;
        squares += a * a;
        products += a * b;
    }
    const auto n = static_cast<double>(looks.size());
    CHECK(std::abs(sum / n) < 0.5);
    CHECK(std::sqrt(squares / n) == doctest::Approx(5.0).epsilon(0.06));
    CHECK(std::abs(products / n) < 2.5);
    const auto same_counts = [&](std::uint64_t seed) {
        const auto other = standing(course, robot, seed, 0.5);
        return std::equal(other.begin(), other.end(), looks.begin(),
                          [](const LookRecord& x, const LookRecord& y) { return x.raw == y.raw; });
    };
    CHECK(same_counts(9));
    CHECK_FALSE(same_counts(10));
}

TEST_CASE("counts stay within the range of the converter whatever the noise") {
    Robot robot = fixtures::ideal_robot(1);
    robot.sensors[0].noise = 5000.0;
    robot.sensors[0].adc_max = 255;
    for (const LookRecord& look : standing(fixtures::board({"M 0,300 H 1000"}), robot)) {
        REQUIRE(look.raw[0] <= 255);
    }
}
