#include "course/graph/junction_fit.hpp"

#include <algorithm>
#include <cmath>

namespace vast_turn {

namespace {

Vec2 unit(Vec2 v) { return 1.0 / length(v) * v; }

/// Least squares of x(t) = a + b t, and of a + b t + c t^2 by orthogonal polynomials.
struct Fit {
    Vec2 a;
    Vec2 b;
    Vec2 c;
    double rms = 0.0;
};

Fit fit(const std::vector<Vec2>& points, const std::vector<double>& t, bool bent) {
    const auto n = static_cast<double>(points.size());
    double mean_t = 0.0;
    Vec2 mean;
    for (std::size_t i = 0; i < points.size(); ++i) {
        mean_t += t[i] / n;
        mean = mean + 1.0 / n * points[i];
    }
    double s2 = 0.0;
    double s3 = 0.0;
    double s4 = 0.0;
    Vec2 p1;
    Vec2 p2;
    for (std::size_t i = 0; i < points.size(); ++i) {
        const double u = t[i] - mean_t;
        s2 += u * u;
        s3 += u * u * u;
        s4 += u * u * u * u;
        p1 = p1 + u * points[i];
        p2 = p2 + u * u * points[i];
    }
    const Vec2 b = 1.0 / s2 * p1;
    // u^2 less its parts along 1 and u
    const double q1 = s3 / s2;
    const double q0 = s2 / n;
    const double norm = s4 - q1 * s3 - q0 * s2;
    const Vec2 c = bent && norm > 0.0 ? 1.0 / norm * (p2 - q1 * p1 - (q0 * n) * mean) : Vec2{};
    Fit out;
    out.c = c;
    out.b = b - (q1 + 2.0 * mean_t) * c;
    out.a = mean - mean_t * b + (mean_t * mean_t + q1 * mean_t - q0) * c;
    for (std::size_t i = 0; i < points.size(); ++i) {
        const Vec2 off = points[i] - (out.a + t[i] * out.b + (t[i] * t[i]) * out.c);
        out.rms += dot(off, off) / n;
    }
    out.rms = std::sqrt(out.rms);
    return out;
}

} // namespace

FittedArm fit_arm(const std::vector<Vec2>& outwards, double straight_mm) {
    std::vector<double> t{0.0};
    for (std::size_t i = 1; i < outwards.size(); ++i) {
        t.push_back(t.back() + length(outwards[i] - outwards[i - 1]));
    }
    Fit found = fit(outwards, t, false);
    if (found.rms > straight_mm && outwards.size() > 8) {
        found = fit(outwards, t, true);
    }
    return {found.a, found.b, found.c, found.rms};
}

double turn_between(const FittedArm& a, const FittedArm& b) {
    const double cosine = dot(unit(a.heading(0.0)), unit(b.heading(0.0)));
    return to_degrees(std::acos(std::clamp(-cosine, -1.0, 1.0)));
}

Vec2 meeting_point(const std::vector<FittedArm>& arms, Vec2 first, double reach_mm) {
    std::vector<double> t(arms.size(), 0.0);
    Vec2 at = first;
    for (int round = 0; round < 6; ++round) {
        const double hold = 0.002 * static_cast<double>(arms.size()); // what decides when all are parallel
        double xx = hold;
        double xy = 0.0;
        double yy = hold;
        Vec2 right = hold * first;
        for (std::size_t i = 0; i < arms.size(); ++i) {
            t[i] = std::clamp(t[i] + dot(at - arms[i].point(t[i]), unit(arms[i].heading(t[i]))), -reach_mm, 0.0);
            const Vec2 d = unit(arms[i].heading(t[i]));
            const Vec2 across{-d.y, d.x};
            const double off = dot(arms[i].point(t[i]), across);
            xx += across.x * across.x;
            xy += across.x * across.y;
            yy += across.y * across.y;
            right = right + off * across;
        }
        const double det = xx * yy - xy * xy;
        at = {(right.x * yy - right.y * xy) / det, (xx * right.y - xy * right.x) / det};
    }
    return length(at - first) <= reach_mm ? at : first;
}

bool goes_through(const FittedArm& a, const FittedArm& b, double aside_mm, double turn_deg) {
    const Vec2 between = b.at - a.at;
    const double t = 0.5 * length(between); // each arm goes half of the way
    const Vec2 from_a = a.point(-t);
    const Vec2 from_b = b.point(-t);
    const Vec2 da = unit(a.heading(-t));
    const Vec2 db = unit(b.heading(-t));
    const double turn = to_degrees(std::acos(std::clamp(-dot(da, db), -1.0, 1.0)));
    return turn < turn_deg && std::abs(cross(from_b - from_a, da)) < aside_mm;
}

} // namespace vast_turn
