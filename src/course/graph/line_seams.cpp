#include "course/graph/line_seams.hpp"

#include <algorithm>
#include <cstddef>
#include <limits>
#include <vector>

#include "course/graph/thinning.hpp"

namespace vast_turn {

namespace {

constexpr int surely_line = 200;
constexpr std::size_t most_slits = 2'000'000; // cells; of noise there are more

class SeamCloser {
public:
    explicit SeamCloser(LineMask& mask) : mask_(mask), around_(mask.columns) {}

    void run() {
        note_all();
        close_slits();
        for (const std::size_t cell : pinholes_) {
            fill_pinhole(cell);
        }
    }

private:
    void note_all() {
        for (int row = 1; row + 1 < mask_.rows && slits_.size() < most_slits; ++row) {
            const std::size_t first = mask_.index(0, row);
            for (int column = 1; column + 1 < mask_.columns; ++column) {
                const std::size_t here = first + static_cast<std::size_t>(column);
                if (mask_.line[here] >= surely_line) {
                    ++lines_;
                    note_pinhole(here, column);
                    note_slit(here, 1, column);
                    note_slit(here, static_cast<std::size_t>(mask_.columns), row);
                }
            }
        }
    }

    void close_slits() {
        std::sort(slits_.begin(), slits_.end());
        slits_.erase(std::unique(slits_.begin(), slits_.end()), slits_.end());
        constexpr std::size_t few = 20; // there are cells of line for each; else it is noise, or a grating
        if (slits_.size() * few > lines_ || slits_.size() >= most_slits) {
            return;
        }
        seen_.assign(slits_.size(), false);
        std::vector<std::size_t> seams;
        for (std::size_t i = 0; i < slits_.size(); ++i) {
            if (!seen_[i]) {
                take(i, seams);
            }
        }
        for (const std::size_t cell : seams) {
            mask_.line[cell] = 255;
        }
    }

    /// Cells between which things lie.
    struct Extent {
        int left = std::numeric_limits<int>::max();
        int right = std::numeric_limits<int>::min();
        int top = std::numeric_limits<int>::max();
        int bottom = std::numeric_limits<int>::min();

        void add(int column, int row) {
            left = std::min(left, column);
            right = std::max(right, column);
            top = std::min(top, row);
            bottom = std::max(bottom, row);
        }
        bool empty() const { return right < left; }
        int size() const { return empty() ? 0 : std::max(right - left, bottom - top); }
    };

    /// Notes a cell of floor a little before a cell of line that has line before it again.
    void note_pinhole(std::size_t end, int cells_before) {
        if (mask_.line[end - 1] >= surely_line) {
            return; // within the line
        }
        constexpr int widest = 3;
        int back = 1;
        while (back < cells_before && back <= 2 && mask_.line[end - static_cast<std::size_t>(back)] >= half_covered) {
            ++back; // the soft rim
        }
        const int first = back;
        while (back < cells_before && back - first <= widest &&
               mask_.line[end - static_cast<std::size_t>(back)] < half_covered) {
            ++back;
        }
        if (back > first && back - first <= widest && pinholes_.size() < most_slits) {
            pinholes_.push_back(end - static_cast<std::size_t>(first));
        }
    }

    /// Where tapes meet at a corner a hole of a few cells may stay that no robot sees. It is line.
    void fill_pinhole(std::size_t first) {
        constexpr double largest_mm2 = 9.0;
        const auto most = static_cast<std::size_t>(std::max(1.0, largest_mm2 / (mask_.cell_mm * mask_.cell_mm)));
        std::vector<std::size_t> hole;
        if (mask_.line[first] < half_covered) {
            hole.push_back(first);
        }
        for (std::size_t i = 0; i < hole.size() && hole.size() <= most; ++i) {
            for (std::size_t side = 0; side < 8; side += 2) { // floor does not hang together over corners
                const std::size_t next = hole[i] + static_cast<std::size_t>(around_.step[side]);
                if (is_floor(next) && std::find(hole.begin(), hole.end(), next) == hole.end()) {
                    hole.push_back(next);
                }
            }
        }
        if (hole.size() <= most) {
            for (const std::size_t cell : hole) {
                mask_.line[cell] = 255;
            }
        }
    }

    /// Notes the narrow slit that ends at a cell of line, when one does: `step` leads to the cell before.
    void note_slit(std::size_t end, std::size_t step, int cells_before) {
        constexpr double widest_mm = 1.2;
        const int most_missing = static_cast<int>(255.0 * widest_mm / mask_.cell_mm);
        const int most_cells = std::min(cells_before, static_cast<int>(widest_mm / mask_.cell_mm) + 2);
        int missing = 0;
        for (int back = 1; back <= most_cells && missing <= most_missing; ++back) {
            const int here = mask_.line[end - static_cast<std::size_t>(back) * step];
            if (here >= surely_line) {
                for (int i = 1; i < back; ++i) {
                    slits_.push_back(end - static_cast<std::size_t>(i) * step);
                }
                return;
            }
            missing += 255 - here;
        }
    }

    bool is_floor(std::size_t cell) const { return cell < mask_.line.size() && mask_.line[cell] < half_covered; }

    /// Goes through all of a slit; it is a seam when it leads right through, or lies within the line.
    void take(std::size_t first, std::vector<std::size_t>& seams) {
        const std::size_t begun = seams.size();
        Extent whole;
        Extent floor; // where it comes to it
        std::vector<std::size_t> open{first};
        seen_[first] = true;
        while (!open.empty()) {
            const std::size_t cell = slits_[open.back()];
            open.pop_back();
            seams.push_back(cell);
            const auto columns = static_cast<std::size_t>(mask_.columns);
            whole.add(static_cast<int>(cell % columns), static_cast<int>(cell / columns));
            for (const std::ptrdiff_t step : around_.step) {
                const std::size_t next = cell + static_cast<std::size_t>(step);
                const auto known = std::lower_bound(slits_.begin(), slits_.end(), next);
                if (known != slits_.end() && *known == next) {
                    const auto number = static_cast<std::size_t>(known - slits_.begin());
                    if (!seen_[number]) {
                        seen_[number] = true;
                        open.push_back(number);
                    }
                } else if (mask_.line[next] < half_covered || is_floor(next + static_cast<std::size_t>(step))) {
                    floor.add(static_cast<int>(next % columns), static_cast<int>(next / columns)); // or its soft rim
                }
            }
        }
        constexpr double through = 0.6;
        if (!floor.empty() && floor.size() < through * whole.size() + 2.0) {
            seams.resize(begun);
        }
    }

    LineMask& mask_;
    Around around_;
    std::size_t lines_ = 0;          ///< cells that surely are line
    std::vector<std::size_t> slits_; ///< cells, in order
    std::vector<std::size_t> pinholes_;
    std::vector<bool> seen_;
};

} // namespace

void close_seams(LineMask& mask) { SeamCloser(mask).run(); }

} // namespace vast_turn
