#include "course/graph/side_arm.hpp"

#include <algorithm>
#include <array>
#include <cmath>

#include "course/graph/line_shape.hpp"

namespace vast_turn {

namespace {

Vec2 of_length_1(Vec2 v) { return (1.0 / length(v)) * v; }

bool is_straight(const FittedArm& arm) { return !(length(arm.bend) > 0.0); }

/// The straight line of two arms, and which arm is the third.
struct ThroughLine {
    Vec2 at;
    Vec2 along;
    double half_width = 0.0;
    std::size_t side = 0;
};

std::optional<ThroughLine> through_line(const std::vector<ForkArm>& arms) {
    constexpr double most_turn_deg = 4.0;
    std::optional<ThroughLine> found;
    for (std::size_t side = 0; side < arms.size(); ++side) {
        const ForkArm& one = arms[(side + 1) % arms.size()];
        const ForkArm& other = arms[(side + 2) % arms.size()];
        if (is_straight(one.fit) && is_straight(other.fit) && turn_between(one.fit, other.fit) < most_turn_deg) {
            if (found) {
                return std::nullopt;
            }
            found = ThroughLine{one.fit.at, of_length_1(other.fit.at - one.fit.at),
                                0.25 * (one.width_mm + other.width_mm), side};
        }
    }
    return found;
}

/// By least squares of y over x.
struct StraightFit {
    double at_0 = 0.0;
    double slope = 0.0;
    double rms = 0.0;
};

StraightFit straight_fit(const std::vector<Vec2>& points) {
    const auto n = static_cast<double>(points.size());
    Vec2 mean;
    for (const Vec2 p : points) {
        mean = mean + (1.0 / n) * p;
    }
    double xx = 0.0;
    double xy = 0.0;
    double yy = 0.0;
    for (const Vec2 p : points) {
        xx += (p.x - mean.x) * (p.x - mean.x);
        xy += (p.x - mean.x) * (p.y - mean.y);
        yy += (p.y - mean.y) * (p.y - mean.y);
    }
    const double slope = xx > 0.0 ? xy / xx : 0.0;
    return {mean.y - slope * mean.x, slope, std::sqrt(std::max(0.0, (yy - slope * xy) / n))};
}

} // namespace

std::optional<Vec2> side_arm_point(const LineMask& mask, const std::vector<ForkArm>& arms, Vec2 near) {
    const std::optional<ThroughLine> line = arms.size() == 3 ? through_line(arms) : std::nullopt;
    if (!line || is_straight(arms[line->side].fit)) {
        return std::nullopt;
    }
    const ForkArm& side = arms[line->side];
    const Vec2 first = side.outwards.front();
    const double sign = cross(line->along, first - line->at) > 0.0 ? 1.0 : -1.0;
    const Vec2 across{-sign * line->along.y, sign * line->along.x}; // to the side of the arm
    const double begins = dot(first - line->at, across) - line->half_width;
    // From where it is by itself down to the edge, each chord found from the one before.
    const double clear = 1.5 * mask.cell_mm; // of the edge's own cells
    const double far = std::max(6.0, 0.8 * line->half_width);
    constexpr double step = 0.5;
    double middle = dot(first - line->at, line->along);
    std::vector<Vec2> middles; // beyond the edge, along it
    const int steps = static_cast<int>(std::max(0.0, begins - clear) / step);
    for (int i = steps; i >= 0; --i) {
        const double beyond = clear + i * step;
        const Vec2 at = line->at + middle * line->along + (line->half_width + beyond) * across;
        const double most = 2.0 * side.width_mm;
        const double ahead = way_to_rim(mask, at, line->along, most);
        const double back = way_to_rim(mask, at, -1.0 * line->along, most);
        if (!(ahead > 0.0 && back > 0.0 && ahead < most && back < most)) {
            return std::nullopt;
        }
        middle += 0.5 * (ahead - back);
        if (beyond <= far) {
            middles.push_back({beyond, middle});
        }
    }
    constexpr std::size_t fewest = 7;
    if (middles.size() < fewest) {
        return std::nullopt;
    }
    const StraightFit fit = straight_fit(middles);
    constexpr double least_clear = 0.3; // mm
    constexpr double most_slant = 1.2;  // it leaves at 40 degrees and more
    if (fit.rms > least_clear || std::abs(fit.slope) > most_slant) {
        return std::nullopt;
    }
    const Vec2 meets = line->at + (fit.at_0 - fit.slope * line->half_width) * line->along;
    return length(meets - near) < side.width_mm ? std::optional(meets) : std::nullopt;
}

} // namespace vast_turn
