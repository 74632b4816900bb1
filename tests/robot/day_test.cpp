#include "vast_turn/robot/day.hpp"

#include <algorithm>
#include <cmath>
#include <map>

#include <doctest/doctest.h>

#include "support/fixtures.hpp"
#include "vast_turn/formats/read/days_file.hpp"
#include "vast_turn/formats/read/robot_file.hpp"

using namespace vast_turn;

namespace {

Variation days(const std::string& rows) { return parse_days("[variation]\n" + rows, "d.days.toml"); }

std::string fault(const std::string& text) {
    return fixtures::message_of([&] { parse_days(text, "d.days.toml"); });
}

double value(const std::vector<DayValue>& values, Quantity what) {
    const auto at = std::find_if(values.begin(), values.end(), [&](const DayValue& v) { return v.what == what; });
    REQUIRE(at != values.end());
    return at->value;
}

} // namespace

TEST_CASE("a day is the same whenever it is drawn, and what else varies does not change it") {
    const Variation few = days("aside_mm = { about = 1.5, deviation = 2 }\nleft_motor = { from = 0.9, to = 1.02 }\n");
    const Variation more =
        days("left_motor = { from = 0.9, to = 1.02 }\neach_sensor = { about = 1, deviation = 0.02 }\n"
             "battery = { one_of = [0.8, 0.93] }\naside_mm = { about = 1.5, deviation = 2 }\n");
    for (std::uint64_t day = 1; day <= 40; ++day) {
        const std::vector<DayValue> a = draw_day(few, 11, day, 5);
        const std::vector<DayValue> b = draw_day(more, 11, day, 5);
        CHECK(a.size() == 2);
        CHECK(b.size() == 8); // five sensors
        for (const Quantity what : {Quantity::aside, Quantity::left_motor}) {
            CHECK(value(a, what) == value(b, what));
        }
        CHECK(value(a, Quantity::aside) != value(draw_day(few, 11, day + 1, 5), Quantity::aside));
        CHECK(value(a, Quantity::aside) != value(draw_day(few, 12, day, 5), Quantity::aside));
    }
}

TEST_CASE("days lie as their file says: about a middle, evenly between bounds, one of some, within what can be") {
    const Variation variation =
        days("left_motor = { about = 0.97, deviation = 0.04 }\nbattery = { from = 0.8, to = 1.04 }\n"
             "light = { one_of = [0.7, 1, 1.3] }\nskid = { about = 1, deviation = 0.3 }\n");
    constexpr int many = 4000;
    double sum = 0.0;
    double squares = 0.0;
    double least = 9.0;
    double most = 0.0;
    double middle = 0.0;
    std::map<double, int> lights;
    for (std::uint64_t day = 1; day <= many; ++day) {
        const std::vector<DayValue> values = draw_day(variation, 3, day, 2);
        const double motor = value(values, Quantity::left_motor);
        sum += motor;
        squares += motor * motor;
        const double battery = value(values, Quantity::battery);
        least = std::min(least, battery);
        most = std::max(most, battery);
        middle += battery;
        ++lights[value(values, Quantity::light)];
        CHECK(value(values, Quantity::skid) >= 1.0); // nobody scrubs less than not at all
    }
    const double mean = sum / many;
    CHECK(mean == doctest::Approx(0.97).epsilon(0.003));
    CHECK(std::sqrt(squares / many - mean * mean) == doctest::Approx(0.04).epsilon(0.05));
    CHECK(least >= 0.8);
    CHECK(least < 0.801);
    CHECK(most <= 1.04);
    CHECK(most > 1.039);
    CHECK(middle / many == doctest::Approx(0.92).epsilon(0.005));
    REQUIRE(lights.size() == 3);
    for (const auto& [light, times] : lights) {
        CHECK(times == doctest::Approx(many / 3.0).epsilon(0.1));
    }
}

