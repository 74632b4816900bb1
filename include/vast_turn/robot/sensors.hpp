#pragma once

/// What a robot can be fitted with to sense, and how far each is from ideal.

#include <array>
#include <cstddef>
#include <optional>
#include <string>

#include "vast_turn/base/colour.hpp"
#include "vast_turn/base/geometry.hpp"

namespace vast_turn {

/// One line sensor.
struct LineSensor {
    Vec2 at_mm;               ///< in the robot frame: x ahead, y left, from midway between the wheels
    double spot_mm = 6.0;     ///< diameter of the round spot that it averages over
    Light light = Light::red; ///< what it shines with
    std::string channel;      ///< the input that it is wired to, as the controller names it
    int adc_max = 1023;       ///< counts at full reflectance; readings lie in 0..adc_max
    double noise = 0.0;       ///< standard deviation in counts
    double gain = 1.0;        ///< part of the light that it gets: dirt, a lamp that is weak
    double curve =
        1.0; ///< counts go with the light to this power: below 1 it tells dark shades apart, above bright ones
    double response_ms = 0.0; ///< time constant with which it follows the light
    double outside = 0.0; ///< part of its own lamp's light that it gets from outside where that is 1, see OutsideLight
    double drift = 0.0;   ///< part of its light that it gains in a minute; below 0 it loses some
    double height_mm = 0.0; ///< above the floor; 0 when nobody said so, see raised()
};

/// The sensor mounted higher by `mm` (lower when below 0), within a tenth and ten times of its height, and with a spot
/// of at most 100 mm; as it is when its height is not known. It sees the floor under a fixed angle, so that its spot
/// grows with the height; of its own lamp's light the floor sends back by the inverse square of it, and of light from
/// outside as much as before (radiance does not change along a ray).
LineSensor raised(LineSensor sensor, double mm);

/// A sensor for colours, which counts red, green, blue and all light (clear).
struct ColourSensor {
    std::string name;
    Vec2 at_mm;
    double spot_mm = 9.0;
    int adc_max = 4095;       ///< counts of clear over a white surface
    double noise = 0.0;       ///< standard deviation in counts, each channel
    double rate_ms = 0.0;     ///< it looks anew no sooner than so long after it did; what it saw holds on
    double exposure_ms = 0.0; ///< it tells the mean of so long, up to the moment that it looks
    std::array<double, 3> white{1.0, 1.0, 1.0}; ///< red, green and blue that it gets of white
    /// The line sensor (from 0) that it is at the same time; that one tells what it told before for blind_ms from the
    /// moment that the colour is taken.
    std::optional<std::size_t> line_sensor = std::nullopt;
    double blind_ms = 0.0;
};

/// A sensor that tells how far it is to what is ahead. It looks along a thin ray, or a beam.
struct RangeSensor {
    Vec2 at_mm;
    double heading_deg = 0.0; ///< against the robot's, counter-clockwise
    double max_mm = 1500.0;   ///< what it tells when nothing is nearer
    double min_mm = 0.0;      ///< the least that it tells
    double beam_deg = 0.0;    ///< breadth of its beam: the nearest within it is told
    double slant_deg = 90.0;  ///< what it meets at more than this from head-on sends no echo
    double noise_mm = 0.0;    ///< standard deviation
    double step_mm = 0.0;     ///< it tells whole multiples of this
    double rate_ms = 0.0;     ///< it looks anew no sooner than so long after it did; what it told holds on
};

/// What tells how far the robot has turned since it was zeroed, at the start of the run.
struct Gyro {
    bool fitted = false;
    double scale = 1.0;          ///< times the turn
    double drift_deg_s = 0.0;    ///< that it tells while the robot stands
    double wander_deg_s = 0.0;   ///< by so much its drift has strayed after a minute, standard deviation: a random walk
    double settling_deg_s = 0.0; ///< more drift right after it was zeroed ...
    double settles_ms = 500.0;   ///< ... which dies away with this time constant
};

/// What tells the heading in the course's frame; iron on the course turns it aside, see Iron.
struct Compass {
    bool fitted = false;
    double bias_deg = 0.0;  ///< added
    double noise_deg = 0.0; ///< standard deviation
};

/// What tells how far the wheels have turned.
struct Encoders {
    bool fitted = true;
    double counts = 0.0; ///< of a turn of the wheel; 0: as fine as can be told
    double lost = 0.0;   ///< share of counts that nobody counts; each by itself
};

} // namespace vast_turn
