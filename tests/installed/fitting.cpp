// A robot that is driven by nothing but a log made up here: a second of standing, then jumps of power.
#include <cmath>

#include "vast_turn/fit/fit.hpp"

int main() {
    vast_turn::Robot robot;
    robot.sensors.resize(2);
    vast_turn::DriveLog log;
    const double lag_s = robot.motors.lag_ms / 1000.0;
    const double true_mm_s = 0.93 * robot.top_speed_mm_s;
    double speed = 0.0;
    double way = 0.0;
    for (int i = 0; i < 3000; ++i) {
        const double power = i < 100 ? 0.0 : (i / 37 % 2 == 0 ? 64.0 : -31.0);
        log.t_ms.push_back(10.0 * i);
        log.left_pct.push_back(power);
        log.right_pct.push_back(power);
        log.left_deg.push_back(360.0 * way / (3.14159265358979 * robot.wheel_mm));
        log.right_deg.push_back(log.left_deg.back());
        const double rest = speed - power / 100.0 * true_mm_s; // without any delay
        way += power / 100.0 * true_mm_s * 0.01 + rest * lag_s * -std::expm1(-0.01 / lag_s);
        speed = power / 100.0 * true_mm_s + rest * std::exp(-0.01 / lag_s);
    }
    const vast_turn::FitReport report = vast_turn::fit(robot, {log});
    const vast_turn::FittedNumber* top = report.find("top_speed_mm_s");
    return report.is_of_that_robot() && top != nullptr && std::abs(top->value - true_mm_s) < 0.1 ? 0 : 1;
}
