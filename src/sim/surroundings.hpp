#pragma once

/// What the robot tells of beyond its line sensors: range, markers, button, heading, wheels.

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

#include "sim/things.hpp"
#include "vast_turn/sim/motion.hpp"
#include "vast_turn/sim/run.hpp"

namespace vast_turn {

/// Ideal sensors: what they tell is true at the moment of the look. Their errors belong in here, one
/// function a sensor.
class Surroundings {
public:
    /// Keeps references; `things` are those that are there now, kept up to date by somebody else.
    Surroundings(const Scene& scene, const RunOptions& options, const AskedNames& names, const ThingsThere& things);

    void look(const Body& body, double t_s, Look& out) const;

private:
    double range(const Body& body, double t_s) const;
    void markers(const Body& body, Look& out) const;
    bool button(double t_s) const;
    std::uint16_t heard(double t_s) const;
    void turns(const Body& body, Look& out) const;

    /// A colour of the course and the bit that it sets; no bit when nobody asks for it.
    struct Known {
        Rgb rgb;
        std::uint16_t bit = 0;
    };

    const Scene& scene_;
    const RunOptions& options_;
    const ThingsThere& things_;
    std::vector<Known> colours_;         // floor and line first
    std::vector<std::size_t> sensor_of_; // the colour sensor of each place that the plan asks
    std::vector<std::string> heard_names_;
    double start_heading_deg_;
    double degrees_per_mm_; // of a wheel
};

} // namespace vast_turn
