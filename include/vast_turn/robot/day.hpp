#pragma once

/// A robot on one of its days.

#include <cstddef>
#include <cstdint>
#include <vector>

#include "vast_turn/base/geometry.hpp"
#include "vast_turn/robot/robot.hpp"
#include "vast_turn/robot/variation.hpp"

namespace vast_turn {

/// The values of a day, 1 or higher, in the order of `quantities()`: the same for the same seed, number and variation,
/// whatever else varies, by the counter-based generator of noise.hpp. `sensors`: how many line sensors there are.
std::vector<DayValue> draw_day(const Variation& variation, std::uint64_t seed, std::uint64_t day, std::size_t sensors);

/// What of its variation can make a difference to this robot: a gyro's drift is nothing to one without, nor is grip to
/// one that weighs nothing. Draws of a day are the same with it.
Variation telling_variation(const Robot& robot);

/// The robot as it is that day. Values are kept within what can be.
Robot on_day(Robot robot, const std::vector<DayValue>& values);

/// What of the course is other on a day.
struct CourseDay {
    double line_faded = 0.0;     ///< part of the way to the floor that all that lies on it has faded, for line sensors
    double plates_faded = 0.0;   ///< the same of plates, for colour sensors
    double things_later_s = 0.0; ///< by so much later things come and go
    double tape_off_mm = 0.0;    ///< tape lies so far beside where it should, standard deviation; for line sensors
    double tape_wider_mm = 0.0;  ///< it is so much wider, for line sensors
    double tape_lifted_mm = 0.0; ///< each end of tape stands up by anything up to this, and is seen as floor there
    double plates_off_mm = 0.0;  ///< plates lie so far off their places, standard deviation; for colour sensors
};

/// The course as it is that day.
CourseDay course_on_day(const std::vector<DayValue>& values);

/// Where it is set down that day.
Pose set_down(Pose start, const std::vector<DayValue>& values);

} // namespace vast_turn
