#include "course/graph/thick_part.hpp"

#include <algorithm>
#include <cmath>
#include <cstddef>

#include "course/graph/thinning.hpp"

namespace vast_turn {

namespace {

/// The cells of one shape.
class ShapeCells {
public:
    ShapeCells(const LineMask& mask, const CellRuns& found, std::uint32_t shape) : around_(mask.columns) {
        for (const CellRun& run : found.runs) {
            for (int column = run.from; run.shape == shape && column < run.behind; ++column) {
                cells_.push_back(mask.index(column, run.row)); // they come in order
            }
        }
        state_.resize(cells_.size(), State::thin);
    }

    /// What lies at least so deep, and what is up to so many cells from it.
    void mark_thick(const std::vector<std::uint8_t>& deep, std::uint8_t least, int reach) {
        std::vector<std::size_t> marked;
        for (std::size_t i = 0; i < cells_.size(); ++i) {
            if (deep[cells_[i]] >= least) {
                state_[i] = State::thick;
                marked.push_back(i);
            }
        }
        std::size_t begin = 0;
        for (int step = 0; step < reach; ++step) {
            for (const std::size_t end = marked.size(); begin < end; ++begin) {
                take_neighbours(marked[begin], State::thin, State::thick, marked);
            }
        }
    }

    /// Of the thick pieces those of so many cells: where the strokes of a letter meet it is as thick, too. Whether
    /// there are any.
    bool keep_long(double least_cells) {
        bool any = false;
        for (std::size_t i = 0; i < cells_.size(); ++i) {
            if (state_[i] != State::thick) {
                continue;
            }
            std::vector<std::size_t> piece{i};
            state_[i] = State::kept;
            for (std::size_t k = 0; k < piece.size(); ++k) {
                take_neighbours(piece[k], State::thick, State::kept, piece);
            }
            const bool is_long = static_cast<double>(piece.size()) >= least_cells;
            any = any || is_long;
            for (const std::size_t one : piece) {
                state_[one] = is_long ? State::kept : State::thin;
            }
        }
        return any;
    }

    void take_off_rest(LineMask& mask, std::vector<std::uint8_t>& deep) const {
        for (std::size_t i = 0; i < cells_.size(); ++i) {
            if (state_[i] != State::kept) {
                mask.line[cells_[i]] = 0;
                deep[cells_[i]] = 0;
            }
        }
    }

private:
    enum class State : std::uint8_t { thin, thick, kept };

    void take_neighbours(std::size_t i, State from, State to, std::vector<std::size_t>& taken) {
        for (const std::ptrdiff_t step : around_.step) {
            const std::size_t cell = cells_[i] + static_cast<std::size_t>(step);
            const auto at = std::lower_bound(cells_.begin(), cells_.end(), cell);
            const auto there = static_cast<std::size_t>(at - cells_.begin());
            if (at != cells_.end() && *at == cell && state_[there] == from) {
                state_[there] = to;
                taken.push_back(there);
            }
        }
    }

    Around around_;
    std::vector<std::size_t> cells_;
    std::vector<State> state_;
};

} // namespace

bool keep_thick_part(LineMask& mask, std::vector<std::uint8_t>& deep, const CellRuns& found, std::uint32_t shape,
                     double line_mm) {
    constexpr double core = 0.4; // widths from the rim
    constexpr double least_long = 4.0;
    const double width = line_mm / mask.cell_mm;
    const double least = 3.0 * (core * width + 0.5); // as depths() counts
    if (least > 250.0) {
        return false;
    }
    ShapeCells cells(mask, found, shape);
    cells.mark_thick(deep, static_cast<std::uint8_t>(least), static_cast<int>(std::ceil(1.1 * core * width)));
    if (!cells.keep_long(least_long * width * width)) {
        return false;
    }
    cells.take_off_rest(mask, deep);
    return true;
}

} // namespace vast_turn
