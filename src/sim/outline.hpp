#pragma once

/// A robot seen from above, and what it meets.

#include <cstddef>
#include <limits>
#include <vector>

#include "vast_turn/robot/robot.hpp"
#include "vast_turn/sim/motion.hpp"

namespace vast_turn {

/// A straight piece of something that is in the way.
struct Barrier {
    Vec2 from;
    Vec2 to;
    std::size_t what = 0; ///< whose it is
};

/// Where robot and barrier are nearest to one another.
struct Meeting {
    Vec2 at;             ///< course frame, mm
    Vec2 away;           ///< unit vector from the barrier into the robot
    double gap_mm = 0.0; ///< below 0: the robot is in it
    std::size_t what = 0;
};

/// A polygon, or the disc over the wheels where none was given.
class Outline {
public:
    explicit Outline(const Robot& robot);

    /// From the point midway between the wheels to the farthest point.
    double reach_mm() const { return reach_; }
    bool is_disc() const { return corners_.empty(); }

    /// Appends where a robot that stands so meets a barrier, as far as that is nearer than `near_mm`: at most a few
    /// places, of which one is the nearest.
    void meet(const Body& body, const Barrier& barrier, double near_mm, std::vector<Meeting>& out) const;

private:
    bool holds(Vec2 p) const;

    std::vector<Vec2> corners_; ///< robot frame
    double reach_;
};

} // namespace vast_turn
