#include "course/graph/line_holes.hpp"

#include <algorithm>
#include <cmath>
#include <cstdint>
#include <cstring>
#include <numbers>
#include <optional>
#include <span>
#include <utility>
#include <vector>

#include "course/floor/cell_runs.hpp"
#include "vast_turn/base/geometry.hpp"

namespace vast_turn {

namespace {

constexpr double longest_hole_mm = 150.0;
constexpr double widest_holed_mm = 100.0; // line with a hole in it
constexpr std::uint64_t upper_bits = 0x8080808080808080U;
static_assert(half_covered == 128, "a cell is line if its upper bit is set");

/// Floor between two cells of line of its row, near enough to be part of a hole.
void add_short_runs(const LineMask& mask, int row, std::vector<CellRun>& runs) {
    const std::uint8_t* cells = mask.line.data() + mask.index(0, row);
    const auto most = static_cast<int>(longest_hole_mm / mask.cell_mm);
    int last_line = -1;
    int column = 0;
    while (column < mask.columns) {
        std::uint64_t eight = upper_bits;
        if (column + 8 <= mask.columns) {
            std::memcpy(&eight, cells + column, sizeof(eight));
        }
        if ((eight & upper_bits) == 0) {
            column += 8;
            continue;
        }
        const int behind = std::min(column + 8, mask.columns);
        for (; column < behind; ++column) {
            if (cells[column] < half_covered) {
                continue;
            }
            if (last_line >= 0 && column - last_line > 1 && column - last_line <= most) {
                runs.push_back({row, last_line + 1, column, 0});
            }
            last_line = column;
        }
    }
}

/// The runs of a hole, by rows.
using HoleRuns = std::span<const CellRun>;

class HoleFinder {
public:
    explicit HoleFinder(LineMask& mask) : mask_(mask) {}

    /// Which are holes is decided before any is filled, so that their order does not matter; meanwhile all thin ones
    /// are, as the dashes along a line's middle, which else would take one another for the floor beside it.
    void fill() {
        collect();
        std::vector<HoleRuns> shapes;
        std::vector<std::pair<std::size_t, std::uint8_t>> before; // cells of thin ones
        for (std::size_t from = 0; from < runs_.size();) {
            std::size_t behind = from;
            bool closed = true;
            while (behind < runs_.size() && runs_[behind].shape == runs_[from].shape) {
                closed = closed && !open_[runs_[behind].shape];
                ++behind;
            }
            const HoleRuns shape(runs_.data() + from, behind - from);
            if (closed && (shape.back().row - shape.front().row) * mask_.cell_mm < longest_hole_mm) {
                shapes.push_back(shape);
                if (is_thin(shape)) {
                    each_cell(shape, [&](std::size_t at) { before.emplace_back(at, mask_.line[at]); });
                }
            }
            from = behind;
        }
        const auto make_line = [&](std::size_t at) { mask_.line[at] = 255; };
        for (const auto& [at, line] : before) {
            make_line(at);
        }
        shapes.erase(std::remove_if(shapes.begin(), shapes.end(), [&](HoleRuns it) { return !lies_in_line(it); }),
                     shapes.end());
        for (const auto& [at, line] : before) {
            mask_.line[at] = line;
        }
        for (const HoleRuns hole : shapes) {
            each_cell(hole, make_line);
        }
    }

private:
    template <class Do> void each_cell(HoleRuns hole, const Do& to_do) const {
        for (const CellRun& run : hole) {
            for (int column = run.from; column < run.behind; ++column) {
                to_do(mask_.index(column, run.row));
            }
        }
    }

    struct Extent {
        double longest = 0.0; ///< of its box, in cells
        double cells = 0.0;
    };

    static Extent extent_of(HoleRuns hole) {
        int left = hole.front().from;
        int right = hole.front().behind;
        Extent out;
        for (const CellRun& run : hole) {
            left = std::min(left, run.from);
            right = std::max(right, run.behind);
            out.cells += run.behind - run.from;
        }
        out.longest = std::hypot(right - left, hole.back().row + 1 - hole.front().row);
        return out;
    }

    bool is_thin(HoleRuns hole) const {
        constexpr double thin_mm = 4.0;
        const Extent extent = extent_of(hole);
        return extent.cells * mask_.cell_mm < thin_mm * extent.longest;
    }

