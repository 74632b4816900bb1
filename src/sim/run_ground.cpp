#include "sim/run_ground.hpp"

#include <cmath>
#include <utility>

#include <fmt/format.h>

namespace vast_turn {

namespace {

const StartPose& start_of(const Course& course, const std::string& name) {
    if (const StartPose* start = course.find_start(name)) {
        return *start;
    }
    std::vector<std::string> names;
    for (const StartPose& start : course.starts) {
        names.push_back(start.name);
    }
    if (names.empty()) {
        throw InputError(course.file, "the course has no start", "add a [[start]] with name, at_mm and heading_deg");
    }
    throw InputError(course.file, fmt::format("the course has no start \"{}\"{}", name, did_you_mean(name, names)),
                     fmt::format("its starts are {}", one_of(names)));
}

Calibration calibration_of(const Scene& scene, const RunOptions& options) {
    if (!options.calibration) {
        return scene.own_calibration();
    }
    if (options.calibration->sensors.size() != scene.robot().sensors.size()) {
        throw InputError("",
                         fmt::format("the calibration is for {} sensors, the robot has {}",
                                     options.calibration->sensors.size(), scene.robot().sensors.size()),
                         "calibrate with this robot");
    }
    return *options.calibration;
}

void check(const RunOptions& options) {
    const bool fine = options.step_ms > 0.0 && options.time_limit_s > 0.0 && options.lost_after_s > 0.0 &&
                      options.off_course_mm > 0.0 && std::isfinite(options.time_limit_s);
    if (!fine) {
        throw InputError("", "step, time limit, lost limit and off-course limit must be above 0",
                         "give them as positive numbers");
    }
}

bool is_ideal(const RunOptions& options) { return options.day == 0 && options.set.empty(); }

std::uint64_t own_seed(const RunOptions& options) {
    return options.seed + (options.day > 0 ? options.day - 1 : 0) + options.again;
}

std::vector<DayValue> values_of(const Scene& scene, const RunOptions& options) {
    check(options);
    std::vector<DayValue> values;
    if (options.day > 0) {
        values = draw_day(scene.robot().variation, options.seed, options.day, scene.robot().sensors.size());
    }
    for (const DayValue& set : options.set) { // in place of what the day drew, and of what was set before
        std::erase_if(values, [&set](const DayValue& one) { return one.what == set.what && one.sensor == set.sensor; });
        values.push_back(set);
    }
    return values;
}

std::optional<Robot> robot_today(const Scene& scene, const RunOptions& options, const std::vector<DayValue>& values) {
    if (is_ideal(options)) {
        return std::nullopt;
    }
    Robot today = on_day(scene.robot(), values);
    today.delay_ms = options.step_ms * std::round(today.delay_ms / options.step_ms);
    return today;
}

StartPose start_today(const Scene& scene, const RunOptions& options, const std::vector<DayValue>& values) {
    StartPose start = options.pose ? StartPose{options.start, *options.pose} : start_of(scene.course(), options.start);
    if (!is_ideal(options)) {
        start.pose = set_down(start.pose, values);
    }
    return start;
}

std::vector<Thing> all_things(const Scene& scene, const RunOptions& options) {
    std::vector<Thing> things = scene.course().things;
    things.insert(things.end(), options.more_things.begin(), options.more_things.end());
    return things;
}

} // namespace

std::int64_t whole_steps(double ms, double step_ms, const char* what) {
    const double steps = ms / step_ms;
    const double rounded = std::round(steps);
    if (!(std::abs(steps - rounded) <= 1e-9 * std::max(1.0, steps))) {
        throw InputError(
            "", fmt::format("{} of {:g} ms is no whole number of simulation steps of {:g} ms", what, ms, step_ms),
            "choose a step that divides it, for example 0.5 ms");
    }
    return static_cast<std::int64_t>(rounded);
}

RunGround::RunGround(const Scene& on, AskedNames asked, const RunOptions& given)
    : values_(values_of(on, given)), today_(robot_today(on, given, values_)),
      scene(today_ ? on.driven_by(*today_) : on), options(given), seed(own_seed(given)), names(std::move(asked)),
      calibration(calibration_of(on, given)), start(start_today(on, given, values_)), day(course_on_day(values_)),
      things(all_things(on, given)) {
    if (!options.touch_ends && !scene.robot().drive) {
        throw InputError(scene.robot().file,
                         fmt::format("only what weighs something is stopped by what it touches, and {} weighs nothing",
                                     scene.robot().name),
                         "give it a [drive], or let a touch end the run");
    }
}

} // namespace vast_turn
