#include "side_by_side.hpp"

#include <cstdio>

#include <benchmark/benchmark.h>

#include "loop.hpp"
#include "vast_turn/many/drive_many.hpp"

namespace bench {

using namespace vast_turn;

namespace {

constexpr std::size_t runs = 32;

std::vector<std::string>& registered() {
    static std::vector<std::string> names;
    return names;
}

std::vector<RunOptions> some(const std::vector<DayValue>& day) {
    RunOptions options;
    options.time_limit_s = run_s;
    options.step_ms = step_ms;
    options.keep_looks = false; // the other ways of the benchmark keep none either
    options.set = day;
    std::vector<RunOptions> all(runs, options);
    for (std::size_t n = 0; n < runs; ++n) {
        all[n].seed = 1 + n;
    }
    return all;
}

} // namespace

void register_side_by_side(const char* name, const Scene& scene, const Plan& plan, const std::vector<DayValue>& day) {
    const std::vector<RunOptions> options = some(day);
    registered().emplace_back(name);
    benchmark::RegisterBenchmark((std::string("one_by_one_") + name).c_str(), [&, options](benchmark::State& state) {
        for (auto step : state) {
            for (const RunOptions& one : options) {
                benchmark::DoNotOptimize(drive(scene, plan, one));
            }
        }
    })->Unit(benchmark::kMillisecond);
    benchmark::RegisterBenchmark((std::string("side_by_side_") + name).c_str(), [&, options](benchmark::State& state) {
        for (auto step : state) {
            benchmark::DoNotOptimize(drive_many(scene, plan, options));
        }
    })->Unit(benchmark::kMillisecond);
}

void print_side_by_side(const std::function<double(const std::string&)>& median) {
    for (const std::string& name : registered()) {
        const double one = median("one_by_one_" + name);
        const double many = median("side_by_side_" + name);
        if (one > 0.0 && many > 0.0) {
            const auto real = [](double ms) { return 1000.0 * run_s * static_cast<double>(runs) / ms; };
            std::printf("%s: one by one %.0f times real time, side by side %.0f: %.2f times as fast\n", name.c_str(),
                        real(one), real(many), one / many);
        }
    }
}

} // namespace bench
