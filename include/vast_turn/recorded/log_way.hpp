#pragma once

/// Where a recorded run went: its log put on the course.

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

#include "vast_turn/plan/explain/log_check.hpp"
#include "vast_turn/sim/run.hpp"
#include "vast_turn/sim/scene.hpp"

namespace vast_turn {

/// How it is put there.
struct LogWayOptions {
    std::string start{};        ///< name of the start; empty: the one of the course's from which it fits best
    std::optional<Pose> pose{}; ///< in place of a start
    double off_mm = 15.0;       ///< how far from there it may have been set down, standard deviation
    double off_deg = 4.0;       ///< and how far turned
    int guesses = 1200;         ///< of where the robot is, at each look
    std::uint64_t seed = 1;     ///< of the guesses; the same seed gives the same way
};

/// What the way was reckoned from, besides what the line sensors saw.
enum class WayBy : std::uint8_t {
    wheels,          ///< what both wheels turned
    wheels_and_gyro, ///< that, and turns by the gyro
    powers,          ///< what the motors were given, by the robot file's speeds and lag
};

/// "the wheels' turns", "the wheels' turns and the gyro", "powers and the robot file".
const char* words_of(WayBy by);

/// The way of a log.
struct LogWay {
    std::string start;        ///< name of the start; empty when a pose was given
    WayBy by = WayBy::wheels; ///< what it was reckoned from
    std::vector<Pose> poses;  ///< look by look: the point midway between the wheels, course frame
    /// Share of the sensors' looks (line or floor) that are so on the map along this way, up to where it is lost.
    double alike = 0.0;
    /// The same for the worst second of it.
    double alike_worst = 0.0;
    /// The first look from which it fits no longer for a second or more; none when it fits to the end. Behind it the
    /// way is not to be believed.
    std::optional<std::size_t> lost;
};

/// Finds it: many guesses of where the robot is are moved as wheels, gyro or powers say, each with errors of its own,
/// and those live on that see what the log saw (a particle filter: Gordon, Salmond, Smith, "Novel approach to
/// nonlinear/non-Gaussian Bayesian state estimation", 1993; what is told is the past of the guess that fits best in
/// the end). Looks must have readings and line bits. Deterministic.
///
/// Throws InputError when there is no look, the course has no start, or the log tells neither of wheels nor of powers.
LogWay log_way(const Scene& scene, const std::vector<LoggedLook>& log, const LogWayOptions& options = {});

} // namespace vast_turn
