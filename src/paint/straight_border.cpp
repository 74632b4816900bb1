#include "paint/straight_border.hpp"

#include <algorithm>
#include <limits>

#include "course/floor/floor_cells.hpp"

namespace vast_turn {

namespace {

double brightness_at(const PixelView& picture, Vec2 p) {
    const int column = static_cast<int>(std::floor(p.x));
    const int row = static_cast<int>(std::floor(p.y));
    if (column < 0 || row < 0 || column >= picture.columns || row >= picture.rows) {
        return -1.0;
    }
    return brightness_of(picture.at(column, row));
}

/// Points of the border along one side: where, across the chord, the brightness steps most. They are where the border
/// bows to, and wrong ones among them.
std::vector<Vec2> steps_along(const PixelView& picture, Vec2 from, Vec2 to) {
    const double way = length(to - from);
    const Vec2 along = 1.0 / way * (to - from);
    const Vec2 across{-along.y, along.x};
    constexpr int stations = 64;
    constexpr double bows = 0.05; // of the chord
    const int reach = std::max(6, static_cast<int>(bows * way));
    std::vector<Vec2> points;
    for (int i = 2; i < stations - 1; ++i) {
        const Vec2 on = from + (way * i / stations) * along;
        std::vector<double> profile;
        for (int k = -reach - 2; k <= reach + 2; ++k) {
            profile.push_back(brightness_at(picture, on + static_cast<double>(k) * across));
        }
        double best = 0.0;
        double sum = 0.0;
        double moment = 0.0;
        int at = 0;
        const auto slope = [&](int k) {
            const std::size_t c = static_cast<std::size_t>(k + reach) + 2;
            const double low = 0.5 * (profile[c - 2] + profile[c - 1]);
            const double high = 0.5 * (profile[c + 1] + profile[c + 2]);
            const bool seen = profile[c - 2] >= 0.0 && profile[c + 2] >= 0.0;
            return seen ? std::abs(high - low) : 0.0;
        };
        for (int k = -reach; k <= reach; ++k) {
            if (slope(k) > best) {
                best = slope(k);
                at = k;
            }
        }
        constexpr double clear = 18.0; // of 255
        if (best < clear) {
            continue;
        }
        for (int k = std::max(-reach, at - 2); k <= std::min(reach, at + 2); ++k) {
            sum += slope(k);
            moment += k * slope(k);
        }
        points.push_back(on + moment / sum * across);
    }
    return points;
}

/// Root mean square of how far points lie off the straight line that fits them best, without the worst third: those are
/// steps of something else.
double off_straight(const std::vector<Vec2>& points, const LensBow& lens) {
    std::vector<Vec2> list;
    for (const Vec2 p : points) {
        list.push_back(lens.unbowed(p));
    }
    std::vector<double> off(list.size(), 0.0);
    std::size_t kept = list.size();
    double mean_square = 0.0;
    for (int round = 0; round < 4; ++round) {
        Vec2 middle;
        for (std::size_t i = 0; i < kept; ++i) {
            middle = middle + 1.0 / static_cast<double>(kept) * list[i];
        }
        double xx = 0.0;
        double xy = 0.0;
        double yy = 0.0;
        for (std::size_t i = 0; i < kept; ++i) {
            const Vec2 d = list[i] - middle;
            xx += d.x * d.x;
            xy += d.x * d.y;
            yy += d.y * d.y;
        }
        const double angle = 0.5 * std::atan2(2.0 * xy, xx - yy);
        const Vec2 across{-std::sin(angle), std::cos(angle)};
        const auto away = [&](Vec2 p) { return std::abs(dot(p - middle, across)); };
        std::sort(list.begin(), list.end(), [&](Vec2 a, Vec2 b) { return away(a) < away(b); });
        kept = std::max<std::size_t>(3, list.size() * 2 / 3);
        mean_square = 0.0;
        for (std::size_t i = 0; i < kept; ++i) {
            mean_square += away(list[i]) * away(list[i]) / static_cast<double>(kept);
        }
    }
    return mean_square;
}

/// Of all sides together, root mean square.
double off_all(const std::vector<std::vector<Vec2>>& sides, const LensBow& lens) {
    double sum = 0.0;
    for (const std::vector<Vec2>& side : sides) {
        sum += off_straight(side, lens) / static_cast<double>(sides.size());
    }
    return std::sqrt(sum);
}

/// The k that makes the sides straightest: on a grid, then between its points.
double straightest(const std::vector<std::vector<Vec2>>& sides, LensBow lens) {
    constexpr double most = 0.4;
    double centre = 0.0;
    double room = most;
    constexpr int steps = 20;
    for (int round = 0; round < 4; ++round) {
        double best = std::numeric_limits<double>::infinity();
        double found = centre;
        for (int i = -steps; i <= steps; ++i) {
            lens.k = centre + room * i / steps;
            const double off = off_all(sides, lens);
            if (off < best) {
                best = off;
                found = lens.k;
            }
        }
        centre = found;
        room *= 2.0 / steps;
    }
    return centre;
}

} // namespace

std::optional<SeenBorder> find_border(const PixelView& picture, const std::vector<Vec2>& corners_px,
                                      const LensBow& lens, bool fit) {
    std::vector<std::vector<Vec2>> sides;
    for (std::size_t i = 0; i < corners_px.size(); ++i) {
        std::vector<Vec2> points = steps_along(picture, corners_px[i], corners_px[(i + 1) % corners_px.size()]);
        constexpr std::size_t enough = 30;
        if (points.size() >= enough) {
            sides.push_back(std::move(points));
        }
    }
    constexpr std::size_t enough_sides = 3;
    if (sides.size() < enough_sides) {
        return std::nullopt;
    }
    SeenBorder out{lens, 0.0, off_all(sides, lens)};
    out.off_px = out.off_before_px;
    constexpr double hardly_px = 0.03; // of some hundred points
    if (fit) {
        LensBow other = lens;
        other.k = straightest(sides, lens);
        const double off = off_all(sides, other);
        if (off < 0.85 * out.off_before_px && out.off_before_px - off > hardly_px) {
            out.lens = other;
            out.off_px = off;
        }
    }
    // What is not straight whatever the lens is no border but this and that.
    constexpr double straight_px = 1.5;
    double shortest = std::numeric_limits<double>::infinity();
    for (std::size_t i = 0; i < corners_px.size(); ++i) {
        shortest = std::min(shortest, length(corners_px[(i + 1) % corners_px.size()] - corners_px[i]));
    }
    constexpr double of_side = 0.003;
    if (out.off_px > std::max(straight_px, of_side * shortest)) {
        return std::nullopt;
    }
    return out;
}

} // namespace vast_turn
