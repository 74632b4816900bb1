#include "course/graph/skeleton_graph.hpp"

#include <algorithm>
#include <map>

namespace vast_turn {

namespace {

constexpr int no_knot = -1;

class Tracer {
public:
    Tracer(const LineMask& mask, const Skeleton& skeleton)
        : mask_(mask), skeleton_(skeleton), next_(mask.columns), knot_of_(skeleton.cells.size(), no_knot),
          seen_(skeleton.cells.size(), 0) {}

    SkeletonGraph run() {
        find_knots();
        for (const std::size_t at : skeleton_.cells) {
            if (knot_of(at) != no_knot) {
                follow_all(at);
            }
        }
        for (const std::size_t at : skeleton_.cells) {
            if (knot_of(at) == no_knot && !seen(at)) {
                ring(at);
            }
        }
        graph_.ends = EndIndex(graph_.knots.size(), graph_.branches);
        return std::move(graph_);
    }

private:
    std::vector<std::size_t> neighbours(std::size_t at) const {
        std::vector<std::size_t> list;
        for (const std::ptrdiff_t step : next_.step) {
            const std::size_t there = at + static_cast<std::size_t>(step);
            if (skeleton_.on[there] != 0) {
                list.push_back(there);
            }
        }
        return list;
    }

    /// Number of a cell among those of the skeleton: few of a large board are.
    std::size_t order_of(std::size_t at) const {
        return static_cast<std::size_t>(std::lower_bound(skeleton_.cells.begin(), skeleton_.cells.end(), at) -
                                        skeleton_.cells.begin());
    }
    int knot_of(std::size_t at) const { return knot_of_[order_of(at)]; }
    bool seen(std::size_t at) const { return seen_[order_of(at)] != 0; }

    Vec2 place(std::size_t at) const {
        const auto columns = static_cast<std::size_t>(mask_.columns);
        return mask_.middle(static_cast<int>(at % columns), static_cast<int>(at / columns));
    }

    void find_knots() {
        for (const std::size_t at : skeleton_.cells) {
            if (knot_of(at) == no_knot && neighbours(at).size() != 2) {
                gather(at);
            }
        }
    }

    /// Knot cells that touch are one knot.
    void gather(std::size_t first) {
        const int number = static_cast<int>(graph_.knots.size());
        std::vector<std::size_t> cells{first};
        knot_of_[order_of(first)] = number;
        Knot knot;
        for (std::size_t i = 0; i < cells.size(); ++i) {
            knot.at = knot.at + place(cells[i]);
            knot.half_width_mm = std::max(knot.half_width_mm, skeleton_.deep[cells[i]] / 3.0 * mask_.cell_mm);
            for (const std::size_t there : neighbours(cells[i])) {
                if (knot_of(there) == no_knot && neighbours(there).size() > 2) {
                    knot_of_[order_of(there)] = number;
                    cells.push_back(there);
                }
            }
        }
        knot.at = 1.0 / static_cast<double>(cells.size()) * knot.at;
        graph_.knots.push_back(knot);
    }

    void follow_all(std::size_t at) {
        for (const std::size_t there : neighbours(at)) {
            if (knot_of(there) == no_knot && !seen(there)) {
                follow(at, there);
            } else if (knot_of(there) != no_knot && knot_of(there) != knot_of(at) && at < there) {
                add(knot_of(at), knot_of(there), {}, 0.0); // an end right beside a knot
            }
        }
    }

    void follow(std::size_t before, std::size_t at) {
        const int from = knot_of(before);
        std::vector<Vec2> points;
        double half_widths = 0.0;
        while (knot_of(at) == no_knot) {
            seen_[order_of(at)] = 1;
            half_widths += skeleton_.deep[at] / 3.0 * mask_.cell_mm;
            points.push_back(place(at));
            const std::vector<std::size_t> both = neighbours(at);
            const std::size_t on = both[0] == before ? both[1] : both[0];
            before = at;
            at = on;
        }
        add(from, knot_of(at), points, half_widths);
    }

    void add(int from, int to, const std::vector<Vec2>& between, double half_widths) {
        Branch branch{from, to, {graph_.knots[static_cast<std::size_t>(from)].at}, 0.0, false};
        branch.mean_half_width_mm = between.empty() ? 0.0 : half_widths / static_cast<double>(between.size());
        branch.points.insert(branch.points.end(), between.begin(), between.end());
        branch.points.push_back(graph_.knots[static_cast<std::size_t>(to)].at);
        if (from != to || between.size() > 6) { // not the hole of a pixel in a knot
            graph_.branches.push_back(std::move(branch));
        }
    }

    void ring(std::size_t first) {
        Branch branch;
        std::size_t before = first;
        std::size_t at = first;
        do {
            seen_[order_of(at)] = 1;
            branch.points.push_back(place(at));
            const std::vector<std::size_t> both = neighbours(at);
            const std::size_t on = both[0] == before ? both[1] : both[0];
            before = at;
            at = on;
        } while (at != first);
        branch.points.push_back(branch.points.front());
        graph_.branches.push_back(std::move(branch));
    }

