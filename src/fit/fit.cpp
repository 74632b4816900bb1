#include "vast_turn/fit/fit.hpp"

#include <algorithm>
#include <cmath>
#include <utility>

#include <fmt/format.h>

#include "fit/checked_logs.hpp"
#include "fit/days_reach.hpp"
#include "fit/doubts.hpp"
#include "fit/motor_fit.hpp"
#include "fit/ruled.hpp"
#include "fit/sensor_fit.hpp"
#include "fit/sensor_light.hpp"
#include "fit/telling.hpp"
#include "vast_turn/base/problem.hpp"

namespace vast_turn {

namespace {

constexpr double hardly_deg = 360.0; // of both wheels together: less tells nothing of them

bool all_have(const std::vector<DriveLog>& logs, std::vector<double> DriveLog::*list) {
    return std::all_of(logs.begin(), logs.end(), [&](const DriveLog& log) { return !(log.*list).empty(); });
}

/// Puts together what the parts of the fit found.
class Fitter : Telling {
public:
    Fitter(const Robot& robot, const std::vector<DriveLog>& logs, const FitOptions& options)
        : Telling(robot), filed_(robot), logs_(logs), options_(options), ruled_(put_together(options.rulers)) {}

    FitReport report() {
        for (const DriveLog& log : logs_) {
            out_.looks += log.looks();
            out_.seconds += log.seconds();
        }
        out_.doubts = doubts_of(filed_, logs_);
        const bool counted = all_have(logs_, &DriveLog::left_deg) && all_have(logs_, &DriveLog::right_deg);
        if (counted && turned_deg() > hardly_deg) {
            fit_motion();
        } else if (counted) {
            untold("motors, dead band, delay and track", "its wheels hardly turned", "a drive that tells (--drives)");
        } else if (ruled_ && ruled_->by == WayBy::powers && !filed_.drive) {
            tell_by_powers();
        } else {
            untold("motors, dead band, delay and track", "no encoder tells what the wheels did",
                   filed_.drive ? "logs with left_deg and right_deg"
                                : "logs with left_deg and right_deg, or the course of the run (--course)");
        }
        fit_sensors();
        out_.ruler = ruled_;
        for (FittedNumber& one : out_.numbers) {
            one.on_days = reach_of_days(filed_, one.key);
        }
        return std::move(out_);
    }

private:
    /// How far both wheels turned in all logs, to and fro.
    double turned_deg() const {
        double sum = 0.0;
        for (const DriveLog& log : logs_) {
            for (std::size_t i = 1; i < log.looks(); ++i) {
                sum +=
                    std::abs(log.left_deg[i] - log.left_deg[i - 1]) + std::abs(log.right_deg[i] - log.right_deg[i - 1]);
            }
        }
        return sum;
    }

    /// What the course says where no encoder does. Its errors are those of several tries, and wide enough as they are.
    void tell_by_powers() {
        const bool left = left_is_measure(filed_);
        const RuledFactor& measure = left ? ruled_->left : ruled_->right;
        const RuledFactor other = left ? ruled_->ratio : inverse(ruled_->ratio);
        out_.robot.top_speed_mm_s *= measure.value;
        motion_number("top_speed_mm_s", "top speed", "mm/s", filed_.top_speed_mm_s, out_.robot.top_speed_mm_s,
                      filed_.top_speed_mm_s * measure.error / wider, 0.0, HUGE_VAL);
        const Motor& was = left ? filed_.motors.right : filed_.motors.left;
        Motor& is = left ? out_.robot.motors.right : out_.robot.motors.left;
        is.gain *= other.value;
        motion_number(left ? "motors.right.gain" : "motors.left.gain",
                      left ? "right motor's gain" : "left motor's gain", "", was.gain, is.gain,
                      was.gain * other.error / wider, 0.0, HUGE_VAL);
        tell_track_on_course();
        untold("lag, dead band and delay", "no encoder tells what the wheels did", "logs with left_deg and right_deg");
    }

