#include "vast_turn/sweep/sweep.hpp"

#include <algorithm>
#include <iterator>
#include <memory>
#include <mutex>
#include <utility>

#include "base/share_out.hpp"
#include "sweep/point_driver.hpp"
#include "vast_turn/base/problem.hpp"

namespace vast_turn {

namespace {

/// What a point is driven with, made by the first thread that drives it; none when it cannot be driven.
class OncePrepared {
public:
    const PointDriver* driver(const SweepAsk& ask, const SweepValues& at) {
        std::call_once(*once_, [&] {
            try {
                driver_ = std::make_unique<PointDriver>(ask, at);
            } catch (const InputError&) {
                driver_ = nullptr; // why is told once, when its runs are counted
            }
        });
        return driver_.get();
    }

private:
    std::unique_ptr<std::once_flag> once_ = std::make_unique<std::once_flag>();
    std::unique_ptr<PointDriver> driver_;
};

class Sweeper {
public:
    explicit Sweeper(const SweepAsk& ask)
        : ask_(ask), repeats_(static_cast<std::size_t>(ask.repeats)), runs_each_(ask.cases.size() * repeats_),
          blocks_of_case_((repeats_ + lanes_at_most - 1) / lanes_at_most) {}

    std::vector<SweepPoint> all() {
        // So many points at once that threads have enough to do and little waits in memory.
        const std::size_t at_once = 512 * (ask_.crew != nullptr ? ask_.crew->size() : 1);
        const std::size_t batch = std::max<std::size_t>(1, at_once / std::max<std::size_t>(1, runs_each_));
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
        std::vector<SweepPoint> points(to - from);
        std::vector<char> is_known(to - from);
        for (std::size_t i = 0; i < points.size(); ++i) {
            const std::optional<SweepPoint> known = ask_.known ? ask_.known(from + i) : std::nullopt;
            is_known[i] = known.has_value();
            points[i] = known.value_or(SweepPoint{});
            points[i].at = ask_.points[from + i];
        }
        const std::size_t blocks_each = ask_.cases.size() * blocks_of_case_;
        std::vector<RunsOfPoint> runs(points.size() * blocks_each);
        std::vector<std::size_t> left(points.size(), blocks_each);
        std::vector<OncePrepared> ready(points.size()); // in a crew none but those that are driven here
        const auto drive_one = [&](std::size_t i) {
            const std::size_t number = i / blocks_each;
            if (is_known[number] == 0) {
                runs[i] = run(ready[number].driver(ask_, points[number].at), i % blocks_each);
            }
        };
        share_out({ask_.crew, ask_.threads}, runs.size(), drive_one, results_in(runs), [&](std::size_t i) {
            const std::size_t number = i / blocks_each;
            if (--left[number] == 0 && is_known[number] == 0 && ask_.point_done) { // the last of its runs
                SweepPoint done = points[number];
                count(done, &runs[number * blocks_each]);
                ask_.point_done(from + number, done);
            }
        });
        for (std::size_t number = 0; number < points.size(); ++number) {
            if (is_known[number] == 0) {
                count(points[number], &runs[number * blocks_each]);
            }
        }
        std::move(points.begin(), points.end(), std::back_inserter(out));
    }

    RunsOfPoint run(const PointDriver* ready, std::size_t block) const {
        const std::size_t first = block % blocks_of_case_ * lanes_at_most;
        if (ready == nullptr) {
            return {RunOfPoint{.refused = true}};
        }
        return ready->run(block / blocks_of_case_, first, std::min(lanes_at_most, repeats_ - first));
    }

    void count(SweepPoint& point, const RunsOfPoint* blocks) {
        if (blocks[0][0].refused) {
            try {
                const PointDriver again(ask_, point.at); // for its reason, which did not come with the run
            } catch (const InputError& error) {
                first_refusal_ = first_refusal_.empty() ? error.problems() : first_refusal_;
                point.refused = error.problems().front().message;
            }
            return;
        }
        std::vector<double> times;
        std::vector<double> steering;
        for (std::size_t i = 0; i < runs_each_; ++i) {
            const std::size_t within = i % repeats_;
            const RunOfPoint& run =
                blocks[i / repeats_ * blocks_of_case_ + within / lanes_at_most][within % lanes_at_most];
            if (run.passed) {
                times.push_back(run.time_s);
                steering.push_back(run.steering_pct);
            }
        }
        point.runs = static_cast<int>(runs_each_);
        point.passed = static_cast<int>(times.size());
        point.share = wilson(times.size(), runs_each_);
        point.time_s = spread_of(times);
        point.steering_pct = spread_of(steering);
    }

    const SweepAsk& ask_;
    std::size_t repeats_;
    std::size_t runs_each_;
    std::size_t blocks_of_case_; // of runs that go side by side
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
