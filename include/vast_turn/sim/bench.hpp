#pragma once

/// The simulated robot on the bench: held over line, floor and markers, and slid across the tape.

#include <cstdint>

#include "vast_turn/robot/faults.hpp"
#include "vast_turn/sense/bench_readings.hpp"
#include "vast_turn/sim/scene.hpp"

namespace vast_turn {

struct BenchOptions {
    std::uint64_t seed = 1; ///< of noise and of where the hand holds the array
    int looks = 48;         ///< over each surface
    int sweep_looks = 260;
    /// Put into the robot; none.
    Faults faults{};
};

/// Readings as `calibrate` wants them: floor, line, each colour that lies on the course, a sweep, line
/// and floor again. Over line and markers every sensor is held over a point of its own, as people do
/// who slide the array along the tape; over the floor the whole array stands free of tape and markers.
/// With a colour sensor on the robot there are colour counts too.
///
/// Throws InputError when the course has no straight tape longer than twice its width, or no free floor
/// large enough. Deterministic.
BenchReadings simulate_bench(const Scene& scene, const BenchOptions& options = {});

} // namespace vast_turn
