// What handing out costs: jobs that take a given time, shared out among ranks.
//   mpirun -n 2 bench_ranks MODULE [MICROSECONDS...]
#include <chrono>
#include <cstdlib>
#include <iostream>
#include <memory>
#include <string>
#include <vector>

#include <dlfcn.h>

#include "ranks/ranks.hpp"

namespace {

using Clock = std::chrono::steady_clock;

double seconds_since(Clock::time_point began) { return std::chrono::duration<double>(Clock::now() - began).count(); }

/// As a run: it keeps a core busy.
void work_for(double seconds) {
    const auto began = Clock::now();
    while (seconds_since(began) < seconds) {
    }
}

} // namespace

int main(int argc, char** argv) {
    void* module = argc > 1 ? ::dlopen(argv[1], RTLD_NOW) : nullptr;
    auto* const join =
        module == nullptr ? nullptr : reinterpret_cast<vturn::JoinRanks*>(::dlsym(module, "vturn_join_ranks"));
    if (join == nullptr) {
        std::cerr << "name the module: build/bench/apps/vturn/vturn-ranks.so\n";
        return 2;
    }
    const std::unique_ptr<vturn::Ranks> ranks(join());
    std::vector<double> micros;
    for (int i = 2; i < argc; ++i) {
        micros.push_back(std::strtod(argv[i], nullptr));
    }
    for (const double each : micros.empty() ? std::vector<double>{0.0, 20.0, 200.0, 2000.0} : micros) {
        const auto count = static_cast<std::size_t>(each > 0.0 ? 1e6 / each : 200000.0);
        std::vector<double> results(count);
        const auto began = Clock::now();
        ranks->share(
            count, 1,
            [&](std::size_t i) {
                work_for(each * 1e-6);
                results[i] = 1.0;
            },
            {results.data(), sizeof(double)}, [](std::size_t) {});
        const double took_s = seconds_since(began);
        if (ranks->is_first()) {
            std::cout << ranks->size() << " ranks, " << count << " jobs of " << each << " us: " << took_s << " s, "
                      << 1e6 * took_s / static_cast<double>(count) << " us a job\n";
        }
    }
    ranks->part(0);
    return 0;
}
