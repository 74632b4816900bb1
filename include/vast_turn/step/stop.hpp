#pragma once

/// Where a stepped run is to stop.

#include <functional>
#include <optional>
#include <string>
#include <vector>

#include "vast_turn/plan/explain/probe.hpp"
#include "vast_turn/sim/stepped_run.hpp"

namespace vast_turn {

/// Something that a run comes to: a line of its plan, a place, a condition. It is come to at the look at which it
/// begins to be so; a run that stands in a place already comes to it when it comes back.
///
///     Stop stop = stop_at_line(plan, 14);
///     go_on(run, stop); // stands at the look in which line 14 acts, before the motors know of it
class Stop {
public:
    /// `level` is asked at each look and grows when the run comes to it. `words` say what it is: "line 14".
    Stop(std::string words, std::function<double(const SteppedRun&)> level)
        : words_(std::move(words)), level_(std::move(level)) {}

    const std::string& words() const { return words_; }

    /// Begins to watch where the run stands, which is no stop by itself.
    void watch(const SteppedRun& run) { before_ = level_(run); }
    /// Whether the run has come there with the look at which it stands; to be asked at each look behind watch().
    bool reached(const SteppedRun& run);

private:
    std::string words_;
    std::function<double(const SteppedRun&)> level_;
    double before_ = 0.0;
};

/// Makers of stops. They throw InputError for what there is not, with the nearest name.

/// A rule, guard or item that stands in this line of the plan acts, or hands the look over.
Stop stop_at_line(const Plan& plan, int line);
/// A block is in hand that was not.
Stop stop_in_block(const Plan& plan, const std::string& block);
/// The run visits a place of its course.
Stop stop_at_place(const Course& course, const std::string& place);
/// The array's middle comes to a junction of the scene's graph by its name; to any with an empty name. The scene must
/// outlive the stop.
Stop stop_at_junction(const Scene& scene, const std::string& junction);
/// A condition of the plan's language holds.
Stop stop_when(const Plan& plan, const Probe& probe);
/// No rule holds.
Stop stop_unanswered();
/// The line has been nowhere under the array for three looks on end: a loss as RunFigures::losses counts it.
Stop stop_at_loss();
/// The robot has come so far since the start, backwards counted too.
Stop stop_after_way(double way_mm);

/// Drives on until one of them is come to; its number, or none when the run is over first. The first of several.
std::optional<std::size_t> go_on(SteppedRun& run, std::vector<Stop>& stops);
/// The same for one; whether it was come to.
bool go_on(SteppedRun& run, Stop& stop);

} // namespace vast_turn