TEST_CASE("a robot and its start on a day: each quantity does what its name says, and only that") {
    Robot robot = fixtures::ideal_robot(3);
    robot.sensors[1].noise = 4.0;
    robot.motors.lag_ms = 50.0;
    const auto with = [&](Quantity what, double v, std::size_t sensor = 0) {
        return on_day(robot, {DayValue{what, sensor, v}});
    };
    CHECK(with(Quantity::left_motor, 0.9).motors.left.gain == doctest::Approx(0.9));
    CHECK(with(Quantity::left_motor, 0.9).motors.right.gain == 1.0);
    CHECK(with(Quantity::right_wheel, 1.1).motors.right.wheel == doctest::Approx(1.1));
    CHECK(with(Quantity::battery, 0.5).top_speed_mm_s == doctest::Approx(0.5 * robot.top_speed_mm_s));
    CHECK(with(Quantity::motor_lag, 1.4).motors.lag_ms == doctest::Approx(70.0));
    CHECK(with(Quantity::dead_band, 3.0).motors.dead_band_pct == doctest::Approx(robot.motors.dead_band_pct + 3.0));
    CHECK(with(Quantity::delay, -50.0).delay_ms == 0.0);
    CHECK(with(Quantity::skid, 1.2).skid_track_mm() == doctest::Approx(1.2 * robot.track_mm));
    CHECK(with(Quantity::light, 0.8).sensors[2].gain == doctest::Approx(0.8));
    CHECK(with(Quantity::sensor, 0.8, 1).sensors[1].gain == doctest::Approx(0.8));
    CHECK(with(Quantity::sensor, 0.8, 1).sensors[2].gain == 1.0);
    CHECK(with(Quantity::noise, 2.0).sensors[1].noise == doctest::Approx(8.0));
    CHECK(with(Quantity::gyro_drift, 0.3).gyro.drift_deg_s == doctest::Approx(0.3));
    const Pose down = set_down({{100.0, 200.0}, 90.0},
                               {{Quantity::ahead, 0, 10.0}, {Quantity::aside, 0, 3.0}, {Quantity::turned, 0, -4.0}});
    CHECK(down.at.x == doctest::Approx(97.0)); // up is ahead, so left is where x shrinks
    CHECK(down.at.y == doctest::Approx(190.0));
    CHECK(down.heading_deg == doctest::Approx(86.0));
}

TEST_CASE("a file of days says what is wrong with it, and where") {
    CHECK(fault("[variation]\nleft_moter = { about = 1, deviation = 0.1 }\n").find("did you mean `left_motor`") !=
          std::string::npos);
    CHECK(fault("[variation]\nbattery = { from = 1, to = 0.8 }\n").find("above `to`") != std::string::npos);
    CHECK(fault("[variation]\nbattery = { from = 0.9 }\n").find("`to`") != std::string::npos);
    CHECK(fault("[variation]\nlight = { about = 1 }\n").find("`deviation`") != std::string::npos);
    CHECK(fault("[variation]\nlight = { one_of = [] }\n").find("d.days.toml:2:") != std::string::npos);
    CHECK(fault("[variation]\nskid = { about = 0.5, deviation = 0.1 }\n").find("expected") != std::string::npos);
    CHECK(fault("left_motor = { about = 1, deviation = 0.1 }\n").find("variation") != std::string::npos);
    CHECK(fault("[variation]\naside_mm = 3\n").find("d.days.toml:2:") != std::string::npos);
    const Robot robot = load_robot("data/fern-house/sprig-3.robot.toml");
    CHECK(robot.variation.empty());
    CHECK(load_days("data/fern-house/ordinary.days.toml").size() >= 12);
    CHECK(load_days("data/fern-house/evened.days.toml").size() ==
          load_days("data/fern-house/ordinary.days.toml").size());
}

TEST_CASE("a robot's file can say how its wheels, its gyro and its days are") {
    const std::string text = "name = \"r\"\ntrack_mm = 104\nwheel_mm = 41\ntop_speed_mm_s = 390\nskid = 1.3\n"
                             "[motors]\nleft = { wheel = 0.98 }\n[[sensor]]\nat_mm = [61, 0]\n"
                             "[gyro]\nscale = 1.01\ndrift_deg_s = -0.2\n"
                             "[variation]\nright_motor = { about = 1, deviation = 0.02 }\n";
    const Robot robot = parse_robot(text, "r.robot.toml");
    CHECK(robot.skid_track_mm() == doctest::Approx(135.2));
    CHECK(robot.motors.left.wheel == 0.98);
    CHECK(robot.gyro.fitted);
    CHECK(robot.gyro.scale == 1.01);
    CHECK(robot.gyro.drift_deg_s == -0.2);
    REQUIRE(robot.variation.size() == 1);
    CHECK(robot.variation[0].what == Quantity::right_motor);
    CHECK(fixtures::message_of([&] {
              parse_robot(text + "lefft_motor = { about = 1, deviation = 0 }\n", "r");
          }).find("did you mean `left_motor`") != std::string::npos);
}
