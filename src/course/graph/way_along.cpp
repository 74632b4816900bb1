#include "vast_turn/course/graph/way_along.hpp"

#include <algorithm>
#include <cmath>
#include <functional>
#include <limits>
#include <optional>
#include <queue>
#include <utility>

namespace vast_turn {

namespace {

constexpr double never = std::numeric_limits<double>::infinity();

/// A point on a line.
struct OnStretch {
    StretchId stretch;
    std::size_t index = 0; ///< of the path's point that is nearest
    double along_mm = 0.0;
};

std::optional<OnStretch> nearest_on(const RouteGraph& graph, Vec2 p) {
    std::optional<OnStretch> found;
    double best = never;
    for (std::size_t s = 0; s < graph.stretches.size(); ++s) {
        const std::vector<Vec2>& path = graph.stretches[s].path;
        double along = 0.0;
        for (std::size_t i = 0; i < path.size(); ++i) {
            along += i > 0 ? length(path[i] - path[i - 1]) : 0.0;
            if (length(path[i] - p) < best) {
                best = length(path[i] - p);
                found = {StretchId(s), i, along};
            }
        }
    }
    return found;
}

void append(std::vector<Vec2>& way, const std::vector<Vec2>& path, std::size_t from, std::size_t to) {
    for (std::size_t i = from; i != to; i = from < to ? i + 1 : i - 1) {
        way.push_back(path[i]);
    }
    way.push_back(path[to]);
}

/// The cheapest way from one point to every node.
class Ways {
public:
    Ways(const RouteGraph& graph, const OnStretch& from)
        : graph_(graph), from_(from), cost_(graph.nodes.size(), never), by_(graph.nodes.size()) {
        const Stretch& first = graph.stretch(from.stretch);
        reach(first.from, from.along_mm, std::nullopt);
        reach(first.to, first.length_mm - from.along_mm, std::nullopt);
        while (!queue_.empty()) {
            const auto [so_far, node] = queue_.top();
            queue_.pop();
            if (so_far > cost_[node.index()]) {
                continue;
            }
            for (const Exit& exit : graph.node(node).exits) {
                reach(graph.end_of(exit), so_far + graph.stretch(exit.stretch).length_mm, exit);
            }
        }
    }

    double cost(NodeId node) const { return cost_[node.index()]; }

    std::vector<Vec2> to(NodeId node) const {
        std::vector<Exit> exits;
        NodeId at = node;
        for (std::optional<Exit> by = by_[at.index()]; by; by = by_[at.index()]) {
            exits.push_back(*by);
            at = graph_.begin_of(*by);
        }
        const Stretch& first = graph_.stretch(from_.stretch);
        const bool to_begin = at == first.from && (first.from != first.to || from_.along_mm < 0.5 * first.length_mm);
        std::vector<Vec2> way;
        append(way, first.path, from_.index, to_begin ? 0 : first.path.size() - 1);
        for (auto exit = exits.rbegin(); exit != exits.rend(); ++exit) {
            const std::vector<Vec2> path = path_leaving(graph_, *exit);
            append(way, path, 0, path.size() - 1);
        }
        return way;
    }

private:
    void reach(NodeId node, double cost, const std::optional<Exit>& by) {
        if (cost < cost_[node.index()]) {
            cost_[node.index()] = cost;
            by_[node.index()] = by;
            queue_.emplace(cost, node);
        }
    }

    const RouteGraph& graph_;
    const OnStretch& from_;
    std::vector<double> cost_;
    std::vector<std::optional<Exit>> by_; ///< the exit by which a node is come to; none from where the way begins
    using Entry = std::pair<double, NodeId>;
    std::priority_queue<Entry, std::vector<Entry>, std::greater<>> queue_;
};

} // namespace

std::vector<Vec2> way_along_lines(const RouteGraph& graph, Vec2 from, Vec2 to) {
    const std::optional<OnStretch> begin = nearest_on(graph, from);
    const std::optional<OnStretch> end = nearest_on(graph, to);
    if (!begin || !end) {
        return {};
    }
    const Ways ways(graph, *begin);
    const Stretch& last = graph.stretch(end->stretch);
    const double by_begin = ways.cost(last.from) + end->along_mm;
    const double by_end = ways.cost(last.to) + last.length_mm - end->along_mm;
    std::vector<Vec2> way;
    if (begin->stretch == end->stretch && std::abs(begin->along_mm - end->along_mm) <= std::min(by_begin, by_end)) {
        append(way, last.path, begin->index, end->index);
    } else if (std::min(by_begin, by_end) < never) {
        way = ways.to(by_begin <= by_end ? last.from : last.to);
        append(way, last.path, by_begin <= by_end ? 0 : last.path.size() - 1, end->index);
    }
    return way;
}

} // namespace vast_turn
