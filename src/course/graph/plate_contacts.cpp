#include "course/graph/plate_contacts.hpp"

#include <algorithm>
#include <cstddef>

namespace vast_turn {

Vec2 PlateContact::middle() const {
    Vec2 sum;
    for (const Vec2 cell : cells) {
        sum = sum + cell;
    }
    return 1.0 / static_cast<double>(cells.size()) * sum;
}

std::pair<double, double> PlateContact::extent(Vec2 along) const {
    std::pair<double, double> out{1e9, -1e9};
    for (const Vec2 cell : cells) {
        out = {std::min(out.first, dot(cell, along)), std::max(out.second, dot(cell, along))};
    }
    return out;
}

std::vector<PlateContact> contacts_of(const LineMask& mask, std::span<const CellRun> shape, int far) {
    constexpr int sure_cells = 2;
    std::vector<std::pair<int, int>> cells; // row, column
    const auto look = [&](int column, int row, int right, int down) {
        for (int i = 0; i < far; ++i, column += right, row += down) {
            if (column <= 0 || row <= 0 || column + 1 >= mask.columns || row + 1 >= mask.rows) {
                return;
            }
            const std::uint8_t line = mask.line[mask.index(column, row)];
            if (line >= 128) {
                cells.emplace_back(row, column);
            }
            if (i >= sure_cells - 1 && (line >= 128 || line <= surely_floor)) {
                return;
            }
        }
    };
    for (const CellRun& run : shape) {
        all_round(run, look);
    }
    std::sort(cells.begin(), cells.end());
    cells.erase(std::unique(cells.begin(), cells.end()), cells.end());
    std::vector<char> taken(cells.size(), 0);
    std::vector<PlateContact> list;
    for (std::size_t first = 0; first < cells.size(); ++first) {
        if (taken[first] != 0) {
            continue;
        }
        PlateContact contact;
        std::vector<std::size_t> open{first};
        taken[first] = 1;
        while (!open.empty()) {
            const auto [row, column] = cells[open.back()];
            open.pop_back();
            contact.cells.push_back(mask.middle(column, row));
            for (int y = row - 1; y <= row + 1; ++y) {
                const auto begin = std::lower_bound(cells.begin(), cells.end(), std::pair{y, column - 1});
                for (auto it = begin; it != cells.end() && it->first == y && it->second <= column + 1; ++it) {
                    const auto i = static_cast<std::size_t>(it - cells.begin());
                    if (taken[i] == 0) {
                        taken[i] = 1;
                        open.push_back(i);
                    }
                }
            }
        }
        list.push_back(std::move(contact));
    }
    return list;
}

} // namespace vast_turn
