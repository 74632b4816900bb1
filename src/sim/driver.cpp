#include "sim/driver.hpp"

#include <algorithm>
#include <cmath>
#include <utility>

#include <fmt/format.h>

#include "vast_turn/base/noise.hpp"
#include "vast_turn/runtime/reckoning.hpp"

namespace vast_turn {

namespace {

constexpr double longest_unwatched_ms = 10.0; // the referee looks at least this often
constexpr double touches_apart_s = 0.5;

/// Whether something happens that does so in a share of cases, by a number drawn evenly.
bool happens(double share, std::uint16_t drawn) { return static_cast<double>(drawn) < share * 65536.0; }

std::int64_t steps_of(double ms, const RunGround& ground) { return std::llround(ms / ground.options.step_ms); }

} // namespace

Driver::Driver(const RunGround& ground)
    : ground_(&ground), step_s_(ground.options.step_ms / 1000.0),
      last_(static_cast<std::int64_t>(ground.options.time_limit_s * 1000.0 / ground.options.step_ms)),
      longest_(std::max<std::int64_t>(1, static_cast<std::int64_t>(longest_unwatched_ms / ground.options.step_ms))),
      motion_(ground.scene.robot(), ground.options.step_ms), referee_(ground),
      look_steps_(std::max<std::int64_t>(
          1, whole_steps(ground.scene.robot().look_ms, ground.options.step_ms, "the loop period"))),
      delay_steps_(whole_steps(ground.scene.robot().delay_ms, ground.options.step_ms, "the delay")),
      eyes_(ground.scene, ground.calibration, ground.seed, ground.options.faults, ground.day, ground.options.numbers),
      surroundings_(ground), late_steps_(steps_of(ground.scene.robot().late_ms, ground)),
      varies_steps_(steps_of(ground.scene.robot().delay_varies_ms, ground)),
      by_chance_(leaves_to_chance(ground.scene.robot())), start_heading_deg_(ground.start.pose.heading_deg),
      queue_((delay_steps_ + late_steps_ + varies_steps_) / look_steps_ + 2) {
    const Robot& robot = ground.scene.robot();
    if (robot.drive) {
        drivetrain_.emplace(robot, ground.options.step_ms);
        beside_mm_ = Outline(robot).reach_mm() + 5.0 + 2.0 * robot.top_speed_mm_s * longest_unwatched_ms / 1000.0;
    }
    body_.at = ground.start.pose.at;
    body_.ahead = direction(start_heading_deg_);
}

void Driver::begin(Run& run) const {
    const RunOptions& options = ground_->options;
    run.start = ground_->start.name;
    run.seed = options.seed;
    run.day = options.day;
    run.calibration = ground_->calibration;
    if (options.keep_looks) {
        run.looks.reserve(static_cast<std::size_t>(std::min<std::int64_t>(last_ / look_steps_ + 1, 1 << 16)));
    }
}

bool Driver::is_over(Run& run) {
    if (referee_.look_at(body_, seconds(step_), run)) {
        finish(run, referee_.verdict().ending, referee_.verdict().because);
        return true;
    }
    if (step_ >= last_) {
        finish(run, Ending::time_over, fmt::format("the time of {:g} s was over", ground_->options.time_limit_s));
        return true;
    }
    return false;
}

bool Driver::to_look(Run& run) {
    if (at_look_ && answer_.halted) {
        finish_halted(run);
        return false;
    }
    if (at_look_) {
        at_look_ = false;
        go_on(run);
    }
    for (;; go_on(run)) {
        if (is_over(run)) {
            return false;
        }
        if (step_ == next_look_) {
            next_look_ += look_steps_;
            at_look_ = take_look();
            if (at_look_) {
                return true;
            }
        }
    }
}

/// Unless it is lost.
bool Driver::take_look() {
    const std::optional<Chances> chances = begin_look();
    if (!chances) {
        return false;
    }
    eyes_.look(body_, seconds(step_), look_number_ - 1, look_, record_);
    finish_look(*chances);
    return true;
}

/// Counts it; none when it is lost.
std::optional<Chances> Driver::begin_look() {
    const std::uint64_t number = look_number_++;
    const Chances chances{by_chance_ ? random_draw(ground_->seed, Stream::looks, number) : Draw{}};
    if (happens(ground_->scene.robot().lost_often, chances.lost())) {
        return std::nullopt;
    }
    return chances;
}

/// All but the line sensors.
void Driver::finish_look(const Chances& chances) {
    const Robot& robot = ground_->scene.robot();
    const RunOptions& options = ground_->options;
    look_.clock_ms = static_cast<double>(step_) * options.step_ms;
    if (options.numbers == runtime::NumberKind::binary32) {
        look_.clock_ms = clock_ms<runtime::Binary32>(static_cast<std::uint64_t>(std::llround(1000.0 * look_.clock_ms)));
    }
    surroundings_.look(body_, seconds(step_), look_number_ - 1, chances, referee_.things(), look_);
    late_by_ = (happens(robot.late_often, chances.late()) ? late_steps_ : 0) +
               varies_steps_ * chances.delay() / 65536; // anything up to that, evenly
}

void Driver::answered(Run& run) {
    const WheelSpeeds speeds =
        wheel_targets(ground_->scene.robot(), ground_->options.faults, answer_.left_pct, answer_.right_pct);
    queue_.put({step_ + delay_steps_ + late_by_, speeds.left_mm_s, speeds.right_mm_s});
    note_answer(run);
}

void Driver::note_answer(Run& run) {
    ++run.looks_done;
    note_events(seconds(step_), run);
    if (ground_->options.keep_told) {
        run.told.push_back(look_);
    }
    if (ground_->options.keep_looks) {
        run.looks.push_back(record());
    }
}

void Driver::note_events(double t_s, Run& run) {
    for (int i = 0; i < answer_.events; ++i) {
        const Event event = answer_.event[i];
        if (event.kind == EventKind::unanswered) {
            ++run.unanswered; // too many to list one by one; the looks show each
        } else {
            run.events.push_back({t_s, body_.at, event});
        }
    }
}

LookRecord Driver::record() const {
    LookRecord record = record_; // raw counts and bits
    record.t_s = seconds(step_);
    record.at = body_.at;
    record.heading_deg = static_cast<float>(start_heading_deg_ + to_degrees(body_.turned_rad));
    record.way_mm = static_cast<float>(body_.way_mm);
    record.left_pct = static_cast<float>(answer_.left_pct);
    record.right_pct = static_cast<float>(answer_.right_pct);
    record.block = answer_.block;
    record.markers = look_.markers;
    record.range_mm = static_cast<float>(look_.range_mm);
    record.rule = answer_.rule;
    return record;
}

/// The step at which something is to be done next, once the motors have what has reached them.
std::int64_t Driver::next_moment() {
    obey();
    const std::int64_t until = std::min({next_look_, last_, step_ + longest_});
    return queue_.empty() ? until : std::min(until, queue_.next().at_step);
}

void Driver::go_on(Run& run) {
    const std::int64_t until = next_moment();
    move(static_cast<int>(until - step_), run);
    step_ = until;
}

void Driver::move(int steps, Run& run) {
    if (!drivetrain_) {
        motion_.advance(body_, steps, wheels_.left_mm_s, wheels_.right_mm_s);
        return;
    }
    if (!ground_->options.touch_ends) {
        drivetrain_->beside(near_by(ground_->scene.course(), referee_.things(), body_.at, beside_mm_, seconds(step_)));
    }
    drivetrain_->advance(body_, steps, wheels_.left_mm_s, wheels_.right_mm_s);
    note_touches(run);
}

void Driver::note_touches(Run& run) {
    const std::vector<Thing>& things = ground_->things;
    for (const Meeting& meeting : drivetrain_->pressed()) {
        double& last_s = touched_s_.emplace(meeting.what, -HUGE_VAL).first->second;
        if (seconds(step_) - last_s > touches_apart_s) {
            run.touches.push_back(
                {seconds(step_), meeting.at, meeting.what < things.size() ? things[meeting.what].name : ""});
        }
        last_s = seconds(step_);
    }
}

/// Gives the motors what has reached them by now.
void Driver::obey() {
    while (!queue_.empty() && queue_.next().at_step <= step_) {
        wheels_ = queue_.take();
    }
}

void Driver::finish(Run& run, Ending ending, std::string because) {
    run.ending = ending;
    run.ended_because = std::move(because);
    run.time_s = seconds(step_);
    run.way_mm = body_.path_mm;
    run.turned_deg = to_degrees(body_.turned_rad);
    run.end_at = body_.at;
    run.slid_s = drivetrain_ ? drivetrain_->slid_s() : 0.0;
}

Driver::Driver(const RunGround& ground, const Driver& other) : Driver(ground) {
    referee_.go_on_from(other.referee_);
    eyes_.go_on_from(other.eyes_);
    surroundings_.go_on_from(other.surroundings_);
    if (drivetrain_ && other.drivetrain_) {
        drivetrain_->go_on_from(*other.drivetrain_);
    }
    touched_s_ = other.touched_s_;
    look_number_ = other.look_number_;
    step_ = other.step_;
    next_look_ = other.next_look_;
    at_look_ = other.at_look_;
    late_by_ = other.late_by_;
    body_ = other.body_;
    start_heading_deg_ = other.start_heading_deg_;
    look_ = other.look_;
    record_ = other.record_;
    answer_ = other.answer_;
    wheels_ = other.wheels_;
    // What is on its way gets there when it would have.
    queue_ = other.queue_.with_room_of(queue_);
    const AskedNames& then = other.ground_->names;
    if (at_look_ && (then.markers != ground.names.markers || then.places != ground.names.places)) {
        surroundings_.colours_anew(body_, time_s(), look_number_ - 1, look_);
    }
}

std::size_t Driver::memory_bytes() const {
    return sizeof(Driver) + eyes_.memory_bytes() + queue_.room() * sizeof(Command);
}

} // namespace vast_turn
