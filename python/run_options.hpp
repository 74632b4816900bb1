#pragma once

/// The options of runs, as keywords.

#include <pybind11/pybind11.h>

#include "vast_turn/sim/run.hpp"

namespace vast_turn::python {

/// Options from keywords: `start` (a name, or (x, y, heading)), `seed`, `day`, `time_limit_s`, `lost_after_s`,
/// `off_course_mm`, `calibration`, `numbers` ("double", "float"), `with_things`, `touch_ends`, `set` (quantities of a
/// day by their keys in days files; of one sensor "sensor_2"). Throws a TypeError for others, naming the nearest, and a
/// ValueError (InputError for `set`) for what cannot be.
RunOptions options_from(const pybind11::kwargs& words);

} // namespace vast_turn::python
