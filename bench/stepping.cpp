#include "stepping.hpp"

#include <algorithm>
#include <chrono>
#include <random>
#include <string>

#include <benchmark/benchmark.h>

#include "vast_turn/sim/stepped_run.hpp"

namespace bench {

using namespace vast_turn;

namespace {

/// One time to another, anywhere; also the slowest of all, and what the run keeps.
void go_anywhere(benchmark::State& state, const Scene& scene, const Plan& plan) {
    SteppedRun run(scene, plan, {.time_limit_s = 600.0});
    run.to_end();
    const std::size_t looks = run.at();
    std::mt19937 random(7);
    double slowest_ms = 0.0;
    for (auto step : state) {
        const auto before = std::chrono::steady_clock::now();
        run.to_look(random() % looks);
        const std::chrono::duration<double, std::milli> took = std::chrono::steady_clock::now() - before;
        slowest_ms = std::max(slowest_ms, took.count());
        benchmark::DoNotOptimize(run.look().offset);
    }
    state.counters["slowest_ms"] = slowest_ms;
    state.counters["looks"] = static_cast<double>(looks);
    state.counters["states"] = static_cast<double>(run.states_kept());
    state.counters["MB"] = static_cast<double>(run.memory_bytes()) / 1e6;
}

} // namespace

void register_stepping(const char* name, const Scene& scene, const Plan& plan) {
    benchmark::RegisterBenchmark((std::string("going_anywhere_") + name).c_str(), go_anywhere, std::cref(scene),
                                 std::cref(plan))
        ->Unit(benchmark::kMillisecond);
}

} // namespace bench
