#pragma once

/// What the robot's colour sensors see: from the surface under each spot to the bits of colours.

#include <array>
#include <cstdint>
#include <vector>

#include "sim/held.hpp"
#include "vast_turn/robot/day.hpp"
#include "vast_turn/sim/motion.hpp"
#include "vast_turn/sim/run.hpp"

namespace vast_turn {

/// The colour sensors of one run.
class ColourEyes {
public:
    /// Keeps a reference to the scene.
    ColourEyes(const Scene& scene, const AskedNames& names, std::uint64_t seed, const CourseDay& day);

    /// `number` counts the looks of the run.
    void look(const Body& body, double t_s, std::uint64_t number, Look& out);

    /// They hold on to what others of the same robot do.
    void go_on_from(const ColourEyes& other) { held_ = other.held_; }

    /// Who asks has changed since look(), and colours have other numbers: sees them once more, as at that look.
    void look_anew(const Body& body, double t_s, std::uint64_t number, Look& out);

private:
    /// A colour of the course and the bit that it sets; no bit when nobody asks for it.
    struct Known {
        Rgb rgb;
        std::uint16_t bit = 0;
    };
    std::uint16_t colour_under(std::size_t sensor, const Body& body, std::uint64_t number) const;
    std::array<double, 3> light_at(const ColourSensor& sensor, Vec2 p) const;
    void add_noise(std::size_t sensor, std::uint64_t number, std::array<double, 3>& light) const;

    const Scene& scene_;
    std::uint64_t seed_;
    double plates_faded_;
    std::vector<Vec2> plates_off_;       // by plate, empty when each is in its place
    std::vector<Known> colours_;         // floor and line first
    std::vector<std::size_t> sensor_of_; // the colour sensor of each place that the plan asks
    std::vector<Held<std::uint16_t>> held_;
};

} // namespace vast_turn
