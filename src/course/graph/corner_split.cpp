#include "course/graph/corner_split.hpp"

#include <algorithm>
#include <cmath>

namespace vast_turn {

namespace {

/// How far a line turns about a point, degrees: between the chords of `reach` points before and behind.
double turn_at(const std::vector<Vec2>& points, std::size_t i, std::size_t reach) {
    const Vec2 before = points[i] - points[i - reach];
    const Vec2 behind = points[i + reach] - points[i];
    return to_degrees(std::abs(std::atan2(cross(before, behind), dot(before, behind))));
}

/// The point at which a line has its sharpest corner; 0 when it has none.
std::size_t corner_of(const LineShape& shape) {
    constexpr double sharp_deg = 60.0;
    constexpr double excess = 1.2; // of the usual width: across a corner a profile is longer
    const std::size_t n = shape.middle.size();
    if (n < 2) {
        return 0;
    }
    const double step_mm = length_of(shape.middle) / static_cast<double>(n - 1);
    const auto reach = static_cast<std::size_t>(std::ceil(1.2 * shape.usual_width_mm / std::max(0.1, step_mm)));
    const std::size_t margin = 2 * reach; // near a knot the profile is the knot's
    std::size_t sharpest = 0;
    double most_deg = sharp_deg;
    for (std::size_t i = margin; i + margin < n; ++i) {
        const double turn = turn_at(shape.middle, i, reach);
        if (turn > most_deg) {
            most_deg = turn;
            sharpest = i;
        }
    }
    if (sharpest == 0) {
        return 0;
    }
    const auto from = shape.width_mm.begin() + static_cast<std::ptrdiff_t>(sharpest - reach / 2);
    const double widest = *std::max_element(from, from + static_cast<std::ptrdiff_t>(reach + 1));
    return widest > excess * shape.usual_width_mm ? sharpest : 0;
}

LineShape part_of(const LineShape& shape, std::size_t from, std::size_t to) {
    const auto cut = [&](const auto& list) {
        using List = std::decay_t<decltype(list)>;
        return List(list.begin() + static_cast<std::ptrdiff_t>(from), list.begin() + static_cast<std::ptrdiff_t>(to));
    };
    return {cut(shape.middle), cut(shape.width_mm), shape.usual_width_mm};
}

/// A ring that begins at another of its points.
LineShape begun_at(const LineShape& ring, std::size_t at) {
    const auto turned = [&](auto list) {
        list.pop_back(); // the last is the first
        std::rotate(list.begin(), list.begin() + static_cast<std::ptrdiff_t>(at), list.end());
        list.push_back(list.front());
        return list;
    };
    return {turned(ring.middle), turned(ring.width_mm), ring.usual_width_mm};
}

/// A ring with a corner becomes a line that begins and ends there.
void open_at_corner(LineNet& net, std::size_t number) {
    Line& line = net.lines[number];
    if (line.shape.middle.size() != line.shape.width_mm.size() || line.shape.middle.size() < 3) {
        return;
    }
    std::size_t at = corner_of(line.shape);
    if (at == 0) { // or where it happens to begin
        const LineShape other = begun_at(line.shape, line.shape.middle.size() / 2);
        at = corner_of(other);
        if (at == 0) {
            return;
        }
        line.shape = other;
    }
    line.shape = begun_at(line.shape, at);
    line.from = line.to = static_cast<int>(net.knots.size());
    net.knots.push_back({line.shape.middle.front(), 0.5 * line.shape.usual_width_mm, true, {}});
    net.ends.add_knot();
    net.ends.add(line.from, number);
}

} // namespace

void split_at_corners(LineNet& net) {
    for (std::size_t i = 0; i < net.lines.size(); ++i) {
        if (!net.lines[i].gone && net.lines[i].ring()) {
            open_at_corner(net, i);
        }
        if (net.lines[i].gone || net.lines[i].ring()) {
            continue;
        }
        // What is behind the corner is looked at in its turn, what is before it at once.
        for (std::size_t at = corner_of(net.lines[i].shape); at != 0; at = corner_of(net.lines[i].shape)) {
            Line& line = net.lines[i];
            const int knot = static_cast<int>(net.knots.size());
            net.knots.push_back({line.shape.middle[at], 0.5 * line.shape.usual_width_mm, true, {}});
            Line behind{knot, line.to, part_of(line.shape, at, line.shape.middle.size()), {}, false};
            line.shape = part_of(line.shape, 0, at + 1);
            line.to = knot;
            net.ends.add_knot();
            net.ends.add(knot, i);
            net.ends.add(knot, net.lines.size());
            net.ends.add(behind.to, net.lines.size());
            net.lines.push_back(std::move(behind)); // ends the life of `line`
        }
    }
}

} // namespace vast_turn
