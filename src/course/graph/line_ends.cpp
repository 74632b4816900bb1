#include "course/graph/line_ends.hpp"

#include <algorithm>
#include <cmath>
#include <tuple>
#include <utility>

#include "course/graph/junction_fit.hpp"

namespace vast_turn {

namespace {

/// How many points from a tip on a line's profile is not its own.
std::size_t unsound_part(const LineNet& net, const Tip& tip) {
    const LineShape& shape = net.lines[tip.line].shape;
    const std::size_t n = shape.middle.size();
    const auto at = [&](std::size_t i) { return tip.begins ? i : n - 1 - i; };
    const double wide = 1.05 * shape.usual_width_mm + 0.3;
    std::size_t first = std::min(n - 1, static_cast<std::size_t>(0.4 * shape.usual_width_mm));
    std::size_t run = 0;
    for (std::size_t i = first; i < n / 2 && run < 3; ++i) {
        run = shape.width_mm[at(i)] < wide ? run + 1 : 0;
        first = run == 1 ? i : first;
    }
    return first + 2;
}

/// Leads one line after the other.
class Leader {
public:
    Leader(LineNet& net, const LineMask& mask) : net_(net), mask_(mask), lines_(net.lines), knots_(net.knots) {}

    /// A line's path ends in its knots: it comes to a junction by the bend that it has where it is sound, an end is
    /// where the line ends.
    void straighten_to_knots(std::size_t number) {
        Line& line = lines_[number];
        if (line.gone || line.ring() || line.is_whole) {
            return;
        }
        const std::vector<Vec2>& middle = line.shape.middle;
        const bool end_from = net_.tips(line.from).size() == 1;
        const bool end_to = net_.tips(line.to).size() == 1;
        const std::size_t n = middle.size();
        const std::size_t first = end_from ? end_part(line) : sound_from({number, true});
        const std::size_t behind = n - std::min(n, end_to ? end_part(line) : sound_from({number, false}));
        const bool is_near = first >= behind; // two junctions near to one another
        std::vector<Vec2> inner(middle.begin() + static_cast<std::ptrdiff_t>(is_near ? 0 : first),
                                middle.begin() + static_cast<std::ptrdiff_t>(is_near ? n : behind));
        if (is_near) {
            const double off = 0.9 * line.shape.usual_width_mm;
            std::erase_if(inner, [&](Vec2 p) {
                return length(p - knots_[static_cast<std::size_t>(line.from)].at) < off ||
                       length(p - knots_[static_cast<std::size_t>(line.to)].at) < off;
            });
        }
        std::vector<Vec2> path = lead_in(number, inner, true, end_from);
        path.insert(path.end(), inner.begin(), inner.end());
        std::vector<Vec2> out = lead_in(number, inner, false, end_to);
        path.insert(path.end(), out.rbegin(), out.rend());
        if (path.size() < 2) {
            path = {middle.front(), middle.back()};
        }
        line.shape.middle = resampled(path, 2.0);
        for (const auto& [is_end, knot, p] :
             {std::tuple{end_from, line.from, path.front()}, std::tuple{end_to, line.to, path.back()}}) {
            if (is_end) {
                knots_[static_cast<std::size_t>(knot)].at = p;
            }
        }
    }

private:
    /// How many points from an open end on thinning has bent aside.
    static std::size_t end_part(const Line& line) {
        const double off = std::min(0.7 * line.shape.usual_width_mm, 0.25 * length_of(line.shape.middle));
        return static_cast<std::size_t>(std::ceil(0.5 * off));
    }

    /// How many points from a junction on are not the line's own, or lie behind the junction's point.
    std::size_t sound_from(const Tip& tip) const {
        const Line& line = lines_[tip.line];
        const std::vector<Vec2>& middle = line.shape.middle;
        const std::size_t n = middle.size();
        const Vec2 knot = knots_[static_cast<std::size_t>(tip.begins ? line.from : line.to)].at;
        const auto at = [&](std::size_t i) { return tip.begins ? middle[i] : middle[n - 1 - i]; };
        std::size_t nearest = 0;
        for (std::size_t i = 1; i < n / 2; ++i) {
            nearest = length(at(i) - knot) < length(at(nearest) - knot) ? i : nearest;
        }
        const auto own = static_cast<std::size_t>(0.45 * line.shape.usual_width_mm);
        return std::max(unsound_part(net_, tip), nearest == 0 ? 0 : nearest + own / 2);
    }

