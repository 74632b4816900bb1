#include "vast_turn/robot/variation.hpp"

#include <iterator>

#include <fmt/format.h>

namespace vast_turn {

namespace {

constexpr QuantityFacts quantity_table[] = {
    {Quantity::left_motor, "left_motor", "left motor", "", 1.0, 0.05, 2.0, 0.01, "weaker than", "stronger than"},
    {Quantity::right_motor, "right_motor", "right motor", "", 1.0, 0.05, 2.0, 0.01, "weaker than", "stronger than"},
    {Quantity::battery, "battery", "battery", "", 1.0, 0.05, 2.0, 0.01, "weaker than", "stronger than"},
    {Quantity::motor_lag, "motor_lag", "lag of the motors", "", 1.0, 0.05, 20.0, 0.05, "shorter than", "longer than"},
    {Quantity::dead_band, "dead_band_pct", "dead band", "%", 0.0, -99.0, 99.0, 0.5, "less than", "more than"},
    {Quantity::delay, "delay_ms", "delay", "ms", 0.0, -1000.0, 1000.0, 0.5, "less than", "more than"},
    {Quantity::left_wheel, "left_wheel", "left wheel", "", 1.0, 0.5, 2.0, 0.002, "smaller than", "larger than"},
    {Quantity::right_wheel, "right_wheel", "right wheel", "", 1.0, 0.5, 2.0, 0.002, "smaller than", "larger than"},
    {Quantity::skid, "skid", "skid in turns", "", 1.0, 1.0, 4.0, 0.01, "less than", "more than"},
    {Quantity::light, "light", "light", "", 1.0, 0.02, 4.0, 0.01, "less than", "more than"},
    {Quantity::sensor, "each_sensor", "light of a sensor", "", 1.0, 0.02, 4.0, 0.01, "less than", "more than"},
    {Quantity::noise, "noise", "noise", "", 1.0, 0.0, 100.0, 0.1, "less than", "more than"},
    {Quantity::ahead, "ahead_mm", "set down ahead", "mm", 0.0, -500.0, 500.0, 0.5, "less than", "more than"},
    {Quantity::aside, "aside_mm", "set down to the left", "mm", 0.0, -200.0, 200.0, 0.2, "less than", "more than"},
    {Quantity::turned, "turned_deg", "set down turned to the left", "deg", 0.0, -180.0, 180.0, 0.5, "less than",
     "more than"},
    {Quantity::gyro_scale, "gyro_scale", "scale of the gyro", "", 1.0, 0.5, 2.0, 0.002, "less than", "more than"},
    {Quantity::gyro_drift, "gyro_drift_deg_s", "drift of the gyro", "deg/s", 0.0, -50.0, 50.0, 0.05, "less than",
     "more than"},
    {Quantity::late_looks, "late_looks", "share of late looks", "", 0.0, 0.0, 0.9, 0.002, "less than", "more than"},
    {Quantity::lost_looks, "lost_looks", "share of lost looks", "", 0.0, 0.0, 0.9, 0.002, "less than", "more than"},
    {Quantity::grip, "grip", "grip of the tyres", "", 1.0, 0.02, 3.0, 0.02, "less than", "more than"},
    {Quantity::friction, "friction_pct", "friction of the wheels", "%", 0.0, -90.0, 90.0, 0.5, "less than",
     "more than"},
    {Quantity::weight, "weight", "weight", "", 1.0, 0.2, 5.0, 0.02, "less than", "more than"},
    {Quantity::outside, "outside_light", "light from outside", "", 1.0, 0.0, 20.0, 0.05, "less than", "more than"},
    {Quantity::line_faded, "line_faded", "tape faded", "", 0.0, 0.0, 0.95, 0.01, "less than", "more than"},
    {Quantity::plates_faded, "plates_faded", "plates faded", "", 0.0, 0.0, 0.95, 0.01, "less than", "more than"},
    {Quantity::things_later, "things_later_s", "things in the way", "s", 0.0, -3600.0, 3600.0, 0.05, "earlier than",
     "later than"},
    {Quantity::raised, "raised_mm", "line sensors higher", "mm", 0.0, -100.0, 100.0, 0.1, "by less than",
     "by more than"},
    {Quantity::tape_off, "tape_off_mm", "tape off its place", "mm", 0.0, 0.0, 50.0, 0.2, "by less than",
     "by more than"},
    {Quantity::tape_wider, "tape_wider_mm", "tape wider", "mm", 0.0, -20.0, 20.0, 0.2, "by less than", "by more than"},
    {Quantity::tape_lifted, "tape_lifted_mm", "lifted ends of tape", "mm", 0.0, 0.0, 200.0, 1.0, "less than",
     "more than"},
    {Quantity::plates_off, "plates_off_mm", "plates off their places", "mm", 0.0, 0.0, 100.0, 0.5, "by less than",
     "by more than"},
    {Quantity::delay_varies, "delay_varies_ms", "delay that varies", "ms", 0.0, 0.0, 1000.0, 0.5, "less than",
     "more than"},
    {Quantity::compass_bias, "compass_bias_deg", "bias of the compass", "deg", 0.0, -180.0, 180.0, 0.5, "less than",
     "more than"},
    {Quantity::counts_lost, "counts_lost", "share of lost counts", "", 0.0, 0.0, 0.9, 0.002, "less than", "more than"},
    {Quantity::gyro_wander, "gyro_wander_deg_s", "wander of the gyro", "deg/s", 0.0, 0.0, 50.0, 0.05, "less than",
     "more than"},
    {Quantity::gyro_settling, "gyro_settling_deg_s", "settling of the gyro", "deg/s", 0.0, -50.0, 50.0, 0.05,
     "less than", "more than"},
    {Quantity::colour_noise, "colour_noise", "noise of the colour sensors", "", 1.0, 0.0, 100.0, 0.1, "less than",
     "more than"},
    {Quantity::range_noise, "range_noise", "noise of the range sensor", "", 1.0, 0.0, 100.0, 0.1, "less than",
     "more than"},
    {Quantity::sag, "sag", "sag of the battery", "", 1.0, 0.0, 5.0, 0.05, "less than", "more than"},
    {Quantity::play, "play_deg", "play of the gears", "deg", 0.0, -45.0, 45.0, 0.2, "less than", "more than"},
    {Quantity::caster_drag, "caster_drag", "drag of the caster", "", 1.0, 0.0, 10.0, 0.05, "less than", "more than"},
};

} // namespace

const std::vector<QuantityFacts>& quantities() {
    static const std::vector<QuantityFacts> all(std::begin(quantity_table), std::end(quantity_table));
    return all;
}

const QuantityFacts& facts_of(Quantity quantity) { return quantities()[static_cast<std::size_t>(quantity)]; }

std::string name_of(const DayValue& value) {
    return value.what == Quantity::sensor ? fmt::format("light of sensor {}", value.sensor + 1)
                                          : std::string(facts_of(value.what).words);
}

} // namespace vast_turn
