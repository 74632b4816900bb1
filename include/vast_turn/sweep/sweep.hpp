#pragma once

/// The same trips at many points: what other numbers would do.

#include <cstddef>
#include <functional>
#include <optional>
#include <string>
#include <vector>

#include "vast_turn/base/crew.hpp"
#include "vast_turn/sweep/axis.hpp"
#include "vast_turn/trial/comparison.hpp"
#include "vast_turn/trial/sureness.hpp"
#include "vast_turn/trial/trip_case.hpp"

namespace vast_turn {

/// What came of one point.
struct SweepPoint {
    SweepValues at;      ///< of the axes, in their order
    int runs = 0;        ///< of all cases together
    int passed = 0;      ///< of those
    ShareBounds share;   ///< of runs that pass, as surely as 95 of 100
    Spread time_s;       ///< of the runs that passed
    Spread steering_pct; ///< RunFigures::steering_change_pct of the runs that passed
    std::string refused; ///< why nothing was driven there: a plan that does not compile with it, a robot that cannot be
};

/// A sweep as it is asked for.
struct SweepAsk {
    std::vector<Axis> axes;
    std::vector<SweepValues> points;
    std::vector<TripCase> cases; ///< of the robot as its file describes it; their scenes must outlive the call
    /// Of a course of pieces that is shuffled: the same cases, in the same order, on each layout but that of `cases`,
    /// which is the first. The first run of a case is on the first layout, the next one on the next, and after the last
    /// one on the first again.
    std::vector<std::vector<TripCase>> further_layouts{};
    /// The plan and the robot at a point; called from any thread, several at once. What they throw as InputError
    /// refuses the point.
    std::function<Plan(const std::vector<Setting>&)> plan;
    std::function<Robot(const std::vector<Setting>&)> robot; ///< asked when an axis is of the robot
    int repeats = 5; ///< runs of each case, with the seed of `run` and those after it, or its day and the days after it
    RunOptions run{};     ///< the same seeds and days at every point
    int threads = 0;      ///< 0: as many as there are, in a crew one in each process
    Crew* crew = nullptr; ///< several processes drive; null: this one alone
    /// A point by its number that was driven before, as `point_done` was told it; it is not driven again. Asked from
    /// one thread.
    std::function<std::optional<SweepPoint>(std::size_t)> known{};
    /// Told each point once its last run is done, in any order; one at a time, from any thread. Not those known.
    std::function<void(std::size_t, const SweepPoint&)> point_done{};
    /// Told how many runs of how many are done.
    std::function<void(std::size_t done, std::size_t all)> progress{};
    /// Asked now and then; true begins nothing more.
    std::function<bool()> stop{};
};

/// Drives every trip at every point. As many points as were done, in their order: all unless `stop` said so. The same
/// for any number of threads. Throws InputError when every point is refused, with the first one's reason, and as
/// try_trip() does for what no number can mend.
std::vector<SweepPoint> sweep(const SweepAsk& ask);

/// Of the points that hold in at least this share of runs for sure (the lower bound of SweepPoint::share) the one that
/// is fastest; its index, or that of none: the number of points.
std::size_t fastest_sure(const std::vector<SweepPoint>& points, double share);

} // namespace vast_turn
