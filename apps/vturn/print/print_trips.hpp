#pragma once

#include "cli.hpp"
#include "vast_turn/trial/layouts_report.hpp"
#include "vast_turn/trial/trip_report.hpp"

namespace vturn {

/// The trips of all plans side by side, the failures explained below. Returns the exit status.
int print_trips(const Streams& streams, const vast_turn::TripReport& report);

/// The same of many layouts: how many each trip held on, on which it did not, and why on those that were looked into.
/// `course_file` is named in the calls that drive or keep one of them alone.
void print_layouts(const Streams& streams, const vast_turn::LayoutsReport& report, const std::string& course_file);

/// What was done until Ctrl-C, to the error stream.
void print_interrupted(const Streams& streams, const vast_turn::TripReport& report);

} // namespace vturn
