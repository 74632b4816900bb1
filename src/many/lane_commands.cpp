#include "many/lane_commands.hpp"

#include <cmath>

namespace vast_turn {

void LaneCommands::put(std::size_t lane, const Robot& robot, const Faults& faults, const Times& times) {
    const auto factor = [](const MotorFault& fault) { return fault.reversed ? -fault.strength : fault.strength; };
    all_.left.gain[lane] = robot.motors.left.gain;
    all_.left.wheel[lane] = robot.motors.left.wheel;
    all_.left.factor[lane] = factor(faults.left);
    all_.right.gain[lane] = robot.motors.right.gain;
    all_.right.wheel[lane] = robot.motors.right.wheel;
    all_.right.factor[lane] = factor(faults.right);
    all_.top_mm_s[lane] = robot.top_speed_mm_s;
    all_.dead_band_pct[lane] = robot.motors.dead_band_pct;
    all_.swapped[lane] = faults.motors_swapped ? 1 : 0;
    all_.queued[lane] = times.delay == never ? 1 : 0;
    all_.delay[lane] = times.delay == never ? 0 : times.delay;
    all_.longest[lane] = times.longest;
    all_.last[lane] = times.last;
    all_.between_looks[lane] = times.between_looks;
    all_.step[lane] = all_.next_look[lane] = 0;
    all_.due[lane] = never;
    all_.left_mm_s[lane] = all_.right_mm_s[lane] = 0.0;
}

namespace {

using Commands = LaneCommands::Numbers;

[[gnu::always_inline]] inline double target(const LaneCommands::Motors& motors, double top_mm_s, double dead_band_pct,
                                            double pct, std::size_t l) {
    const double above = pct < -100.0 ? -100.0 : pct;
    const double power = 100.0 < above ? 100.0 : above;
    const double speed = power / 100.0 * motors.gain[l] * motors.wheel[l] * top_mm_s;
    const double settled = std::abs(power) < dead_band_pct ? 0.0 : speed;
    return motors.factor[l] * settled;
}

VAST_TURN_WIDE void send_all(Commands& all, const Wide<std::int64_t>& looked) {
    VAST_TURN_EACH_LANE
    for (std::size_t l = 0; l < lanes_wide; ++l) {
        const double left_pct = all.left_pct[l];
        const double right_pct = all.right_pct[l];
        const bool swapped = all.swapped[l] != 0;
        const double to_left = swapped ? right_pct : left_pct;
        const double to_right = swapped ? left_pct : right_pct;
        const double top = all.top_mm_s[l];
        const double dead = all.dead_band_pct[l];
        const double left = target(all.left, top, dead, to_left, l);
        const double right = target(all.right, top, dead, to_right, l);
        const std::int64_t at = all.step[l] + all.delay[l];
        const bool goes = looked[l] != 0 && all.queued[l] == 0;
        all.due[l] = goes ? at : all.due[l];
        all.due_left_mm_s[l] = goes ? left : all.due_left_mm_s[l];
        all.due_right_mm_s[l] = goes ? right : all.due_right_mm_s[l];
    }
}

VAST_TURN_WIDE bool aim_all(Commands& all, const Wide<std::int64_t>& on, Wide<std::int64_t>& steps) {
    std::int64_t any = 0;
    VAST_TURN_EACH_LANE
    for (std::size_t l = 0; l < lanes_wide; ++l) {
        const std::int64_t step = all.step[l];
        const std::int64_t next_look = all.next_look[l];
        const bool drives = on[l] != 0 && step < next_look;
        const bool obeys = drives && all.due[l] <= step;
        all.left_mm_s[l] = obeys ? all.due_left_mm_s[l] : all.left_mm_s[l];
        all.right_mm_s[l] = obeys ? all.due_right_mm_s[l] : all.right_mm_s[l];
        const std::int64_t due = obeys ? LaneCommands::never : all.due[l];
        all.due[l] = due;
        const std::int64_t most = step + all.longest[l];
        const std::int64_t last = all.last[l];
        const std::int64_t first = next_look < last ? next_look : last;
        const std::int64_t second = most < due ? most : due;
        const std::int64_t until = first < second ? first : second;
        const std::int64_t went = drives ? until - step : 0;
        steps[l] = went;
        any |= went;
    }
    return any != 0;
}

} // namespace

void LaneCommands::send(const Wide<std::int64_t>& looked) { send_all(all_, looked); }

bool LaneCommands::aim(const Wide<std::int64_t>& on, Wide<std::int64_t>& steps) { return aim_all(all_, on, steps); }

void LaneCommands::gone(const Wide<std::int64_t>& steps) {
    for (std::size_t l = 0; l < lanes_wide; ++l) {
        all_.step[l] += steps[l];
    }
}

void LaneCommands::look(const Wide<std::int64_t>& on) {
    for (std::size_t l = 0; l < lanes_wide; ++l) {
        all_.next_look[l] += on[l] != 0 ? all_.between_looks[l] : 0;
    }
}

} // namespace vast_turn
