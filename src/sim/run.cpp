#include "vast_turn/sim/run.hpp"

#include <algorithm>
#include <cmath>
#include <map>

#include <fmt/format.h>

#include "sim/chances.hpp"
#include "sim/drivetrain.hpp"
#include "sim/eyes.hpp"
#include "sim/referee.hpp"
#include "sim/surroundings.hpp"
#include "vast_turn/base/noise.hpp"
#include "vast_turn/plan/mind.hpp"
#include "vast_turn/robot/day.hpp"
#include "vast_turn/runtime/reckoning.hpp"
#include "vast_turn/sim/motion.hpp"

namespace vast_turn {

namespace {

constexpr double longest_unwatched_ms = 10.0; // the referee looks at least this often
constexpr double touches_apart_s = 0.5;

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

/// Wheel powers on their way to the motors.
struct Command {
    std::int64_t at_step = 0;
    double left_mm_s = 0.0;
    double right_mm_s = 0.0;
};

/// Commands in the order in which they were given. A ring with room for all that can be on the way.
class CommandQueue {
public:
    explicit CommandQueue(std::int64_t most) : ring_(static_cast<std::size_t>(most)) {}
    bool empty() const { return waiting_ == 0; }
    const Command& next() const { return ring_[first_]; }
    void put(const Command& command) {
        const std::size_t at = first_ + waiting_;
        ring_[at < ring_.size() ? at : at - ring_.size()] = command;
        ++waiting_;
    }
    Command take() {
        const Command command = ring_[first_];
        first_ = first_ + 1 == ring_.size() ? 0 : first_ + 1;
        --waiting_;
        return command;
    }

private:
    std::vector<Command> ring_;
    std::size_t first_ = 0;
    std::size_t waiting_ = 0;
};

class Driver {
public:
    Driver(const Scene& scene, const Decide& decide, const RunOptions& options, const AskedNames& names,
           const StartPose& start, const CourseDay& day)
        : scene_(scene), decide_(decide), options_(options), motion_(scene.robot(), options.step_ms),
          referee_(scene, options, day),
          look_steps_(
              std::max<std::int64_t>(1, whole_steps(scene.robot().look_ms, options.step_ms, "the loop period"))),
          delay_steps_(whole_steps(scene.robot().delay_ms, options.step_ms, "the delay")),
          eyes_(scene, calibration_of(scene, options), options.seed, options.faults, day, options.numbers),
          surroundings_(scene, options, names, referee_.things(), start.pose, day),
          late_steps_(std::llround(scene.robot().late_ms / options.step_ms)),
          varies_steps_(std::llround(scene.robot().delay_varies_ms / options.step_ms)),
          queue_((delay_steps_ + late_steps_ + varies_steps_) / look_steps_ + 2) {
        run_.start = start.name;
        run_.seed = options.seed;
        run_.calibration = calibration_of(scene, options);
        if (scene.robot().drive) {
            const Robot& robot = scene.robot();
            drivetrain_.emplace(robot, options.step_ms);
            beside_mm_ = Outline(robot).reach_mm() + 5.0 + 2.0 * robot.top_speed_mm_s * longest_unwatched_ms / 1000.0;
        }
        body_.at = start.pose.at;
        body_.ahead = direction(start.pose.heading_deg);
        start_heading_deg_ = start.pose.heading_deg;
    }

    Run go() {
        const auto last = static_cast<std::int64_t>(options_.time_limit_s * 1000.0 / options_.step_ms);
        const auto longest =
            std::max<std::int64_t>(1, static_cast<std::int64_t>(longest_unwatched_ms / options_.step_ms));
        if (options_.keep_looks) {
            run_.looks.reserve(static_cast<std::size_t>(std::min<std::int64_t>(last / look_steps_ + 1, 1 << 16)));
        }
        std::int64_t next_look = 0;
        for (std::int64_t step = 0;;) {
            if (referee_.look_at(body_, seconds(step), run_)) {
                return finish(step, referee_.verdict().ending, referee_.verdict().because);
            }
            if (step >= last) {
                return finish(step, Ending::time_over,
                              fmt::format("the time of {:g} s was over", options_.time_limit_s));
            }
            if (step == next_look) {
                look(step);
                next_look += look_steps_;
                if (answer_.halted) {
                    return finish(step, Ending::halted, "its decision logic said halt");
                }
            }
            obey(step);
            std::int64_t until = std::min({next_look, last, step + longest});
            if (!queue_.empty()) {
                until = std::min(until, queue_.next().at_step);
            }
            move(step, static_cast<int>(until - step));
            step = until;
        }
    }

private:
    double seconds(std::int64_t step) const { return static_cast<double>(step) * step_s_; }

