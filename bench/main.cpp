// Measures side by side in one process: one run three ways, and one look of a plan against the same
// logic in C++. See docs/benchmark.md; run it from the root of the repository.
#include <algorithm>
#include <cmath>
#include <cstdio>
#include <functional>
#include <map>
#include <string>
#include <vector>

#include <benchmark/benchmark.h>

#include "decide.hpp"
#include "graph.hpp"
#include "judging.hpp"
#include "loop.hpp"
#include "side_by_side.hpp"
#include "stepping.hpp"
#include "vast_turn/course/graph/route_graph.hpp"
#include "vast_turn/formats/read/plan_file.hpp"

namespace {

using Way = bench::Outcome (*)(const vast_turn::Scene&, const vast_turn::Plan&);

/// With weight and all that comes with it, its sensors ideal.
vast_turn::Robot weighed() {
    vast_turn::Robot robot = bench::five_sensors();
    robot.drive = vast_turn::Drive{
        .caster_drag = 0.1, .keep_pct = 2.0, .start_pct = 4.0, .play_deg = 2.0, .sag = 0.15, .run_down = 0.002};
    return robot;
}

/// The same robot with everything on that can be: weight, friction, play, a battery that sags, a day of its own.
vast_turn::Robot imperfect() {
    vast_turn::Robot robot = weighed();
    robot.late_often = 0.02;
    robot.delay_varies_ms = 3.0;
    robot.lost_often = 0.01;
    robot.apart_ms = 0.2;
    robot.encoders = {true, 360.0, 0.01};
    robot.gyro = {true, 1.01, 0.2, 0.3, 1.5, 400.0};
    robot.compass = {true, 4.0, 2.0};
    robot.range_sensor = vast_turn::RangeSensor{{70.0, 0.0}, 0.0, 900.0, 20.0, 15.0, 60.0, 3.0, 5.0, 30.0};
    for (vast_turn::LineSensor& sensor : robot.sensors) {
        sensor.curve = 0.8;
        sensor.response_ms = 1.5;
        sensor.outside = 0.2;
        sensor.drift = -0.01;
    }
    return robot;
}

/// The loop with light from outside: a lamp that flickers, a window, a shadow.
vast_turn::Course lit() {
    using Kind = vast_turn::OutsideLight::Kind;
    vast_turn::Course course = bench::winding_loop();
    vast_turn::OutsideLight lamp{Kind::lamp, 0.5, {600.0, 300.0}};
    lamp.flicker = 0.3;
    lamp.flicker_hz = 99.0;
    course.lights = {lamp, vast_turn::OutsideLight{Kind::window, 0.6, {850.0, 1100.0}, {850.0, -200.0}},
                     vast_turn::OutsideLight{Kind::shadow, 0.3, {700.0, 1100.0}, {760.0, 0.0}}};
    return course;
}

struct Work {
    vast_turn::Course course = bench::winding_loop();
    vast_turn::Robot robot = bench::five_sensors();
    vast_turn::Plan plan = bench::follower();
    vast_turn::Plan pid = vast_turn::load_plan("data/fern-house/plans/five-pid.plan");
    vast_turn::Scene scene{course, robot};
    vast_turn::Robot imperfect_robot = imperfect();
    vast_turn::Robot weighed_robot = weighed();
    vast_turn::Scene weighed_scene{course, weighed_robot};
    vast_turn::Course lit_course = lit();
    vast_turn::Scene imperfect_scene{lit_course, imperfect_robot};
};

void measure(benchmark::State& state, Way way, const Work& work) {
    for (auto _ : state) {
        benchmark::DoNotOptimize(way(work.scene, work.plan));
    }
    state.counters["sim_s_per_s"] = benchmark::Counter(bench::run_s, benchmark::Counter::kIsIterationInvariantRate);
}

/// One pass over the looks of a run; the mind begins anew with each.
template <class Logic>
void decide(benchmark::State& state, const Logic& fresh, const std::vector<vast_turn::Look>& looks) {
    vast_turn::Answer answer;
    for (auto _ : state) {
        Logic logic = fresh;
        for (const vast_turn::Look& look : looks) {
            logic(look, answer);
            benchmark::DoNotOptimize(answer);
        }
    }
}

/// Keeps the times of all repetitions.
class Times : public benchmark::ConsoleReporter {
public:
    void ReportRuns(const std::vector<Run>& runs) override {
        for (const Run& run : runs) {
            if (run.run_type == Run::RT_Iteration) {
                const bool real = run.run_name.time_type == "real_time"; // of what runs on several threads
                times_[run.run_name.function_name].push_back(real ? run.GetAdjustedRealTime()
                                                                  : run.GetAdjustedCPUTime());
            }
        }
        ConsoleReporter::ReportRuns(runs);
    }
    double median(const std::string& name) {
        std::vector<double>& list = times_[name];
        std::sort(list.begin(), list.end());
        return list.empty() ? 0.0 : list[list.size() / 2];
    }

private:
    std::map<std::string, std::vector<double>> times_;
};

/// Whether all three ways drive the loop to the end and as far as one another.
bool agree(const Work& work) {
    const double way = bench::run_library(work.scene, work.plan).way_mm;
    for (const Way other : {bench::run_library, bench::run_naive, bench::run_physics_engine}) {
        const bench::Outcome outcome = other(work.scene, work.plan);
        if (!outcome.stayed || std::abs(outcome.way_mm - way) > 0.02 * way) {
            std::fprintf(stderr, "the ways do not agree: %.0f mm and %.0f mm\n", way, outcome.way_mm);
            return false;
        }
    }
    std::printf("each run drives %.1f m of tape\n", way / 1000.0);
    return true;
}

/// Tape that lies a little off and has faded, and a motor that is weaker than the other.
std::vector<vast_turn::DayValue> other_day() {
    using vast_turn::Quantity;
    return {{Quantity::tape_off, 0, 1.5}, {Quantity::line_faded, 0, 0.1}, {Quantity::left_motor, 0, 0.97}};
}

/// The loop by robots that are not ideal.
void register_imperfect(const Work& work) {
    using Day = std::vector<vast_turn::DayValue>;
    const auto over = [](benchmark::State& state, const vast_turn::Scene& scene, const vast_turn::Plan& plan,
                         const Day& values) {
        for (auto step : state) {
            benchmark::DoNotOptimize(bench::run_on_a_day(scene, plan, values));
        }
    };
    const auto add = [&](const char* name, const vast_turn::Scene& scene, const Day& values) {
        benchmark::RegisterBenchmark(name, over, std::cref(scene), std::cref(work.plan), values)
            ->Unit(benchmark::kMillisecond);
    };
    add("with_weight", work.weighed_scene, {});
    add("everything_on", work.imperfect_scene, other_day());
}

} // namespace

