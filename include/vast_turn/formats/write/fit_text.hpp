#pragma once

/// What a fit found, as JSON and as changes of the robot file.

#include <string>
#include <vector>

#include "vast_turn/fit/fit.hpp"
#include "vast_turn/settings/setting.hpp"

namespace vast_turn {

/// `robot`, `looks`, `seconds`, `numbers` (key, words, unit, filed, value, low, high, on_days), `untold` (words, why,
/// needs) and `doubts`.
std::string fit_json(const FitReport& report);

/// As many digits as the interval is worth, two of it: "371.4". Never more than nine that count.
std::string fitted_text(const FittedNumber& number, double value);

/// The numbers that were found as they go into the robot file. The delay is rounded to whole milliseconds, in which a
/// simulation goes on.
std::vector<Setting> fitted_changes(const FitReport& report);

} // namespace vast_turn