    const LineMask& mask_;
    const Skeleton& skeleton_;
    Around next_;
    std::vector<int> knot_of_;
    std::vector<std::uint8_t> seen_;
    SkeletonGraph graph_;
};

/// The two branch ends at a knot of two; index and whether the branch begins there.
std::vector<std::pair<std::size_t, bool>> ends_at(const SkeletonGraph& graph, int knot) {
    std::vector<std::pair<std::size_t, bool>> list;
    for (const std::size_t i : graph.ends.at(knot)) {
        const Branch& branch = graph.branches[i];
        if (branch.gone) {
            continue;
        }
        if (branch.from == knot) {
            list.emplace_back(i, true);
        }
        if (branch.to == knot) {
            list.emplace_back(i, false);
        }
    }
    return list;
}

void turn_round(Branch& branch) {
    std::swap(branch.from, branch.to);
    std::reverse(branch.points.begin(), branch.points.end());
}

/// A square end or a corner leaves a short one; the wedge of a mitred corner is longer but runs to a point, and so is
/// narrower in the mean than a line that ends.
bool is_spur(const SkeletonGraph& graph, const Branch& branch, int tip, int root) {
    if (graph.degree(tip) != 1 || graph.degree(root) < 3) {
        return false;
    }
    const double at_root = graph.knots[static_cast<std::size_t>(root)].half_width_mm;
    double usual = 0.0; // of the lines that come here; at the root itself they may lie side by side
    for (const auto& [other, begins] : ends_at(graph, root)) {
        const Branch& beside = graph.branches[other];
        // Where many lines meet, short pieces join several knots: they are as wide as all that meets.
        const bool is_line = &beside != &branch && length_of(beside.points) > 2.0 * at_root;
        usual = std::max(usual, is_line ? beside.mean_half_width_mm : 0.0);
    }
    const double half = std::max(usual, at_root);
    const double way = length_of(branch.points);
    const bool pointed = graph.knots[static_cast<std::size_t>(tip)].half_width_mm < 0.5 * half;
    return way < 1.6 * half + 2.0 || (way < 6.0 * half && branch.mean_half_width_mm < (pointed ? 0.8 : 0.7) * usual);
}

/// A square end may be thinned to a fork with a spur to each of its corners: it is midway between them.
void end_between(SkeletonGraph& graph, int root, const std::vector<int>& tips) {
    const auto left = ends_at(graph, root);
    if (tips.size() != 2 || left.size() != 1) {
        return;
    }
    const Knot& one = graph.knots[static_cast<std::size_t>(tips[0])];
    const Knot& other = graph.knots[static_cast<std::size_t>(tips[1])];
    Knot& end = graph.knots[static_cast<std::size_t>(root)];
    end.at = 0.5 * (one.at + other.at);
    end.half_width_mm = std::max(one.half_width_mm, other.half_width_mm);
    std::vector<Vec2>& points = graph.branches[left[0].first].points;
    points.insert(left[0].second ? points.begin() : points.end(), end.at);
}

bool take_off_spurs(SkeletonGraph& graph) {
    std::vector<std::pair<std::size_t, int>> spurs; // and their roots; all are told before any goes
    std::map<int, std::vector<int>> tips;           // by their roots
    for (std::size_t i = 0; i < graph.branches.size(); ++i) {
        const Branch& branch = graph.branches[i];
        if (branch.gone || branch.from < 0 || branch.from == branch.to) {
            continue;
        }
        if (is_spur(graph, branch, branch.from, branch.to)) {
            spurs.emplace_back(i, branch.to);
            tips[branch.to].push_back(branch.from);
        } else if (is_spur(graph, branch, branch.to, branch.from)) {
            spurs.emplace_back(i, branch.from);
            tips[branch.from].push_back(branch.to);
        }
    }
    for (const auto& [spur, root] : spurs) {
        graph.branches[spur].gone = true;
        graph.knots[static_cast<std::size_t>(root)].corner = true;
    }
    for (const auto& [root, all] : tips) {
        end_between(graph, root, all);
    }
    return !spurs.empty();
}

void join_through(SkeletonGraph& graph) {
    for (int knot = 0; knot < static_cast<int>(graph.knots.size()); ++knot) {
        const auto ends = ends_at(graph, knot);
        if (graph.knots[static_cast<std::size_t>(knot)].corner || ends.size() != 2 || ends[0].first == ends[1].first) {
            continue;
        }
        Branch& a = graph.branches[ends[0].first];
        Branch& b = graph.branches[ends[1].first];
        if (ends[0].second) {
            turn_round(a);
        }
        if (!ends[1].second) {
            turn_round(b);
        }
        const auto cells_a = static_cast<double>(a.points.size());
        const auto cells_b = static_cast<double>(b.points.size());
        a.mean_half_width_mm = (a.mean_half_width_mm * cells_a + b.mean_half_width_mm * cells_b) / (cells_a + cells_b);
        a.points.insert(a.points.end(), b.points.begin() + 1, b.points.end());
        a.to = b.to;
        graph.ends.add(a.to, ends[0].first);
        b.gone = true;
    }
}

} // namespace

double length_of(const std::vector<Vec2>& points) {
    double sum = 0.0;
    for (std::size_t i = 1; i < points.size(); ++i) {
        sum += length(points[i] - points[i - 1]);
    }
    return sum;
}

int SkeletonGraph::degree(int knot) const {
    int count = 0;
    for (const std::size_t i : ends.at(knot)) {
        const Branch& branch = branches[i];
        count += branch.gone ? 0 : (branch.from == knot ? 1 : 0) + (branch.to == knot ? 1 : 0);
    }
    return count;
}

void tidy(SkeletonGraph& graph) {
    do {
        join_through(graph);
    } while (take_off_spurs(graph));
    join_through(graph);
}

SkeletonGraph trace(const LineMask& mask, const Skeleton& skeleton) {
    SkeletonGraph graph = Tracer(mask, skeleton).run();
    tidy(graph);
    return graph;
}

} // namespace vast_turn
