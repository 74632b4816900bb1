#pragma once

/// What the robot tells of beyond its line sensors: range, markers, button, heading, wheels.

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

#include "vast_turn/sim/run.hpp"

namespace vast_turn {

/// Ideal sensors: what they tell is true at the moment of the look. Their errors belong in here, one
/// function a sensor.
class Surroundings {
public:
    /// `marker_names` gives the bits of Look::markers; the course's palette in its order when empty.
    Surroundings(const Scene& scene, const RunOptions& options, const std::vector<std::string>& marker_names);

    void look(const Body& body, double t_s, Look& out) const;

private:
    double range(const Body& body, double t_s) const;
    std::uint16_t markers(const Body& body) const;
    bool button(double t_s) const;

    /// A colour of the course and the bit that it sets; no bit when nobody asks for it.
    struct Known {
        Rgb rgb;
        std::uint16_t bit = 0;
    };

    const Scene& scene_;
    const RunOptions& options_;
    std::vector<Known> colours_; // floor and line first
    double degrees_per_mm_;      // of a wheel
};

} // namespace vast_turn
