#pragma once

/// Trips of the demo, driven alone, judged too, and many of them on one thread and on two.

#include <functional>
#include <string>

#include <benchmark/benchmark.h>

namespace bench {

/// Registers `driven_...`, `judged_...` by choices and by places, and `trips_on_1`, `trips_on_2`.
void register_judging();

/// Prints the ratios of those that were measured; `median` gives a benchmark's, 0 when it was not run.
void print_judging(const std::function<double(const std::string&)>& median);

} // namespace bench
