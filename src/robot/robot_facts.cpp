#include "vast_turn/robot/robot_facts.hpp"

#include <algorithm>
#include <cmath>
#include <limits>

#include <fmt/format.h>

#include "vast_turn/robot/array.hpp"
#include "vast_turn/robot/manoeuvre.hpp"

namespace vast_turn {

namespace {

constexpr double full_power = 100.0;

/// The mean over both sides, since motors may differ; infinite when either is straight but for a drift.
double circle(const Robot& robot, double outside, double inside) {
    const Manoeuvre left = manoeuvre_of(robot, inside, outside);
    const Manoeuvre right = manoeuvre_of(robot, outside, inside);
    const bool straight = left.kind == ManoeuvreKind::straight || right.kind == ManoeuvreKind::straight;
    return straight ? std::numeric_limits<double>::infinity() : 0.5 * (left.radius_mm + right.radius_mm);
}

/// v' = -(v + k) / lag comes to rest after lag * (v - k * log((v + k) / k)): the second term.
double lost_to_friction(const Robot& robot, double speed) {
    const double keep = robot.drive ? robot.drive->keep_pct / 100.0 * robot.top_speed_mm_s : 0.0;
    return keep > 0.0 ? keep * std::log((speed + keep) / keep) : 0.0;
}

std::vector<PowerFacts> powers_of(const Robot& robot) {
    std::vector<PowerFacts> list;
    const double look_s = robot.look_ms / 1000.0;
    const double delay_s = robot.delay_ms / 1000.0;
    const double lag_s = robot.motors.lag_ms / 1000.0;
    for (int power = 10; power <= 100; power += 10) {
        if (power < robot.motors.dead_band_pct) {
            continue;
        }
        PowerFacts one;
        one.power_pct = power;
        one.speed_mm_s = manoeuvre_of(robot, power, power).speed_mm_s;
        one.between_looks_mm = one.speed_mm_s * look_s;
        one.to_stop_mm = one.speed_mm_s * delay_s + lag_s * (one.speed_mm_s - lost_to_friction(robot, one.speed_mm_s));
        if (robot.drive) {
            one.slides_in_mm =
                one.speed_mm_s * one.speed_mm_s / (robot.drive->grip * robot.drive->on_wheels * gravity_mm_s2);
        }
        one.tightest_bend_mm = circle(robot, full_power, 2.0 * power - full_power);
        list.push_back(one);
    }
    return list;
}

std::vector<CircleFacts> circles_of(const Robot& robot) {
    std::vector<CircleFacts> list;
    for (const double outside : {100.0, 80.0, 60.0, 40.0}) {
        for (const double inside : {-40.0, -20.0, 0.0, 20.0, 40.0, 60.0}) {
            if (inside < outside) {
                list.push_back({outside, inside, circle(robot, outside, inside)});
            }
        }
    }
    return list;
}

class Oddities {
public:
    explicit Oddities(const Robot& robot) : robot_(robot) {}

    std::vector<std::string> run() {
        const Motors& motors = robot_.motors;
        range("track_mm", robot_.track_mm, 30.0, 500.0, "mm between the wheels");
        range("wheel_mm", robot_.wheel_mm, 12.0, 200.0, "mm across a wheel");
        range("top_speed_mm_s", robot_.top_speed_mm_s, 50.0, 5000.0, "mm a second at full power, not percent, not m/s");
        range("look_ms", robot_.look_ms, 0.2, 60.0, "ms from look to look");
        range("delay_ms", robot_.delay_ms, 0.0, 100.0, "ms from a look to the wheels");
        range("lag_ms", motors.lag_ms, 0.0, 400.0, "ms until 63 % of a change of speed is done");
        range("dead_band_pct", motors.dead_band_pct, 0.0, 40.0, "percent of power");
        range("gain of the left motor", motors.left.gain, 0.6, 1.3, "part of top_speed_mm_s");
        range("gain of the right motor", motors.right.gain, 0.6, 1.3, "part of top_speed_mm_s");
        if (robot_.drive) {
            drive(*robot_.drive);
        }
        sensors();
        return std::move(told_);
    }

private:
    void range(const std::string& what, double value, double least, double most, const char* meaning) {
        if (value < least || value > most) {
            told_.push_back(
                fmt::format("{} is {:g}; robots have {:g} to {:g} ({})", what, value, least, most, meaning));
        }
    }

