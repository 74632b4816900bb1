#include "course/graph/way_past_area.hpp"

#include <algorithm>
#include <cmath>
#include <cstddef>
#include <optional>

#include "course/graph/line_shape.hpp"

namespace vast_turn {

namespace {

/// The cubic by Hermite that is nearest to a circle; straight where a heading is not known or turns back.
std::vector<Vec2> curve_between(const LineMouth& from, const LineMouth& to) {
    const Vec2 chord = to.at - from.at;
    const double way = length(chord);
    const int steps = std::max(2, static_cast<int>(way));
    const double ahead_from = dot(from.along, chord);
    const double ahead_to = -dot(to.along, chord); // out of the other mouth
    constexpr double least = 0.2;                  // of the chord: within some 80 degrees of it
    const bool is_bent = ahead_from > least * way && ahead_to > least * way;
    const double turn = std::acos(std::clamp(-dot(from.along, to.along), -1.0, 1.0));
    // The derivative of the cubic that touches a circle at both ends and in the middle.
    const double speed = is_bent ? 2.0 * way / (1.0 + std::cos(0.5 * turn)) : way;
    const Vec2 a = is_bent ? from.along : 1.0 / way * chord;
    const Vec2 b = is_bent ? -1.0 * to.along : 1.0 / way * chord;
    std::vector<Vec2> points;
    for (int i = 0; i <= steps; ++i) {
        points.push_back(cubic_at(static_cast<double>(i) / steps, from.at, speed * a, to.at, speed * b));
    }
    return points;
}

/// How far aside the line lies of a point that is about its middle, to the left; nothing where no floor tells.
std::optional<double> aside(const LineMask& mask, Vec2 p, Vec2 left, double width) {
    const double half = 0.5 * width;
    const double reach = 2.0 * width;
    const double one = way_to_rim(mask, p, left, reach);
    const double other = way_to_rim(mask, p, -1.0 * left, reach);
    const double most = 0.35 * width;
    const bool one_near = std::abs(one - half) < most;
    const bool other_near = std::abs(other - half) < most;
    if (one_near && other_near) {
        return 0.5 * (one - other);
    }
    if (one_near) {
        return one - half;
    }
    return other_near ? std::optional(half - other) : std::nullopt;
}

/// Of points at some distance from another: their mean.
Vec2 mean_between(const std::vector<Vec2>& points, Vec2 at, double from_mm, double to_mm, std::size_t& count) {
    Vec2 sum;
    count = 0;
    for (const Vec2 p : points) {
        const double way = length(p - at);
        if (way > from_mm && way < to_mm) {
            sum = sum + p;
            ++count;
        }
    }
    return 1.0 / std::max(1.0, static_cast<double>(count)) * sum;
}

LineMouth mouth_of(const std::vector<Vec2>& points, Vec2 at, double width) {
    std::size_t some = 0;
    std::size_t more = 0;
    const Vec2 near = mean_between(points, at, 0.9 * width, 1.4 * width, some);
    const Vec2 far = mean_between(points, at, 1.4 * width, 1.9 * width, more);
    if (some == 0) {
        return {at, {}};
    }
    const Vec2 into = near - far;
    return {near, more == 0 ? Vec2{} : 1.0 / std::max(1e-9, length(into)) * into};
}

} // namespace

std::vector<LineMouth> lines_round(Vec2 touching, const std::vector<Vec2>& points, double width_mm) {
    std::vector<Vec2> ring; // directions
    Vec2 sum;
    for (const Vec2 p : points) {
        const double way = length(p - touching);
        if (way > 1.4 * width_mm && way < 1.9 * width_mm) {
            ring.push_back((1.0 / way) * (p - touching));
            sum = sum + ring.back();
        }
    }
    constexpr double one_way = 0.85; // a strip as wide as the line, seen from there, has 0.97
    if (ring.empty() || length(sum) > one_way * static_cast<double>(ring.size())) {
        return {mouth_of(points, touching, width_mm)};
    }
    const auto farthest_from = [&ring](Vec2 one) {
        return *std::min_element(ring.begin(), ring.end(), [&](Vec2 a, Vec2 b) { return dot(a, one) < dot(b, one); });
    };
    const Vec2 first = farthest_from(sum);
    const Vec2 second = farthest_from(first);
    std::vector<Vec2> to_first;
    std::vector<Vec2> to_second;
    for (const Vec2 p : points) {
        (dot(p - touching, first) > dot(p - touching, second) ? to_first : to_second).push_back(p);
    }
    return {mouth_of(to_first, touching, width_mm), mouth_of(to_second, touching, width_mm)};
}

std::vector<Vec2> way_past_area(const LineMask& mask, const LineMouth& from, const LineMouth& to, double width_mm) {
    if (!(length(to.at - from.at) > 0.0)) {
        return {from.at};
    }
    std::vector<Vec2> way = curve_between(from, to);
    const auto n = static_cast<std::ptrdiff_t>(way.size());
    std::vector<std::optional<double>> shifts;
    std::vector<Vec2> lefts;
    for (std::ptrdiff_t i = 0; i < n; ++i) {
        const Vec2 d = way[static_cast<std::size_t>(std::min(n - 1, i + 1))] -
                       way[static_cast<std::size_t>(std::max<std::ptrdiff_t>(0, i - 1))];
        const Vec2 along = 1.0 / std::max(1e-9, length(d)) * d;
        lefts.push_back({along.y, -along.x});
        shifts.push_back(aside(mask, way[static_cast<std::size_t>(i)], lefts.back(), width_mm));
    }
    constexpr std::ptrdiff_t reach = 4; // what a rim tells is smoothed over so many points to each side
    for (std::ptrdiff_t i = 0; i < n; ++i) {
        double sum = 0.0;
        int told = 0;
        for (std::ptrdiff_t k = std::max<std::ptrdiff_t>(0, i - reach); k <= std::min(n - 1, i + reach); ++k) {
            if (const std::optional<double>& shift = shifts[static_cast<std::size_t>(k)]) {
                sum += *shift;
                ++told;
            }
        }
        if (told > 0) {
            way[static_cast<std::size_t>(i)] =
                way[static_cast<std::size_t>(i)] + (sum / told) * lefts[static_cast<std::size_t>(i)];
        }
    }
    return way;
}

} // namespace vast_turn