    /// Whether something happens that does so in a share of cases, by a number drawn evenly.
    static bool happens(double share, std::uint16_t drawn) { return static_cast<double>(drawn) < share * 65536.0; }

    void look(std::int64_t step) {
        const Robot& robot = scene_.robot();
        const std::uint64_t number = look_number_++;
        const Chances chances{by_chance_ ? random_draw(options_.seed, Stream::looks, number) : Draw{}};
        if (happens(robot.lost_often, chances.lost())) {
            return;
        }
        const double t_s = seconds(step);
        LookRecord record;
        eyes_.look(body_, t_s, number, look_, record);
        look_.clock_ms = static_cast<double>(step) * options_.step_ms;
        if (options_.numbers == runtime::NumberKind::binary32) {
            look_.clock_ms =
                clock_ms<runtime::Binary32>(static_cast<std::uint64_t>(std::llround(1000.0 * look_.clock_ms)));
        }
        surroundings_.look(body_, t_s, number, chances, look_);
        ++run_.looks_done;
        decide_(look_, answer_);
        const WheelSpeeds speeds = wheel_targets(scene_.robot(), options_.faults, answer_.left_pct, answer_.right_pct);
        const std::int64_t late = (happens(robot.late_often, chances.late()) ? late_steps_ : 0) +
                                  varies_steps_ * chances.delay() / 65536; // anything up to that, evenly
        queue_.put({step + delay_steps_ + late, speeds.left_mm_s, speeds.right_mm_s});
        note_events(t_s);
        if (options_.keep_told) {
            run_.told.push_back(look_);
        }
        if (options_.keep_looks) {
            record.t_s = t_s;
            keep(record);
        }
    }

    void note_events(double t_s) {
        for (int i = 0; i < answer_.events; ++i) {
            const Event event = answer_.event[i];
            if (event.kind == EventKind::unanswered) {
                ++run_.unanswered; // too many to list one by one; the looks show each
            } else {
                run_.events.push_back({t_s, body_.at, event});
            }
        }
    }

    void keep(LookRecord& record) {
        record.at = body_.at;
        record.heading_deg = static_cast<float>(start_heading_deg_ + to_degrees(body_.turned_rad));
        record.way_mm = static_cast<float>(body_.way_mm);
        record.left_pct = static_cast<float>(answer_.left_pct);
        record.right_pct = static_cast<float>(answer_.right_pct);
        record.block = answer_.block;
        record.markers = look_.markers;
        record.range_mm = static_cast<float>(look_.range_mm);
        record.rule = answer_.rule;
        run_.looks.push_back(record);
    }

    void move(std::int64_t step, int steps) {
        if (drivetrain_) {
            if (!options_.touch_ends) {
                drivetrain_->beside(near_by(scene_.course(), referee_.things(), body_.at, beside_mm_, seconds(step)));
            }
            drivetrain_->advance(body_, steps, wheels_.left_mm_s, wheels_.right_mm_s);
            note_touches(step);
        } else {
            motion_.advance(body_, steps, wheels_.left_mm_s, wheels_.right_mm_s);
        }
    }

    void note_touches(std::int64_t step) {
        for (const Meeting& meeting : drivetrain_->pressed()) {
            const std::size_t things = scene_.course().things.size();
            double& last_s = touched_s_.emplace(meeting.what, -HUGE_VAL).first->second;
            if (seconds(step) - last_s > touches_apart_s) {
                run_.touches.push_back({seconds(step), meeting.at,
                                        meeting.what < things ? scene_.course().things[meeting.what].name : ""});
            }
            last_s = seconds(step);
        }
    }

    /// Gives the motors what has reached them by now.
    void obey(std::int64_t step) {
        while (!queue_.empty() && queue_.next().at_step <= step) {
            wheels_ = queue_.take();
        }
    }

