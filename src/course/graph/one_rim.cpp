#include "course/graph/one_rim.hpp"

#include <algorithm>
#include <cmath>
#include <cstddef>
#include <cstdint>
#include <iterator>
#include <utility>

namespace vast_turn {

namespace {

/// Whether a dark area was taken off right behind a rim.
bool is_spoilt(const LineMask& mask, Vec2 rim, Vec2 outwards) {
    constexpr double behind_mm[] = {0.5, 1.5, 2.5};
    return std::any_of(std::begin(behind_mm), std::end(behind_mm),
                       [&](double mm) { return mask.was_taken_off(rim + mm * outwards); });
}

/// How many points, 2 mm apart, from an end on a line is wider for what meets there: a width and a half, where nothing
/// does a half.
std::size_t far_from_end(bool is_loose, double width) {
    return static_cast<std::size_t>((is_loose ? 0.3 : 0.75) * width);
}

class RimFollower {
public:
    RimFollower(const LineMask& mask, const std::vector<Vec2>& rough, const std::vector<Rims>& rims, LineShape& shape)
        : mask_(mask), rough_(rough), rims_(rims), shape_(shape), half_(0.5 * shape.usual_width_mm),
          by_(rough.size(), By::both) {}

    void beside_areas() {
        for (std::size_t i = 0; !mask_.off.empty() && i < rough_.size(); ++i) {
            const Rims& rims = rims_[i];
            const bool one = is_spoilt(mask_, rough_[i] + rims.one * rims.across, rims.across);
            const bool other = is_spoilt(mask_, rough_[i] - rims.other * rims.across, -1.0 * rims.across);
            if (one != other) {
                const By by = one ? By::other : By::one;
                constexpr double most = 1.5; // half widths that thinning may have led it aside
                if (length(middle_by(by, i) - rough_[i]) < most * half_) {
                    take(i, by);
                }
            }
        }
    }

    /// Stretches in which the line is wider than it is, between sound ones.
    bool beside_blots(LooseEnds loose, const std::vector<char>& close) {
        const double usual_off = median_off();
        const auto begins = [&](std::size_t i) {
            return is_wide(i, close[i] != 0 ? std::max(0.45, 5.0 * usual_off) : 0.24 * half_ + 0.8);
        };
        const auto goes_on = [&](std::size_t k, std::size_t i) {
            return is_wide(k, close[i] != 0 ? std::max(0.25, 2.0 * usual_off) : 0.04 * half_ + 0.3);
        };
        const auto longest = static_cast<std::size_t>(4.0 * half_ + 10.0); // points: eight widths
        return mend_stretches(loose, longest, begins, goes_on, [this](std::size_t from, std::size_t to) {
            return cross_over(from, to) || follow_smoother_side(from, to);
        });
    }

    /// Stretches in which it is narrower than it is, between sound ones: what is between the rim of a plate and that of
    /// the line is lost in pixels.
    bool over_plates(LooseEnds loose, const std::vector<char>& close) {
        const double usual_off = median_off();
        const double clearly = std::max(0.04 * half_ + 0.6, 5.0 * usual_off);
        const double hardly = std::max(0.25, 2.0 * usual_off);
        constexpr std::size_t longest = 40; // points: plates are small
        return mend_stretches(
            loose, longest, [&](std::size_t i) { return close[i] != 0 && is_narrow(i, clearly); },
            [&](std::size_t k, std::size_t) { return is_wide(k, hardly) || is_narrow(k, hardly); },
            [this](std::size_t from, std::size_t to) { return go_on_over(from, to); });
    }

    /// Once more from where the middle is now: beside a blot thinning leads it askew, and what is looked at across it
    /// is no profile.
    void look_again() {
        constexpr std::size_t reach = 4;
        constexpr int times = 2;
        for (int k = 0; k < times; ++k) {
            const std::vector<Vec2> before = shape_.middle;
            for (std::size_t i = reach; i + reach < before.size(); ++i) {
                if (by_[i] == By::both) {
                    continue;
                }
                Vec2 first;
                Vec2 last;
                for (std::size_t n = 1; n <= reach; ++n) {
                    first = first + before[i - n];
                    last = last + before[i + n];
                }
                const Vec2 d = last - first;
                const Vec2 along = 1.0 / std::max(1e-9, length(d)) * d;
                const Vec2 across{-along.y, along.x}; // as Rims have it
                const Vec2 out = by_[i] == By::one ? across : -1.0 * across;
                const double to_rim = way_to_rim(mask_, before[i], out, 4.0 * half_);
                if (to_rim > 0.0 && std::abs(to_rim - half_) < 0.25 * half_ + 0.5) {
                    shape_.middle[i] = before[i] + (to_rim - half_) * out;
                }
            }
        }
    }

private:
    enum class By : std::uint8_t { both, one, other };

