#include "vast_turn/sweep/sweep.hpp"

#include <algorithm>
#include <atomic>
#include <iterator>
#include <map>
#include <memory>
#include <mutex>
#include <utility>

#include "base/parallel.hpp"
#include "vast_turn/base/problem.hpp"
#include "vast_turn/trial/trip_result.hpp"

namespace vast_turn {

namespace {

/// One run in three numbers.
struct RunOfPoint {
    bool passed = false;
    double time_s = 0.0;
    double steering_pct = 0.0;
};

/// All that a point is driven with.
struct Prepared {
    std::unique_ptr<Plan> plan;
    std::unique_ptr<Robot> robot;         // null when it is the one of the cases
    std::map<const Scene*, Scene> scenes; // for that robot
    RunOptions run;

    const Scene& scene(const TripCase& one) const { return robot ? scenes.at(one.scene) : *one.scene; }
};

/// Whether one robot's sensors see what the other's do, so that a scene can be shared: one of other spots would be
/// exact to a quarter of a millimetre only.
bool same_array(const Robot& a, const Robot& b) {
    return std::equal(a.sensors.begin(), a.sensors.end(), b.sensors.begin(), b.sensors.end(),
                      [](const LineSensor& x, const LineSensor& y) {
                          return x.at_mm == y.at_mm && x.spot_mm == y.spot_mm && x.light == y.light;
                      });
}

class Sweeper {
public:
    explicit Sweeper(const SweepAsk& ask)
        : ask_(ask), runs_each_(ask.cases.size() * static_cast<std::size_t>(ask.repeats)),
          of_robot_(std::any_of(ask.axes.begin(), ask.axes.end(),
                                [](const Axis& axis) { return axis.number.of == Setting::Of::robot; })) {}

    std::vector<SweepPoint> all() {
        // So many points at once that threads have enough to do and little waits in memory.
        const std::size_t batch = std::max<std::size_t>(1, 512 / std::max<std::size_t>(1, runs_each_));
        std::vector<SweepPoint> out;
        for (std::size_t from = 0; from < ask_.points.size() && !(ask_.stop && ask_.stop()); from += batch) {
            drive(from, std::min(ask_.points.size(), from + batch), out);
            if (ask_.progress) {
                ask_.progress(out.size() * runs_each_, ask_.points.size() * runs_each_);
            }
        }
        if (!out.empty() &&
            std::all_of(out.begin(), out.end(), [](const SweepPoint& p) { return !p.refused.empty(); })) {
            throw first_refusal_.empty() ? InputError("", out.front().refused, "change the number")
                                         : InputError(first_refusal_);
        }
        return out;
    }

private:
    /// Points from..to (exclusive), appended.
    void drive(std::size_t from, std::size_t to, std::vector<SweepPoint>& out) {
        std::vector<Prepared> ready(to - from);
        std::vector<SweepPoint> points(to - from);
        std::vector<char> is_known(to - from);
        for (std::size_t i = 0; i < ready.size(); ++i) {
            const std::optional<SweepPoint> known = ask_.known ? ask_.known(from + i) : std::nullopt;
            is_known[i] = known.has_value();
            points[i] = known.value_or(SweepPoint{});
            points[i].at = ask_.points[from + i];
            if (is_known[i]) {
                continue;
            }
            try {
                ready[i] = prepared(points[i].at);
            } catch (const InputError& error) {
                first_refusal_ = first_refusal_.empty() ? error.problems() : first_refusal_;
                points[i].refused = error.problems().front().message;
            }
        }
        std::vector<RunOfPoint> runs(ready.size() * runs_each_);
        std::vector<std::atomic<std::size_t>> left(ready.size());
        for (std::atomic<std::size_t>& one : left) {
            one = runs_each_;
        }
        std::mutex telling;
        for_each_index(runs.size(), ask_.threads, [&](std::size_t i) {
            const std::size_t number = i / runs_each_;
            if (is_known[number] != 0) {
                return;
            }
            if (points[number].refused.empty()) {
                runs[i] = run(ready[number], i % runs_each_);
            }
            if (--left[number] == 0) { // the last of its runs
                count(points[number], &runs[number * runs_each_]);
                if (ask_.point_done) {
                    const std::lock_guard lock(telling);
                    ask_.point_done(from + number, points[number]);
                }
            }
        });
        std::move(points.begin(), points.end(), std::back_inserter(out));
    }

    Prepared prepared(const SweepValues& at) const {
        std::vector<Setting> settings;
        for (std::size_t k = 0; k < ask_.axes.size(); ++k) {
            settings.push_back(ask_.axes[k].at(at[k]));
        }
        Prepared out;
        out.plan = std::make_unique<Plan>(ask_.plan(settings));
        out.run = ask_.run;
        for (const Setting& setting : settings) {
            if (setting.of == Setting::Of::day) {
                out.run.set.push_back(day_value_of(setting));
            }
        }
        if (of_robot_) {
            out.robot = std::make_unique<Robot>(ask_.robot(settings));
            for (const TripCase& one : ask_.cases) {
                if (!out.scenes.contains(one.scene)) {
                    out.scenes.emplace(one.scene, same_array(*out.robot, one.scene->robot())
                                                      ? one.scene->driven_by(*out.robot)
                                                      : Scene(one.scene->course(), *out.robot));
                }
            }
        }
        check_fit(out.robot ? *out.robot : ask_.cases.front().scene->robot(), *out.plan);
        return out;
    }

    RunOfPoint run(const Prepared& ready, std::size_t number) const {
        const TripCase& one = ask_.cases[number / static_cast<std::size_t>(ask_.repeats)];
        const Scene& scene = ready.scene(one);
        const TripResult result =
            try_trip(scene, *ready.plan, one.trip, nth_run(ready.run, number % static_cast<std::size_t>(ask_.repeats)));
        return {result.passed, result.run.time_s,
                result.passed ? figures_of(scene, result.run).steering_change_pct : 0.0};
    }

    void count(SweepPoint& point, const RunOfPoint* runs) const {
        if (!point.refused.empty()) {
            return;
        }
        std::vector<double> times;
        std::vector<double> steering;
        for (std::size_t i = 0; i < runs_each_; ++i) {
            if (runs[i].passed) {
                times.push_back(runs[i].time_s);
                steering.push_back(runs[i].steering_pct);
            }
        }
        point.runs = static_cast<int>(runs_each_);
        point.passed = static_cast<int>(times.size());
        point.share = wilson(times.size(), runs_each_);
        point.time_s = spread_of(times);
        point.steering_pct = spread_of(steering);
    }

    const SweepAsk& ask_;
    std::size_t runs_each_;
    bool of_robot_;
    std::vector<Problem> first_refusal_;
};

} // namespace

std::vector<SweepPoint> sweep(const SweepAsk& ask) { return Sweeper(ask).all(); }

std::size_t fastest_sure(const std::vector<SweepPoint>& points, double share) {
    std::size_t best = points.size();
    for (std::size_t i = 0; i < points.size(); ++i) {
        if (points[i].runs > 0 && points[i].share.low >= share &&
            (best == points.size() || points[i].time_s.mean < points[best].time_s.mean)) {
            best = i;
        }
    }
    return best;
}

} // namespace vast_turn
