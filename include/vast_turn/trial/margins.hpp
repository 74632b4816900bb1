#pragma once

/// How much a trip bears: for each quantity that differs from day to day, how far it may go alone.

#include <functional>
#include <optional>
#include <string>
#include <vector>

#include "vast_turn/robot/variation.hpp"
#include "vast_turn/trial/pilot.hpp"
#include "vast_turn/trial/trip_case.hpp"

namespace vast_turn {

/// How far one quantity may go while all others are as on an ideal day.
struct Margin {
    Quantity what = Quantity::left_motor;
    std::size_t sensor = 0; ///< for Quantity::sensor
    std::string quantity;   ///< "left motor"
    std::string unit;
    /// The last value below the usual one, and above it, with which the trip held in all runs; to a tenth of what is
    /// worth telling. None where it holds as far as can be.
    std::optional<double> low;
    std::optional<double> high;
    double usual = 1.0;
};

/// What was found.
struct Margins {
    bool holds = false;          ///< on an ideal day; if not there are no margins
    std::vector<Margin> margins; ///< in the order of quantities()
};

/// Seeks them for the quantities that the scene's robot varies, outwards in growing steps and then by bisection. A
/// value is borne when 20 runs, each with noise of its own, pass: what fails there fails in one run of twenty, or more
/// often. The same for any number of threads (0: as many as there are); empty when `stop` ends it.
Margins find_margins(const TripCase& one, const Pilot& pilot, const RunOptions& options = {}, int threads = 0,
                     const std::function<bool()>& stop = {});

} // namespace vast_turn
