#pragma once

/// What a plan's C costs on a small chip, told before it is built: time a look, flash, memory.

#include <cstddef>
#include <memory>
#include <vector>

#include "vast_turn/emit/c_source.hpp"
#include "vast_turn/plan/mind.hpp"

namespace vast_turn {

/// What looks cost, from the counts of the sensors to the powers of the wheels: cycles of an 8-bit chip with a
/// multiplier (AVR), instructions of a 32-bit one without a unit for numbers (Cortex-M3).
struct LookCost {
    double mean = 0.0;
    double most = 0.0;
    std::size_t looks = 0;
};

/// A chip, as far as it is known.
struct ChipRoom {
    ChipKind kind = ChipKind::bits_8; ///< bits_8 or bits_32
    double mhz = 0.0;                 ///< of its clock; 0 when not known, as with the next two
    double flash_bytes = 0.0;         ///< that the plan may take
    double memory_bytes = 0.0;
};

/// Clock cycles that a unit of LookCost takes: a 32-bit chip without waits for its flash needs about one and a half an
/// instruction.
constexpr double cycles_of_step(ChipKind kind) { return kind == ChipKind::bits_8 ? 1.0 : 1.5; }

/// By how many bytes a robot's program grows.
struct ProgramCost {
    double flash_bytes = 0.0;
    std::size_t memory_bytes = 0;
};

/// Decides looks as a plan does in `float`, and reckons what each would have cost on a chip: its C is taken apart, what
/// a look passes through is added up, each kind of work at the price that was found by measuring many plans on
/// simulated chips, compiled for size. docs/on-the-robot.md says how near that comes.
///
///     ChipMeter meter(plan, robot, calibration, ChipKind::bits_8);
///     drive(scene, plan, std::ref(meter), {.numbers = runtime::NumberKind::binary32});
///     meter.cost().most; // cycles
class ChipMeter {
public:
    /// Copies what it needs. `chip` is bits_8 or bits_32; throws InputError as c_source does.
    ChipMeter(const Plan& plan, const Robot& robot, const Calibration& calibration, ChipKind chip);
    ChipMeter(ChipMeter&&) noexcept;
    ChipMeter& operator=(ChipMeter&&) noexcept;
    ~ChipMeter();

    /// Decides one look; looks must come in the order of their clocks.
    void operator()(const Look& in, Answer& out);

    /// Of the looks so far.
    LookCost cost() const;
    ProgramCost program() const;
    /// How often each kind of work was done, a look in the mean, and how often it stands in the source: what the prices
    /// are found from (bench/chip/prices.py). In the order of emit/c_work.hpp.
    std::vector<double> work() const;
    std::vector<double> source_work() const;

private:
    struct Parts;
    std::unique_ptr<Parts> parts_;
};

} // namespace vast_turn
