#pragma once

/// The course as a ruler: how far a robot really goes and turns.

#include <cstddef>
#include <optional>
#include <vector>

#include "vast_turn/recorded/log_way.hpp"

namespace vast_turn {

/// A factor to what the robot file says, and its standard error.
struct RuledFactor {
    double value = 1.0;
    double error = 0.0; ///< never below 0
};

/// What a log tells when its way is held against the course.
struct CourseRuler {
    WayBy by = WayBy::powers; ///< what was measured: each motor's full speed by powers, else the size of each wheel
    RuledFactor left{};       ///< the left motor goes, or the left wheel is, so many times what the file says
    RuledFactor right{};      ///< likewise
    RuledFactor ratio{};      ///< right against left
    RuledFactor mean{};       ///< of both
    /// By powers or wheels it turns so many times what speeds and track of the file make; by the gyro so many times
    /// what it tells. One over it is the factor to the track, or to the gyro's scale.
    RuledFactor turn{};
    std::string start;     ///< from which it began
    std::size_t looks = 0; ///< that could be followed on the course
    double seconds = 0.0;  ///< likewise
    double alike = 0.0;    ///< share of what was seen there that is so on the map
};

/// Follows the log on the course with many guesses, each with speeds, wheels and a track of its own, as far as it can
/// be followed, and tells which of those numbers are left (log_way.hpp; the numbers by Liu and West, "Combined
/// parameter and state estimation in simulation-based filtering", 2001). What it reckons with is that both are other
/// than the file says by up to some 30 % by powers, 12 % by wheels. None when it cannot be followed for five seconds
/// and half of its time, or when less than 95 % of what it saw is so along that way: it is of another course then, or
/// of a robot that is other by more. Several tries of it tell how sure it is; they run on threads. The same log and
/// seed give the same numbers, bit for bit. Throws what log_way() throws.
std::optional<CourseRuler> rule_by_course(const Scene& scene, const std::vector<LoggedLook>& log,
                                          const LogWayOptions& options = {});

} // namespace vast_turn
