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

    LineSpot at(Vec2 array, double heading_deg, const LineSpot& before) const {
        LineSpot best;
        double best_cost = std::numeric_limits<double>::infinity();
        for (const std::uint32_t point : points_.around(array)) {
            const std::uint32_t next = point + 1;
            const bool joined = next < points_.size() && points_.stretch(next) == points_.stretch(point);
            const Vec2 from = points_.at(point);
            const Vec2 to = joined ? points_.at(next) : from;
            const Vec2 nearest = nearest_on_segment(array, from, to);
            const double away = length(nearest - array);
            const double cost = away + (points_.stretch(point) == before.stretch ? 0.0 : stay_mm);
            if (cost < best_cost) {
                best_cost = cost;
                best.stretch = points_.stretch(point);
                best.along_mm = points_.along(point) + length(nearest - from);
                best.away_mm = away;
                best.forward = faces(point, joined, direction(heading_deg));
            }
        }
        if (best.stretch) {
            best.off = best.away_mm > outermost_mm_ + 0.5 * graph_.stretch(best.stretch).width_mm;
        }
        return best;
    }

private:
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

Vec2 array_at(const Scene& scene, const LookRecord& look) {
    return from_robot(look.at, direction(static_cast<double>(look.heading_deg)), scene.array_middle());
}

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
        before = walker.at(array_at(scene, look), static_cast<double>(look.heading_deg), before);
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