    void tell_track_on_course() {
        const RuledFactor factor = inverse(ruled_->turn);
        out_.robot.track_mm = filed_.track_mm * factor.value;
        motion_number("track_mm", "track", "mm", filed_.track_mm, out_.robot.track_mm,
                      filed_.track_mm * factor.error / wider, 0.0, HUGE_VAL);
    }

    bool is_ruled_by(WayBy by) const { return ruled_ && ruled_->by == by; }

    /// What wheels turned is so many times as far as their size in the file makes it: what was told in millimetres by
    /// it is, too.
    void tell_wheels() {
        if (!is_ruled_by(WayBy::wheels) && !is_ruled_by(WayBy::wheels_and_gyro)) {
            untold("size of both wheels", "encoders count turns, whatever their size",
                   "the course of the run (--course), or the way of a known length in one log");
            return;
        }
        const RuledFactor& size = ruled_->mean;
        out_.robot.wheel_mm = filed_.wheel_mm * size.value;
        for (FittedNumber& one : out_.numbers) {
            if (one.key == "top_speed_mm_s" || (one.key == "track_mm" && has_turns_)) { // else the course told it
                const double apart = in_95_percent * one.value * size.error;
                const double low = std::hypot(size.value * (one.value - one.low), apart);
                const double high = std::hypot(size.value * (one.high - one.value), apart);
                one.value *= size.value;
                one.low = std::max(0.0, one.value - low);
                one.high = one.value + high;
                (one.key == "track_mm" ? out_.robot.track_mm : out_.robot.top_speed_mm_s) = one.value;
            }
        }
        motion_number("wheel_mm", "size of the wheels", "mm", filed_.wheel_mm, out_.robot.wheel_mm,
                      filed_.wheel_mm * size.error / wider, 0.0, HUGE_VAL);
    }

    void fit_motion() {
        const MotorFit motors = fit_motors(filed_, logs_);
        constexpr double nearly_all = 0.97;
        if (!(motors.told_part >= nearly_all)) {
            doubt_motion(motors.told_part, nearly_all);
        }
        out_.robot = with_motors(out_.robot, motors.numbers);
        tell_speeds(motors);
        tell_times(motors);
        tell_dead_band(motors);
        if (filed_.drive) {
            tell_drive(motors);
        }
        tell_turning(motors);
        tell_wheels();
        if (out_.doubts.empty()) {
            out_.doubts = doubts_of(filed_, out_.robot);
        }
    }

    /// Says what would explain it, when something simple does.
    void doubt_motion(double part, double nearly_all) {
        std::vector<DriveLog> other = logs_;
        for (DriveLog& log : other) {
            log.left_pct.swap(log.right_pct);
        }
        const bool swapped = fit_motors(filed_, other).told_part >= nearly_all;
        out_.doubts.push_back(fmt::format("{:.0f} % of what its wheels did follows from the powers{}",
                                          100.0 * std::max(0.0, part),
                                          swapped ? ", nearly all of it if left and right are exchanged" : ""));
    }

    double error_of(const MotorFit& motors, Eigen::Index k) const {
        return std::sqrt(std::max(0.0, motors.covariance(k, k)));
    }

    void tell_speeds(const MotorFit& motors) {
        const bool left = left_is_measure(filed_);
        const Eigen::Index measure = left ? Unknowns::left_speed : Unknowns::right_speed;
        const Eigen::Index other = left ? Unknowns::right_speed : Unknowns::left_speed;
        motion_number("top_speed_mm_s", "top speed", "mm/s", filed_.top_speed_mm_s, out_.robot.top_speed_mm_s,
                      out_.robot.top_speed_mm_s * error_of(motors, measure), 0.0, HUGE_VAL);
        const Motor& was = left ? filed_.motors.right : filed_.motors.left;
        const Motor& is = left ? out_.robot.motors.right : out_.robot.motors.left;
        const double variance = motors.covariance(measure, measure) + motors.covariance(other, other) -
                                2.0 * motors.covariance(measure, other);
        motion_number(left ? "motors.right.gain" : "motors.left.gain",
                      left ? "right motor's gain" : "left motor's gain", "", was.gain, is.gain,
                      is.gain * std::sqrt(std::max(0.0, variance)), 0.0, HUGE_VAL);
    }

