#pragma once

/// Many runs of one plan, robot and course, several side by side on each thread.

#include <cstddef>
#include <functional>
#include <vector>

#include "vast_turn/plan/plan.hpp"
#include "vast_turn/sim/run.hpp"
#include "vast_turn/sim/scene.hpp"

namespace vast_turn {

/// The most robots that drive side by side on a thread.
inline constexpr std::size_t lanes_at_most = 16;

/// How they are made; what each of them is does not depend on it.
struct ManyOptions {
    /// Robots side by side on a thread, 1 to 16; what lies beyond is taken for the nearest of these.
    std::size_t lanes = lanes_at_most;
    int jobs = 1; ///< threads; 0 for as many as there are processors
    /// Asked before each run begins, from any thread; once it says no, no more begin, and those under way are ended and
    /// given away.
    std::function<bool()> goes_on{};
};

/// Takes a run by its number among the options; the run is the taker's.
using TakeRun = std::function<void(std::size_t number, Run& run)>;

/// Makes a run for each of the options, and gives each to `take` when it is over, in no order: on any thread, several
/// at once when there are several threads. Each is the run that drive(scene, plan, options) makes, bit for bit.
///
/// What all robots have in common is reckoned for all lanes at once: places, spots, noise, counts, readings, motion.
/// The plan is carried out lane by lane, and so is what a robot has beyond plain line sensors and wheels (weight,
/// colours, range, sensors that lag or drift): it takes as long there as in drive().
///
/// Throws InputError as drive() does for any of the options, and whatever `take` throws: no more runs begin then, and
/// those under way are lost.
void drive_many(const Scene& scene, const Plan& plan, const std::vector<RunOptions>& options, const TakeRun& take,
                const ManyOptions& many = {});

/// The same, all kept: run `n` is that of options[n].
std::vector<Run> drive_many(const Scene& scene, const Plan& plan, const std::vector<RunOptions>& options,
                            const ManyOptions& many = {});

} // namespace vast_turn
