#include <algorithm>
#include <cmath>
#include <limits>
#include <queue>
#include <unordered_map>
#include <utility>

#include "vast_turn/course/board/tape_finder.hpp"

namespace vast_turn {

namespace {

constexpr double spacing_mm = 4.0;

struct Node {
    Vec2 at;
    double join_mm = 0.0; // how near another tape must come to be joined here
    std::size_t tape = 0;
};

/// Points along all tapes, each joined to the next on its tape and to points of other tapes (or of
/// a far part of its own) that are near enough.
class TapeNet {
public:
    explicit TapeNet(const Course& course) {
        for (std::size_t i = 0; i < course.tapes.size(); ++i) {
            add(course.tapes[i], i);
        }
        join();
    }

    std::size_t nearest(Vec2 p) const {
        const auto at = std::min_element(nodes_.begin(), nodes_.end(), [p](const Node& a, const Node& b) {
            return length(a.at - p) < length(b.at - p);
        });
        return static_cast<std::size_t>(at - nodes_.begin());
    }

    bool empty() const { return nodes_.empty(); }

    /// Dijkstra's shortest path.
    std::vector<Vec2> way(std::size_t from, std::size_t to) const {
        std::vector<double> cost(nodes_.size(), std::numeric_limits<double>::infinity());
        std::vector<std::size_t> before(nodes_.size(), from);
        using Entry = std::pair<double, std::size_t>;
        std::priority_queue<Entry, std::vector<Entry>, std::greater<>> queue;
        cost[from] = 0.0;
        queue.emplace(0.0, from);
        while (!queue.empty()) {
            const auto [so_far, node] = queue.top();
            queue.pop();
            if (node == to) {
                break;
            }
            if (so_far > cost[node]) {
                continue;
            }
            for (const std::size_t next : links_[node]) {
                const double sum = so_far + length(nodes_[next].at - nodes_[node].at);
                if (sum < cost[next]) {
                    cost[next] = sum;
                    before[next] = node;
                    queue.emplace(sum, next);
                }
            }
        }
        std::vector<Vec2> points;
        if (std::isfinite(cost[to])) {
            for (std::size_t node = to; node != from; node = before[node]) {
                points.push_back(nodes_[node].at);
            }
            points.push_back(nodes_[from].at);
            std::reverse(points.begin(), points.end());
        }
        return points;
    }

private:
    void add(const Tape& tape, std::size_t number) {
        const std::size_t first = nodes_.size();
        const std::size_t n = tape.path.size();
        for (std::size_t i = 0; i + 1 < n + (tape.closed ? 1U : 0U); ++i) {
            const Vec2 a = tape.path[i];
            const Vec2 step = tape.path[(i + 1) % n] - a;
            const int parts = std::max(1, static_cast<int>(std::ceil(length(step) / spacing_mm)));
            for (int k = 0; k < parts; ++k) {
                append(a + (static_cast<double>(k) / parts) * step, tape, number, first);
            }
        }
        if (tape.closed && nodes_.size() > first + 1) {
            link(nodes_.size() - 1, first);
        } else if (!tape.closed && n > 0) {
            append(tape.path.back(), tape, number, first);
        }
    }

    void append(Vec2 p, const Tape& tape, std::size_t number, std::size_t first) {
        nodes_.push_back({p, 0.5 * tape.width_mm, number});
        links_.emplace_back();
        if (nodes_.size() - 1 > first) {
            link(nodes_.size() - 2, nodes_.size() - 1);
        }
    }

    void link(std::size_t a, std::size_t b) {
        links_[a].push_back(b);
        links_[b].push_back(a);
    }

    static std::int64_t cell_of(double x, double y) {
        constexpr double cell_mm = 32.0;
        return static_cast<std::int64_t>(std::floor(x / cell_mm)) * 1'000'003 +
               static_cast<std::int64_t>(std::floor(y / cell_mm));
    }

    void join() {
        std::unordered_map<std::int64_t, std::vector<std::size_t>> cells;
        for (std::size_t i = 0; i < nodes_.size(); ++i) {
            cells[cell_of(nodes_[i].at.x, nodes_[i].at.y)].push_back(i);
        }
        constexpr double cell_mm = 32.0;
        for (std::size_t i = 0; i < nodes_.size(); ++i) {
            for (int dx = -1; dx <= 1; ++dx) {
                for (int dy = -1; dy <= 1; ++dy) {
                    const auto found =
                        cells.find(cell_of(nodes_[i].at.x + dx * cell_mm, nodes_[i].at.y + dy * cell_mm));
                    if (found != cells.end()) {
                        join_with(i, found->second);
                    }
                }
            }
        }
    }

    void join_with(std::size_t i, const std::vector<std::size_t>& others) {
        for (const std::size_t j : others) {
            const double near = std::min(nodes_[i].join_mm, nodes_[j].join_mm);
            if (j > i && (nodes_[i].tape != nodes_[j].tape || j - i > 8) &&
                length(nodes_[i].at - nodes_[j].at) <= near) {
                link(i, j);
            }
        }
    }

    std::vector<Node> nodes_;
    std::vector<std::vector<std::size_t>> links_;
};

} // namespace

std::vector<Vec2> way_along_tapes(const Course& course, Vec2 from, Vec2 to) {
    const TapeNet net(course);
    return net.empty() ? std::vector<Vec2>{} : net.way(net.nearest(from), net.nearest(to));
}

} // namespace vast_turn