    void tell_times(const MotorFit& motors) {
        constexpr double roughly = 0.3;
        const double lag_error = error_of(motors, Unknowns::lag);
        if (lag_error < roughly) {
            motion_number("motors.lag_ms", "lag of the motors", "ms", filed_.motors.lag_ms, motors.numbers.lag_ms,
                          motors.numbers.lag_ms * lag_error, 0.0, HUGE_VAL);
        } else {
            out_.robot.motors.lag_ms = filed_.motors.lag_ms;
            untold("lag of the motors", "powers hardly change", "a drive whose powers jump");
        }
        tell_delay(motors);
    }

    void tell_delay(const MotorFit& motors) {
        const VaryingDelay& varying = motors.varying;
        const double varies = varying.is_told ? varying.varies_ms : filed_.delay_varies_ms;
        if (varying.is_told) {
            motion_number("delay_varies_ms", "the delay varies by", "ms", filed_.delay_varies_ms, varies,
                          varying.error_ms, 0.0, HUGE_VAL);
        }
        // By how much its errors came out too small over robots whose delay was known, besides.
        const double by_chance = filed_.drive ? 1.5 : 1.15;
        const double error = by_chance * wider * std::hypot(error_of(motors, Unknowns::delay), 0.5 * varying.error_ms);
        constexpr double hardly_ms = 4.0;
        if (!(error < by_chance * hardly_ms)) {
            untold("delay", "encoders are too coarse for how seldom powers jump", "a drive whose powers jump");
            return;
        }
        out_.robot.delay_varies_ms = varies;
        out_.robot.delay_ms = std::max(0.0, motors.numbers.delay_ms - mean_of_varying_ms(varies));
        motion_number("delay_ms", "delay", "ms", filed_.delay_ms, out_.robot.delay_ms, error, 0.0, HUGE_VAL);
        const bool is_told = !out_.numbers.empty() && out_.numbers.back().key == "delay_ms";
        if (is_told && !varying.is_told) { // then it may vary by what nobody sees, and be shorter in itself
            const double less = mean_of_varying_ms(varying.at_most_ms) - mean_of_varying_ms(varies);
            out_.numbers.back().low = std::max(0.0, out_.numbers.back().low - std::max(0.0, less));
        }
    }

    void tell_dead_band(const MotorFit& motors) {
        constexpr double narrow_pct = 3.0;
        const auto& range = motors.dead_band_pct;
        if (range && range->second - range->first <= narrow_pct) {
            out_.numbers.push_back({"motors.dead_band_pct", "dead band", "%", filed_.motors.dead_band_pct,
                                    motors.numbers.dead_band_pct, range->first, range->second});
            return;
        }
        const double filed = filed_.motors.dead_band_pct;
        const bool may_be = !range || (filed >= range->first && filed <= range->second);
        out_.robot.motors.dead_band_pct = may_be ? filed : motors.numbers.dead_band_pct;
        untold("dead band",
               range ? fmt::format("it lies anywhere from {:.2g} to {:.2g} %", range->first, range->second)
                     : std::string("no small power was asked for"),
               "a drive with small powers");
    }

    void tell_drive(const MotorFit& motors) {
        const Drive& was = *filed_.drive;
        const Drive& is = *out_.robot.drive;
        motion_number("drive.keep_pct", "friction of a turning wheel", "%", was.keep_pct, is.keep_pct,
                      error_of(motors, Unknowns::keep), 0.0, 90.0);
        motion_number("drive.sag", "sag of the battery", "", was.sag, is.sag, error_of(motors, Unknowns::sag), 0.0,
                      0.9);
        motion_number("drive.run_down", "battery lost in a minute", "", was.run_down, is.run_down,
                      error_of(motors, Unknowns::run_down), 0.0, 0.9);
        untold("weight, grip and friction at rest", "they show where tyres slide and wheels start, which is too seldom",
               "scales, a board held at a slant");
    }

