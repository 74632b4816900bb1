#include "trial/likeliest_states.hpp"

#include <algorithm>
#include <cassert>
#include <cmath>
#include <limits>

namespace vast_turn {

namespace {

constexpr double stray_mm = 18.0;     // one standard deviation of the array's middle from the line
constexpr double by_slip = 1.0 / 9.0; // 1/mm, of how far the ways differ
constexpr double leave_cost = 4.0;    // of going off every line, and of coming back
constexpr double slack = 1e-6;        // for what rounding does to sums that are compared
constexpr double never = std::numeric_limits<double>::infinity();

/// The cheapest way to each state, point by point of the path.
///
/// Whatever a path does, it may be off every line; so a state that costs more than being off and coming back is on no
/// best way and is left out. What remains are the points near the path. That is why this costs little beside the run
/// itself: the result is that of going through all points at every step.
class Search {
public:
    Search(const LinePoints& points, const std::vector<PathPoint>& path, double off_mm)
        : points_(points), path_(path), off_cost_(0.5 * (off_mm / stray_mm) * (off_mm / stray_mm)),
          cost_(points.size(), never), came_off_(path.size()) {
        constexpr std::size_t usual = 32; // states that a point of the path keeps
        reached_.reserve(usual * path.size());
    }

    std::vector<std::size_t> run() {
        begin();
        for (std::size_t i = 1; i < path_.size(); ++i) {
            step(i);
        }
        return best_sequence();
    }

private:
    /// A state that a best way may pass through, and where it came from.
    struct Reached {
        std::uint32_t point;
        std::uint32_t from; ///< the number of points for off every line
        double cost;
    };

    std::uint32_t off() const { return static_cast<std::uint32_t>(points_.size()); }

    double stray_cost(std::uint32_t point, Vec2 at) const {
        const Vec2 off = points_.at(point) - at;
        return dot(off, off) * (0.5 / (stray_mm * stray_mm));
    }

    void begin() {
        cost_off_ = off_cost_;
        for (const std::uint32_t point : points_.around(path_[0].at)) {
            reached_.push_back({point, 0, stray_cost(point, path_[0].at)});
        }
        settle();
    }

    void step(std::size_t i) {
        const double way = length(path_[i].at - path_[i - 1].at);
        const double from_off = cost_off_ + leave_cost;
        const bool stays_off = cost_off_ <= best_ + leave_cost;
        const double next_off = (stays_off ? cost_off_ : best_ + leave_cost) + off_cost_;
        came_off_[i] = stays_off ? off() : best_point_;
        const double dearest = std::min(2.5 * off_cost_, next_off + leave_cost - std::min(best_, from_off) + slack);
        for (const std::uint32_t point : points_.around(path_[i].at)) {
            const double here = stray_cost(point, path_[i].at);
            if (here > dearest) {
                continue; // far away
            }
            Reached next = cheapest_into(point, way, std::min(from_off, next_off + leave_cost - here + slack));
            if (from_off < next.cost) {
                next.cost = from_off;
                next.from = off();
            }
            next.cost += here;
            if (next.cost <= next_off + leave_cost) {
                reached_.push_back(next);
            }
        }
        cost_off_ = next_off;
        settle();
    }

    /// By which of the points near it a point is reached for least, of those that cost at most `most`. They stand by
    /// their way, so it begins with those whose way is the path's and goes on to both sides until none can be cheaper.
    Reached cheapest_into(std::uint32_t point, double way, double most) const {
        Reached best{point, 0, never};
        std::uint32_t rank = std::numeric_limits<std::uint32_t>::max();
        double room = most - best_; // what a way may still cost
        const auto consider = [&](const LinePoints::Near& near, double more) {
            const double cost = cost_[near.point] + more;
            if (cost < best.cost || (cost < never && cost <= best.cost && near.rank < rank)) {
                best.cost = cost;
                best.from = near.point;
                rank = near.rank;
                room = std::min(room, cost - best_ + slack);
            }
        };
        const auto near = points_.near(point);
        const LinePoints::Near* const begin = near.data();
        const LinePoints::Near* const end = begin + near.size();
        const LinePoints::Near* middle = begin;
        while (middle != end && middle->way_mm < way) {
            ++middle;
        }
        for (const LinePoints::Near* at = middle; at != end; ++at) {
            const double more = (at->way_mm - way) * by_slip;
            if (more > room) {
                break;
            }
            consider(*at, more);
        }
        for (const LinePoints::Near* at = middle; at != begin; --at) {
            const double more = (way - (at - 1)->way_mm) * by_slip;
            if (more > room) {
                break;
            }
            consider(*(at - 1), more);
        }
        return best;
    }

    /// Makes what was kept for this point of the path the costs that the next one starts from.
    void settle() {
        for (std::size_t k = first_before_; k < first_now_; ++k) {
            cost_[reached_[k].point] = never;
        }
        best_ = never;
        for (std::size_t k = first_now_; k < reached_.size(); ++k) {
            cost_[reached_[k].point] = reached_[k].cost;
            if (reached_[k].cost < best_) {
                best_ = reached_[k].cost;
                best_point_ = reached_[k].point;
            }
        }
        first_before_ = first_now_;
        first_now_ = reached_.size();
        ends_.push_back(first_now_);
    }

    std::vector<std::size_t> best_sequence() const {
        std::vector<std::size_t> states(path_.size());
        std::uint32_t state = cost_off_ < best_ ? off() : best_point_;
        for (std::size_t i = path_.size(); i-- > 0;) {
            states[i] = state;
            if (state == off()) {
                state = came_off_[i];
                continue;
            }
            const auto end = reached_.begin() + static_cast<std::ptrdiff_t>(ends_[i]);
            const auto begin = reached_.begin() + static_cast<std::ptrdiff_t>(i > 0 ? ends_[i - 1] : 0);
            // Points stand in their order.
            state = std::lower_bound(begin, end, state, [](const Reached& r, std::uint32_t p) {
                        return r.point < p;
                    })->from;
        }
        return states;
    }

    const LinePoints& points_;
    const std::vector<PathPoint>& path_;
    double off_cost_;
    std::vector<double> cost_; ///< of each point at the last point of the path; `never` where no best way passes
    double cost_off_ = 0.0;
    double best_ = never;
    std::uint32_t best_point_ = 0;
    std::vector<Reached> reached_;  ///< for one point of the path after another, within each by point
    std::vector<std::size_t> ends_; ///< for each point of the path, where its end
    std::size_t first_before_ = 0;
    std::size_t first_now_ = 0;
    std::vector<std::uint32_t> came_off_; ///< for each point of the path, from where it is off every line
};

} // namespace

std::vector<std::size_t> likeliest_states(const LinePoints& points, const std::vector<PathPoint>& path, double off_mm) {
    assert(points.size() > 0 && !path.empty());
    return Search(points, path, off_mm).run();
}

} // namespace vast_turn
