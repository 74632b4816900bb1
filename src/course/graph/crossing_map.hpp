#pragma once

/// Where thin strokes crossed lines.

#include <algorithm>
#include <cstddef>
#include <vector>

#include "vast_turn/base/geometry.hpp"

namespace vast_turn {

/// Places on a board, to within 8 mm: of a noisy picture there are a hundred thousand, and every point of every line
/// asks.
class CrossingMap {
public:
    /// Of a board of that size; places beyond it count at its rim.
    CrossingMap(const std::vector<Vec2>& places, double width_mm, double height_mm)
        : columns_(static_cast<int>(width_mm / cell_mm) + 1), rows_(static_cast<int>(height_mm / cell_mm) + 1) {
        if (!places.empty()) {
            marked_.resize(static_cast<std::size_t>(columns_) * static_cast<std::size_t>(rows_));
        }
        for (const Vec2 place : places) {
            marked_[index(cell_of(place.x, columns_), cell_of(place.y, rows_))] = true;
        }
    }

    bool empty() const { return marked_.empty(); }

    /// Whether a place lies about so near to a point, in x and in y.
    bool is_near(Vec2 p, double reach_mm) const {
        if (empty()) {
            return false;
        }
        const int left = cell_of(p.x - reach_mm, columns_);
        const int right = cell_of(p.x + reach_mm, columns_);
        for (int row = cell_of(p.y - reach_mm, rows_); row <= cell_of(p.y + reach_mm, rows_); ++row) {
            for (int column = left; column <= right; ++column) {
                if (marked_[index(column, row)]) {
                    return true;
                }
            }
        }
        return false;
    }

private:
    static constexpr double cell_mm = 8.0;

    static int cell_of(double mm, int cells) {
        return static_cast<int>(std::clamp(mm / cell_mm, 0.0, static_cast<double>(cells - 1)));
    }
    std::size_t index(int column, int row) const {
        return static_cast<std::size_t>(row) * static_cast<std::size_t>(columns_) + static_cast<std::size_t>(column);
    }

    int columns_;
    int rows_;
    std::vector<bool> marked_;
};

} // namespace vast_turn
