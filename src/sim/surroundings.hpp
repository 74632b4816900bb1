#pragma once

/// What the robot tells of beyond its line sensors: range, markers, button, heading, wheels.

#include <cstdint>
#include <string>
#include <vector>

#include "sim/chances.hpp"
#include "sim/colour_eyes.hpp"
#include "sim/held.hpp"
#include "sim/run_ground.hpp"
#include "sim/things.hpp"
#include "sim/turn_senses.hpp"
#include "vast_turn/sim/motion.hpp"

namespace vast_turn {

/// What they tell is true at the moment of the look, but for what the robot's description says of their errors.
class Surroundings {
public:
    /// Keeps references.
    explicit Surroundings(const RunGround& ground);

    /// `number` counts the looks of the run; `things` are those that are there now.
    void look(const Body& body, double t_s, std::uint64_t number, const Chances& chances, const ThingsThere& things,
              Look& out);

    /// It has told what another has told of the same robot.
    void go_on_from(const Surroundings& other);

    /// As ColourEyes::look_anew().
    void colours_anew(const Body& body, double t_s, std::uint64_t number, Look& out) {
        if (!scene_.robot().colour_sensors.empty()) {
            colours_.look_anew(body, t_s, number, out);
        }
    }

    /// Whether the robot tells nothing but its turns and way, and those plainly.
    bool are_plain() const {
        const Robot& robot = scene_.robot();
        return turns_.is_plain() && !robot.range_sensor && robot.colour_sensors.empty() && options_.button_s.empty() &&
               heard_names_.empty();
    }
    const TurnSenses& turns() const { return turns_; }

private:
    double echo(Vec2 from, Vec2 along, double t_s, const ThingsThere& things) const;
    double range(const Body& body, double t_s, const Chances& chances, const ThingsThere& things) const;
    bool button(double t_s) const;
    std::uint16_t heard(double t_s);

    const Scene& scene_;
    const RunOptions& options_;
    const std::vector<std::string>& heard_names_;
    double listened_s_ = -1.0; // at the last look that took place
    TurnSenses turns_;
    ColourEyes colours_;
    std::vector<Vec2> rays_;     // of the range sensor, in the robot's frame
    double least_head_on_ = 0.0; // what has less of a ray along its normal sends no echo
    Held<double> range_;
};

} // namespace vast_turn
