#pragma once

/// Did the map tell the truth? A recorded run beside the simulated one, and among the days of its robot.

#include <cstddef>
#include <optional>
#include <string>
#include <vector>

#include "vast_turn/plan/plan.hpp"
#include "vast_turn/recorded/log_way.hpp"
#include "vast_turn/sim/run.hpp"

namespace vast_turn {

/// A place on the way of the log, and when runs came there: seconds since the first such place.
struct LogMark {
    std::size_t look = 0; ///< of the log
    Vec2 at;
    double way_mm = 0.0;             ///< of the log up to there
    double log_s = 0.0;              ///< the log
    std::optional<double> ideal_s{}; ///< the run of an ideal day; none when it went elsewhere
    int days = 0;                    ///< how many days came there, by this way
    double least_s = 0.0;            ///< the quickest of them, and the slowest; 0 when none did
    double most_s = 0.0;
};

/// Where the ways part.
struct LogParting {
    std::size_t mark = 0; ///< the last place at which the ideal run still was
    /// The first look of the log behind that place in which the robot was given other powers than the plan decides from
    /// what it saw, or in which it saw otherwise than the ideal run at the same place and another rule acted; none when
    /// both saw and did the same, and went apart all the same.
    std::optional<std::size_t> look{};
    bool did_otherwise = false; ///< it was the powers: the robot did not do what this plan says
    std::size_t ideal_look = 0; ///< of the ideal run, at that place
};

/// All of it.
struct LogComparison {
    LogWay way;
    /// The log as a run: its way, what it saw and was given, the rules by which the plan decides so. told is filled.
    Run recorded;
    Run ideal;                           ///< as the map has it, on an ideal day
    std::vector<LogMark> marks;          ///< up to where the way is lost
    std::optional<LogParting> parting{}; ///< none when the ideal run went the same way to the log's end
    int days = 0;                        ///< that were driven
    int same_way = 0;                    ///< days that went the log's whole way
    int in_time = 0;                     ///< places at which the log was not quicker than all of those days, nor slower
    int timed = 0;                       ///< places that such days passed
    bool varied = false;                 ///< whether the robot says how its days differ

    /// Whether the recorded run lies within the days: some went its way, and at nine tenths of the places it was there
    /// when they were.
    bool is_of_the_days() const { return same_way > 0 && 10 * in_time >= 9 * timed; }
};

/// Compares. `options` is how runs are made (calibration, faults, numbers ...); start and day are set here, the time
/// limit is made long enough. `days` of them are driven.
///
/// Throws InputError as log_way() and drive() do.
LogComparison compare_log(const Scene& scene, const Plan& plan, const std::vector<LoggedLook>& log,
                          const LogWayOptions& way, RunOptions options, int days);

} // namespace vast_turn
