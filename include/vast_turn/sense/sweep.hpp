#pragma once

/// What a slow slide across the tape tells of the wiring and the spacing.

#include <optional>
#include <string>
#include <vector>

#include "vast_turn/sense/bench_readings.hpp"
#include "vast_turn/sense/calibration.hpp"

namespace vast_turn {

/// Where one sensor saw the tape.
struct SweepPeak {
    bool seen = false; ///< it read more than half way to line at some look
    double at = 0.0;   ///< look of the peak, within the sweep: centroid of what is above half way
    int passes = 0;    ///< how often the tape came by; 1 in a proper sweep
};

/// In which order the sensors saw the tape, against the order in which they are listed.
enum class SweepOrder { as_listed, reversed, swapped, other };

/// One sweep, read with a calibration.
struct SweepReport {
    std::vector<std::vector<double>> readings; ///< by sensor, then by look, 0..1
    std::vector<SweepPeak> peaks;              ///< by sensor
    SweepOrder order = SweepOrder::as_listed;
    std::vector<int> came;         ///< sensors (from 1) that saw the tape, in the order in which they did
    std::vector<int> out_of_place; ///< the two that are swapped
    std::vector<double> left_mm;   ///< places that the peaks tell, by sensor; empty without facts
    std::vector<double> off_mm;    ///< those minus the places of the robot file
};

/// Reads the first sweep of a recording; nothing when there is none. `usable` tells which sensors
/// take part. Sweeps back are turned round.
///
/// Places: the tape moves at a steady pace, so the moments of the peaks are fitted to the places of the
/// file by least squares; the misfit of a sensor is against the fit of the others.
std::optional<SweepReport> read_sweep(const BenchReadings& readings, const Calibration& calibration,
                                      const std::vector<bool>& usable, const ArrayFacts& facts);

} // namespace vast_turn
