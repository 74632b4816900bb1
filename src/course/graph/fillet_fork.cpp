#include "course/graph/fillet_fork.hpp"

#include <algorithm>
#include <cmath>
#include <cstddef>
#include <iterator>
#include <utility>

#include "course/graph/line_shape.hpp"
#include "course/graph/touching_circle.hpp"

namespace vast_turn {

namespace {

/// Of the pieces of an arm the first that is straight: beyond where the other lines make it seem wider, or all of it.
std::optional<FittedArm> straight_piece(const std::vector<Vec2>& arm) {
    constexpr double straight_mm = 0.15;
    constexpr std::size_t fewest = 8;
    for (const auto& [from, to] : {std::pair(0.35, 1.0), std::pair(0.35, 0.7), std::pair(0.0, 1.0)}) {
        const auto n = static_cast<double>(arm.size());
        const std::vector<Vec2> part(arm.begin() + static_cast<std::ptrdiff_t>(from * n),
                                     arm.begin() + static_cast<std::ptrdiff_t>(to * n));
        if (part.size() >= fewest) {
            const FittedArm fit = fit_arm(part, straight_mm);
            if (!(length(fit.bend) > 0.0)) {
                return fit;
            }
        }
    }
    return std::nullopt;
}

/// The straight line that comes to a fork, as seen from one of its sides: x along it, y beyond its rim.
struct RimFrame {
    Vec2 at; ///< on its middle
    Vec2 along;
    Vec2 across;
    double half_width = 0.0;
};

/// Rim over x, from where it is the line's own until it turns away, too steep, or back.
std::vector<Vec2> rim_of(const LineMask& mask, const RimFrame& frame, double from_mm, double to_mm, double most_mm) {
    std::vector<Vec2> rim;
    constexpr double step = 1.0;
    constexpr double own_mm = 0.4;   // of the line's own rim
    constexpr double steepest = 1.3; // about 50 degrees: beyond that a chord across says little
    const auto steps = static_cast<int>(std::max(0.0, to_mm - from_mm) / step);
    for (int i = 0; i <= steps; ++i) {
        const double x = from_mm + i * step;
        const double y = way_to_rim(mask, frame.at + x * frame.along, frame.across, most_mm) - frame.half_width;
        if (rim.empty()) {
            if (std::abs(y) < own_mm) {
                rim.push_back({x, y});
            }
            continue;
        }
        if (y + frame.half_width >= most_mm || y < rim.back().y - own_mm ||
            y > rim.back().y + steepest * step + own_mm) {
            break;
        }
        rim.push_back({x, y});
    }
    const auto leaves = std::find_if(rim.rbegin(), rim.rend(), [](Vec2 p) { return std::abs(p.y) < own_mm; });
    rim.erase(rim.begin(), leaves.base());
    return rim;
}

double off_straight(const std::vector<Vec2>& points) {
    const FittedArm line = fit_arm(points, 1e9);
    return line.off_mm;
}

/// Whether an arm is tangent to a circle where it begins.
bool leads_on(const ForkArm& arm, Vec2 middle, double radius_mm) {
    const Vec2 along = (1.0 / length(arm.fit.along)) * arm.fit.along;
    const double off = std::abs(std::abs(cross(middle - arm.fit.at, along)) - radius_mm);
    return off < std::max(2.0, 0.04 * radius_mm);
}

/// An arm on the circle that its rim tells.
struct RimArc {
    double at_mm = 0.0; ///< along the straight line
    double radius_mm = 0.0;
};

/// Nothing when the rim towards an arm is no circle that touches the line's own, or the arm does not lead on as it
/// does.
std::optional<RimArc> arc_to_arm(const LineMask& mask, const RimFrame& frame, double from_mm, const ForkArm& arm) {
    const double to = dot(arm.outwards.front() - frame.at, frame.along) + 2.0 * arm.width_mm;
    const std::vector<Vec2> rim = rim_of(mask, frame, from_mm, to, 4.0 * arm.width_mm + 20.0);
    constexpr double exact_mm = 0.25;
    constexpr double least_rise_mm = 2.5;
    constexpr std::size_t fewest = 10;
    for (const double part : {1.0, 0.7, 0.45, 0.3}) {
        const auto count = static_cast<std::size_t>(part * static_cast<double>(rim.size()));
        if (count < fewest) {
            break;
        }
        const std::vector<Vec2> points(rim.begin(), rim.begin() + static_cast<std::ptrdiff_t>(count));
        const CircleTouch touch = touching_circle(points);
        if (touch.off_mm > exact_mm || points.back().y < least_rise_mm) {
            continue;
        }
        const double radius = touch.radius_mm + frame.half_width; // of the arc's middle
        const bool is_arc = touch.radius_mm > std::max(15.0, frame.half_width) &&
                            off_straight(points) > 3.0 * touch.off_mm && touch.at_mm < points.front().x;
        const Vec2 middle = frame.at + touch.at_mm * frame.along + radius * frame.across;
        if (is_arc && leads_on(arm, middle, radius)) {
            return RimArc{touch.at_mm, radius};
        }
    }
    return std::nullopt;
}

/// Whether two arms are one straight line; `fits` are their straight pieces.
bool are_one_line(const std::optional<FittedArm>& a, const std::optional<FittedArm>& b, double half_width) {
    constexpr double most_turn_deg = 1.5;
    return a && b && goes_through(*a, *b, 0.2 * half_width + 0.5, most_turn_deg);
}

/// The arcs by which the two other arms, or one of them, leave the straight line of this one.
std::optional<FilletFork> fork_from(const LineMask& mask, const std::vector<ForkArm>& arms,
                                    const std::vector<std::optional<FittedArm>>& straight, std::size_t stem) {
    if (!straight[stem]) {
        return std::nullopt;
    }
    const FittedArm& line = *straight[stem];
    double half_width = 0.5 * arms[stem].width_mm;
    Vec2 along = -1.0 / length(line.along) * line.along;
    std::vector<std::size_t> sides;
    for (std::size_t i = 0; i < arms.size(); ++i) {
        if (i != stem && are_one_line(straight[stem], straight[i], half_width)) {
            along = 1.0 / length(straight[i]->at - line.at) * (straight[i]->at - line.at);
            half_width = 0.25 * (arms[stem].width_mm + arms[i].width_mm);
        } else if (i != stem) {
            sides.push_back(i);
        }
    }
    const double begins = dot(arms[stem].outwards.front() - line.at, along) - 40.0;
    const Vec2 left{along.y, -along.x};
    FilletFork fork;
    double sum = 0.0;
    int to_left = 0;
    double first_at = 0.0;
    for (const std::size_t i : sides) {
        const bool is_left = dot(arms[i].outwards.front() - line.at, left) > 0.0;
        to_left += is_left ? 1 : 0;
        const RimFrame frame{line.at, along, is_left ? left : -1.0 * left, half_width};
        const std::optional<RimArc> arc =
            dot(arms[i].fit.along, along) > 0.0 ? arc_to_arm(mask, frame, begins, arms[i]) : std::nullopt;
        if (!arc || (!fork.arcs.empty() && std::abs(arc->at_mm - first_at) > 0.3 * half_width + 2.0)) {
            return std::nullopt;
        }
        first_at = arc->at_mm;
        sum += arc->at_mm;
        fork.arcs.push_back({arc->radius_mm * frame.across, arc->radius_mm, i});
    }
    if (sides.empty() || (sides.size() == 2 && to_left != 1)) {
        return std::nullopt;
    }
    fork.at = line.at + (sum / static_cast<double>(sides.size())) * along;
    for (FilletFork::Arc& arc : fork.arcs) {
        arc.middle = fork.at + arc.middle;
    }
    return fork;
}

} // namespace

std::optional<FilletFork> fillet_fork(const LineMask& mask, const std::vector<ForkArm>& arms,
                                      const std::vector<std::vector<Vec2>>& long_arms) {
    std::vector<std::optional<FittedArm>> straight;
    std::transform(long_arms.begin(), long_arms.end(), std::back_inserter(straight), straight_piece);
    for (std::size_t stem = 0; arms.size() == 3 && stem < arms.size(); ++stem) {
        if (std::optional<FilletFork> fork = fork_from(mask, arms, straight, stem)) {
            return fork;
        }
    }
    return std::nullopt;
}

} // namespace vast_turn
