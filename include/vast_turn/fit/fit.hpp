#pragma once

/// The numbers of a robot, found from logs of its runs.
///
/// Powers that were answered go in, what encoders and gyro told comes out of the same model that drives the map's robot
/// (docs/simulation.md); numbers are sought for which both agree best, by least squares (Levenberg-Marquardt) over
/// residuals made white by a steady filter that follows what the model does not know, robust against late looks and
/// sliding tyres. Intervals are those of 95 %, by the sandwich formula with the residuals' own correlation (Newey and
/// West, "A simple, positive semi-definite, heteroskedasticity and autocorrelation consistent covariance matrix",
/// 1987). docs/fit.md says what each number needs to be told.

#include <optional>
#include <string>
#include <utility>
#include <vector>

#include "vast_turn/fit/drive_log.hpp"
#include "vast_turn/recorded/course_ruler.hpp"
#include "vast_turn/robot/robot.hpp"
#include "vast_turn/sense/calibration.hpp"

namespace vast_turn {

/// One number of the robot file.
struct FittedNumber {
    std::string key;    ///< as settings name it: "top_speed_mm_s", "motors.right.gain", "sensor.2.noise"
    std::string words;  ///< for people: "right motor's gain"
    std::string unit;   ///< "mm/s"; "" for a part
    double filed = 0.0; ///< what the robot file says
    double value = 0.0; ///< what the logs say
    double low = 0.0;   ///< of the interval of 95 %
    double high = 0.0;  ///< likewise
    /// From where to where it goes on the days of the robot's variation; none when no day moves it.
    std::optional<std::pair<double, double>> on_days{};

    /// The file's own value lies within the interval.
    bool is_as_filed() const { return filed >= low && filed <= high; }
    /// Some of the interval lies where the days do, or the file says so.
    bool is_of_its_days() const {
        return is_as_filed() || (on_days && low <= on_days->second && high >= on_days->first);
    }
};

/// A number that these logs cannot tell.
struct UntoldNumber {
    std::string words; ///< "dead band"
    std::string why;   ///< "no power below 21 % was asked for"
    std::string needs; ///< what would tell it: "a drive with powers from 0 to 15 %"
};

/// How much higher all line sensors sit, if their lamps are as they were.
struct RaisedSensors {
    double mm = 0.0;   ///< below 0: lower
    double low = 0.0;  ///< of the interval of 95 %
    double high = 0.0; ///< likewise
};

/// What the logs say of the robot.
struct FitReport {
    Robot robot; ///< the file's, with the numbers that were found
    std::vector<FittedNumber> numbers;
    std::vector<UntoldNumber> untold;
    std::vector<std::string> doubts;    ///< why these logs are not of that robot; empty: they are
    std::size_t looks = 0;              ///< of all logs
    double seconds = 0.0;               ///< likewise
    std::optional<CourseRuler> ruler{}; ///< what their courses told, put together
    /// The light of all sensors is other than it was as if they sat so much higher. The robot has the light changed:
    /// counts do not tell a mount from weaker lamps.
    std::optional<RaisedSensors> raised{};

    bool is_of_that_robot() const { return doubts.empty(); }
    /// The number of this key; null when it was not told.
    const FittedNumber* find(const std::string& key) const {
        for (const FittedNumber& one : numbers) {
            if (one.key == key) {
                return &one;
            }
        }
        return nullptr;
    }
};

struct FitOptions {
    /// Of the robot on the day of the logs: what its sensors' light is held against. Without one it is not told.
    std::optional<Calibration> calibration{};
    /// What their courses told as rulers, log by log (rule_by_course()): the speeds and the track of a robot that has
    /// no encoders, else the size of its wheels, with it the top speed and the track in true millimetres, and the
    /// gyro's scale. Those count that were reckoned as the first one was; empty: no course is known.
    std::vector<CourseRuler> rulers{};
};

/// Fits the robot's numbers to all logs at once. Throws InputError when there is no log, when one has fewer than 50
/// looks or does not tell the powers of each, and when all together have more than 200,000. The same logs give the same
/// numbers, bit for bit.
FitReport fit(const Robot& robot, const std::vector<DriveLog>& logs, const FitOptions& options = {});

} // namespace vast_turn