    void drive(const Drive& drive) {
        range("mass_g", drive.mass_g, 60.0, 5000.0, "grams, not kilograms");
        range("gyration_mm", drive.gyration_mm, 0.15 * robot_.track_mm, 1.5 * robot_.track_mm,
              "mm; a disc has 0.71 of its radius");
        range("grip", drive.grip, 0.2, 2.0, "friction number of the tyres: rubber 0.6 to 1.2");
        range("wheel_g", drive.wheel_g, 1.0, 0.5 * drive.mass_g, "grams at the rim");
        range("keep_pct", drive.keep_pct, 0.0, 30.0, "percent of power");
        range("start_pct", drive.start_pct, 0.0, 45.0, "percent of power");
        range("play_deg", drive.play_deg, 0.0, 15.0, "degrees that a wheel can be turned by hand");
        range("sag", drive.sag, 0.0, 0.5, "part of the voltage that is lost when both motors are held");
    }

    void sensors() {
        const std::vector<LineSensor>& list = robot_.sensors;
        for (std::size_t k = 0; k < list.size(); ++k) {
            const LineSensor& sensor = list[k];
            const std::string name = fmt::format("sensor {}", k + 1);
            const double off = length(sensor.at_mm);
            if (off < 4.0 || off > 300.0) {
                told_.push_back(fmt::format("{} is {:.3g} mm from the middle between the wheels; robots have 4 to 300 "
                                            "(at_mm is in millimetres: 70, not 0.07, not 7 cm)",
                                            name, off));
            }
            if (sensor.at_mm.x < 0.0) {
                told_.push_back(fmt::format("{} lies {:.3g} mm behind the axle: steering by it turns it away from the "
                                            "line (the first number of at_mm is how far ahead)",
                                            name, -sensor.at_mm.x));
            }
            range("spot_mm of " + name, sensor.spot_mm, 1.0, 25.0, "mm across the spot that it sees");
            range("noise of " + name, sensor.noise, 0.0, 0.06 * sensor.adc_max, "counts, one standard deviation");
            range("adc_max of " + name, sensor.adc_max, 63.0, 65535.0, "counts at full reflectance");
            if (k > 0 && list[k - 1].at_mm.y - sensor.at_mm.y < 2.0) {
                told_.push_back(fmt::format("{} lies {:.3g} mm beside sensor {}: they see the same", name,
                                            list[k - 1].at_mm.y - sensor.at_mm.y, k));
            }
        }
    }

    const Robot& robot_;
    std::vector<std::string> told_;
};

} // namespace

std::string radius_text(double mm) { return std::isfinite(mm) ? fmt::format("{:.0f}", mm) : "straight"; }

RobotFacts facts_of(const Robot& robot) {
    RobotFacts facts;
    facts.powers = powers_of(robot);
    facts.circles = circles_of(robot);
    facts.quarter_on_spot_deg = 90.0 * robot.skid_track_mm() / robot.wheel_mm;
    facts.quarter_on_wheel_deg = 2.0 * facts.quarter_on_spot_deg;
    double leftmost = -std::numeric_limits<double>::infinity();
    double rightmost = std::numeric_limits<double>::infinity();
    for (const LineSensor& sensor : robot.sensors) {
        leftmost = std::max(leftmost, sensor.at_mm.y + 0.5 * sensor.spot_mm);
        rightmost = std::min(rightmost, sensor.at_mm.y - 0.5 * sensor.spot_mm);
    }
    facts.array_width_mm = leftmost - rightmost;
    facts.array_ahead_mm = array_middle(robot).x;
    facts.unlikely = Oddities(robot).run();
    return facts;
}

} // namespace vast_turn