    static constexpr std::size_t lead = 6;   ///< points that tell how a line comes to a blot
    static constexpr std::size_t spread = 2; ///< points over which its middle was smoothed

    /// Each stretch round a point at which it `begins`, as far as it `goes_on` from there, between sound ones and not
    /// too long, is put right by `mend`, with the points over which what is wrong there was spread. Whether any was.
    template <class Begins, class GoesOn, class Mend>
    bool mend_stretches(LooseEnds loose, std::size_t longest, const Begins& begins, const GoesOn& goes_on,
                        const Mend& mend) {
        bool any = false;
        const std::size_t n = rough_.size();
        const std::size_t begin = far_from_end(loose.begin, 2.0 * half_) + lead + spread;
        const std::size_t end = far_from_end(loose.end, 2.0 * half_) + lead + spread;
        for (std::size_t i = begin; i + end < n; ++i) {
            if (!begins(i)) {
                continue;
            }
            std::size_t from = i;
            std::size_t to = i;
            // What hangs on both sides seldom hangs right opposite. Points between count as sound when what is spread
            // from both leaves any.
            constexpr std::size_t apart = 2 * spread + 1;
            for (std::size_t k = 1; k <= apart && k <= from; ++k) {
                if (goes_on(from - k, i)) {
                    from -= k;
                    k = 0;
                }
            }
            for (std::size_t k = 1; k <= apart && to + k < n; ++k) {
                if (goes_on(to + k, i)) {
                    to += k;
                    k = 0;
                }
            }
            if (from >= begin && to + end < n && to - from < longest) {
                any = mend(from - spread, to + spread) || any;
            }
            i = to;
        }
        return any;
    }

    Vec2 middle_by(By by, std::size_t i) const {
        return by == By::one ? rough_[i] + (rims_[i].one - half_) * rims_[i].across
                             : rough_[i] - (rims_[i].other - half_) * rims_[i].across;
    }

    bool is_wide(std::size_t i, double by_mm) const { return shape_.width_mm[i] > shape_.usual_width_mm + by_mm; }
    bool is_narrow(std::size_t i, double by_mm) const { return shape_.width_mm[i] < shape_.usual_width_mm - by_mm; }

    /// By how much widths differ from the usual one, mostly.
    double median_off() const {
        std::vector<double> off;
        std::transform(shape_.width_mm.begin(), shape_.width_mm.end(), std::back_inserter(off),
                       [this](double width) { return std::abs(width - shape_.usual_width_mm); });
        return median(std::move(off));
    }

    void take(std::size_t i, By by) {
        by_[i] = by;
        shape_.middle[i] = middle_by(by, i);
        shape_.width_mm[i] = shape_.usual_width_mm;
    }

    /// Root mean square and largest of how far points are from the curve by which the line goes on over them.
    struct Off {
        double mean = 0.0;
        double most = 0.0;
        double at_ends = 0.0; ///< largest of the first and the last
    };

