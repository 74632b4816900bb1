#include "vast_turn/recorded/course_ruler.hpp"

#include <algorithm>
#include <cmath>
#include <cstdint>
#include <future>
#include <utility>
#include <vector>

#include "recorded/way_filter.hpp"
#include "vast_turn/base/problem.hpp"

namespace vast_turn {

namespace {

using guessing::Kept;
using guessing::Learned;

constexpr int learners = 3000;
constexpr std::uint64_t tries = 4; // each with chance of its own

Kept known_before(WayBy by) {
    switch (by) {
    case WayBy::powers: return {0.15, 0.15, 0.08, 0.25};
    case WayBy::wheels: return {0.06, 0.06, 0.08, 0.0};
    case WayBy::wheels_and_gyro: return {0.06, 0.06, 0.03, 0.0};
    }
    return {};
}

/// What was learnt of a log from one start.
struct Tried {
    std::string start;
    Pose pose;
    double evidence = 0.0;
    Learned learned;
};

Tried tried(const Scene& scene, const std::vector<LoggedLook>& log, const LogWayOptions& options, WayBy by,
            const StartPose& start, std::size_t looks) {
    LogWayOptions many = options;
    many.guesses = learners;
    WayFilter filter(scene, log, many, by, 1.0);
    Tried out{start.name, start.pose, 0.0, filter.learned(start.pose, looks, known_before(by))};
    out.evidence = filter.evidence();
    return out;
}

/// The file's robot as the guesses have it.
Robot corrected(Robot robot, WayBy by, const Kept& mean) {
    if (by == WayBy::powers) {
        robot.motors.left.gain *= mean[0];
        robot.motors.right.gain *= mean[1];
        robot.track_mm /= mean[2];
        robot.motors.lag_ms *= mean[3];
    } else {
        robot.wheel_mm *= 0.5 * (mean[0] + mean[1]);
        robot.track_mm /= by == WayBy::wheels ? mean[2] : 1.0;
    }
    return robot;
}

/// The same log learnt from several times. Guesses that all come of one are surer than what they saw makes them; that
/// shows in how far the tries lie apart.
Learned learned_often(const Scene& scene, const std::vector<LoggedLook>& log, const LogWayOptions& options, WayBy by,
                      const StartPose& start, std::size_t looks) {
    std::vector<std::future<Tried>> running;
    for (std::uint64_t i = 0; i < tries; ++i) {
        LogWayOptions own = options;
        own.seed = options.seed + 1000 * i;
        running.push_back(std::async(std::launch::async, [&scene, &log, own, by, &start, looks] {
            return tried(scene, log, own, by, start, looks);
        }));
    }
    std::vector<Learned> all;
    for (std::future<Tried>& one : running) {
        all.push_back(one.get().learned);
    }
    const auto count = static_cast<double>(all.size());
    Learned out;
    out.mean = {};
    for (const Learned& one : all) {
        for (std::size_t i = 0; i < out.mean.size(); ++i) {
            out.mean[i] += one.mean[i] / count;
        }
    }
    for (const Learned& one : all) {
        for (std::size_t i = 0; i < out.mean.size(); ++i) {
            for (std::size_t k = 0; k < out.mean.size(); ++k) {
                const double apart = (one.mean[i] - out.mean[i]) * (one.mean[k] - out.mean[k]) / (count - 1.0);
                out.covariance[i][k] += (one.covariance[i][k] + apart) / count; // the mean of all strays less than each
            }
        }
    }
    return out;
}

RuledFactor factor(const Learned& learned, std::size_t i) {
    return {learned.mean[i], std::sqrt(std::max(0.0, learned.covariance[i][i]))};
}

/// From where the log began: where its first seconds are likeliest, or all of it where several are nearly as likely.
Tried best_start(const Scene& scene, const std::vector<LoggedLook>& log, const LogWayOptions& options, WayBy by,
                 const std::vector<StartPose>& starts) {
    constexpr double first_ms = 12'000.0;
    const auto behind = std::find_if(log.begin(), log.end(), [&](const LoggedLook& one) {
        return one.look.clock_ms - log.front().look.clock_ms > first_ms;
    });
    const auto first = static_cast<std::size_t>(behind - log.begin());
    const auto likelier = [](const Tried& a, const Tried& b) { return a.evidence < b.evidence; };
    std::vector<Tried> all;
    for (const StartPose& start : starts) {
        all.push_back(tried(scene, log, options, by, start, first));
    }
    const double best = std::max_element(all.begin(), all.end(), likelier)->evidence;
    constexpr double hardly = 60.0;
    std::erase_if(all, [&](const Tried& one) { return one.evidence < best - hardly; });
    if (all.size() == 1) {
        return all.front();
    }
    for (Tried& one : all) {
        one = tried(scene, log, options, by, {one.start, one.pose}, log.size());
    }
    return *std::max_element(all.begin(), all.end(), likelier);
}

} // namespace

std::optional<CourseRuler> rule_by_course(const Scene& scene, const std::vector<LoggedLook>& log,
                                          const LogWayOptions& options) {
    const WayBy by = way_by(scene.robot(), log);
    const Tried best = best_start(scene, log, options, by, starts_for(scene.course(), options));
    const Robot robot = corrected(scene.robot(), by, best.learned.mean);
    const Scene nearer(scene.course(), robot);
    LogWayOptions from = options;
    from.start = best.start;
    from.pose = best.pose;
    const LogWay way = log_way(nearer, log, from);
    const std::size_t looks = way.lost.value_or(log.size());
    const double seconds =
        (log[std::max<std::size_t>(looks, 1) - 1].look.clock_ms - log.front().look.clock_ms) / 1000.0;
    const double all_s = (log.back().look.clock_ms - log.front().look.clock_ms) / 1000.0;
    // On another course some way can be found, too, when speeds and wheels are free; but not one on which nearly all is
    // so.
    constexpr double least_s = 5.0;
    constexpr double least_share = 0.5;
    constexpr double least_alike = 0.95;
    if (seconds < std::max(least_s, least_share * all_s) || way.alike < least_alike) {
        return std::nullopt;
    }
    const Learned learned = learned_often(scene, log, options, by, {best.start, best.pose}, looks);
    CourseRuler out;
    out.by = by;
    out.left = factor(learned, 0);
    out.right = factor(learned, 1);
    out.turn = factor(learned, 2);
    const auto& c = learned.covariance;
    out.mean = {0.5 * (out.left.value + out.right.value),
                0.5 * std::sqrt(std::max(0.0, c[0][0] + c[1][1] + 2.0 * c[0][1]))};
    const double ratio = out.right.value / out.left.value;
    out.ratio = {ratio,
                 std::sqrt(std::max(0.0, c[1][1] + ratio * ratio * c[0][0] - 2.0 * ratio * c[0][1])) / out.left.value};
    out.start = best.start;
    out.looks = looks;
    out.seconds = seconds;
    out.alike = way.alike;
    return out;
}

} // namespace vast_turn
