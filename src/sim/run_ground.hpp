#pragma once

/// What stays as it is for the whole of a run.

#include <memory>
#include <optional>
#include <vector>

#include "vast_turn/robot/day.hpp"
#include "vast_turn/robot/robot.hpp"
#include "vast_turn/sim/run.hpp"
#include "vast_turn/sim/scene.hpp"

namespace vast_turn {

/// The robot on its day, the course on it, and how the run is made. What drives over it keeps references: it stays in
/// its place.
class RunGround {
public:
    /// Throws InputError when the options do not fit the course or the robot. Course and robot of `scene` must outlive
    /// it.
    RunGround(const Scene& scene, AskedNames names, const RunOptions& options);
    RunGround(const RunGround&) = delete;
    RunGround& operator=(const RunGround&) = delete;

private:
    std::vector<DayValue> values_; // of the day
    std::optional<Robot> today_;   // when it is not an ideal day

public:
    const Scene scene;
    const RunOptions options;
    const std::uint64_t seed; ///< of the noise: that of the options, further on each day
    const AskedNames names;
    const Calibration calibration; ///< made on an ideal day
    const StartPose start;         ///< where it is set down
    const CourseDay day;
    const std::vector<Thing> things; ///< of the course, and those that the options put beside them
};

/// So many steps of the simulation; throws InputError unless it is a whole number. `what` is told: "the delay".
std::int64_t whole_steps(double ms, double step_ms, const char* what);

} // namespace vast_turn
