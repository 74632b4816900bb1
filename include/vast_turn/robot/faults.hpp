#pragma once

/// Faults put into a robot for a run: what a wrong wire, a dead sensor or a weak motor does.

#include <cstdint>
#include <string>
#include <vector>

namespace vast_turn {

/// What can be wrong with a line sensor.
enum class SensorFaultKind : std::uint8_t {
    none,  ///< it is sound
    dead,  ///< 0 counts for ever
    stuck, ///< `value` of the range for ever, 0..1
    dim,   ///< gets `value` of its light
};

struct SensorFault {
    /// What is wrong, and by how much.
    SensorFaultKind kind = SensorFaultKind::none;
    double value = 1.0;
};

/// What can be wrong with a motor.
struct MotorFault {
    bool reversed = false; ///< its two wires are exchanged
    double strength = 1.0; ///< part of its speed that is left
};

/// All faults of one robot. As made: none.
struct Faults {
    std::vector<SensorFault> sensors; ///< by sensor; empty for none
    std::vector<int> wired_to;        ///< for each channel (from 0) the sensor (from 0) at its wire; empty: its own
    /// Of each motor by itself.
    MotorFault left;
    MotorFault right;
    bool motors_swapped = false; ///< each wheel gets the other one's command

    /// The fault of sensor k (from 0); none when there is none.
    SensorFault sensor(std::size_t k) const { return k < sensors.size() ? sensors[k] : SensorFault{}; }
    /// The sensor (from 0) at the wire of a channel (from 0).
    std::size_t source(std::size_t channel) const {
        return channel < wired_to.size() ? static_cast<std::size_t>(wired_to[channel]) : channel;
    }
};

/// Reads faults as they are written on the command line: `sensor2=dead`, `sensor2=stuck:0.4`,
/// `sensor2=dim:0.6`, `swapped:1,2` (the wires of two sensors), `left_motor=reversed`,
/// `right_motor=weak:0.8`, `motors=swapped`. Throws InputError that names the nearest known word.
Faults parse_faults(const std::vector<std::string>& words, int sensors);

/// The forms above, for help texts.
extern const char* const fault_forms;

} // namespace vast_turn