    /// Hermite's curve by which the line goes on from before some points to behind them, at each of them.
    std::vector<Vec2> curve_over(std::size_t from, std::size_t to) const {
        const Vec2 a = shape_.middle[from - 1];
        const Vec2 b = shape_.middle[to + 1];
        const double chord = length(b - a);
        const auto heading = [&](std::size_t first, std::size_t last) {
            const Vec2 d = shape_.middle[last] - shape_.middle[first];
            return chord / std::max(1e-9, length(d)) * d;
        };
        Vec2 da = heading(from - lead, from - 1);
        Vec2 db = heading(to + 1, to + lead);
        // What leads there is a chord: in a bend the line has turned on by half of it where the curve begins.
        const double turn = std::atan2(cross(da, db), dot(da, db));
        const double part = 0.5 * (lead - 1.0) / static_cast<double>(to - from + lead + 1);
        // So long that the curve over an arc is one, nearly (4 r tan(a / 4) for an angle a).
        const double arc = (1.0 - 2.0 * part) * turn;
        const double reach = std::abs(arc) > 0.01 ? 2.0 * std::tan(0.25 * arc) / std::sin(0.5 * arc) : 1.0;
        const double on = part * turn;
        da = reach * turned(da, -std::sin(on), std::cos(on));
        db = reach * turned(db, std::sin(on), std::cos(on));
        std::vector<Vec2> curve;
        for (std::size_t i = from; i <= to; ++i) {
            const double t = static_cast<double>(i - from + 1) / static_cast<double>(to - from + 2);
            curve.push_back(cubic_at(t, a, da, b, db));
        }
        return curve;
    }

    Off off_curve(const std::vector<Vec2>& curve, std::size_t from, By by) const {
        Off off;
        for (std::size_t k = 0; k < curve.size(); ++k) {
            const double d = std::abs(dot(middle_by(by, from + k) - curve[k], rims_[from + k].across));
            off.mean += d * d / static_cast<double>(curve.size());
            off.most = std::max(off.most, d);
            off.at_ends = k == 0 || k + 1 == curve.size() ? std::max(off.at_ends, d) : off.at_ends;
        }
        off.mean = std::sqrt(off.mean);
        return off;
    }

    /// Cosine of how far the line turns over some points.
    double turn_over(std::size_t from, std::size_t to) const {
        const Vec2 before = shape_.middle[from - 1] - shape_.middle[from - lead];
        const Vec2 behind = shape_.middle[to + lead] - shape_.middle[to + 1];
        return dot(before, behind) / std::max(1e-9, length(before) * length(behind));
    }

    bool follow_smoother_side(std::size_t from, std::size_t to) {
        const std::vector<Vec2> curve = curve_over(from, to);
        const Off one = off_curve(curve, from, By::one);
        const Off other = off_curve(curve, from, By::other);
        const bool is_one = one.mean < other.mean;
        const Off& own = is_one ? one : other;
        constexpr double joins_mm = 0.8;
        constexpr double bend = 0.3; // cosine of 72 degrees: what turns farther is a corner
        if (own.mean > 0.5 * (is_one ? other : one).mean || own.most > 0.12 * half_ + joins_mm ||
            own.at_ends > joins_mm || turn_over(from, to) < bend) {
            return false;
        }
        for (std::size_t i = from; i <= to; ++i) {
            take(i, is_one ? By::one : By::other);
        }
        return true;
    }

    /// Something lies on both sides, as a thin stroke that crosses the line: over a short way it goes on by the curve.
    bool cross_over(std::size_t from, std::size_t to) {
        const auto short_way = static_cast<std::size_t>(0.5 * half_ + 8.0); // points: half a width, and what spreads
        return to - from < short_way && go_on_over(from, to);
    }

    /// Puts points on the curve, unless it leads away from them.
    bool go_on_over(std::size_t from, std::size_t to) {
        constexpr double bends = 0.5; // cosine of 60 degrees: over more it may be a corner
        if (turn_over(from, to) < bends) {
            return false;
        }
        const std::vector<Vec2> curve = curve_over(from, to);
        for (std::size_t k = 0; k < curve.size(); ++k) {
            if (length(curve[k] - shape_.middle[from + k]) > 0.3 * half_ + 0.5) {
                return false;
            }
        }
        std::copy(curve.begin(), curve.end(), shape_.middle.begin() + static_cast<std::ptrdiff_t>(from));
        return true;
    }