    /// The way from a line's end or junction to the first of its sound points, that one left out.
    std::vector<Vec2> lead_in(std::size_t number, const std::vector<Vec2>& inner, bool begins, bool is_end) const {
        const Line& line = lines_[number];
        const Vec2 rough = begins ? line.shape.middle.front() : line.shape.middle.back();
        const Knot& led_to = knots_[static_cast<std::size_t>(begins ? line.from : line.to)];
        const Vec2 knot = led_to.at;
        const auto reach = static_cast<std::size_t>(std::max(14.0, 0.7 * line.shape.usual_width_mm));
        std::vector<Vec2> away; // from where it is sound
        for (std::size_t i = 0; i < std::min(inner.size(), reach); ++i) {
            away.push_back(begins ? inner[i] : inner[inner.size() - 1 - i]);
        }
        if (away.size() < 4) {
            if (!is_end) {
                return {knot};
            }
            const Vec2 far = begins ? line.shape.middle.back() : line.shape.middle.front();
            const Vec2 d = rough - far;
            const Vec2 along = 1.0 / std::max(1e-9, length(d)) * d;
            return {rough + way_to_rim(mask_, rough, along, 2.0 * line.shape.usual_width_mm) * along};
        }
        const FittedArm arm = arm_of(std::move(away));
        for (const KnotArc& arc : led_to.arcs) {
            if (!is_end && arc.line == number) {
                return along_arc(knot, arc, arm);
            }
        }
        return is_end ? to_rim(arm, line.shape.usual_width_mm) : arc_to(arm, knot);
    }

    /// How the line comes out: over less of it where it has a bend on the way, since one parabola over an arc and a
    /// straight lies beside both.
    static FittedArm arm_of(std::vector<Vec2> away) {
        constexpr double straight_mm = 0.05;
        constexpr double beside_mm = 0.15;
        constexpr std::size_t fewest = 9;
        FittedArm arm = fit_arm(away, straight_mm);
        while (arm.off_mm > beside_mm && away.size() > fewest) {
            away.resize(std::max(fewest, 3 * away.size() / 4));
            arm = fit_arm(away, straight_mm);
        }
        return arm;
    }

    /// Goes on from an arm in the middle of the line to where the line ends; the first point is the end.
    std::vector<Vec2> to_rim(const FittedArm& arm, double width) const {
        constexpr double step = 1.0;
        constexpr double eaten = 12.0; // widths: thinning shortens lines that lie at 45 degrees
        constexpr std::size_t back = 5;
        std::vector<Vec2> out{arm.at};
        Vec2 along = -1.0 / length(arm.heading(0.0)) * arm.heading(0.0);
        const int most = static_cast<int>(eaten * width / step);
        for (int i = 0; i < most; ++i) {
            const double left = way_to_rim(mask_, out.back(), along, 2.0 * step);
            if (left < step) {
                out.push_back(out.back() + left * along);
                break;
            }
            out.push_back(centred(out.back() + step * along, along, width));
            if (out.size() > back) {
                const Vec2 d = out.back() - out[out.size() - 1 - back];
                along = 1.0 / std::max(1e-9, length(d)) * d;
            }
        }
        std::reverse(out.begin(), out.end());
        out.pop_back(); // the arm's own point
        return out.empty() ? std::vector<Vec2>{arm.at} : out;
    }

    /// The middle of the profile across, where that is a whole one. In a round end it is not: there the middles of
    /// slanted profiles would lead further aside with each step.
    Vec2 centred(Vec2 p, Vec2 along, double width) const {
        const Vec2 across{-along.y, along.x};
        const double one = way_to_rim(mask_, p, across, width);
        const double other = way_to_rim(mask_, p, -1.0 * across, width);
        const double shift = 0.5 * (one - other);
        const bool whole = std::abs(one + other - width) < 0.05 * width && std::abs(shift) < 0.2 * width;
        return whole ? p + shift * across : p;
    }