    void collect() {
        std::vector<std::uint32_t> parent;
        std::vector<std::size_t> begins(static_cast<std::size_t>(mask_.rows) + 1, 0);
        for (int row = 1; row + 1 < mask_.rows; ++row) {
            const std::size_t first = runs_.size();
            begins[static_cast<std::size_t>(row)] = first;
            add_short_runs(mask_, row, runs_);
            for (std::size_t i = first; i < runs_.size(); ++i) {
                runs_[i].shape = static_cast<std::uint32_t>(parent.size());
                parent.push_back(runs_[i].shape);
            }
            cell_runs::join_rows(runs_, begins[static_cast<std::size_t>(row) - 1], first, parent);
        }
        std::fill(begins.begin() + mask_.rows - 1, begins.end(), runs_.size());
        for (CellRun& run : runs_) {
            run.shape = cell_runs::root(parent, run.shape);
        }
        open_.assign(parent.size(), false);
        for (const CellRun& run : runs_) {
            for (const int row : {run.row - 1, run.row + 1}) {
                const auto at = static_cast<std::size_t>(row);
                open_[run.shape] = open_[run.shape] || has_other_floor(run, row, begins[at], begins[at + 1]);
            }
        }
        std::stable_sort(runs_.begin(), runs_.end(),
                         [](const CellRun& a, const CellRun& b) { return a.shape < b.shape; });
    }

    /// Whether floor lies over or under a run that is none of the runs of that row.
    bool has_other_floor(const CellRun& run, int row, std::size_t from, std::size_t behind) const {
        const std::uint8_t* cells = mask_.line.data() + mask_.index(0, row);
        std::ptrdiff_t floor =
            std::count_if(cells + run.from, cells + run.behind, [](std::uint8_t line) { return line < half_covered; });
        for (auto it = std::partition_point(runs_.begin() + static_cast<std::ptrdiff_t>(from),
                                            runs_.begin() + static_cast<std::ptrdiff_t>(behind),
                                            [&](const CellRun& other) { return other.behind <= run.from; });
             floor > 0 && it != runs_.begin() + static_cast<std::ptrdiff_t>(behind) && it->from < run.behind; ++it) {
            floor -= std::min(run.behind, it->behind) - std::max(run.from, it->from);
        }
        return floor > 0;
    }

    static bool holds(HoleRuns shape, int column, int row) {
        auto it = std::partition_point(shape.begin(), shape.end(), [&](const CellRun& run) {
            return run.row < row || (run.row == row && run.behind <= column);
        });
        return it != shape.end() && it->row == row && it->from <= column;
    }

    bool is_line(HoleRuns hole, int column, int row) const {
        if (column < 0 || row < 0 || column >= mask_.columns || row >= mask_.rows) {
            return false;
        }
        return mask_.line[mask_.index(column, row)] >= half_covered || holds(hole, column, row);
    }

    /// How far the nearest cell of a kind is, in cells; none within `most`.
    template <class IsSo> static std::optional<double> nearest_of(int column, int row, int most, const IsSo& is_so) {
        double nearest = most + 1.0;
        for (int far = 1; far < nearest; ++far) {
            const auto look = [&](int x, int y) {
                const double off = std::sqrt(static_cast<double>(x * x + y * y));
                if (off < nearest && is_so(column + x, row + y)) {
                    nearest = off;
                }
            };
            for (int i = -far; i <= far; ++i) {
                look(i, -far);
                look(i, far);
                look(-far, i);
                look(far, i);
            }
        }
        return nearest <= most ? std::optional(nearest) : std::nullopt;
    }

    /// Floor that is not of the hole.
    std::optional<double> floor_near(HoleRuns hole, int column, int row, int most) const {
        return nearest_of(column, row, most, [&](int x, int y) { return !is_line(hole, x, y); });
    }

    double half_of_hole(HoleRuns hole, int column, int row, int most) const {
        return nearest_of(column, row, most, [&](int x, int y) { return !holds(hole, x, y); }).value_or(most);
    }

    bool is_line_at(HoleRuns hole, Vec2 p) const {
        return is_line(hole, static_cast<int>(std::floor(p.x + 0.5)), static_cast<int>(std::floor(p.y + 0.5)));
    }

