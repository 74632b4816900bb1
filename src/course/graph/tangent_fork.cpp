#include "course/graph/tangent_fork.hpp"

#include <algorithm>
#include <cmath>
#include <cstddef>

#include "course/graph/junction_fit.hpp"
#include "course/graph/touching_circle.hpp"

namespace vast_turn {

namespace {

// Roots of the mean square off the fit.
constexpr double exact_mm = 0.3;
constexpr double straight_within_mm = 0.2;

/// The straight line that an arm runs along.
struct StraightArm {
    Vec2 at;    ///< where it is sound
    Vec2 along; ///< outwards, of length 1
};

std::optional<StraightArm> straight_arm(const std::vector<Vec2>& points) {
    constexpr std::size_t least = 8;
    if (points.size() < least) {
        return std::nullopt;
    }
    const double n = static_cast<double>(points.size());
    Vec2 mean;
    for (const Vec2 p : points) {
        mean = mean + 1.0 / n * p;
    }
    double xx = 0.0, xy = 0.0, yy = 0.0;
    for (const Vec2 p : points) {
        const Vec2 d = p - mean;
        xx += d.x * d.x;
        xy += d.x * d.y;
        yy += d.y * d.y;
    }
    const double turn = 0.5 * std::atan2(2.0 * xy, xx - yy);
    Vec2 along{std::cos(turn), std::sin(turn)};
    double off = 0.0;
    for (const Vec2 p : points) {
        off += cross(p - mean, along) * cross(p - mean, along);
    }
    if (std::sqrt(off / n) > straight_within_mm) {
        return std::nullopt;
    }
    along = dot(points.back() - points.front(), along) < 0.0 ? -1.0 * along : along;
    return StraightArm{mean + dot(points.front() - mean, along) * along, along};
}

/// The longest of three pieces from where an arm is sound that is straight.
std::optional<StraightArm> straight_begin(const std::vector<Vec2>& points) {
    for (const double part : {1.0, 0.6, 0.35}) {
        const auto count = static_cast<std::ptrdiff_t>(part * static_cast<double>(points.size()));
        if (const auto arm = straight_arm({points.begin(), points.begin() + count})) {
            return arm;
        }
    }
    return std::nullopt;
}

/// The circle through an arm that touches the line of another; nothing when there is none.
std::optional<CircleTouch> touch_of(const StraightArm& line, const std::vector<Vec2>& arm) {
    for (const double part : {1.0, 0.6, 0.35}) {
        const auto count = static_cast<std::size_t>(part * static_cast<double>(arm.size()));
        constexpr std::size_t least = 12;
        if (count < least) {
            break;
        }
        std::vector<Vec2> points; // x away from where the line leads
        for (std::size_t i = 0; i < count; ++i) {
            points.push_back({-dot(arm[i] - line.at, line.along), cross(line.along, arm[i] - line.at)});
        }
        const CircleTouch best = touching_circle(points);
        constexpr double widest_mm = 3000.0;
        constexpr double least_mm = 15.0;
        // An arm that comes to an ordinary fork is no circle that touches: the parabola of its own fits it better.
        const double own_mm = fit_arm({arm.begin(), arm.begin() + static_cast<std::ptrdiff_t>(count)}, 0.0).off_mm;
        if (best.off_mm < std::min(exact_mm, 1.3 * own_mm + 0.04) && std::abs(best.radius_mm) < widest_mm &&
            std::abs(best.radius_mm) > least_mm) {
            return best;
        }
    }
    return std::nullopt;
}

bool goes_on(const StraightArm& line, const StraightArm& other, double width) {
    constexpr double in_line = -0.995;
    return dot(line.along, other.along) < in_line &&
           std::abs(cross(other.at - line.at, line.along)) < 0.12 * width + 0.6;
}

/// Where one or two arms touch the line of a straight one.
std::optional<Vec2> touched(const std::vector<std::vector<Vec2>>& arms, std::size_t stem_number, double width) {
    const std::optional<StraightArm> stem = straight_begin(arms[stem_number]);
    if (!stem) {
        return std::nullopt;
    }
    double sum = 0.0;
    std::vector<CircleTouch> touches;
    bool all_leave = true; // away from where the line leads, within a quarter turn
    for (std::size_t i = 0; i < arms.size(); ++i) {
        if (i == stem_number) {
            continue;
        }
        const std::optional<StraightArm> straight = straight_begin(arms[i]);
        if (straight && goes_on(*stem, *straight, width)) {
            continue;
        }
        const std::optional<CircleTouch> touch = touch_of(*stem, arms[i]);
        const double deepest = 2.0 * width + 10.0; // the tapes begin to part unseen
        if (!touch || touch->at_mm < -deepest) {
            return std::nullopt;
        }
        const double ahead = -dot(arms[i].front() - stem->at, stem->along) - touch->at_mm;
        all_leave = all_leave && ahead > 0.0 && ahead < std::abs(touch->radius_mm);
        touches.push_back(*touch);
        sum += touch->at_mm;
    }
    const bool one_circle =
        touches.size() == 2 && std::abs(touches[0].at_mm - touches[1].at_mm) < 0.3 * width + 2.0 &&
        std::abs(touches[0].radius_mm - touches[1].radius_mm) < 0.1 * std::abs(touches[0].radius_mm);
    if (touches.empty() || (!all_leave && !one_circle)) {
        return std::nullopt;
    }
    return stem->at - (sum / static_cast<double>(touches.size())) * stem->along;
}

} // namespace

std::optional<Vec2> tangent_point(const std::vector<std::vector<Vec2>>& arms, double width_mm) {
    for (std::size_t stem = 0; arms.size() == 3 && stem < arms.size(); ++stem) {
        if (const std::optional<Vec2> at = touched(arms, stem, width_mm)) {
            return at;
        }
    }
    return std::nullopt;
}

} // namespace vast_turn
