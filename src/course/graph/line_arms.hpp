#pragma once

/// Lines that come to a shape from around it.

#include <cstddef>
#include <span>
#include <vector>

#include "course/floor/cell_runs.hpp"
#include "course/graph/junction_fit.hpp"
#include "course/graph/line_mask.hpp"
#include "course/graph/nearest_map.hpp"
#include "vast_turn/base/geometry.hpp"

namespace vast_turn {

/// A line that comes to a shape.
struct LineArm {
    FittedArm way; ///< from a little before the shape, outwards
    double width_mm = 0.0;

    Vec2 at() const { return way.at; }
    /// Whether a point lies on it, outwards.
    bool holds(Vec2 p) const;
    /// As it would go on, 1 mm apart: straight, or round the circle on which it comes.
    std::vector<Vec2> prolonged(double length_mm) const;

    /// Of length 1.
    Vec2 inwards() const { return -1.0 / length(way.along) * way.along; }
};

/// A shape of cells with what lies round it.
class ShapeBox {
public:
    ShapeBox(const LineMask& mask, std::span<const CellRun> shape, double margin_mm);

    /// Whether it is filled rather than an outline round something else.
    bool is_compact() const { return compact_; }
    Vec2 middle() const { return middle_; }
    double margin_mm() const { return margin_ * mask_.cell_mm; }

    /// How far a point is from the shape, holes of it filled, mm; 0 within. Beyond the box: 1e9.
    double off_mm(Vec2 p) const;

    /// Adds the lines that cross the ring which lies so far off round the shape, but for those that are there. Whether
    /// all that crosses it is lines that go away from the shape, straight or in a bend, each for itself.
    bool add_arms_at(double off_mm, std::vector<LineArm>& arms) const;

    /// Calls `to_do(index)` for each cell of the mask within the shape or so near it, whose middle `is_meant(point)`.
    template <class IsMeant, class Do> void each_near(double off_mm, const IsMeant& is_meant, const Do& to_do) const {
        for (int y = 0; y < high_; ++y) {
            for (int x = 0; x < wide_; ++x) {
                const Vec2 p = mask_.middle(left_ + x, top_ + y);
                if (off_of(x, y) <= off_mm && is_meant(p)) {
                    to_do(mask_.index(left_ + x, top_ + y));
                }
            }
        }
    }

private:
    std::size_t index(int x, int y) const {
        return static_cast<std::size_t>(y) * static_cast<std::size_t>(wide_) + static_cast<std::size_t>(x);
    }
    std::vector<bool> outside_of(std::span<const CellRun> shape) const;
    double off_of(int x, int y) const;
    Vec2 away_at(Vec2 p) const;

    const LineMask& mask_;
    int margin_;
    int left_ = 0;
    int top_ = 0;
    int wide_ = 0;
    int high_ = 0;
    bool compact_ = false;
    Vec2 middle_;
    NearestMap nearest_{0, 0};
};

} // namespace vast_turn
