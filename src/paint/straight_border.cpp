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

/// Along one side, straight from corner to corner, where across it the brightness steps: the border, and lines and
/// whatever else lies near it.
struct BorderSide {
    struct Place {
        Vec2 on;                   ///< px, on the straight way
        std::vector<double> steps; ///< px across from there
    };

    Vec2 from;
    Vec2 to;
    Vec2 across;
    std::vector<Place> places;
};

/// Where a profile across a side steps: each place where it is steepest, to a part of a pixel. Cells before 0 lie
/// outside the picture.
std::vector<double> steps_of(const std::vector<double>& profile, int reach) {
    const auto slope = [&](int k) {
        const std::size_t c = static_cast<std::size_t>(k + reach) + 2;
        const double low = 0.5 * (profile[c - 2] + profile[c - 1]);
        const double high = 0.5 * (profile[c + 1] + profile[c + 2]);
        const bool seen = profile[c - 2] >= 0.0 && profile[c + 2] >= 0.0;
        return seen ? std::abs(high - low) : 0.0;
    };
    std::vector<double> steps;
    constexpr double clear = 18.0; // of 255
    for (int at = -reach; at <= reach; ++at) {
        bool steepest = slope(at) >= clear;
        double sum = 0.0;
        double moment = 0.0;
        for (int k = std::max(-reach, at - 2); k <= std::min(reach, at + 2); ++k) {
            steepest = steepest && (k < at ? slope(k) < slope(at) : slope(k) <= slope(at));
            sum += slope(k);
            moment += k * slope(k);
        }
        if (steepest) {
            steps.push_back(moment / sum);
        }
    }
    return steps;
}

BorderSide look_along(const PixelView& picture, Vec2 from, Vec2 to) {
    const double way = length(to - from);
    const Vec2 along = 1.0 / way * (to - from);
    BorderSide side{from, to, {-along.y, along.x}, {}};
    constexpr int stations = 64;
    constexpr double bows = 0.05; // of the chord
    const int reach = std::max(6, static_cast<int>(bows * way));
    for (int i = 2; i < stations - 1; ++i) {
        const Vec2 on = from + (way * i / stations) * along;
        std::vector<double> profile;
        for (int k = -reach - 2; k <= reach + 2; ++k) {
            profile.push_back(brightness_at(picture, on + static_cast<double>(k) * side.across));
        }
        side.places.push_back({on, steps_of(profile, reach)});
    }
    return side;
}

/// What of a side's steps is the border if the lens bows so: those close to where the straight line from corner to
/// corner would be seen.
struct BowedSide {
    std::vector<Vec2> points;
    double fits = 0.0; ///< each point counts up to 1, the less the farther it is off
};

BowedSide bowed_by(const BorderSide& side, const LensBow& lens) {
    const Vec2 a = lens.unbowed(side.from);
    const Vec2 b = lens.unbowed(side.to);
    constexpr double near_px = 2.0; // corners are pointed at by hand
    constexpr double near = 0.004;  // of the chord
    const double close = std::max(near_px, near * length(side.to - side.from));
    BowedSide out;
    for (const BorderSide::Place& place : side.places) {
        const Vec2 straight = lens.unbowed(place.on);
        const Vec2 foot = a + dot(straight - a, b - a) / dot(b - a, b - a) * (b - a);
        const double there = dot(lens.bowed(foot) - place.on, side.across);
        double nearest = close;
        for (const double step : place.steps) {
            nearest = std::abs(step - there) < std::abs(nearest) ? step - there : nearest;
        }
        if (std::abs(nearest) < close) {
            out.points.push_back(place.on + (there + nearest) * side.across);
            out.fits += 1.0 - std::abs(nearest) / close;
        }
    }
    return out;
}

/// The lens by which most of what steps along the sides lies straight between the corners. A line that runs along the
/// border may step more than the border itself, but does not run through the corners.
LensBow likeliest(const std::vector<BorderSide>& sides, LensBow lens) {
    LensBow out = lens;
    double most = -1.0;
    constexpr int steps = 80; // to 0.4 either way
    constexpr double step = 0.005;
    for (int i = 0; i <= 2 * steps; ++i) {
        const int away = i % 2 == 0 ? i / 2 : -(i + 1) / 2; // of lenses that fit alike the one that bows least
        lens.k = step * away;
        double fits = 0.0;
        for (const BorderSide& side : sides) {
            fits += bowed_by(side, lens).fits;
        }
        if (fits > most) {
            most = fits;
            out = lens;
        }
    }
    return out;
}

/// The border's points on each side that shows enough of it.
std::vector<std::vector<Vec2>> border_points(const std::vector<BorderSide>& sides, const LensBow& lens) {
    std::vector<std::vector<Vec2>> out;
    for (const BorderSide& side : sides) {
        std::vector<Vec2> points = bowed_by(side, lens).points;
        constexpr std::size_t enough = 30;
        if (points.size() >= enough) {
            out.push_back(std::move(points));
        }
    }
    return out;
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
    std::vector<BorderSide> looked;
    for (std::size_t i = 0; i < corners_px.size(); ++i) {
        looked.push_back(look_along(picture, corners_px[i], corners_px[(i + 1) % corners_px.size()]));
    }
    const LensBow about = fit ? likeliest(looked, lens) : lens;
    std::vector<std::vector<Vec2>> sides = border_points(looked, about);
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
        sides = border_points(looked, other); // the first were taken from about there
        other.k = straightest(sides, lens);
        out.off_px = out.off_before_px = off_all(sides, lens);
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
