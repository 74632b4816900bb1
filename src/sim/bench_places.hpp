#pragma once

/// Where a hand holds the array on the bench: over tape, bare floor and plates, and across the tape.

#include <cstdint>
#include <string>
#include <vector>

#include "vast_turn/sim/scene.hpp"

namespace vast_turn {

/// A straight piece of tape.
struct Strip {
    Vec2 from;
    Vec2 to;
    double width_mm = 0.0;

    Vec2 along() const { return (1.0 / length(to - from)) * (to - from); }
};

/// Points for each sensor, where a hand that is never quite still puts them. Draws from its own sequence, so calls in
/// another order give other points.
class BenchPlaces {
public:
    /// Keeps a reference. Throws InputError when the course has no straight tape longer than twice its width.
    BenchPlaces(const Scene& scene, std::uint64_t seed);

    /// A number of the hand's own sequence.
    double between(double low, double high);

    const Strip& strip() const { return strip_; }
    /// On the tape, with room for a spot of this size.
    Vec2 on_strip(double spot_mm);
    /// Each sensor over a point of its own on the tape, as when the array is slid along it.
    std::vector<Vec2> over_line();
    /// Where the whole array stands free of tape and markers. Throws InputError when there is no such place.
    Pose free_floor();
    /// The array near that pose.
    std::vector<Vec2> over_floor(const Pose& pose);
    /// The n-th of the plates of a colour; none when there are none.
    std::vector<const Marker*> plates(const std::string& colour) const;
    Vec2 on_marker(const Marker& marker, double spot_mm);
    /// How far from the tape's middle the array's must be for the tape to lie beside all of it.
    double beyond_mm() const;
    /// The array's middle so far right of the tape.
    std::vector<Vec2> across(double right_mm) const;

private:
    double any();
    /// Whether a point with this much around it is bare floor.
    bool bare(Vec2 p, double around) const;
    /// All sensors of a robot that stands so.
    std::vector<Vec2> standing(Vec2 at, Vec2 ahead) const;

    const Scene& scene_;
    std::uint64_t seed_;
    Strip strip_;
    std::uint64_t hand_ = 0;
};

} // namespace vast_turn
