#include "course/graph/tightest_bend.hpp"

#include <algorithm>
#include <cmath>
#include <cstddef>
#include <optional>
#include <utility>

#include "course/graph/line_shape.hpp"

namespace vast_turn {

namespace {

constexpr double endless_mm = std::numeric_limits<double>::infinity();

/// Of the parabola over the points up to `reach` before and behind one, but for bridged ones, by least squares; across
/// the chord.
double radius_at(const std::vector<Vec2>& path, const std::vector<bool>& bridged, std::size_t i, std::size_t reach) {
    const Vec2 chord = path[i + reach] - path[i - reach];
    const double way = length(chord);
    if (way <= 0.0) {
        return endless_mm;
    }
    const Vec2 along = 1.0 / way * chord;
    double n = 0.0, x1 = 0.0, x2 = 0.0, x3 = 0.0, x4 = 0.0, y0 = 0.0, y1 = 0.0, y2 = 0.0;
    for (std::size_t k = i - reach; k <= i + reach; ++k) {
        if (bridged[k]) {
            continue;
        }
        const Vec2 d = path[k] - path[i];
        const double x = dot(d, along);
        const double y = cross(along, d);
        n += 1.0;
        x1 += x;
        x2 += x * x;
        x3 += x * x * x;
        x4 += x * x * x * x;
        y0 += y;
        y1 += x * y;
        y2 += x * x * y;
    }
    // Cramer's rule for y = a + b x + c x^2.
    const double det = n * (x2 * x4 - x3 * x3) - x1 * (x1 * x4 - x2 * x3) + x2 * (x1 * x3 - x2 * x2);
    const double c = n * (x2 * y2 - x3 * y1) - x1 * (x1 * y2 - x2 * y1) + y0 * (x1 * x3 - x2 * x2);
    const double b = n * (y1 * x4 - x3 * y2) - y0 * (x1 * x4 - x2 * x3) + x2 * (x1 * y2 - y1 * x2);
    const double slope = b / det;
    const double bent = std::abs(2.0 * c / det);
    return bent > 0.0 ? std::pow(1.0 + slope * slope, 1.5) / bent : endless_mm;
}

/// A circle through points that are added and taken away.
class CircleFit {
public:
    explicit CircleFit(Vec2 origin) : origin_(origin) {}

    void add(Vec2 p) {
        const double x = p.x - origin_.x;
        const double y = p.y - origin_.y;
        const double z = x * x + y * y;
        n_ += 1.0;
        x_ += x;
        y_ += y;
        z_ += z;
        xx_ += x * x;
        xy_ += x * y;
        yy_ += y * y;
        xz_ += x * z;
        yz_ += y * z;
        zz_ += z * z;
    }

    struct Circle {
        double radius_mm;
        double off_mm; ///< root mean square distance of the points
    };

    /// z + B x + C y + D = 0 by least squares. Nothing where the points lie on a line.
    std::optional<Circle> solved() const {
        const double mx = x_ / n_;
        const double my = y_ / n_;
        const double mz = z_ / n_;
        const double vxx = xx_ / n_ - mx * mx;
        const double vxy = xy_ / n_ - mx * my;
        const double vyy = yy_ / n_ - my * my;
        const double vxz = xz_ / n_ - mx * mz;
        const double vyz = yz_ / n_ - my * mz;
        const double det = vxx * vyy - vxy * vxy;
        constexpr double flat = 1e-9;
        if (n_ < 5.0 || det <= flat * (vxx + vyy) * (vxx + vyy)) {
            return std::nullopt;
        }
        const double b = (-vxz * vyy + vyz * vxy) / det;
        const double c = (-vyz * vxx + vxz * vxy) / det;
        const double d = -mz - b * mx - c * my;
        const double squared = 0.25 * (b * b + c * c) - d;
        const double rest = zz_ / n_ - mz * mz + b * vxz + c * vyz; // mean of (z + Bx + Cy + D)^2
        if (squared <= 0.0) {
            return std::nullopt;
        }
        return Circle{std::sqrt(squared), std::sqrt(std::max(0.0, rest) / (4.0 * squared))};
    }

private:
    Vec2 origin_;
    double n_ = 0.0, x_ = 0.0, y_ = 0.0, z_ = 0.0, xx_ = 0.0, xy_ = 0.0, yy_ = 0.0, xz_ = 0.0, yz_ = 0.0, zz_ = 0.0;
};

/// A place where the line bends, over a way of some length.
struct Bent {
    double radius_mm;
    std::size_t at;
};

class BendFinder {
public:
    BendFinder(const std::vector<Vec2>& path, const std::vector<bool>& bridged, Led led)
        : path_(path), bridged_(bridged), led_(led) {
        bridged_before_.reserve(path.size() + 1);
        bridged_before_.push_back(0);
        for (std::size_t i = 0; i < path.size(); ++i) {
            bridged_before_.push_back(bridged_before_.back() + (bridged[i] ? 1U : 0U));
        }
        error_mm_ = roughness(path);
    }