    /// From a knot along the arc that is known to begin there, as far as it turns into the arm's direction.
    static std::vector<Vec2> along_arc(Vec2 knot, const KnotArc& arc, const FittedArm& arm) {
        const Vec2 from = knot - arc.middle;
        const Vec2 outwards = 1.0 / length(arm.heading(0.0)) * arm.heading(0.0);
        const double sign = cross(from, arm.at - knot) > 0.0 ? 1.0 : -1.0; // round which way
        const Vec2 begins = sign / arc.radius_mm * Vec2{-from.y, from.x};
        const double turn = std::atan2(sign * cross(begins, outwards), dot(begins, outwards));
        std::vector<Vec2> out{knot};
        constexpr double step = 2.0;
        const auto steps = static_cast<int>(std::max(0.0, turn) * arc.radius_mm / step);
        for (int i = 1; i <= steps; ++i) {
            const double by = sign * turn * i / steps;
            out.push_back(arc.middle + Vec2{from.x * std::cos(by) - from.y * std::sin(by),
                                            from.x * std::sin(by) + from.y * std::cos(by)});
        }
        // What the rim and the arm differ by is bent in evenly, so that no corner comes of it.
        const Vec2 left{outwards.y, -outwards.x};
        const double aside = dot(arm.at - out.back(), left);
        for (int i = 1; i <= steps; ++i) {
            const double part = static_cast<double>(i) / steps;
            out[static_cast<std::size_t>(i)] = out[static_cast<std::size_t>(i)] + (part * part * aside) * left;
        }
        while (out.size() > 1 && dot(arm.at - out.back(), outwards) < 0.5 * step) {
            out.pop_back(); // the arm is still on the arc
        }
        return out;
    }

    /// Along the circle that leaves the arm in its direction and comes to a point, from there; straight where that
    /// would turn too far.
    static std::vector<Vec2> arc_to(const FittedArm& arm, Vec2 point) {
        const Vec2 chord = point - arm.at;
        const double way = length(chord);
        const Vec2 along = -1.0 * arm.heading(0.0);
        const double half_turn = std::atan2(cross(along, chord), dot(along, chord));
        constexpr double most = 0.9; // of the half turn, about 50 degrees
        std::vector<Vec2> out{point};
        if (way < 4.0 || std::abs(half_turn) < 0.01 || std::abs(half_turn) > most) {
            return out;
        }
        const double radius = 0.5 * way / std::sin(half_turn); // signed
        const Vec2 unit = 1.0 / length(along) * along;
        const Vec2 centre = arm.at + radius * Vec2{-unit.y, unit.x};
        const int steps = std::max(2, static_cast<int>(0.5 * way));
        for (int i = steps - 1; i > 0; --i) {
            const double turn = 2.0 * half_turn * i / steps;
            const Vec2 from = arm.at - centre;
            out.push_back(centre + Vec2{from.x * std::cos(turn) - from.y * std::sin(turn),
                                        from.x * std::sin(turn) + from.y * std::cos(turn)});
        }
        return out;
    }

    LineNet& net_;
    const LineMask& mask_;
    std::vector<Line>& lines_;
    std::vector<Knot>& knots_;
};

} // namespace

std::vector<Vec2> sound_part(const LineNet& net, const Tip& tip) {
    return sound_part(net, tip, std::max(24.0, 1.2 * net.lines[tip.line].shape.usual_width_mm));
}

std::vector<Vec2> sound_part(const LineNet& net, const Tip& tip, double reach_mm) {
    const LineShape& shape = net.lines[tip.line].shape;
    const std::size_t n = shape.middle.size();
    const auto at = [&](std::size_t i) { return tip.begins ? i : n - 1 - i; };
    const std::size_t first = unsound_part(net, tip);
    const auto reach = static_cast<std::size_t>(0.5 * reach_mm);
    std::vector<Vec2> part;
    for (std::size_t i = first; i < n && i < first + reach && i < n - n / 5; ++i) {
        part.push_back(shape.middle[at(i)]);
    }
    return part;
}

void lead_lines_to_knots(LineNet& net, const LineMask& mask) {
    Leader leader(net, mask);
    for (std::size_t i = 0; i < net.lines.size(); ++i) {
        leader.straighten_to_knots(i);
    }
}

} // namespace vast_turn
