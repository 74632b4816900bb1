#include "many/lane_group.hpp"

#include <algorithm>
#include <utility>

namespace vast_turn {

LaneGroup::LaneGroup(const Scene& scene, const Plan& plan, const TakeRun& take, std::size_t lanes)
    : scene_(scene), plan_(plan), names_(asked_names(plan)), take_(take), lanes_(lanes) {}

void LaneGroup::add(std::size_t number, const RunOptions& options) {
    const auto l = static_cast<std::size_t>(std::find(on_.begin(), on_.end(), 0) - on_.begin());
    Lane& lane = lane_[l];
    lane.driver.reset();
    lane.ground = std::make_unique<const RunGround>(scene_, names_, options);
    lane.driver.emplace(*lane.ground);
    lane.mind.emplace(plan_, options.numbers);
    lane.told_here = false;
    lane.run = Run{};
    lane.number = number;
    Driver& driver = *lane.driver;
    driver.begin(lane.run);
    bodies_.put(l, driver.body_);
    motion_.put(l, driver.motion_);
    lane.queues = driver.by_chance_ || driver.delay_steps_ >= driver.look_steps_;
    commands_.put(
        l, lane.ground->scene.robot(), lane.ground->options.faults,
        {lane.queues ? LaneCommands::never : driver.delay_steps_, driver.longest_, driver.last_, driver.look_steps_});
    senses_.put(l, driver.surroundings_.turns());
    number_[l] = 0;
    step_ms_[l] = options.step_ms;
    settled_.middle_ahead[l] = driver.referee_.array_middle().x;
    settled_.middle_left[l] = driver.referee_.array_middle().y;
    on_[l] = 1;
    ++driving_;
    changed_ = true;
    look_at(l); // it may have been set down where it must not be
}

/// What can be done for all at once; what cannot for one of them is done for each alone.
void LaneGroup::find_plain() {
    if (!changed_) {
        return;
    }
    changed_ = false;
    plain_ = Plain{};
    for (std::size_t l = 0; l < lanes_wide; ++l) {
        if (is_on(l)) {
            const Driver& driver = *lane_[l].driver;
            plain_.motion = plain_.motion && !driver.drivetrain_;
            plain_.eyes = plain_.eyes && driver.eyes_.are_plain();
            plain_.senses = plain_.senses && !driver.by_chance_ && driver.surroundings_.are_plain() &&
                            driver.ground_->options.numbers == runtime::NumberKind::binary64;
            plain_.chances = plain_.chances && !driver.by_chance_;
            plain_.commands = plain_.commands && !lane_[l].queues;
        }
    }
    for (std::size_t l = 0; l < lanes_wide; ++l) {
        if (!is_on(l) || lane_[l].told_here == plain_.eyes) {
            continue;
        }
        lane_[l].told_here = plain_.eyes;
        if (plain_.eyes) {
            eyes_.put(l, lane_[l].driver->eyes_);
        } else {
            lane_[l].driver->eyes_.recall(eyes_.past(l));
        }
    }
}

/// To the Driver of a lane, which is asked for something now.
void LaneGroup::hand_over(std::size_t lane) {
    Driver& driver = *lane_[lane].driver;
    bodies_.get(lane, driver.body_);
    driver.step_ = commands_.step()[lane];
    driver.next_look_ = commands_.next_look(lane);
}

void LaneGroup::round() {
    find_plain();
    take_looks();
    drive_on();
}

void LaneGroup::take_looks() {
    std::array<Chances, lanes_wide> chances{};
    commands_.look(on_);
    looks_ = on_;
    if (!plain_.chances) {
        draw_chances(chances);
    }
    if (plain_.eyes) {
        eyes_.look(bodies_, number_, looks_);
    }
    if (plain_.senses) {
        Wide<double> time_s;
        for (std::size_t l = 0; l < lanes_wide; ++l) {
            time_s[l] = static_cast<double>(commands_.step()[l]) * (step_ms_[l] / 1000.0);
        }
        senses_.look(bodies_, time_s);
    }
    for (std::size_t l = 0; l < lanes_wide; ++l) {
        if (looks_[l] != 0) {
            take_look(l, chances[l]);
            decide(l);
        }
        ++number_[l];
    }
    commands_.send(looks_);
}

void LaneGroup::draw_chances(std::array<Chances, lanes_wide>& chances) {
    for (std::size_t l = 0; l < lanes_wide; ++l) {
        if (is_on(l)) {
            lane_[l].driver->look_number_ = number_[l];
            const std::optional<Chances> drawn = lane_[l].driver->begin_look();
            looks_[l] = drawn ? 1 : 0;
            chances[l] = drawn.value_or(Chances{});
        }
    }
}

/// Whatever of it is not done for all at once.
void LaneGroup::take_look(std::size_t lane, const Chances& chances) {
    Driver& driver = *lane_[lane].driver;
    if (!plain_.eyes || !plain_.senses) {
        hand_over(lane);
        driver.look_number_ = number_[lane] + 1;
    }
    if (plain_.eyes) {
        eyes_.get(lane, driver.look_, driver.record_);
    } else {
        driver.eyes_.look(driver.body_, driver.time_s(), number_[lane], driver.look_, driver.record_);
    }
    if (plain_.senses) {
        senses_.get(lane, driver.look_);
        driver.look_.clock_ms = static_cast<double>(commands_.step()[lane]) * step_ms_[lane];
    } else {
        driver.finish_look(chances);
    }
}

void LaneGroup::decide(std::size_t lane) {
    Lane& one = lane_[lane];
    Driver& driver = *one.driver;
    const Answer& answer = driver.answer_;
    (*one.mind)(driver.look_, driver.answer_);
    const RunOptions& options = one.ground->options;
    if (one.queues) {
        hand_over(lane);
        driver.answered(one.run);
    } else {
        commands_.give(lane, answer.left_pct, answer.right_pct);
        if (answer.events > 0 || options.keep_looks || options.keep_told) {
            hand_over(lane);
            driver.note_answer(one.run);
        } else {
            ++one.run.looks_done;
        }
    }
    if (answer.halted) {
        hand_over(lane);
        driver.finish_halted(one.run);
        give_away(lane);
    }
}

/// Until all have come to their next look.
void LaneGroup::drive_on() {
    motion_.at_look();
    for (;;) {
        if (!plain_.commands) {
            obey_queues();
        }
        if (!commands_.aim(on_, steps_)) {
            return;
        }
        move();
        watch();
    }
}

void LaneGroup::obey_queues() {
    for (std::size_t l = 0; l < lanes_wide; ++l) {
        if (is_on(l) && lane_[l].queues) {
            Driver& driver = *lane_[l].driver;
            driver.step_ = commands_.step()[l];
            driver.obey();
            commands_.queued(l, driver.wheels_.left_mm_s, driver.wheels_.right_mm_s,
                             driver.queue_.empty() ? LaneCommands::never : driver.queue_.next().at_step);
        }
    }
}

void LaneGroup::move() {
    if (plain_.motion) {
        motion_.advance(bodies_, steps_, commands_.left_mm_s(), commands_.right_mm_s());
    } else {
        for (std::size_t l = 0; l < lanes_wide; ++l) {
            if (steps_[l] != 0) {
                Driver& driver = *lane_[l].driver;
                hand_over(l);
                driver.wheels_.left_mm_s = commands_.left_mm_s()[l];
                driver.wheels_.right_mm_s = commands_.right_mm_s()[l];
                driver.move(static_cast<int>(steps_[l]), lane_[l].run);
                bodies_.put(l, driver.body_);
            }
        }
    }
    commands_.gone(steps_);
}

namespace {

/// Who has left the room that the referee gave.
VAST_TURN_WIDE void find_unsettled(const LaneBodies& bodies, const LaneGroup::Settled& settled,
                                   Wide<std::int64_t>& unsettled) {
    VAST_TURN_EACH_LANE
    for (std::size_t l = 0; l < lanes_wide; ++l) {
        const double x = bodies.x[l] - settled.x[l];
        const double y = bodies.y[l] - settled.y[l];
        const double array_x = bodies.x[l] + bodies.ahead_x[l] * settled.middle_ahead[l] +
                               bodies.ahead_y[l] * settled.middle_left[l] - settled.array_x[l];
        const double array_y = bodies.y[l] + bodies.ahead_y[l] * settled.middle_ahead[l] -
                               bodies.ahead_x[l] * settled.middle_left[l] - settled.array_y[l];
        const bool holds = x * x + y * y < settled.room2[l];
        const bool array_holds = array_x * array_x + array_y * array_y < settled.array_room2[l];
        unsettled[l] = holds && array_holds ? 0 : 1;
    }
}

} // namespace

/// Ends runs that must end.
void LaneGroup::watch() {
    Wide<std::int64_t> unsettled;
    find_unsettled(bodies_, settled_, unsettled);
    for (std::size_t l = 0; l < lanes_wide; ++l) {
        if (steps_[l] != 0 && (unsettled[l] != 0 || commands_.is_at_end(l))) {
            look_at(l);
        }
    }
}

void LaneGroup::look_at(std::size_t lane) {
    Lane& one = lane_[lane];
    hand_over(lane);
    if (one.driver->is_over(one.run)) {
        give_away(lane);
    } else {
        note_settled(lane);
    }
}

void LaneGroup::note_settled(std::size_t lane) {
    const auto square = [](double room) { return room > 0.0 ? room * room : -1.0; };
    const Referee& referee = lane_[lane].driver->referee_;
    const Referee::Settled& robot = referee.settled();
    settled_.x[lane] = robot.at.x;
    settled_.y[lane] = robot.at.y;
    settled_.room2[lane] = square(robot.room_mm);
    const Referee::Settled array = referee.array_settled();
    settled_.array_x[lane] = array.at.x;
    settled_.array_y[lane] = array.at.y;
    settled_.array_room2[lane] = square(array.room_mm);
}

void LaneGroup::give_away(std::size_t lane) {
    on_[lane] = 0;
    steps_[lane] = 0;
    --driving_;
    take_(lane_[lane].number, lane_[lane].run);
}

} // namespace vast_turn