    Bend run() {
        struct Reach {
            std::size_t mm;
            double most_mm;
        };
        constexpr Reach reaches[] = {{8, 30.0},   {11, 50.0},  {15, 72.0},  {20, 130.0},
                                     {28, 260.0}, {40, 560.0}, {60, 1000.0}};
        Bend best;
        for (const Reach& reach : reaches) {
            look_over(reach.mm, reach.most_mm, best);
            constexpr double sure = 0.85;
            if (best.radius_mm < sure * reach.most_mm) {
                break; // clear over so short a way
            }
        }
        constexpr double straight_mm = 800.0;
        return best.radius_mm < straight_mm ? best : Bend{};
    }

private:
    /// The error of the points, root mean square, as far as it shows: by third differences over 6 and over 12 mm, in
    /// which a bend that changes slowly leaves next to nothing, but what pixels do shows; their medians, since a few
    /// places are corners.
    static double roughness(const std::vector<Vec2>& path) {
        double rough = best_mm;
        for (const std::size_t third : {std::size_t{3}, std::size_t{6}}) {
            std::vector<double> list;
            for (std::size_t i = 3 * third; i + 3 * third < path.size(); i += 3) {
                list.push_back(
                    length(path[i + 3 * third] - 3.0 * path[i + third] + 3.0 * path[i - third] - path[i - 3 * third]));
            }
            constexpr std::size_t fewest = 8;
            if (list.size() < fewest) {
                return usual_mm;
            }
            constexpr double of_median = 0.6745 * 4.4721; // of a normal distribution; they have 20 times its variance
            rough = std::max(rough, median(std::move(list)) / of_median);
        }
        return std::min(rough, usual_mm);
    }

    bool is_line(std::size_t from, std::size_t to) const { return bridged_before_[to + 1] == bridged_before_[from]; }

    /// Whether the middle of a way stands off its chord as far as 0.4 of what a bend of that radius would make it:
    /// mostly it does not, and this is cheaper than a fit.
    bool rises(std::size_t i, std::size_t reach, double radius_mm) const {
        const Vec2 chord = path_[i + reach] - path_[i - reach];
        const double square = dot(chord, chord);
        const double twice_area = cross(chord, path_[i] - path_[i - reach]); // rise times chord
        const double rise = 0.125 * square / radius_mm;
        constexpr double enough = 0.4;
        return twice_area * twice_area >= enough * enough * rise * rise * square;
    }

    /// Over one length: from the tightest place on, as long as a place could still be tighter than what is found.
    void look_over(std::size_t reach, double most_mm, Bend& best) const {
        const auto off = [&](std::size_t led) { return std::max(reach, reach / 2 + led); };
        std::vector<Bent> places;
        for (std::size_t i = off(led_.begin); i + off(led_.end) < path_.size(); ++i) {
            if (is_line(i - reach, i + reach) && rises(i, reach, most_mm)) {
                const double radius = radius_at(path_, bridged_, i, reach);
                if (radius < most_mm) {
                    places.push_back({radius, i});
                }
            }
        }
        std::sort(places.begin(), places.end(), [](const Bent& a, const Bent& b) {
            return a.radius_mm != b.radius_mm ? a.radius_mm < b.radius_mm : a.at < b.at;
        });
        std::vector<bool> seen(path_.size(), false);
        for (const Bent& place : places) {
            if (place.radius_mm >= best.radius_mm) {
                break;
            }
            if (!seen[place.at]) {
                const Bent bent = on_circle(place, reach, seen);
                if (bent.radius_mm < std::min(best.radius_mm, most_mm)) {
                    best = {bent.radius_mm, path_[bent.at]};
                }
            }
        }
    }

