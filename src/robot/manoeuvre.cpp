#include "vast_turn/robot/manoeuvre.hpp"

#include <cmath>
#include <limits>

#include <fmt/format.h>

#include "vast_turn/base/geometry.hpp"
#include "vast_turn/robot/wheel_speeds.hpp"

namespace vast_turn {

namespace {

bool nearly(double a, double b, double within) { return std::abs(a - b) <= within; }

ManoeuvreKind kind_of(const WheelSpeeds& speeds, double radius, double track) {
    const double fastest = std::max(std::abs(speeds.left_mm_s), std::abs(speeds.right_mm_s));
    if (!(fastest > 0.0)) {
        return ManoeuvreKind::still;
    }
    if (radius > 20.0 * track) {
        return ManoeuvreKind::straight;
    }
    if (nearly(speeds.left_mm_s, 0.0, 1e-9) || nearly(speeds.right_mm_s, 0.0, 1e-9)) {
        return ManoeuvreKind::pivot;
    }
    if (radius < 0.05 * track) {
        return ManoeuvreKind::rotate;
    }
    return radius < 0.5 * track ? ManoeuvreKind::turn : ManoeuvreKind::arc;
}

} // namespace

Manoeuvre manoeuvre_of(const Robot& robot, double left_pct, double right_pct) {
    const WheelSpeeds speeds = settled_speeds(robot, {}, left_pct, right_pct);
    Manoeuvre out;
    out.speed_mm_s = 0.5 * (speeds.left_mm_s + speeds.right_mm_s);
    const double turn = (speeds.right_mm_s - speeds.left_mm_s) / robot.skid_track_mm();
    out.turn_deg_s = to_degrees(turn);
    out.backwards = out.speed_mm_s < 0.0;
    const double infinite = std::numeric_limits<double>::infinity();
    out.radius_mm = turn > 0.0 || turn < 0.0 ? std::abs(out.speed_mm_s / turn) : infinite;
    out.side = turn > 0.0 ? 1 : (turn < 0.0 ? -1 : 0);
    out.kind = kind_of(speeds, out.radius_mm, robot.skid_track_mm());
    if (out.kind == ManoeuvreKind::rotate || out.kind == ManoeuvreKind::still) {
        out.radius_mm = 0.0;
    }
    return out;
}

std::string to_text(const Manoeuvre& m) {
    const char* side = m.side > 0 ? "left" : "right";
    const char* back = m.backwards ? "backwards, " : "";
    switch (m.kind) {
    case ManoeuvreKind::still: return "still";
    case ManoeuvreKind::straight: {
        const std::string way = m.backwards ? "straight back" : "straight";
        return m.side == 0 ? way : fmt::format("{}, drifting {}", way, side);
    }
    case ManoeuvreKind::arc: return fmt::format("{}{}, radius {:.0f} mm", back, side, m.radius_mm);
    case ManoeuvreKind::pivot: return fmt::format("{}pivots {}", back, side);
    case ManoeuvreKind::turn: return fmt::format("{}turns {}, radius {:.0f} mm", back, side, m.radius_mm);
    case ManoeuvreKind::rotate: return fmt::format("rotates {}", side);
    }
    return "";
}

} // namespace vast_turn
