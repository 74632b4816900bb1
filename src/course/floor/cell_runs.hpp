#pragma once

/// Shapes of cells that hang together, as runs of cells in rows.

#include <algorithm>
#include <cstddef>
#include <cstdint>
#include <vector>

namespace vast_turn {

/// Cells on end in one row.
struct CellRun {
    int row = 0;
    int from = 0;
    int behind = 0;
    std::uint32_t shape = 0; ///< from 0, in the order in which shapes are first met
};

struct CellRuns {
    std::vector<CellRun> runs; ///< by rows, then columns
    std::uint32_t shapes = 0;  ///< how many there are
};

namespace cell_runs {

inline std::uint32_t root(std::vector<std::uint32_t>& parent, std::uint32_t i) {
    while (parent[i] != i) {
        parent[i] = parent[parent[i]];
        i = parent[i];
    }
    return i;
}

inline void unite(std::vector<std::uint32_t>& parent, std::uint32_t a, std::uint32_t b) {
    a = root(parent, a);
    b = root(parent, b);
    parent[std::max(a, b)] = std::min(a, b);
}

/// Joins the runs from `first` on, those of one row, with those of the row before, which begin at `above`; cells that
/// touch at a corner hang together.
inline void join_rows(const std::vector<CellRun>& runs, std::size_t above, std::size_t first,
                      std::vector<std::uint32_t>& parent) {
    for (std::size_t b = first; b < runs.size(); ++b) {
        while (above < first && (runs[above].row + 1 < runs[b].row || runs[above].behind < runs[b].from)) {
            ++above;
        }
        for (std::size_t i = above; i < first && runs[i].from <= runs[b].behind; ++i) {
            unite(parent, runs[i].shape, runs[b].shape);
        }
    }
}

} // namespace cell_runs

/// The shapes of the cells for which `is_on(index)` holds, of a grid whose outermost cells are never on.
template <class IsOn> CellRuns runs_of(int columns, int rows, const IsOn& is_on) {
    CellRuns out;
    std::vector<std::uint32_t> parent;
    std::size_t above = 0;
    for (int row = 1; row + 1 < rows; ++row) {
        const std::size_t first = out.runs.size();
        const std::size_t line = static_cast<std::size_t>(row) * static_cast<std::size_t>(columns);
        for (int column = 1; column + 1 < columns; ++column) {
            if (is_on(line + static_cast<std::size_t>(column))) {
                CellRun run{row, column, column, static_cast<std::uint32_t>(parent.size())};
                while (run.behind + 1 < columns && is_on(line + static_cast<std::size_t>(run.behind))) {
                    ++run.behind;
                }
                column = run.behind;
                parent.push_back(run.shape);
                out.runs.push_back(run);
            }
        }
        cell_runs::join_rows(out.runs, above, first, parent);
        above = first;
    }
    std::vector<std::uint32_t> number(parent.size());
    for (CellRun& run : out.runs) {
        const std::uint32_t root = cell_runs::root(parent, run.shape);
        if (root == run.shape) { // the first of its shape
            number[root] = out.shapes++;
        }
        run.shape = number[root];
    }
    return out;
}

} // namespace vast_turn
