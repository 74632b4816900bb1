#pragma once

/// What the robot tells of beyond its line sensors: range, markers, button, heading, wheels.

#include <array>
#include <cstdint>
#include <optional>
#include <string>
#include <vector>

#include "sim/things.hpp"
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
    void look(const Body& body, double t_s, std::uint64_t number, Look& out);

private:
    double echo(Vec2 from, Vec2 along, double t_s) const;
    double range(const Body& body, double t_s, std::uint64_t number) const;
    std::uint16_t colour_under(std::size_t sensor, const Body& body, std::uint64_t number) const;
    void markers(const Body& body, double t_s, std::uint64_t number, Look& out);
    void encoders(const Body& body, Look& out) const;
    void add_noise(std::size_t sensor, std::uint64_t number, std::array<double, 3>& light) const;
    bool button(double t_s) const;
    std::uint16_t heard(double t_s) const;
    void turns(const Body& body, double t_s, std::uint64_t number, Look& out) const;

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
    double plates_faded_;
    double degrees_per_mm_; // of a wheel
    /// What a sensor with a rate of its own holds on to.
    template <class T> struct Held {
        double until_s = -1.0;
        T value{};
    };
    std::vector<Held<std::uint16_t>> held_colours_;
    Held<double> held_range_;
    bool counts_true_; // its wheels are as its encoders believe
};

} // namespace vast_turn