    /// A way on a circle.
    struct Arc {
        std::size_t from;
        std::size_t to;
        double radius_mm;
    };

    /// As much as possible of the line round a place that lies on a circle, by points of an error; on the parabola of
    /// the place where that is none.
    Arc arc_round(const Bent& place, std::size_t reach, double error_mm) const {
        constexpr std::size_t most_way = 500;
        CircleFit fit(path_[place.at]);
        Arc arc{place.at - reach, place.at + reach, place.radius_mm};
        for (std::size_t i = arc.from; i <= arc.to; ++i) {
            if (!bridged_[i]) {
                fit.add(path_[i]);
            }
        }
        const std::optional<CircleFit::Circle> circle = fit.solved();
        if (circle && circle->off_mm <= most_off(arc.from, arc.to, circle->radius_mm, error_mm)) {
            arc.radius_mm = circle->radius_mm;
            bool before = true;
            bool behind = true;
            while (before || behind) {
                before = before && arc.from > led_.begin && place.at - arc.from < most_way &&
                         grows(fit, arc.from - 1, {arc.from - 1, arc.to, 0.0}, error_mm, arc.radius_mm);
                arc.from -= before ? 1 : 0;
                behind = behind && arc.to + 1 + led_.end < path_.size() && arc.to - place.at < most_way &&
                         grows(fit, arc.to + 1, {arc.from, arc.to + 1, 0.0}, error_mm, arc.radius_mm);
                arc.to += behind ? 1 : 0;
            }
        }
        return arc;
    }

    /// Round a place: the circle, and its middle or where the line bends tighter still; marks what lies on it.
    Bent on_circle(const Bent& place, std::size_t reach, std::vector<bool>& seen) const {
        const auto [from, to, radius] = arc_round(place, reach, error_mm_);
        Bent bent = peak_within(from, to, radius, reach);
        const Arc rough = arc_round(place, reach, usual_mm);
        bent.radius_mm = std::min(bent.radius_mm, tightest_at_end(rough.from, rough.to));
        // A circle much larger than the parabola holds more than the bend. How much is believed grows with the way that
        // lies on it: of a way hardly longer than the parabola's nothing, and on mixed courses the parabola at the
        // tightest of many places is too tight by up to a seventh.
        const double too_tight = 2 * (rough.to - rough.from) < 7 * reach ? 1.0
                                 : rough.to - rough.from < 6 * reach     ? 1.1
                                                                         : 1.3;
        bent.radius_mm = std::min(bent.radius_mm, too_tight * place.radius_mm);
        std::fill(seen.begin() + static_cast<std::ptrdiff_t>(from), seen.begin() + static_cast<std::ptrdiff_t>(to) + 1,
                  true);
        return bent;
    }

    /// A bend that tightens and eases again: over a part of it the circle is smaller than over all, and at its tightest
    /// place smaller still. Of an arc they are the same.
    Bent peak_within(std::size_t from, std::size_t to, double radius_mm, std::size_t reach) const {
        if (!is_line(from, to)) {
            return {radius_mm, (from + to) / 2}; // to both sides of a gap there is too little of it
        }
        const std::size_t part = std::max(2 * (to - from) / 3, std::min(to - from, 2 * reach));
        const std::size_t step = std::max<std::size_t>(1, (to - from) / 16);
        const Bent whole{radius_mm, (from + to) / 2};
        Bent tightest = whole;
        double first = 0.0; // of the parts at both ends
        double last = 0.0;
        for (std::size_t i = from; i + part <= to; i += step) {
            CircleFit fit(path_[i]);
            for (std::size_t k = i; k <= i + part; ++k) {
                fit.add(path_[k]);
            }
            const std::optional<CircleFit::Circle> circle = fit.solved();
            last = circle ? circle->radius_mm : endless_mm;
            first = i == from ? last : first;
            if (circle && circle->radius_mm < tightest.radius_mm) {
                tightest = {circle->radius_mm, i + part / 2};
            }
        }
        // Of a way so long the error of its points makes that part of the radius; twice that is no chance.
        const double length_mm = static_cast<double>(part);
        const double noise = std::max(0.02, 2.0 * error_mm_ * 8.0 * radius_mm / (length_mm * length_mm));
        if (radius_mm < (1.0 + noise) * tightest.radius_mm) {
            return whole;
        }
        // Only what eases to both sides is tighter still in between; to one side alone it may be where an arc ends.
        const double eases = std::min(first, last) / tightest.radius_mm - 1.0;
        constexpr double further = 0.7; // 0.57 for a bend that is a parabola of the way; real ones are more pointed
        return {tightest.radius_mm / (1.0 + further * std::min(eases, 0.5)), tightest.at};
    }

