#include "vet/line_walk.hpp"

#include <algorithm>

namespace vast_turn::vetting {

namespace {

/// How much farther another line may be than the one that it was on before it counts as nearer.
constexpr double stay_mm = 6.0;

class LineWalker {
public:
    explicit LineWalker(const Scene& scene) : points_(scene.line_points()), graph_(scene.graph()) {
        double widest_spot = 0.0;
        for (const LineSensor& sensor : scene.robot().sensors) {
            outermost_mm_ = std::max(outermost_mm_, length(sensor.at_mm - scene.array_middle()));
            widest_spot = std::max(widest_spot, sensor.spot_mm);
        }
        outermost_mm_ += 0.5 * widest_spot;
    }

    /// Where a look was; `lit`: a sensor saw line.
    LineSpot at(Vec2 array, double heading_deg, bool lit, const LineSpot& before) const {
        constexpr double none = std::numeric_limits<double>::infinity();
        std::uint32_t nearest = 0;
        std::uint32_t nearest_same = 0; // of those on the line that it was on
        double least = none;
        double least_same = none;
        for (const std::uint32_t point : points_.around(array)) {
            const Vec2 off = points_.at(point) - array;
            const double squared = dot(off, off);
            if (squared < least) {
                least = squared;
                nearest = point;
            }
            if (squared < least_same && points_.stretch(point) == before.stretch) {
                least_same = squared;
                nearest_same = point;
            }
        }
        if (!(least < none)) {
            return {};
        }
        Foot foot = foot_near(nearest, array);
        if (least_same < none && nearest_same != nearest) {
            const Foot same = foot_near(nearest_same, array);
            foot = same.away_mm <= foot.away_mm + stay_mm ? same : foot;
        }
        LineSpot spot;
        spot.stretch = points_.stretch(foot.point);
        spot.along_mm = points_.along(foot.point) + foot.beyond_mm;
        spot.away_mm = foot.away_mm;
        // Who comes onto a pad that is wider than its line is on it for as long as the array sees it.
        const bool still_on = lit && !before.off && spot.stretch == before.stretch;
        spot.off = !still_on && spot.away_mm > outermost_mm_ + 0.5 * graph_.stretch(spot.stretch).width_mm;
        spot.forward = faces(foot.point, joined(foot.point), direction(heading_deg));
        return spot;
    }

private:
    /// The place of a line that is nearest to a point of the course: so far beyond one of the line's points.
    struct Foot {
        std::uint32_t point = 0;
        double beyond_mm = 0.0;
        double away_mm = std::numeric_limits<double>::infinity();
    };

    /// Whether the line goes on to the next point.
    bool joined(std::uint32_t point) const {
        return point + 1 < points_.size() && points_.stretch(point + 1) == points_.stretch(point);
    }

    /// On the pieces to both sides of the line's nearest point.
    Foot foot_near(std::uint32_t nearest, Vec2 array) const {
        Foot best;
        const std::uint32_t first = nearest > 0 && joined(nearest - 1) ? nearest - 1 : nearest;
        for (std::uint32_t point = first; point <= nearest; ++point) {
            const Vec2 from = points_.at(point);
            const Vec2 to = joined(point) ? points_.at(point + 1) : from;
            const Vec2 at = nearest_on_segment(array, from, to);
            const double away = length(at - array);
            if (away < best.away_mm) {
                best = {point, length(at - from), away};
            }
        }
        return best;
    }

    /// Along the line about a point: over one piece more on both sides, so that a corner is halved.
    bool faces(std::uint32_t point, bool joined, Vec2 ahead) const {
        std::uint32_t from = point;
        std::uint32_t to = joined ? point + 1 : point;
        if (from > 0 && points_.stretch(from - 1) == points_.stretch(point)) {
            --from;
        }
        if (to + 1 < points_.size() && points_.stretch(to + 1) == points_.stretch(point)) {
            ++to;
        }
        return dot(points_.at(to) - points_.at(from), ahead) >= 0.0;
    }

    const LinePoints& points_;
    const RouteGraph& graph_;
    double outermost_mm_ = 0.0;
};

} // namespace

std::vector<LineSpot> walk_lines(const Scene& scene, const Run& run) {
    std::vector<LineSpot> spots;
    if (scene.graph().stretches.empty()) {
        spots.resize(run.looks.size());
        return spots;
    }
    const LineWalker walker(scene);
    spots.reserve(run.looks.size());
    LineSpot before;
    for (const LookRecord& look : run.looks) {
        before = walker.at(array_at(scene, look), static_cast<double>(look.heading_deg), look.line_bits != 0, before);
        spots.push_back(before);
    }
    return spots;
}

std::vector<Loss> losses_of(const std::vector<LineSpot>& spots) {
    constexpr std::size_t looks_lost = 3;
    constexpr std::size_t looks_back = 5;
    std::vector<Loss> list;
    std::size_t off = 0;
    bool had_line = false;
    for (std::size_t i = 0; i < spots.size(); ++i) {
        off = spots[i].off ? off + 1 : 0;
        had_line = had_line || !spots[i].off;
        if (off < looks_lost || !had_line) {
            continue;
        }
        Loss loss{i - looks_lost, spots.size()};
        std::size_t on = 0;
        while (++i < spots.size() && on < looks_back) {
            on = spots[i].off ? 0 : on + 1;
        }
        if (on == looks_back) {
            loss.back = i - looks_back;
            --i;
        }
        list.push_back(loss);
        off = 0;
    }
    return list;
}

} // namespace vast_turn::vetting
