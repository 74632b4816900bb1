#pragma once

/// What the robot tells of beyond its line sensors: range, markers, button, heading, wheels.

#include <cstdint>
#include <string>
#include <vector>

#include "sim/chances.hpp"
#include "sim/colour_eyes.hpp"
#include "sim/held.hpp"
#include "sim/things.hpp"
#include "sim/turn_senses.hpp"
#include "vast_turn/robot/day.hpp"
#include "vast_turn/sim/motion.hpp"
#include "vast_turn/sim/run.hpp"

namespace vast_turn {

/// What they tell is true at the moment of the look, but for what the robot's description says of their errors.
class Surroundings {
public:
    /// Keeps references; `things` are those that are there now, kept up to date by somebody else. `start` is where the
    /// robot stood at first.
    Surroundings(const Scene& scene, const RunOptions& options, const AskedNames& names, const ThingsThere& things,
                 const Pose& start, const CourseDay& day);

    /// `number` counts the looks of the run.
    void look(const Body& body, double t_s, std::uint64_t number, const Chances& chances, Look& out);

private:
    double echo(Vec2 from, Vec2 along, double t_s) const;
    double range(const Body& body, double t_s, const Chances& chances) const;
    bool button(double t_s) const;
    std::uint16_t heard(double t_s);

    const Scene& scene_;
    const RunOptions& options_;
    const ThingsThere& things_;
    std::vector<std::string> heard_names_;
    double listened_s_ = -1.0; // at the last look that took place
    TurnSenses turns_;
    ColourEyes colours_;
    std::vector<Vec2> rays_;     // of the range sensor, in the robot's frame
    double least_head_on_ = 0.0; // what has less of a ray along its normal sends no echo
    Held<double> range_;
};

} // namespace vast_turn
