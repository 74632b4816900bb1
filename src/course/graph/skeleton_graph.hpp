#pragma once

/// The skeleton as nodes and branches, not yet refined.

#include <algorithm>
#include <cstddef>
#include <vector>

#include "course/graph/thinning.hpp"

namespace vast_turn {

struct Branch {
    int from = -1; ///< node; -1 when it closes on itself without any
    int to = -1;
    std::vector<Vec2> points; ///< from node to node, a cell apart
    double mean_half_width_mm = 0.0;
    bool gone = false;
};

/// An arc by which a line begins at a knot.
struct KnotArc {
    Vec2 middle;
    double radius_mm = 0.0;
    std::size_t line = 0;
};

struct Knot {
    Vec2 at;
    double half_width_mm = 0.0; ///< of the line there
    bool corner = false;        ///< a spur was taken off
    std::vector<KnotArc> arcs;  ///< where they are known
};

/// Which items (branches, lines) may end at each knot, so that nobody looks through all of them. It only grows: whoever
/// asks sees whether an item still does.
class EndIndex {
public:
    EndIndex() = default;
    template <class Item> EndIndex(std::size_t knots, const std::vector<Item>& items) : at_(knots) {
        for (std::size_t i = 0; i < items.size(); ++i) {
            for (const int knot : {items[i].from, items[i].to}) {
                if (knot >= 0) {
                    add(knot, i);
                }
            }
        }
    }

    void add_knot() { at_.emplace_back(); }

    void add(int knot, std::size_t item) {
        std::vector<std::size_t>& list = at_[static_cast<std::size_t>(knot)];
        const auto place = std::lower_bound(list.begin(), list.end(), item);
        if (place == list.end() || *place != item) {
            list.insert(place, item);
        }
    }

    /// Ascending.
    const std::vector<std::size_t>& at(int knot) const { return at_[static_cast<std::size_t>(knot)]; }

private:
    std::vector<std::vector<std::size_t>> at_;
};

struct SkeletonGraph {
    std::vector<Knot> knots;
    std::vector<Branch> branches;
    EndIndex ends;

    int degree(int knot) const;

    /// Whether spurs were taken off there, and nothing is left: of a piece that is hardly longer than wide.
    bool is_all_spurs(int knot) const { return knots[static_cast<std::size_t>(knot)].corner && degree(knot) == 0; }
};

/// Traces the skeleton, and tidies it.
SkeletonGraph trace(const LineMask& mask, const Skeleton& skeleton);

/// Takes off the spurs that thinning leaves at corners and square ends, and joins branches through knots that only two
/// of them meet in; corners stay. Once more when branches went.
void tidy(SkeletonGraph& graph);

double length_of(const std::vector<Vec2>& points);

} // namespace vast_turn
