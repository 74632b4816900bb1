#pragma once

/// Any quantity of a run, look by look.

#include <string>
#include <vector>

#include "vast_turn/plan/plan.hpp"
#include "vast_turn/sim/run.hpp"

namespace vast_turn {

/// One quantity of a run.
struct Quantities {
    std::string name;           ///< as asked
    std::string unit;           ///< "mm", "%" ...; empty for a plain number
    bool is_condition = false;  ///< values are 0 or 1
    std::vector<double> values; ///< one a look of the run; times in ms
};

/// The values of a quantity at every look. `left` and `right` are the powers in percent, `x` and `y` the place on the
/// board in mm, `facing` the way it really faces in degrees; anything else is a value or condition of the plan's
/// language, asked of the plan behind each look: offset, sensor(2), travelled, [##], amber, a var, laps * 2.
///
/// The run must have been recorded with RunOptions::keep_told (asserted); the plan is carried out once more over what
/// it was told, computing with `numbers`. Throws InputError for what the plan cannot be asked.
Quantities quantities_of(const Plan& plan, const Run& run, const std::string& quantity,
                         runtime::NumberKind numbers = runtime::NumberKind::binary64);

} // namespace vast_turn
