#include "fit/doubts.hpp"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "vast_turn/base/geometry.hpp"

namespace vast_turn {

namespace {

bool has(const DriveLog& log, const char* column) {
    return std::find(log.columns.begin(), log.columns.end(), column) != log.columns.end();
}

double middle_of(std::vector<double> values) {
    const auto middle = values.begin() + static_cast<std::ptrdiff_t>(values.size() / 2);
    std::nth_element(values.begin(), middle, values.end());
    return *middle;
}

void doubt_period(const Robot& robot, const DriveLog& log, std::vector<std::string>& out) {
    std::vector<double> steps;
    for (std::size_t i = 1; i < log.looks(); ++i) {
        steps.push_back(log.t_ms[i] - log.t_ms[i - 1]);
    }
    const double period = middle_of(steps);
    constexpr double alike = 0.06;
    if (std::abs(period - robot.look_ms) > alike * robot.look_ms + 0.2) {
        out.push_back(fmt::format("{} has a look every {:.3g} ms, {} looks every {:g}", log.name, period, robot.name,
                                  robot.look_ms));
    }
}

void doubt_sensors(const Robot& robot, const DriveLog& log, std::vector<std::string>& out) {
    if (log.counts.size() > robot.sensors.size()) {
        out.push_back(fmt::format("{} has the counts of {} line sensors, {} has {}", log.name, log.counts.size(),
                                  robot.name, robot.sensors.size()));
        return;
    }
    for (std::size_t k = 0; k < log.counts.size(); ++k) {
        const double most = *std::max_element(log.counts[k].begin(), log.counts[k].end());
        if (most > robot.sensors[k].adc_max) {
            out.push_back(fmt::format("{} has {:g} counts of sensor {}, which counts to {}", log.name, most, k + 1,
                                      robot.sensors[k].adc_max));
        }
    }
    const std::pair<const char*, bool> fitted[] = {{"range_mm", robot.range_sensor.has_value()},
                                                   {"by_gyro_deg", robot.gyro.fitted},
                                                   {"by_compass_deg", robot.compass.fitted},
                                                   {"by_wheels_deg", robot.encoders.fitted}};
    for (const auto& [column, is_fitted] : fitted) {
        if (has(log, column) && !is_fitted) {
            out.push_back(fmt::format("{} has {}, which {} has no sensor for", log.name, column, robot.name));
        }
    }
}

/// The robot reckons its way and its turn with the numbers that it was given.
void doubt_reckoning(const Robot& robot, const DriveLog& log, std::vector<std::string>& out) {
    if (!log.has_encoders()) {
        return;
    }
    const auto compare = [&](const std::vector<double>& told, double own_per_deg, double left, double right,
                             const char* what, const char* key, double filed, bool inverse) {
        double own = 0.0;
        double both = 0.0;
        for (std::size_t i = 1; i < told.size(); ++i) {
            const double reckoned = own_per_deg * (left * (log.left_deg[i] - log.left_deg[i - 1]) +
                                                   right * (log.right_deg[i] - log.right_deg[i - 1]));
            own += reckoned * reckoned;
            both += reckoned * (told[i] - told[i - 1]);
        }
        constexpr double alike = 0.004;
        if (own > 0.0 && std::abs(both / own - 1.0) > alike) {
            const double part = inverse ? own / both : both / own;
            out.push_back(fmt::format("{} reckons its {} with {} {:.4g}, {} has {:.4g}", log.name, what, key,
                                      part * filed, robot.name, filed));
        }
    };
    const double mm_per_deg = pi * robot.wheel_mm / 360.0;
    compare(log.way_mm, mm_per_deg, 0.5, 0.5, "way", "wheel_mm", robot.wheel_mm, false);
    compare(log.turn_deg, robot.wheel_mm / (2.0 * robot.track_mm), -1.0, 1.0, "turn", "track_mm", robot.track_mm, true);
}

} // namespace

std::vector<std::string> doubts_of(const Robot& robot, const std::vector<DriveLog>& logs) {
    std::vector<std::string> out;
    for (const DriveLog& log : logs) {
        doubt_period(robot, log, out);
        doubt_sensors(robot, log, out);
        doubt_reckoning(robot, log, out);
    }
    return out;
}

std::vector<std::string> doubts_of(const Robot& robot, const Robot& fitted) {
    std::vector<std::string> out;
    const auto compare = [&](const char* what, double filed, double found, double least, double most,
                             const char* unit) {
        if (!(found >= least * filed) || !(found <= most * filed)) {
            out.push_back(fmt::format("its {} comes out as {:.3g}{}, the file says {:.3g}", what, found, unit, filed));
        }
    };
    compare("left wheel at full power", robot.top_speed_mm_s * robot.motors.left.gain,
            fitted.top_speed_mm_s * fitted.motors.left.gain, 0.6, 1.6, " mm/s");
    compare("right wheel at full power", robot.top_speed_mm_s * robot.motors.right.gain,
            fitted.top_speed_mm_s * fitted.motors.right.gain, 0.6, 1.6, " mm/s");
    compare("lag", std::max(5.0, robot.motors.lag_ms), std::max(5.0, fitted.motors.lag_ms), 0.3, 3.0, " ms");
    compare("track", robot.track_mm, fitted.track_mm, 0.8, 1.25, " mm");
    return out;
}

} // namespace vast_turn