int main(int argc, char** argv) {
    benchmark::Initialize(&argc, argv);
    const Work work;
    if (benchmark::ReportUnrecognizedArguments(argc, argv) || !agree(work)) {
        return 1;
    }
    const std::vector<std::pair<const char*, Way>> ways = {
        {"library", bench::run_library}, {"naive", bench::run_naive}, {"physics_engine", bench::run_physics_engine}};
    for (const auto& [name, way] : ways) {
        benchmark::RegisterBenchmark(name, measure, way, std::cref(work))->Unit(benchmark::kMillisecond);
    }
    register_imperfect(work);
    const vast_turn::Plan& pid = work.pid;
    const std::vector<vast_turn::Look> looks = bench::aisle_looks(pid);
    if (!bench::same_answers(pid, looks)) {
        std::fprintf(stderr, "the plan and the logic by hand do not agree\n");
        return 1;
    }
    const vast_turn::Mind mind(pid);
    const bench::HandWritten by_hand;
    benchmark::RegisterBenchmark("plan_look", decide<vast_turn::Mind>, std::cref(mind), std::cref(looks));
    benchmark::RegisterBenchmark("by_hand_look", decide<bench::HandWritten>, std::cref(by_hand), std::cref(looks));
    const vast_turn::Course table_top = bench::grid_board(2400.0, 1200.0, 240.0);
    const vast_turn::Course hall = bench::grid_board(10000.0, 10000.0, 640.0);
    const auto find_graph = [](benchmark::State& state, const vast_turn::Course& course) {
        for (auto step : state) {
            benchmark::DoNotOptimize(vast_turn::find_route_graph(course));
        }
    };
    benchmark::RegisterBenchmark("graph_of_2.4x1.2_m", find_graph, std::cref(table_top))->Unit(benchmark::kMillisecond);
    benchmark::RegisterBenchmark("graph_of_10x10_m", find_graph, std::cref(hall))->Unit(benchmark::kMillisecond);
    bench::register_judging();
    const std::vector<vast_turn::DayValue> day = other_day();
    bench::register_side_by_side("ideal_table", work.scene, work.plan, {});
    bench::register_side_by_side("ideal_pid", work.scene, work.pid, {});
    bench::register_side_by_side("with_weight", work.weighed_scene, work.plan, {});
    bench::register_side_by_side("everything_on", work.imperfect_scene, work.plan, day);
    bench::register_stepping("ideal", work.scene, work.plan);
    bench::register_stepping("everything_on", work.imperfect_scene, work.plan);
    Times times;
    benchmark::RunSpecifiedBenchmarks(&times);
    const double plan_ns = times.median("plan_look") / static_cast<double>(looks.size());
    const double hand_ns = times.median("by_hand_look") / static_cast<double>(looks.size());
    if (plan_ns > 0.0 && hand_ns > 0.0) {
        std::printf("a look of the five-sensor PID plan: %.1f ns; by hand: %.1f ns; plan / by hand: %.2f\n", plan_ns,
                    hand_ns, plan_ns / hand_ns);
    }
    bench::print_side_by_side([&times](const std::string& name) { return times.median(name); });
    bench::print_judging([&times](const std::string& name) { return times.median(name); });
    const double mine = times.median("library");
    if (mine > 0.0) {
        std::printf("library: %.2f ms for %.0f s of robot time, %.0f times real time\n", mine, bench::run_s,
                    1000.0 * bench::run_s / mine);
        std::printf("a robot with weight / an ideal one: %.2f\n", times.median("with_weight") / mine);
        std::printf("a robot with everything on / an ideal one: %.2f\n", times.median("everything_on") / mine);
        std::printf("naive / library: %.1f\nphysics engine / library: %.1f\n", times.median("naive") / mine,
                    times.median("physics_engine") / mine);
    }
    return 0;
}
