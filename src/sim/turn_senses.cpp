#include "sim/turn_senses.hpp"

#include <algorithm>
#include <cmath>

#include "vast_turn/base/noise.hpp"
#include "vast_turn/runtime/reckoning.hpp"

namespace vast_turn {

namespace {

/// Neither too large nor too small, neither scrubbing nor sliding, and counted as finely as can be told.
bool has_true_wheels(const Robot& robot) {
    const auto is_one = [](double part) { return !(part < 1.0) && !(part > 1.0); };
    return !robot.drive && !(robot.encoders.counts > 0.0) && is_one(robot.motors.left.wheel) &&
           is_one(robot.motors.right.wheel) && is_one(robot.skid);
}

} // namespace

TurnSenses::TurnSenses(const Scene& scene, double start_heading_deg, runtime::NumberKind numbers)
    : scene_(scene), start_heading_deg_(start_heading_deg), degrees_per_mm_(360.0 / (pi * scene.robot().wheel_mm)),
      counts_true_(has_true_wheels(scene.robot())), computes_short_(numbers == runtime::NumberKind::binary32) {
    if (scene.robot().encoders.lost > 0.0) {
        constexpr std::size_t most_by_binomial = 256;
        for (double none = 1.0; none_lost_.size() <= most_by_binomial; none *= 1.0 - scene.robot().encoders.lost) {
            none_lost_.push_back(none);
        }
    }
}

bool TurnSenses::is_plain() const {
    const Robot& robot = scene_.robot();
    const bool gyro_plain =
        !(robot.gyro.wander_deg_s > 0.0) && !(robot.gyro.settles_ms > 0.0 && std::abs(robot.gyro.settling_deg_s) > 0.0);
    const bool compass_plain = scene_.course().irons.empty() && !(robot.compass.noise_deg > 0.0);
    return !computes_short_ && (!robot.encoders.fitted || counts_true_) && (!robot.gyro.fitted || gyro_plain) &&
           (!robot.compass.fitted || compass_plain);
}

/// How many of so many counts are lost, each by itself with this chance, by one even number: the inverse of the
/// binomial law; of very many that of the normal one.
double TurnSenses::lost_of(double counts, std::uint16_t drawn) const {
    const double share = scene_.robot().encoders.lost;
    if (counts >= static_cast<double>(none_lost_.size())) {
        const double about = counts * share;
        const double normal = NormalQuantile::table()(drawn);
        return std::clamp(std::round(about + std::sqrt(about * (1.0 - share)) * normal), 0.0, counts);
    }
    const double even = (static_cast<double>(drawn) + 0.5) / 65536.0;
    double just_so = none_lost_[static_cast<std::size_t>(counts)]; // the chance that `lost` are
    double so_many = just_so;                                      // that no more are
    double lost = 0.0;
    while (so_many < even && lost < counts) {
        just_so *= (counts - lost) / (lost + 1.0) * share / (1.0 - share);
        so_many += just_so;
        lost += 1.0;
    }
    return lost;
}

/// The way that the encoder of a wheel tells.
double TurnSenses::counted_mm(std::size_t wheel, double mm, const Chances& chances) {
    const Encoders& encoders = scene_.robot().encoders;
    if (!(encoders.counts > 0.0)) {
        return mm;
    }
    const double count_mm = 360.0 / (encoders.counts * degrees_per_mm_);
    const double all = std::floor(mm / count_mm);
    if (!(encoders.lost > 0.0)) {
        return count_mm * all;
    }
    Counted& counted = counted_[wheel];
    const double more = all - counted.all;
    const double lost = lost_of(std::abs(more), chances.counts_of(wheel));
    counted.all = all;
    counted.told += more > 0.0 ? more - lost : more + lost;
    return count_mm * counted.told;
}

/// They count turns of wheels, and know nothing of their size, nor that they scrub or slide.
void TurnSenses::encoders(const Body& body, const Chances& chances, Look& out) {
    const Robot& robot = scene_.robot();
    if (counts_true_) {
        const double half_turn_mm = 0.5 * robot.track_mm * body.turned_rad;
        out.left_deg = degrees_per_mm_ * (body.way_mm - half_turn_mm);
        out.right_deg = degrees_per_mm_ * (body.way_mm + half_turn_mm);
        return;
    }
    const double half_turn_mm = 0.5 * robot.skid_track_mm() * body.turned_rad;
    const double left_way_mm = robot.drive ? body.left_counted_mm : body.way_mm - half_turn_mm;
    const double right_way_mm = robot.drive ? body.right_counted_mm : body.way_mm + half_turn_mm;
    const double left_mm = counted_mm(0, left_way_mm / robot.motors.left.wheel, chances);
    const double right_mm = counted_mm(1, right_way_mm / robot.motors.right.wheel, chances);
    out.left_deg = degrees_per_mm_ * left_mm;
    out.right_deg = degrees_per_mm_ * right_mm;
}

/// What the robot makes of it.
template <class Numbers> void TurnSenses::reckon(Look& out) const {
    const Robot& robot = scene_.robot();
    const WheelReckoning<Numbers> wheels(robot.wheel_mm, robot.track_mm);
    if (robot.encoders.fitted) {
        out.left_deg = Numbers::kept(out.left_deg);
        out.right_deg = Numbers::kept(out.right_deg);
        out.way_mm = wheels.way_mm(out.left_deg, out.right_deg);
        out.heading_by_wheels_deg = wheels.heading_deg(out.left_deg, out.right_deg);
    }
    out.heading_deg = robot.gyro.fitted      ? out.heading_by_gyro_deg
                      : robot.compass.fitted ? out.heading_by_compass_deg
                                             : out.heading_by_wheels_deg;
}

double TurnSenses::gyro_deg(double turned_deg, double t_s, const Chances& chances) {
    const Gyro& gyro = scene_.robot().gyro;
    double told = gyro.scale * turned_deg + gyro.drift_deg_s * t_s;
    if (gyro.settles_ms > 0.0 && std::abs(gyro.settling_deg_s) > 0.0) { // the integral of a drift that dies away
        const double lag_s = gyro.settles_ms / 1000.0;
        told -= gyro.settling_deg_s * lag_s * std::expm1(-t_s / lag_s);
    }
    if (gyro.wander_deg_s > 0.0) {
        const double step_s = t_s - gyro_seen_s_;
        gyro_seen_s_ = t_s;
        const double normal = NormalQuantile::table()(chances.gyro());
        const double more = gyro.wander_deg_s * std::sqrt(step_s / 60.0) * normal;
        strayed_deg_ += (wandered_deg_s_ + 0.5 * more) * step_s;
        wandered_deg_s_ += more;
    }
    return told + strayed_deg_;
}

double TurnSenses::compass_deg(const Body& body, double turned_deg, const Chances& chances) const {
    const Compass& compass = scene_.robot().compass;
    double told = start_heading_deg_ + turned_deg + compass.bias_deg;
    if (!scene_.course().irons.empty()) {
        told -= turned_aside_deg(scene_.course().irons, body.at);
    }
    if (compass.noise_deg > 0.0) {
        told += compass.noise_deg * NormalQuantile::table()(chances.compass());
    }
    return told;
}

void TurnSenses::look(const Body& body, double t_s, const Chances& chances, Look& out) {
    const Robot& robot = scene_.robot();
    const double turned_deg = to_degrees(body.turned_rad);
    if (robot.encoders.fitted) {
        encoders(body, chances, out);
    }
    if (robot.gyro.fitted) {
        out.heading_by_gyro_deg = gyro_deg(turned_deg, t_s, chances);
    }
    if (robot.compass.fitted) {
        out.heading_by_compass_deg = compass_deg(body, turned_deg, chances);
    }
    computes_short_ ? reckon<runtime::Binary32>(out) : reckon<runtime::Binary64>(out);
}

} // namespace vast_turn
