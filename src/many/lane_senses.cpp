#include "many/lane_senses.hpp"

#include "vast_turn/runtime/reckoning.hpp"

namespace vast_turn {

void LaneSenses::put(std::size_t lane, const TurnSenses& senses) {
    const Robot& robot = senses.scene_.robot();
    const WheelReckoning<> wheels(robot.wheel_mm, robot.track_mm);
    fitted_[lane] = {robot.encoders.fitted, robot.gyro.fitted, robot.compass.fitted};
    all_.degrees_per_mm[lane] = senses.degrees_per_mm_;
    all_.track_mm[lane] = robot.track_mm;
    all_.way_per_deg[lane] = wheels.way_per_deg();
    all_.turn_per_deg[lane] = wheels.turn_per_deg();
    all_.gyro_scale[lane] = robot.gyro.scale;
    all_.gyro_drift[lane] = robot.gyro.drift_deg_s;
    all_.start_deg[lane] = senses.start_heading_deg_;
    all_.bias_deg[lane] = robot.compass.bias_deg;
}

namespace {

VAST_TURN_WIDE void tell_turns(const LaneBodies& bodies, const Wide<double>& time_s, LaneSenses::Numbers& all) {
    VAST_TURN_EACH_LANE
    for (std::size_t l = 0; l < lanes_wide; ++l) {
        const double half_turn_mm = 0.5 * all.track_mm[l] * bodies.turned_rad[l];
        const double left_deg = all.degrees_per_mm[l] * (bodies.way_mm[l] - half_turn_mm);
        const double right_deg = all.degrees_per_mm[l] * (bodies.way_mm[l] + half_turn_mm);
        const double turned_deg = to_degrees(bodies.turned_rad[l]);
        all.left_deg[l] = left_deg;
        all.right_deg[l] = right_deg;
        all.way_mm[l] = (left_deg + right_deg) * all.way_per_deg[l];
        all.by_wheels_deg[l] = (right_deg - left_deg) * all.turn_per_deg[l];
        constexpr double strayed_deg = 0.0; // no chance; it makes 0 of -0
        all.by_gyro_deg[l] = all.gyro_scale[l] * turned_deg + all.gyro_drift[l] * time_s[l] + strayed_deg;
        all.by_compass_deg[l] = all.start_deg[l] + turned_deg + all.bias_deg[l];
    }
}

} // namespace

void LaneSenses::look(const LaneBodies& bodies, const Wide<double>& time_s) { tell_turns(bodies, time_s, all_); }

void LaneSenses::get(std::size_t lane, Look& look) const {
    const Fitted& fitted = fitted_[lane];
    if (fitted.encoders) {
        look.left_deg = all_.left_deg[lane];
        look.right_deg = all_.right_deg[lane];
        look.way_mm = all_.way_mm[lane];
        look.heading_by_wheels_deg = all_.by_wheels_deg[lane];
    }
    if (fitted.gyro) {
        look.heading_by_gyro_deg = all_.by_gyro_deg[lane];
    }
    if (fitted.compass) {
        look.heading_by_compass_deg = all_.by_compass_deg[lane];
    }
    look.heading_deg = fitted.gyro      ? look.heading_by_gyro_deg
                       : fitted.compass ? look.heading_by_compass_deg
                                        : look.heading_by_wheels_deg;
}

} // namespace vast_turn