    double bent_within(std::size_t from, std::size_t to) const {
        CircleFit fit(path_[from]);
        for (std::size_t i = from; i <= to; ++i) {
            fit.add(path_[i]);
        }
        const std::optional<CircleFit::Circle> circle = fit.solved();
        return circle ? 1.0 / circle->radius_mm : 0.0;
    }

    /// A bend that goes on tightening up to the end of the line, as a spiral does, is tightest there: its thirds bend
    /// more and more, about as much each time. Where an arc begins behind a straight the last two bend alike.
    double tightest_at_end(std::size_t from, std::size_t to) const {
        constexpr std::size_t shortest = 7;
        const std::size_t third = (to - from) / 3;
        const bool at_begin = from <= led_.begin;
        const bool at_end = to + 1 + led_.end >= path_.size();
        if (at_begin == at_end || third < shortest || !is_line(from, to)) {
            return endless_mm;
        }
        double far = bent_within(from, from + third);
        const double middle = bent_within(from + third, to - third);
        double near = bent_within(to - third, to);
        if (at_begin) {
            std::swap(far, near);
        }
        constexpr double error_mm = 0.05;
        const double noise = 8.0 * error_mm / static_cast<double>(third * third);
        const double before = middle - far;
        const double behind = near - middle;
        if (before < noise || behind < std::max(noise, 0.85 * before)) {
            return endless_mm;
        }
        const double there = (far + middle + near) / 3.0 + 0.75 * (near - far); // half the way on from the middle
        return std::max(1.0 / there, 0.7 / near);
    }

    /// How far points may be off, root mean square: little beside the rise of the arc, since what does not belong to it
    /// bends the circle by about that part; but not less than their own error.
    static double most_off(std::size_t from, std::size_t to, double radius_mm, double error_mm) {
        constexpr double part = 0.03;
        const double way = static_cast<double>(to - from);
        return std::clamp(part * way * way / (8.0 * radius_mm), 2.4 * error_mm, 4.0 * error_mm);
    }

    /// Takes a point in when the circle still fits.
    bool grows(CircleFit& fit, std::size_t i, const Arc& way, double error_mm, double& radius) const {
        if (bridged_[i]) {
            return true;
        }
        CircleFit with = fit;
        with.add(path_[i]);
        const std::optional<CircleFit::Circle> circle = with.solved();
        if (!circle || circle->off_mm > most_off(way.from, way.to, circle->radius_mm, error_mm)) {
            return false;
        }
        fit = with;
        radius = circle->radius_mm;
        return true;
    }

    static constexpr double best_mm = 0.015;
    static constexpr double usual_mm = 0.05;

    const std::vector<Vec2>& path_;
    const std::vector<bool>& bridged_;
    Led led_;
    std::vector<std::size_t> bridged_before_; ///< how many points before each are
    double error_mm_ = 0.0;
};

} // namespace

double radius_round(const std::vector<Vec2>& path, const std::vector<bool>& bridged, std::size_t from, std::size_t to,
                    double most_off_mm) {
    CircleFit fit(path[from]);
    for (std::size_t i = from; i <= to; ++i) {
        if (!bridged[i]) {
            fit.add(path[i]);
        }
    }
    const std::optional<CircleFit::Circle> circle = fit.solved();
    return circle && circle->off_mm <= most_off_mm ? circle->radius_mm : endless_mm;
}

Bend tightest_bend(const std::vector<Vec2>& path, const std::vector<bool>& bridged, Led led) {
    return BendFinder(path, bridged, led).run();
}

} // namespace vast_turn