    /// Whether line leads straight from a point to the hole.
    bool leads_to(HoleRuns hole, Vec2 middle, Vec2 from) const {
        const Vec2 d = middle - from;
        const int steps = static_cast<int>(std::ceil(length(d)));
        for (int i = 0; i <= steps; ++i) {
            if (!is_line_at(hole, from + static_cast<double>(i) / steps * d)) {
                return false;
            }
        }
        return true;
    }

    /// How wide the lines are that lead from a hole through a circle round it, in cells, put after those of `list`.
    void add_widths(HoleRuns hole, Vec2 middle, double radius, std::vector<double>& list) const {
        const auto samples = static_cast<int>(std::ceil(4.0 * std::numbers::pi * radius));
        const double step = 2.0 * std::numbers::pi / samples;
        const double sine = std::sin(step);
        const double cosine = std::cos(step);
        std::vector<Vec2> points(static_cast<std::size_t>(samples));
        std::vector<char> line(points.size());
        Vec2 off{radius, 0.0};
        for (std::size_t i = 0; i < points.size(); ++i) {
            points[i] = middle + off;
            line[i] = is_line_at(hole, points[i]) ? 1 : 0;
            off = turned(off, sine, cosine);
        }
        const auto floor = std::find(line.begin(), line.end(), 0);
        if (floor == line.end()) {
            list.push_back(2.0 * radius);
            return;
        }
        std::rotate(points.begin(), points.begin() + (floor - line.begin()), points.end());
        std::rotate(line.begin(), floor, line.end());
        for (auto from = std::find(line.begin(), line.end(), 1); from != line.end();) {
            const auto behind = std::find(from, line.end(), 0);
            const double arc = step * static_cast<double>(behind - from);
            const auto mid = static_cast<std::size_t>((from - line.begin()) + (behind - from) / 2);
            if (leads_to(hole, middle, points[mid])) {
                list.push_back(arc < std::numbers::pi ? 2.0 * radius * std::sin(0.5 * arc) : 2.0 * radius);
            }
            from = std::find(behind, line.end(), 1);
        }
    }

    /// Whether it rather has an outline, as the empty fields of a scale have, or is a field with something written in
    /// it.
    bool is_field(HoleRuns hole, double half, double half_of_all) const {
        const auto [longest, cells] = extent_of(hole);
        const bool is_long = longest > 5.0 * half;
        return half > (is_long ? 0.6 : 0.85) * half_of_all || (!is_thin(hole) && cells > 3.0 * half * longest);
    }

    bool lies_in_line(HoleRuns hole) const {
        const CellRun& middle = hole[hole.size() / 2];
        const int column = (middle.from + middle.behind - 1) / 2;
        const auto most = static_cast<int>(0.5 * widest_holed_mm / mask_.cell_mm);
        const std::optional<double> room = floor_near(hole, column, middle.row, most);
        if (!room || is_field(hole, half_of_hole(hole, column, middle.row, most) - 0.5, *room - 0.5)) {
            return false;
        }
        std::vector<double> widths;
        for (const double far : {2.0, 2.6, 3.2}) {
            add_widths(hole, {static_cast<double>(column), static_cast<double>(middle.row)}, far * *room, widths);
        }
        if (widths.empty()) {
            return false;
        }
        std::nth_element(widths.begin(), widths.begin() + static_cast<std::ptrdiff_t>(widths.size() / 2), widths.end());
        const double width = widths[widths.size() / 2];
        constexpr double wider_at_crossing = 1.6; // the circle that a crossing's corners touch: 1.41
        return 2.0 * *room <= wider_at_crossing * width && is_thin_beside(hole, 0.6 * width);
    }

    /// Whether there is less line than that between a hole and other floor somewhere.
    bool is_thin_beside(HoleRuns hole, double cells) const {
        return std::any_of(hole.begin(), hole.end(), [&](const CellRun& run) {
            const auto far = static_cast<int>(std::ceil(cells));
            return floor_near(hole, run.from, run.row, far).value_or(2.0 * cells) < cells ||
                   floor_near(hole, run.behind - 1, run.row, far).value_or(2.0 * cells) < cells;
        });
    }

    LineMask& mask_;
    std::vector<CellRun> runs_;
    std::vector<bool> open_; // by shape
};

} // namespace

void fill_holes(LineMask& mask) { HoleFinder(mask).fill(); }

} // namespace vast_turn
