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
    lane.driver->begin(lane.run);
    bodies_.put(l, lane.driver->body_);
    motion_.put(l, lane.driver->motion_);
    left_mm_s_[l] = right_mm_s_[l] = 0.0;
    settled_.middle_ahead[l] = lane.driver->referee_.array_middle().x;
    settled_.middle_left[l] = lane.driver->referee_.array_middle().y;
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
            plain_.motion = plain_.motion && !lane_[l].driver->drivetrain_;
            plain_.eyes = plain_.eyes && lane_[l].driver->eyes_.are_plain();
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

void LaneGroup::round() {
    find_plain();
    take_looks();
    decide();
    drive_on();
}

void LaneGroup::take_looks() {
    std::array<Chances, lanes_wide> chances;
    for (std::size_t l = 0; l < lanes_wide; ++l) {
        looks_[l] = 0;
        if (is_on(l)) {
            Driver& driver = *lane_[l].driver;
            driver.next_look_ += driver.look_steps_;
            number_[l] = driver.look_number_;
            const std::optional<Chances> drawn = driver.begin_look();
            looks_[l] = driver.at_look_ = drawn.has_value();
            chances[l] = drawn.value_or(Chances{});
        }
    }
    if (plain_.eyes) {
        eyes_.look(bodies_, number_, looks_);
    }
    for (std::size_t l = 0; l < lanes_wide; ++l) {
        if (looks_[l] != 0) {
            take_look(l, chances[l]);
        }
    }
}

/// Whatever of it is not done for all at once.
void LaneGroup::take_look(std::size_t lane, const Chances& chances) {
    Driver& driver = *lane_[lane].driver;
    bodies_.get(lane, driver.body_);
    if (plain_.eyes) {
        eyes_.get(lane, driver.look_, driver.record_);
    } else {
        driver.eyes_.look(driver.body_, driver.time_s(), number_[lane], driver.look_, driver.record_);
    }
    driver.finish_look(chances);
}

void LaneGroup::decide() {
    for (std::size_t l = 0; l < lanes_wide; ++l) {
        if (looks_[l] != 0) {
            Lane& lane = lane_[l];
            (*lane.mind)(lane.driver->look_, lane.driver->answer_);
            lane.driver->answered(lane.run);
            if (lane.driver->answer_.halted) {
                lane.driver->finish_halted(lane.run);
                give_away(l);
            }
        }
    }
}

/// Until all have come to their next look.
void LaneGroup::drive_on() {
    motion_.at_look();
    while (aim()) {
        move();
        watch();
    }
}

/// The next moment at which something is to be done, for each; whether there is one before the next look.
bool LaneGroup::aim() {
    std::int64_t any = 0;
    for (std::size_t l = 0; l < lanes_wide; ++l) {
        steps_[l] = 0;
        if (is_on(l)) {
            Driver& driver = *lane_[l].driver;
            if (driver.step_ < driver.next_look_) {
                steps_[l] = driver.next_moment() - driver.step_;
                left_mm_s_[l] = driver.wheels_.left_mm_s;
                right_mm_s_[l] = driver.wheels_.right_mm_s;
                any |= steps_[l];
            }
        }
    }
    return any != 0;
}

void LaneGroup::move() {
    if (plain_.motion) {
        motion_.advance(bodies_, steps_, left_mm_s_, right_mm_s_);
    }
    for (std::size_t l = 0; l < lanes_wide; ++l) {
        if (steps_[l] == 0) {
            continue;
        }
        Driver& driver = *lane_[l].driver;
        if (!plain_.motion) {
            bodies_.get(l, driver.body_);
            driver.move(static_cast<int>(steps_[l]), lane_[l].run);
            bodies_.put(l, driver.body_);
        }
        driver.step_ += steps_[l];
    }
}

namespace {

/// Who has left the room that the referee gave.
VAST_TURN_WIDE void find_unsettled(const LaneBodies& bodies, const LaneGroup::Settled& settled,
                                   Wide<std::int64_t>& unsettled) {
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
        if (steps_[l] != 0 && (unsettled[l] != 0 || lane_[l].driver->step_ >= lane_[l].driver->last_)) {
            look_at(l);
        }
    }
}

void LaneGroup::look_at(std::size_t lane) {
    Lane& one = lane_[lane];
    bodies_.get(lane, one.driver->body_);
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
