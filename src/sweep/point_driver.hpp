#pragma once

/// The trips at one point: plan, robot and day made for its values, and driven.

#include <array>
#include <cstddef>
#include <map>
#include <memory>
#include <vector>

#include "vast_turn/sweep/sweep.hpp"

namespace vast_turn {

/// One run in three numbers.
struct RunOfPoint {
    bool passed = false;
    double time_s = 0.0;
    double steering_pct = 0.0; ///< of one that passed
    bool refused = false;      ///< its point cannot be driven
};

/// Some, side by side.
using RunsOfPoint = std::array<RunOfPoint, lanes_at_most>;

/// All that a point is driven with.
class PointDriver {
public:
    /// Made for its values. Keeps a reference to `ask`. Throws InputError when it cannot be driven.
    PointDriver(const SweepAsk& ask, const SweepValues& at);

    /// Runs of a case by its number, side by side: with the n-th seed or day and those behind it, at most as many as
    /// fit.
    RunsOfPoint run(std::size_t one, std::size_t n, std::size_t count) const;

private:
    const Scene& scene(const TripCase& one) const { return robot_ ? scenes_.at(one.scene) : *one.scene; }
    void make_scenes(const std::vector<TripCase>& cases);
    /// On the layout on which it is driven the n-th time.
    const TripCase& case_of(std::size_t one, std::size_t n) const;

    const SweepAsk& ask_;
    std::unique_ptr<Plan> plan_;
    std::unique_ptr<Robot> robot_;         // null when it is the one of the cases
    std::map<const Scene*, Scene> scenes_; // for that robot
    RunOptions run_;
};

} // namespace vast_turn