    std::optional<TurnFit> turns_by(const MotorFit& motors, std::vector<double> DriveLog::*degrees,
                                    double settles_s) const {
        if (!all_have(logs_, degrees)) {
            return std::nullopt;
        }
        return motors.rims_are_exact ? fit_turns(logs_, motors.ways, degrees, settles_s)
                                     : fit_motors(filed_, logs_, ToldTurns{degrees, settles_s}).turn;
    }

    void tell_turning(const MotorFit& motors) {
        const double settles_s = std::abs(filed_.gyro.settling_deg_s) > 0.0 ? filed_.gyro.settles_ms / 1000.0 : 0.0;
        const std::optional<TurnFit> gyro = turns_by(motors, &DriveLog::gyro_deg, settles_s);
        const std::optional<TurnFit> compass = turns_by(motors, &DriveLog::compass_deg, 0.0);
        has_turns_ = compass || gyro;
        if (compass) {
            tell_track(*compass, 1.0);
        } else if (gyro) {
            tell_track(*gyro, is_ruled_by(WayBy::wheels_and_gyro) ? 1.0 / ruled_->turn.value : filed_.gyro.scale);
        } else if (is_ruled_by(WayBy::wheels)) {
            tell_track_on_course();
        } else if (filed_.drive) {
            const double track = motors.track_mm;
            out_.robot.track_mm = track;
            motion_number("track_mm", "track", "mm", filed_.track_mm, track, track * error_of(motors, Unknowns::apart),
                          0.0, HUGE_VAL);
        } else {
            untold("track", "nothing tells how far it turned",
                   "a gyro's or a compass's turn in the log, or the course of the run (--course)");
        }
        if (gyro) {
            tell_gyro(*gyro, compass);
        }
    }

    /// `scale`: of what told the turn.
    void tell_track(const TurnFit& turn, double scale) {
        const double wheels = 0.5 * (filed_.motors.left.wheel + filed_.motors.right.wheel);
        const double sum = turn.left + turn.right;
        const double variance = turn.covariance(0, 0) + turn.covariance(1, 1) + 2.0 * turn.covariance(0, 1);
        const double track = 2.0 * scale * wheels / sum / filed_.skid;
        out_.robot.track_mm = track;
        motion_number("track_mm", "track", "mm", filed_.track_mm, track,
                      track * std::sqrt(std::max(0.0, variance)) / sum, 0.0, HUGE_VAL);
        // How they share what both have in the mean.
        const double apart = turn.covariance(0, 0) * turn.right * turn.right +
                             turn.covariance(1, 1) * turn.left * turn.left -
                             2.0 * turn.covariance(0, 1) * turn.left * turn.right;
        const double error = 2.0 * wheels * std::sqrt(std::max(0.0, apart)) / (sum * sum);
        out_.robot.motors.left.wheel = 2.0 * wheels * turn.left / sum;
        out_.robot.motors.right.wheel = 2.0 * wheels * turn.right / sum;
        motion_number("motors.left.wheel", "left wheel's size", "", filed_.motors.left.wheel,
                      out_.robot.motors.left.wheel, error, 0.0, HUGE_VAL);
        motion_number("motors.right.wheel", "right wheel's size", "", filed_.motors.right.wheel,
                      out_.robot.motors.right.wheel, error, 0.0, HUGE_VAL);
    }

