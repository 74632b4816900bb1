#pragma once

/// How the days of a robot differ: a motor that is weaker, a battery half empty, a start a little aside.

#include <cstddef>
#include <cstdint>
#include <string>
#include <vector>

namespace vast_turn {

/// What may be other on another day.
enum class Quantity : std::uint8_t {
    left_motor,    ///< part of its speed that the left motor gives
    right_motor,   ///< likewise the right one
    battery,       ///< part of their speed that both give
    motor_lag,     ///< times the lag of the motors
    dead_band,     ///< percent added to the dead band
    delay,         ///< ms added to the delay from look to wheels
    left_wheel,    ///< times the size of the left wheel, which the encoders do not know of
    right_wheel,   ///< likewise the right one
    skid,          ///< times the robot's skid: wheels that scrub turn it less than they say
    light,         ///< part of their light that all line sensors get
    sensor,        ///< part of its light that one line sensor gets; each sensor draws its own
    noise,         ///< times the noise of the line sensors
    ahead,         ///< mm that it is set down ahead of its start
    aside,         ///< mm that it is set down to the left of it
    turned,        ///< degrees that it is set down turned to the left
    gyro_scale,    ///< times what the gyro tells
    gyro_drift,    ///< degrees a second added to the gyro's drift
    late_looks,    ///< added to the share of looks that are late
    lost_looks,    ///< added to the share of looks that are lost
    grip,          ///< times the grip of the tyres; this and the next two are without effect on a robot without weight
    friction,      ///< percent of power added to the friction of both wheels, at rest and turning
    weight,        ///< times the robot's mass
    outside,       ///< times the light from outside that line sensors get
    line_faded,    ///< part of the way to the floor's shade that the tape has faded
    plates_faded,  ///< part of the way to the floor's colour that the plates have faded
    things_later,  ///< seconds by which things come and go later
    raised,        ///< mm by which all line sensors whose height is known sit higher
    tape_off,      ///< mm that the tape lies beside where it should, standard deviation; each stretch to its own side
    tape_wider,    ///< mm that it is wider
    tape_lifted,   ///< mm of each end of tape that stand up and are seen as floor: each end a part of it, drawn evenly
    plates_off,    ///< mm that each plate lies off its place, standard deviation along and across; for colour sensors
    delay_varies,  ///< ms added to what the delay varies by from look to look
    compass_bias,  ///< degrees added to the compass's
    counts_lost,   ///< added to the share of counts that the encoders lose
    gyro_wander,   ///< degrees a second added to the gyro's wander
    gyro_settling, ///< degrees a second added to its drift right after the start
    colour_noise,  ///< times the noise of the colour sensors
    range_noise,   ///< times that of the range sensor
    sag,           ///< times what the battery's voltage falls by under load
    play,          ///< degrees added to the play of the gears
    caster_drag,   ///< times the caster's
};

/// What is known of a quantity.
struct QuantityFacts {
    Quantity quantity;
    const char* key;   ///< in files: "left_motor", "aside_mm"
    const char* words; ///< for people: "left motor", "set down aside"
    const char* unit;  ///< "" for a part
    double usual;      ///< on an ideal day: 1 or 0
    double least;      ///< of what can be
    double most;
    double step;       ///< what is worth telling
    const char* lower; ///< "weaker than", "to the right of"
    const char* higher;
};

/// All quantities, in the order of the enumeration.
const std::vector<QuantityFacts>& quantities();
/// Of one.
const QuantityFacts& facts_of(Quantity quantity);

/// How a quantity lies from day to day.
struct Scatter {
    enum class Kind : std::uint8_t {
        about,  ///< normal: `middle` and `deviation`; never farther than four deviations
        even,   ///< anything from `from` to `to`
        one_of, ///< one of `values`, each as often
    };
    Kind kind = Kind::about;
    double middle = 1.0;
    double deviation = 0.0; ///< standard deviation
    double from = 1.0;
    double to = 1.0;
    std::vector<double> values{}; ///< at least one when it is asked for
};

/// A quantity that differs from day to day.
struct Varied {
    Quantity what = Quantity::left_motor;
    Scatter how{};
};

/// How days differ: each quantity at most once.
using Variation = std::vector<Varied>;

/// A quantity as it is on a day.
struct DayValue {
    Quantity what = Quantity::left_motor;
    std::size_t sensor = 0; ///< which, from 0; for Quantity::sensor alone
    double value = 1.0;
};

/// "left motor", "light of sensor 2".
std::string name_of(const DayValue& value);

} // namespace vast_turn
