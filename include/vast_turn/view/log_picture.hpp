#pragma once

/// A recorded run on its course, beside the simulated one.

#include <string>

#include "vast_turn/recorded/log_comparison.hpp"
#include "vast_turn/view/picture.hpp"

namespace vast_turn {

/// The course with the log's way, that of the run of an ideal day, the places at which both were timed, and where they
/// part; below, how much later than the quickest day log, ideal run and the slowest day came to each place.
std::string draw_log(const Scene& scene, const Plan& plan, const LogComparison& log, PictureFormat format);

} // namespace vast_turn