    const LineMask& mask_;
    const std::vector<Vec2>& rough_;
    const std::vector<Rims>& rims_;
    LineShape& shape_;
    double half_;
    std::vector<By> by_; ///< which rim each point was put by
};

} // namespace

void follow_own_rim(const LineMask& mask, const std::vector<Vec2>& rough, const std::vector<Rims>& rims,
                    LineShape& shape) {
    RimFollower follower(mask, rough, rims, shape);
    follower.beside_areas();
    follower.look_again();
}

namespace {

std::vector<Rims> all_rims(const LineMask& mask, const std::vector<Vec2>& middle) {
    std::vector<Rims> rims;
    for (std::size_t i = 0; i < middle.size(); ++i) {
        rims.push_back(rims_at(mask, middle, i, false));
    }
    return rims;
}

/// Where a stroke that crosses the line was taken off, what was two lines was led to their knot as to a junction: back
/// to between the rims, where these are as far apart as they are.
void centre_again(const LineMask& mask, std::vector<Vec2>& middle, double width, LooseEnds loose,
                  const std::vector<char>& close) {
    const std::vector<Rims> rims = all_rims(mask, middle);
    std::vector<double> shift(middle.size(), 0.0);
    constexpr double clearly_mm = 0.3;
    constexpr std::size_t stroke = 8; // points: where it crosses the rims tell nothing, and it goes on as beside it
    const std::size_t begin = far_from_end(loose.begin, width);
    const std::size_t end = far_from_end(loose.end, width);
    std::size_t last = middle.size(); // that was told by its rims
    bool any = false;
    for (std::size_t i = begin; i + end < middle.size(); ++i) {
        const double aside = 0.5 * (rims[i].one - rims[i].other);
        const bool is_whole = std::abs(rims[i].one + rims[i].other - width) < 0.02 * width + 0.3;
        if (close[i] != 0 && is_whole && std::abs(aside) < 0.1 * width + 0.5) {
            shift[i] = aside;
            any = any || std::abs(aside) > clearly_mm;
            for (std::size_t k = last + 1; k < i && i - last < stroke; ++k) {
                const double part = static_cast<double>(k - last) / static_cast<double>(i - last);
                shift[k] = (1.0 - part) * shift[last] + part * aside;
            }
            last = i;
        }
    }
    if (!any) {
        return;
    }
    // What is between the rims is smoothed, not the way to it: of a step in the middle half would stay.
    constexpr double weights[] = {-2.0 / 21.0, 3.0 / 21.0, 6.0 / 21.0, 7.0 / 21.0, 6.0 / 21.0, 3.0 / 21.0, -2.0 / 21.0};
    constexpr std::size_t reach = 3;
    std::vector<Vec2> between = middle;
    for (std::size_t i = 0; i < middle.size(); ++i) {
        between[i] = middle[i] + shift[i] * rims[i].across;
    }
    std::vector<Vec2> moved = between;
    for (std::size_t i = reach; i + reach < middle.size(); ++i) {
        if (std::all_of(&shift[i - reach], &shift[i + reach] + 1, [](double mm) { return mm == 0.0; })) {
            continue;
        }
        moved[i] = {};
        for (std::size_t k = 0; k <= 2 * reach; ++k) {
            moved[i] = moved[i] + weights[k] * between[i + k - reach];
        }
    }
    middle = std::move(moved);
}

} // namespace

void pass_by_blots(const LineMask& mask, const PlacesOnLines& places, std::vector<Vec2>& middle, double usual_width_mm,
                   LooseEnds loose) {
    const double reach = usual_width_mm + 12.0;
    const double reach_of_plates = 0.5 * usual_width_mm + 4.0; // no farther: their rims are blurred, no more
    std::vector<char> close;
    std::vector<char> on_plate;
    std::vector<char> either;
    for (const Vec2 p : middle) {
        close.push_back(places.crossings.is_near(p, reach) ? 1 : 0);
        on_plate.push_back(places.plates.is_near(p, reach_of_plates) ? 1 : 0);
        either.push_back(close.back() != 0 || on_plate.back() != 0 ? 1 : 0);
    }
    constexpr int times = 2;
    const bool any = !places.crossings.empty() || !places.plates.empty();
    for (int k = 0; k < times && any; ++k) {
        centre_again(mask, middle, usual_width_mm, loose, either);
    }
    LineShape shape{middle, {}, usual_width_mm};
    const std::vector<Rims> rims = all_rims(mask, middle);
    for (const Rims& one : rims) {
        shape.width_mm.push_back(one.one + one.other);
    }
    RimFollower follower(mask, middle, rims, shape);
    const bool beside = follower.beside_blots(loose, close);
    if (beside) {
        follower.look_again();
    }
    if (follower.over_plates(loose, on_plate) || beside) {
        middle = std::move(shape.middle);
    }
}

} // namespace vast_turn