    void tell_gyro(const TurnFit& gyro, const std::optional<TurnFit>& compass) {
        out_.robot.gyro.drift_deg_s = gyro.drift_deg_s;
        motion_number("gyro.drift_deg_s", "drift of the gyro", "deg/s", filed_.gyro.drift_deg_s, gyro.drift_deg_s,
                      std::sqrt(std::max(0.0, gyro.covariance(2, 2))), -HUGE_VAL, HUGE_VAL);
        if (!compass && is_ruled_by(WayBy::wheels_and_gyro)) {
            const RuledFactor scale = inverse(ruled_->turn);
            out_.robot.gyro.scale = scale.value;
            motion_number("gyro.scale", "scale of the gyro", "", filed_.gyro.scale, scale.value, scale.error / wider,
                          0.0, HUGE_VAL);
            return;
        }
        if (!compass) {
            untold("scale of the gyro", "it and the track are told together: the track is right if the scale is",
                   "the course of the run (--course), a compass, or ten turns on the spot, counted by eye");
            return;
        }
        const double of_gyro = gyro.left + gyro.right;
        const double of_compass = compass->left + compass->right;
        const auto part = [](const TurnFit& turn, double sum) {
            return (turn.covariance(0, 0) + turn.covariance(1, 1) + 2.0 * turn.covariance(0, 1)) / (sum * sum);
        };
        out_.robot.gyro.scale = of_gyro / of_compass;
        motion_number("gyro.scale", "scale of the gyro", "", filed_.gyro.scale, out_.robot.gyro.scale,
                      out_.robot.gyro.scale *
                          std::sqrt(std::max(0.0, part(gyro, of_gyro) + part(*compass, of_compass))),
                      0.0, HUGE_VAL);
    }

    void fit_sensors() {
        std::size_t quiet = 0;
        for (std::size_t k = 0; k < filed_.sensors.size(); ++k) {
            std::vector<const std::vector<double>*> lists;
            for (const DriveLog& log : logs_) {
                if (k < log.counts.size()) {
                    lists.push_back(&log.counts[k]);
                }
            }
            const std::optional<SensorFit> sensor = fit_sensor(lists);
            if (sensor) {
                tell_sensor(k, *sensor);
                ++quiet;
            }
        }
        if (quiet < filed_.sensors.size()) {
            untold("noise of sensors",
                   fmt::format("{} of {} saw plain floor for long enough", quiet, filed_.sensors.size()),
                   "a log in which it stands over floor for three seconds");
        }
        if (options_.calibration) {
            out_.raised = raised_alike(filed_, lights_);
        } else {
            untold("light and height of sensors", "the log does not say what the floor should read",
                   "a calibration from before it (--calibration)");
        }
    }

    void tell_sensor(std::size_t k, const SensorFit& sensor) {
        LineSensor& is = out_.robot.sensors[k];
        const LineSensor& was = filed_.sensors[k];
        is.noise = sensor.noise;
        number(fmt::format("sensor.{}.noise", k + 1), fmt::format("noise of sensor {}", k + 1), "counts", was.noise,
               sensor.noise, sensor.noise_error, 0.0, HUGE_VAL);
        if (!options_.calibration || k >= options_.calibration->sensors.size()) {
            return;
        }
        lights_.resize(filed_.sensors.size());
        lights_[k] = light_of(sensor, options_.calibration->sensors[k], was);
        const std::string words = fmt::format("light of sensor {}", k + 1);
        if (!lights_[k]) {
            return untold(words, "it saw neither floor nor line as when it was calibrated", "a newer calibration");
        }
        is.gain = was.gain * lights_[k]->part;
        number(fmt::format("sensor.{}.gain", k + 1), words, "", was.gain, is.gain, was.gain * lights_[k]->error, 0.0,
               HUGE_VAL);
    }

    const Robot& filed_;
    const std::vector<DriveLog>& logs_;
    const FitOptions& options_;
    std::optional<CourseRuler> ruled_;
    std::vector<std::optional<SensorLight>> lights_;
    bool has_turns_ = false; ///< a gyro or a compass told of turns
};

} // namespace

FitReport fit(const Robot& robot, const std::vector<DriveLog>& logs, const FitOptions& options) {
    check_logs(logs);
    return Fitter(robot, logs, options).report();
}

} // namespace vast_turn