    Run finish(std::int64_t step, Ending ending, std::string because) {
        run_.ending = ending;
        run_.ended_because = std::move(because);
        run_.time_s = seconds(step);
        run_.way_mm = body_.path_mm;
        run_.turned_deg = to_degrees(body_.turned_rad);
        run_.end_at = body_.at;
        run_.slid_s = drivetrain_ ? drivetrain_->slid_s() : 0.0;
        return std::move(run_);
    }

    const Scene& scene_;
    const Decide& decide_;
    const RunOptions& options_;
    Motion motion_;
    double beside_mm_ = 0.0; // what is farther away cannot be met in a move
    std::map<std::size_t, double> touched_s_;
    std::optional<Drivetrain> drivetrain_; // of a robot with weight, in place of the motion
    Referee referee_;
    std::int64_t look_steps_;
    std::int64_t delay_steps_;
    Eyes eyes_;
    Surroundings surroundings_;
    std::int64_t late_steps_;
    std::int64_t varies_steps_;
    bool by_chance_ = leaves_to_chance(scene_.robot());
    std::uint64_t look_number_ = 0;
    Body body_;
    double step_s_ = options_.step_ms / 1000.0;
    double start_heading_deg_ = 0.0;
    Look look_;
    Answer answer_;
    Command wheels_;
    CommandQueue queue_;
    Run run_;
};

bool is_ideal(const RunOptions& options) { return options.day == 0 && options.set.empty(); }

/// `options` with the seed of the noise.
Run drive_that_day(const Scene& scene, const Decide& decide, const RunOptions& options, std::uint64_t seed,
                   const AskedNames& names, const StartPose& start) {
    const Robot& robot = scene.robot();
    std::vector<DayValue> values;
    if (options.day > 0) {
        values = draw_day(robot.variation, seed, options.day, robot.sensors.size());
    }
    values.insert(values.end(), options.set.begin(), options.set.end());
    Robot today = on_day(robot, values);
    today.delay_ms = options.step_ms * std::round(today.delay_ms / options.step_ms);
    const Scene there = scene.driven_by(today);
    RunOptions own = options;
    own.calibration = calibration_of(scene, options); // made on an ideal day
    return Driver(there, decide, own, names, {start.name, set_down(start.pose, values)}, course_on_day(values)).go();
}

} // namespace

AskedNames asked_names(const Plan& plan) { return {plan.markers(), plan.places(), plan.heard()}; }

Run drive(const Scene& scene, const Decide& decide, const AskedNames& names, const RunOptions& options) {
    check(options);
    if (!options.touch_ends && !scene.robot().drive) {
        throw InputError(scene.robot().file,
                         fmt::format("only what weighs something is stopped by what it touches, and {} weighs nothing",
                                     scene.robot().name),
                         "give it a [drive], or let a touch end the run");
    }
    const StartPose start =
        options.pose ? StartPose{options.start, *options.pose} : start_of(scene.course(), options.start);
    RunOptions own = options;
    own.seed += (options.day > 0 ? options.day - 1 : 0) + options.again;
    Run run = is_ideal(options) ? Driver(scene, decide, own, names, start, {}).go()
                                : drive_that_day(scene, decide, own, options.seed, names, start);
    run.seed = options.seed;
    run.day = options.day;
    return run;
}

RunOptions nth_run(RunOptions options, std::uint64_t n) {
    (options.day > 0 ? options.day : options.seed) += n;
    return options;
}

RunOptions options_like(RunOptions options, const Run& run) {
    options.seed = run.seed;
    options.day = run.day;
    return options;
}

Run drive(const Scene& scene, const Decide& decide, const RunOptions& options) {
    return drive(scene, decide, AskedNames{}, options);
}

Run drive(const Scene& scene, const Plan& asks_as, const Decide& decide, const RunOptions& options) {
    check_fit(scene.robot(), asks_as);
    return drive(scene, decide, asked_names(asks_as), options);
}

Run drive(const Scene& scene, const Plan& plan, const RunOptions& options) {
    Mind mind(plan, options.numbers);
    return drive(scene, plan, Decide(std::ref(mind)), options);
}

std::vector<double> readings_of(const Run& run, const LookRecord& look) {
    std::vector<double> readings;
    for (std::size_t i = 0; i < run.calibration.sensors.size(); ++i) {
        readings.push_back(SensorScale(run.calibration.sensors[i]).reading(look.raw[i]));
    }
    return readings;
}

} // namespace vast_turn
