#include "course/board/flatten.hpp"

#include <algorithm>
#include <cmath>

namespace vast_turn {

namespace {

constexpr double most_pieces = 20'000;

int pieces(double wanted) { return static_cast<int>(std::clamp(std::ceil(wanted), 1.0, most_pieces)); }

} // namespace

std::vector<Vec2> flatten_cubic(Vec2 from, Vec2 c1, Vec2 c2, Vec2 to, double tolerance) {
    // A chord over a parameter step h is off by at most h^2/8 of the largest second derivative, which
    // is 6 times the larger second difference of the control points.
    const double bend = std::max(length(from - 2.0 * c1 + c2), length(c1 - 2.0 * c2 + to));
    const int n = pieces(std::sqrt(6.0 * bend / (8.0 * tolerance)));
    std::vector<Vec2> points;
    points.reserve(static_cast<std::size_t>(n));
    for (int i = 1; i < n; ++i) {
        const double t = static_cast<double>(i) / n;
        const double u = 1.0 - t;
        points.push_back((u * u * u) * from + (3.0 * u * u * t) * c1 + (3.0 * u * t * t) * c2 + (t * t * t) * to);
    }
    points.push_back(to);
    return points;
}

std::vector<Vec2> flatten_arc(const Arc& arc, double tolerance) {
    // From end points to centre: SVG 1.1, appendix F.6.5, with the radii corrected by F.6.6.
    double rx = std::abs(arc.rx);
    double ry = std::abs(arc.ry);
    if (arc.from == arc.to) {
        return {};
    }
    constexpr double least = 1e-9;
    const double larger = std::max(rx, ry);
    if (!(std::min(rx, ry) > least * larger)) {
        return {arc.to}; // none, or none beside the other: its square would be no number
    }
    if (larger < least) { // they will grow; what counts is their relation
        rx /= larger;
        ry /= larger;
    }
    const double phi = to_radians(arc.turn_deg);
    const double c = std::cos(phi);
    const double s = std::sin(phi);
    const Vec2 half = 0.5 * (arc.from - arc.to);
    const Vec2 p{c * half.x + s * half.y, c * half.y - s * half.x};
    const double excess = p.x * p.x / (rx * rx) + p.y * p.y / (ry * ry);
    if (excess > 1.0) {
        rx *= std::sqrt(excess);
        ry *= std::sqrt(excess);
    }
    const double rest = std::max(0.0, 1.0 / std::min(std::max(excess, 1e-12), 1.0) - 1.0);
    const double k = (arc.large != arc.sweep ? 1.0 : -1.0) * std::sqrt(rest);
    const Vec2 q{k * rx * p.y / ry, -k * ry * p.x / rx};
    const Vec2 middle = 0.5 * (arc.from + arc.to);
    const Vec2 centre{c * q.x - s * q.y + middle.x, s * q.x + c * q.y + middle.y};
    const double begin = std::atan2((p.y - q.y) / ry, (p.x - q.x) / rx);
    const double end = std::atan2((-p.y - q.y) / ry, (-p.x - q.x) / rx);
    double sweep = end - begin;
    if (arc.sweep && sweep < 0.0) {
        sweep += 2.0 * pi;
    } else if (!arc.sweep && sweep > 0.0) {
        sweep -= 2.0 * pi;
    }
    const double largest = std::max(rx, ry);
    const double step = 2.0 * std::acos(std::clamp(1.0 - tolerance / largest, -1.0, 1.0));
    const int n = pieces(std::abs(sweep) / std::max(step, 1e-6));
    std::vector<Vec2> points;
    points.reserve(static_cast<std::size_t>(n));
    for (int i = 1; i < n; ++i) {
        const double a = begin + sweep * i / n;
        const Vec2 e{rx * std::cos(a), ry * std::sin(a)};
        points.push_back({centre.x + c * e.x - s * e.y, centre.y + s * e.x + c * e.y});
    }
    points.push_back(arc.to);
    return points;
}

} // namespace vast_turn
