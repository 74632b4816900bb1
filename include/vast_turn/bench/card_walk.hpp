#pragma once

/// The check with a card of tape on a real robot: which channel answers to the card under which sensor, and so which
/// wire is wrong.

#include <cstdint>
#include <string>
#include <vector>

#include "vast_turn/robot/robot.hpp"
#include "vast_turn/runtime/look.hpp"

namespace vast_turn {

/// One thing that is the matter with a wire or a sensor.
struct WireFinding {
    /// What it is.
    enum class Kind : std::uint8_t {
        swapped,  ///< the wires of two sensors are exchanged
        moved,    ///< more than two are in another order
        silent,   ///< no channel answers to the card under it
        several,  ///< more than one channel answers to it
        inverted, ///< it answers the other way round than the rest
        weak,     ///< it answers less than half as much as the rest
        present,  ///< a channel answers where no card should be
    };
    Kind kind = Kind::silent;
    std::vector<int> sensors; ///< from 1 at the left
    /// A sentence each, no full stop.
    std::string says;
    std::string to_do;
};

/// "swapped", "silent" ...
const char* name_of(WireFinding::Kind kind);

/// Walks through it: first no card, then the card under sensor 1, 2 ... Say hold() when the card lies where it should,
/// then give it looks until it goes to the next step by itself.
///
///     CardWalk walk(robot);
///     while (!walk.is_done()) { ask for walk.card(); walk.hold(); while (walk.is_holding()) walk.take(counts); }
///     for (const WireFinding& finding : walk.findings()) ...
class CardWalk {
public:
    /// `looks` over each step; their mean is what counts.
    explicit CardWalk(const Robot& robot, int looks = 20);

    /// Where the card should be now: a sensor from 1, or 0 for nowhere. Of a walk that is done 0.
    int card() const { return is_done() ? 0 : static_cast<int>(means_.size()); }
    int steps() const { return sensors_ + 1; }
    bool is_done() const { return static_cast<int>(means_.size()) == steps(); }
    bool is_holding() const { return holding_; }

    /// The card lies where it should: the next looks are taken.
    void hold() { holding_ = !is_done(); }
    /// Raw counts of a look, by channel; passed over unless it is holding.
    void take(const double* counts);
    /// Goes a step back, to do it once more.
    void back();

    /// How much each channel answered to no card, to the card under sensor 1, 2 ..., as a part of its range, positive
    /// when it counted less: [step][channel], as far as it has come. Against what it gave in most of the steps, so that
    /// a card which lay there too early does not spoil the rest.
    std::vector<std::vector<double>> answers() const;

    /// What is wrong, once it is done; empty when every channel answers to its own sensor alone.
    std::vector<WireFinding> findings() const;

private:
    std::vector<double> most_; // counts at the end of each channel's range
    int sensors_;
    int looks_;
    bool holding_ = false;
    int taken_ = 0;
    std::vector<double> sum_;
    std::vector<std::vector<double>> means_; // by step
};

} // namespace vast_turn
