#pragma once

/// Points, vectors and headings in the course frame.
///
/// The course frame has its origin at the top left of the drawing, x to the right and y down, in
/// millimetres. A heading of 0 degrees points right and grows counter-clockwise as seen on the
/// drawing, so 90 degrees faces the top of the picture.

#include <cmath>
#include <utility>

namespace vast_turn {

/// Half the way round a circle of radius 1.
inline constexpr double pi = 3.14159265358979323846;

/// Degrees to radians.
constexpr double to_radians(double degrees) { return degrees * (pi / 180.0); }

/// Radians to degrees.
constexpr double to_degrees(double radians) { return radians * (180.0 / pi); }

/// A point or a displacement in millimetres.
struct Vec2 {
    double x = 0.0; ///< to the right on the drawing, mm
    double y = 0.0; ///< down on the drawing, mm

    friend constexpr bool operator==(const Vec2&, const Vec2&) = default;
};

/// Sums, multiples and products as usual.
constexpr Vec2 operator+(Vec2 a, Vec2 b) { return {a.x + b.x, a.y + b.y}; }
constexpr Vec2 operator-(Vec2 a, Vec2 b) { return {a.x - b.x, a.y - b.y}; }
constexpr Vec2 operator*(double k, Vec2 a) { return {k * a.x, k * a.y}; }
constexpr double dot(Vec2 a, Vec2 b) { return a.x * b.x + a.y * b.y; }

/// The z part of a x b; positive when b lies clockwise of a on the drawing (y points down).
constexpr double cross(Vec2 a, Vec2 b) { return a.x * b.y - a.y * b.x; }

/// mm of a displacement.
inline double length(Vec2 a) { return std::sqrt(dot(a, a)); }

/// A rectangle with sides along x and y.
struct Area {
    Vec2 from; ///< its top left
    Vec2 to;   ///< its bottom right

    /// Whether a point lies within or on its rim.
    constexpr bool holds(Vec2 p) const { return p.x >= from.x && p.x <= to.x && p.y >= from.y && p.y <= to.y; }
};

/// Where a robot stands and which way it faces.
struct Pose {
    Vec2 at;                  ///< the point midway between the wheels, mm
    double heading_deg = 0.0; ///< counter-clockwise from the right, degrees; does not wrap
};

/// A unit vector for a heading, y down.
inline Vec2 direction(double heading_deg) {
    const double a = to_radians(heading_deg);
    return {std::cos(a), -std::sin(a)};
}

/// Moves a point given in the robot frame (x ahead, y left, mm) into the course frame.
/// `ahead` is the robot's unit direction in the course frame.
constexpr Vec2 from_robot(Vec2 origin, Vec2 ahead, Vec2 in_robot) {
    return {origin.x + ahead.x * in_robot.x + ahead.y * in_robot.y,
            origin.y + ahead.y * in_robot.x - ahead.x * in_robot.y};
}

/// A displacement of the course frame as the robot sees it: x ahead, y to the left.
constexpr Vec2 into_robot(Vec2 ahead, Vec2 off) { return {dot(off, ahead), off.x * ahead.y - off.y * ahead.x}; }

/// Sine and cosine; of a small angle by their series, exact to the last bits.
inline std::pair<double, double> sine_and_cosine(double angle) {
    if (std::abs(angle) > 0.06) {
        return {std::sin(angle), std::cos(angle)};
    }
    const double q = angle * angle;
    return {angle * (1.0 - q * (1.0 / 6.0 - q * (1.0 / 120.0 - q * (1.0 / 5040.0)))),
            1.0 - q * (1.0 / 2.0 - q * (1.0 / 24.0 - q * (1.0 / 720.0 - q * (1.0 / 40320.0))))};
}

/// A direction turned counter-clockwise, y down.
constexpr Vec2 turned(Vec2 ahead, double sine, double cosine) {
    return {ahead.x * cosine + ahead.y * sine, ahead.y * cosine - ahead.x * sine};
}

/// Whether segments a-b and c-d cross, each strictly between the ends of the other.
constexpr bool segments_cross(Vec2 a, Vec2 b, Vec2 c, Vec2 d) {
    return cross(b - a, c - a) * cross(b - a, d - a) < 0.0 && cross(d - c, a - c) * cross(d - c, b - c) < 0.0;
}

/// The point of segment a-b that is nearest to p.
constexpr Vec2 nearest_on_segment(Vec2 p, Vec2 a, Vec2 b) {
    const Vec2 ab = b - a;
    const double squared = dot(ab, ab);
    if (squared <= 0.0) {
        return a;
    }
    double t = dot(p - a, ab) / squared;
    t = t < 0.0 ? 0.0 : (t > 1.0 ? 1.0 : t);
    return a + t * ab;
}

} // namespace vast_turn
