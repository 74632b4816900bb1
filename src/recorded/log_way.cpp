#include "vast_turn/recorded/log_way.hpp"

#include <algorithm>
#include <cmath>
#include <deque>

#include <fmt/format.h>

#include "recorded/seen_on_map.hpp"
#include "recorded/way_filter.hpp"
#include "vast_turn/base/problem.hpp"

namespace vast_turn {

namespace {

bool any_of(const std::vector<LoggedLook>& log, double Look::*field) {
    return std::any_of(log.begin(), log.end(), [&](const LoggedLook& one) { return std::abs(one.look.*field) > 0.0; });
}

/// A second in which less than this of what is seen is so on the map is none on this way.
constexpr double least_alike = 0.7;
/// Line and floor along the way as the map has them, and where they are so no longer.
void judge(const Scene& scene, const std::vector<LoggedLook>& log, LogWay& way) {
    const Robot& robot = scene.robot();
    const SeenOnMap map(scene);
    std::vector<double> alike(log.size());
    for (std::size_t i = 0; i < log.size(); ++i) {
        const Vec2 ahead = direction(way.poses[i].heading_deg);
        int same = 0;
        for (std::size_t k = 0; k < robot.sensors.size(); ++k) {
            const double read = map.reading(k, way.poses[i].at, ahead);
            // At an edge either is so.
            const bool is_line = ((log[i].look.line_bits >> k) & 1) != 0;
            same += (is_line ? read > 0.3 : read < 0.7) ? 1 : 0;
        }
        alike[i] = same / static_cast<double>(robot.sensors.size());
    }
    const double second_ms = 1000.0;
    std::deque<std::size_t> window;
    double sum = 0.0;
    way.alike_worst = 1.0;
    for (std::size_t i = 0; i < log.size(); ++i) {
        window.push_back(i);
        sum += alike[i];
        while (log[i].look.clock_ms - log[window.front()].look.clock_ms > second_ms) {
            sum -= alike[window.front()];
            window.pop_front();
        }
        const double share = sum / static_cast<double>(window.size());
        const bool is_whole = log[i].look.clock_ms - log[window.front()].look.clock_ms > 0.8 * second_ms;
        if (is_whole && !way.lost) {
            way.alike_worst = std::min(way.alike_worst, share);
            if (share < least_alike) {
                way.lost = window.front();
            }
        }
    }
    const std::size_t end = std::max<std::size_t>(way.lost.value_or(log.size()), 1);
    double total = 0.0;
    for (std::size_t i = 0; i < end; ++i) {
        total += alike[i];
    }
    way.alike = total / static_cast<double>(end);
}

/// Of the starts those from which the first looks are no less likely than a little less than from the best.
void keep_likely(const Scene& scene, const std::vector<LoggedLook>& log, const LogWayOptions& options, WayBy by,
                 std::vector<StartPose>& starts) {
    constexpr double hardly = 40.0;
    const std::size_t looks = std::max<std::size_t>(300, log.size() / 5);
    std::vector<double> evidence;
    evidence.reserve(starts.size());
    for (const StartPose& start : starts) {
        evidence.push_back(WayFilter(scene, log, options, by, 1.0).evidence_of(start.pose, looks));
    }
    const double best = *std::max_element(evidence.begin(), evidence.end());
    std::vector<StartPose> likely;
    for (std::size_t i = 0; i < starts.size(); ++i) {
        if (evidence[i] > best - hardly) {
            likely.push_back(starts[i]);
        }
    }
    starts = std::move(likely);
}

} // namespace

WayBy way_by(const Robot& robot, const std::vector<LoggedLook>& log) {
    const bool wheels = any_of(log, &Look::left_deg) || any_of(log, &Look::right_deg);
    const bool gyro = robot.gyro.fitted && any_of(log, &Look::heading_by_gyro_deg);
    if (wheels) {
        return gyro ? WayBy::wheels_and_gyro : WayBy::wheels;
    }
    const bool powers =
        std::any_of(log.begin(), log.end(), [](const LoggedLook& one) { return one.left_pct && one.right_pct; });
    if (!powers) {
        throw InputError("", "the log tells neither of wheels nor of powers, so there is no way in it",
                         "log left_deg and right_deg, or left_pct and right_pct");
    }
    return WayBy::powers;
}

const char* words_of(WayBy by) {
    switch (by) {
    case WayBy::wheels: return "the wheels' turns";
    case WayBy::wheels_and_gyro: return "the wheels' turns and the gyro";
    case WayBy::powers: return "powers and the robot file";
    }
    return "";
}

std::vector<StartPose> starts_for(const Course& course, const LogWayOptions& options) {
    std::vector<StartPose> starts;
    if (options.pose) {
        starts.push_back({options.start, *options.pose});
    } else {
        std::vector<std::string> names;
        for (const StartPose& start : course.starts) {
            names.push_back(start.name);
            if (options.start.empty() || options.start == start.name) {
                starts.push_back(start);
            }
        }
        if (starts.empty()) {
            const std::string near = nearest(options.start, names);
            throw InputError(
                course.file,
                names.empty() ? "the course has no start" : fmt::format("the course has no start `{}`", options.start),
                near.empty() ? "give it one, or say where the run began" : fmt::format("did you mean {}?", near));
        }
    }
    return starts;
}

LogWay log_way(const Scene& scene, const std::vector<LoggedLook>& log, const LogWayOptions& options) {
    if (log.empty()) {
        throw InputError("", "the log has no look in it", "give it one row a look");
    }
    std::vector<StartPose> starts = starts_for(scene.course(), options);
    const WayBy by = way_by(scene.robot(), log);
    if (starts.size() > 1) {
        keep_likely(scene, log, options, by, starts);
    }
    std::optional<LogWay> best;
    double evidence = 0.0;
    const StartPose* from = nullptr;
    for (const StartPose& start : starts) {
        WayFilter filter(scene, log, options, by, 1.0);
        LogWay way = filter.run(start.pose);
        judge(scene, log, way);
        if (!best || filter.evidence() > evidence) {
            evidence = filter.evidence();
            way.start = start.name;
            best = std::move(way);
            from = &start;
        }
    }
    if (best->lost) { // more guesses, which err more, may find where it went on
        LogWayOptions wider = options;
        wider.guesses *= 3;
        LogWay again = WayFilter(scene, log, wider, by, 1.8).run(from->pose);
        judge(scene, log, again);
        if (!again.lost || *again.lost > *best->lost) {
            again.start = from->name;
            best = std::move(again);
        }
    }
    return *best;
}

} // namespace vast_turn
