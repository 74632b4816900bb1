#include "judging.hpp"

#include <cstdio>

#include "vast_turn/formats/read/plan_file.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/paint/course_file.hpp"
#include "vast_turn/trial/trip_report.hpp"

namespace bench {

using namespace vast_turn;

namespace {

struct Trips {
    Robot robot;
    Plan plan;
    TripGround ground;

    Trips(const std::string& course, const std::string& robot_name, const std::string& plan_name)
        : robot(load_robot("data/fern-house/" + robot_name + ".robot.toml")),
          plan(load_plan("data/fern-house/" + plan_name + ".plan")),
          ground(load_trip_ground("data/fern-house/" + course + ".course.toml", robot)) {}
};

/// Every trip once, with a seed that goes on.
template <class Work> void each_trip(benchmark::State& state, const Trips& trips, const Work& work) {
    const Pilot pilot(trips.plan);
    RunOptions options;
    for (auto step : state) {
        for (const TripCase& one : trips.ground.cases()) {
            work(pilot, one, options);
        }
        ++options.seed;
    }
}

void drive_alone(const Pilot& pilot, const TripCase& one, const RunOptions& options) {
    RunOptions own = options;
    own.start = one.trip.from;
    own.time_limit_s = one.trip.within_s;
    own.off_course_mm = one.trip.off_course_mm;
    benchmark::DoNotOptimize(pilot.drive(*one.scene, own));
}

void drive_and_judge(const Pilot& pilot, const TripCase& one, const RunOptions& options) {
    benchmark::DoNotOptimize(try_trip(*one.scene, pilot, one.trip, options));
}

/// The same trips as each_trip(), a block of seeds of each side by side. `judged`: or driven alone.
void block_of_each_trip(benchmark::State& state, const Trips& trips, bool judged) {
    const Pilot pilot(trips.plan);
    RunOptions options;
    for (auto step : state) {
        for (const TripCase& one : trips.ground.cases()) {
            if (judged) {
                try_trips(*one.scene, pilot, one.trip, runs_from(options, 0, lanes_at_most),
                          [](std::size_t, TripResult& result) { benchmark::DoNotOptimize(result); });
                continue;
            }
            RunOptions own = options;
            own.start = one.trip.from;
            own.time_limit_s = one.trip.within_s;
            own.off_course_mm = one.trip.off_course_mm;
            pilot.drive_many(*one.scene, runs_from(own, 0, lanes_at_most),
                             [](std::size_t, Run& run) { benchmark::DoNotOptimize(run); });
        }
        options.seed += lanes_at_most;
    }
}

void many(benchmark::State& state, const Trips& trips, int threads) {
    TripReportOptions options;
    options.repeats = 200;
    options.threads = threads;
    for (auto step : state) {
        benchmark::DoNotOptimize(report_trips(trips.ground.cases(), {trips.plan}, options));
    }
}

} // namespace

void register_judging() {
    static const Trips choices("glass-wing", "sprig-5", "rounds");
    static const Trips places("fern-house", "sprig-2", "left-first");
    for (const auto& [name, trips] : {std::pair{std::string("choices"), &choices}, {std::string("places"), &places}}) {
        for (const TripCase& one : trips->ground.cases()) {
            one.scene->graph(); // found once a scene, whoever asks first
        }
        const Trips& own = *trips;
        benchmark::RegisterBenchmark(("driven_" + name).c_str(), [&own](benchmark::State& state) {
            each_trip(state, own, drive_alone);
        })->Unit(benchmark::kMicrosecond);
        benchmark::RegisterBenchmark(("judged_" + name).c_str(), [&own](benchmark::State& state) {
            each_trip(state, own, drive_and_judge);
        })->Unit(benchmark::kMicrosecond);
    }
    for (const auto& [name, trips] : {std::pair{std::string("choices"), &choices}, {std::string("places"), &places}}) {
        const Trips& own = *trips;
        for (const bool judged : {false, true}) {
            benchmark::RegisterBenchmark(
                ((judged ? "many_judged_" : "many_driven_") + name).c_str(),
                [&own, judged](benchmark::State& state) { block_of_each_trip(state, own, judged); })
                ->Unit(benchmark::kMicrosecond);
        }
    }
    for (const int threads : {1, 2}) {
        benchmark::RegisterBenchmark(("trips_on_" + std::to_string(threads)).c_str(),
                                     [threads](benchmark::State& state) { many(state, choices, threads); })
            ->Unit(benchmark::kMillisecond)
            ->UseRealTime();
    }
}

void print_judging(const std::function<double(const std::string&)>& median) {
    for (const char* name : {"choices", "places"}) {
        const double driven = median(std::string("driven_") + name);
        const double judged = median(std::string("judged_") + name);
        if (driven > 0.0 && judged > 0.0) {
            std::printf("trips by %s: judged / driven: %.2f\n", name, judged / driven);
        }
        const double many_driven = median(std::string("many_driven_") + name);
        const double many_judged = median(std::string("many_judged_") + name);
        if (many_driven > 0.0 && many_judged > 0.0 && judged > 0.0) {
            std::printf("trips by %s, side by side: judged / driven: %.2f; one by one / side by side: driven %.2f, "
                        "judged %.2f\n",
                        name, many_judged / many_driven, lanes_at_most * driven / many_driven,
                        lanes_at_most * judged / many_judged);
        }
    }
    const double one = median("trips_on_1");
    const double two = median("trips_on_2");
    if (one > 0.0 && two > 0.0) {
        std::printf("800 judged runs: one thread / two threads: %.2f\n", one / two);
    }
}

} // namespace bench
