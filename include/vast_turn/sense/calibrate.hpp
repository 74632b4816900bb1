#pragma once

/// From bench readings to a calibration, with verdicts that a person can act on.

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

#include "vast_turn/sense/bench_readings.hpp"
#include "vast_turn/sense/calibration.hpp"
#include "vast_turn/sense/marker_look.hpp"
#include "vast_turn/sense/sweep.hpp"

namespace vast_turn {

/// What a sensor gave over line or over floor. Counts.
struct LevelReport {
    int looks = 0;            ///< how many there were
    double mean = 0.0;        ///< of all its looks
    double spread = 0.0;      ///< standard deviation of all its looks
    double noise = 0.0;       ///< standard deviation from look to look, drift and other spots left out
    double drift = 0.0;       ///< change of the level over the whole recording
    double drift_error = 0.0; ///< standard error of that
    double clipped = 0.0;     ///< share of the looks at an end of the range, 0..1
};

/// Why a threshold lies where it lies.
enum class ThresholdBasis : std::uint8_t {
    midway,      ///< half way between the levels: mistakes are rarer than 1 in 10^9 looks there
    least_error, ///< where mistakes are rarest: midway would make more
};

/// What a recording says of one sensor. Levels, contrast, noise and thresholds are raw counts.
struct SensorReport {
    /// As the readings name it, and the end of its range.
    std::string channel;
    double adc_max = 0.0;
    /// Over line and over floor.
    LevelReport line;
    LevelReport floor;             ///< over floor
    double contrast = 0.0;         ///< floor minus line, counts; negative when line gives more
    double noise = 0.0;            ///< the larger of the two, counts
    double threshold_counts = 0.0; ///< between line and floor
    ThresholdBasis basis = ThresholdBasis::midway;
    double error_share = 0.0;       ///< part of the looks that it takes wrong, half of them over line, half over floor
    double hysteresis_counts = 0.0; ///< width of the band: six times the noise, at most a third of the contrast
    double line_off = 0.0;  ///< how far its line level is from the array's middle one, as a part of the contrast
    double floor_off = 0.0; ///< likewise
    bool usable = false;    ///< it tells line from floor
};

/// What can be the matter with a sensor or an array. What each takes stands in docs/calibration.md.
enum class VerdictKind : std::uint8_t {
    dead,          ///< reads the same over everything
    weak_contrast, ///< contrast too small for its noise
    clipped,       ///< at the end of its range
    wiring,        ///< sensors swapped, reversed or in another order
    inverted,      ///< reads the other way round than the rest of the array
    unlike,        ///< other levels than its neighbours
    drift,         ///< levels change during the recording
    spacing,       ///< lies elsewhere than the robot file says
    sweep,         ///< the sweep cannot be used
    marker,        ///< a marker is neither line nor floor to a sensor
    few_looks,     ///< too few looks to judge
};

/// Name as in JSON and in docs/files.md.
const char* name_of(VerdictKind kind);

/// One finding: what is the matter and what to do.
struct Verdict {
    VerdictKind kind = VerdictKind::dead; ///< its name is name_of()
    bool serious = false;                 ///< a robot with this will fail; the others are worth a look
    std::vector<int> sensors;             ///< from 1 at the left; empty when it is about all
    /// A sentence each, no full stop.
    std::string says;
    std::string to_do;
};

/// Everything that a recording says.
struct CalibrationReport {
    std::vector<SensorReport> sensors;    ///< from the left
    std::vector<MarkerLook> markers;      ///< in the order of their first looks
    std::vector<MarkerRule> colour_rules; ///< likewise; empty without colour readings
    std::optional<SweepReport> sweep;     ///< when there was one
    bool line_is_lighter = false;         ///< for most of the array
    std::vector<Verdict> verdicts;        ///< serious ones first

    /// What a robot reads with. A sensor that is not usable has equal levels and so reads 0.
    Calibration calibration() const;
    /// Whether a verdict is serious.
    bool any_serious() const;
};

/// Makes a report of a recording.
///
/// Throws InputError when there are no looks over line or none over floor. Deterministic.
/// What each verdict takes is in docs/calibration.md.
CalibrationReport calibrate(const BenchReadings& readings, const ArrayFacts& facts = {});

/// The threshold between two normal distributions at which fewest looks are mistaken when line and
/// floor are equally frequent: where the densities cross between the means (Duda, Hart, Stork,
/// "Pattern Classification", 2nd ed. 2001, section 2.6). Midway when a deviation is 0.
double least_error_threshold(double mean_a, double deviation_a, double mean_b, double deviation_b);

/// Share of mistaken looks at a threshold, half of them over each. `mean_a` < `mean_b` or the other way.
double error_share(double threshold, double mean_a, double deviation_a, double mean_b, double deviation_b);

} // namespace vast_turn
