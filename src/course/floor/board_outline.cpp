#include "vast_turn/course/floor/board_outline.hpp"

#include <algorithm>
#include <cmath>
#include <cstdint>
#include <limits>
#include <map>

#include "course/floor/cell_runs.hpp"

namespace vast_turn {

namespace {

/// The greatest difference of a channel.
int apart(std::uint32_t a, std::uint32_t b) {
    int most = 0;
    for (const unsigned shift : {16U, 8U, 0U}) {
        most = std::max(most, std::abs(static_cast<int>((a >> shift) & 255U) - static_cast<int>((b >> shift) & 255U)));
    }
    return most;
}

constexpr int step_of_colour = 24; // of 255

/// The colour of the cells two from the edge (the outermost may be only half of the page); nothing when they have
/// several.
std::optional<std::uint32_t> colour_of_rim(const Surface& page) {
    std::map<std::uint32_t, std::size_t> count;
    std::size_t all = 0;
    const auto look = [&](int column, int row) {
        ++count[page.cells[static_cast<std::size_t>(row) * static_cast<std::size_t>(page.columns) +
                           static_cast<std::size_t>(column)]];
        ++all;
    };
    constexpr int inset = 2;
    for (int column = inset; column < page.columns - inset; ++column) {
        look(column, inset);
        look(column, page.rows - 1 - inset);
    }
    for (int row = inset; row < page.rows - inset; ++row) {
        look(inset, row);
        look(page.columns - 1 - inset, row);
    }
    std::uint32_t usual = 0;
    std::size_t most = 0;
    for (const auto& [colour, n] : count) {
        usual = n > most ? colour : usual;
        most = std::max(most, n);
    }
    std::size_t like = 0;
    for (const auto& [colour, n] : count) {
        like += apart(colour, usual) < step_of_colour ? n : 0;
    }
    constexpr double nearly_all = 0.98;
    return static_cast<double>(like) >= nearly_all * static_cast<double>(all) ? std::optional{usual} : std::nullopt;
}

/// A shape that is not bare paper, in cells.
struct Patch {
    int left = std::numeric_limits<int>::max();
    int right = -1; ///< its last column
    int top = std::numeric_limits<int>::max();
    int bottom = -1;
    double cells = 0.0;

    /// No filled area, as furniture is.
    bool is_line_like() const {
        const double wide = right - left + 1.0;
        const double high = bottom - top + 1.0;
        constexpr double long_side = 6.0; // times the other
        return cells < 0.5 * box() || std::max(wide, high) > long_side * std::min(wide, high);
    }
    double box() const { return (right - left + 1.0) * (bottom - top + 1.0); }
    bool holds(const Patch& other) const {
        return other.left >= left && other.right <= right && other.top >= top && other.bottom <= bottom;
    }
};

/// How a patch looks along its four sides.
struct Sides {
    double there = 1.0;    ///< the least part of a side at which it is there, with bare paper close outside
    double thick_mm = 0.0; ///< the greatest of the medians of how thick it is at each side
};

class OutlineFinder {
public:
    OutlineFinder(const Surface& page, std::uint32_t paper) : page_(page), paper_(paper) {
        // With the margin of empty cells that shapes need.
        found_ = runs_of(page.columns + 2, page.rows + 2, [&](std::size_t at) {
            const auto wide = static_cast<std::uint32_t>(page.columns) + 2U; // dividing in 32 bits takes a third
            const auto index = static_cast<std::uint32_t>(at);
            return is_ink(static_cast<int>(index % wide) - 1, static_cast<int>(index / wide) - 1);
        });
        patches_.resize(found_.shapes);
        for (const CellRun& run : found_.runs) {
            Patch& patch = patches_[run.shape];
            patch.left = std::min(patch.left, run.from - 1);
            patch.right = std::max(patch.right, run.behind - 2);
            patch.top = std::min(patch.top, run.row - 1);
            patch.bottom = std::max(patch.bottom, run.row - 1);
            patch.cells += run.behind - run.from;
        }
    }

    std::optional<Area> run(double least_tape_mm) const {
        const double page_cells = static_cast<double>(page_.columns) * page_.rows;
        std::optional<Area> out;
        double smallest = std::numeric_limits<double>::infinity();
        for (const Patch& patch : patches_) {
            constexpr double least = 0.1;
            constexpr double as_good_as_all = 0.985;
            if (patch.box() < least * page_cells || patch.box() > as_good_as_all * page_cells ||
                patch.box() >= smallest) {
                continue;
            }
            const Sides sides = sides_of(patch);
            constexpr double nearly = 0.93;
            const bool is_sheet = patch.cells > 0.5 * patch.box();
            const bool is_frame = sides.thick_mm < 0.6 * least_tape_mm;
            if (sides.there < nearly || (!is_sheet && !is_frame) || !holds_enough(patch)) {
                continue;
            }
            smallest = patch.box();
            const double inset = is_sheet ? 0.0 : sides.thick_mm + page_.cell_mm;
            const double cell = page_.cell_mm;
            out = Area{{patch.left * cell + inset, patch.top * cell + inset},
                       {(patch.right + 1) * cell - inset, (patch.bottom + 1) * cell - inset}};
        }
        return out;
    }

private:
    bool is_ink(int column, int row) const {
        return apart(page_.cells[static_cast<std::size_t>(row) * static_cast<std::size_t>(page_.columns) +
                                 static_cast<std::size_t>(column)],
                     paper_) >= step_of_colour;
    }

    /// Looks inwards from every place of each side, but for the corners, which may be round.
    Sides sides_of(const Patch& patch) const {
        Sides out;
        const int wide = patch.right - patch.left + 1;
        const int high = patch.bottom - patch.top + 1;
        const int near = std::max(2, static_cast<int>(1.5 / page_.cell_mm));
        for (int side = 0; side < 4; ++side) {
            const bool upright = side < 2;
            const int length = upright ? high : wide;
            const int depth = upright ? wide : high;
            const auto ink = [&](int along, int in) {
                const int inward = side % 2 == 0 ? in : depth - 1 - in;
                return upright ? is_ink(patch.left + inward, patch.top + along)
                               : is_ink(patch.left + along, patch.top + inward);
            };
            const int before = upright ? patch.left : patch.top;
            const int behind = upright ? page_.columns - 1 - patch.right : page_.rows - 1 - patch.bottom;
            const int room = std::min(near, side % 2 == 0 ? before : behind);
            // Else the floor within a loop of line would be a sheet: the soft rim of a line may have the paper's
            // colour.
            const auto is_bare_outside = [&](int along) {
                int out_by = 1;
                while (out_by <= room && ink(along, -out_by)) {
                    ++out_by;
                }
                return out_by <= near;
            };
            std::vector<int> thick;
            int looked = 0;
            for (int along = length / 20; along < length - length / 20; ++along) {
                ++looked;
                int in = 0;
                while (in < near && !ink(along, in)) {
                    ++in;
                }
                if (in == near || !is_bare_outside(along)) {
                    continue;
                }
                const int begin = in;
                while (in < depth && ink(along, in)) {
                    ++in;
                }
                thick.push_back(in - begin);
            }
            if (thick.empty()) {
                return {0.0, 0.0};
            }
            out.there = std::min(out.there, static_cast<double>(thick.size()) / looked);
            std::nth_element(thick.begin(), thick.begin() + static_cast<std::ptrdiff_t>(thick.size() / 2), thick.end());
            out.thick_mm = std::max(out.thick_mm, thick[thick.size() / 2] * page_.cell_mm);
        }
        return out;
    }

    /// Whether a good part of what lies on the page lies within, other frames not counted, or by far the largest thing
    /// on it, a line: a course beside a title, a legend and a title block.
    bool holds_enough(const Patch& outline) const {
        double inside = 0.0;
        double all = 0.0;
        double largest_inside = 0.0;
        double largest_beside = 0.0;      // or within, but no line
        constexpr double furniture = 0.1; // of the board: that large is no dash
        for (const Patch& patch : patches_) {
            if (patch.holds(outline)) {
                continue; // itself, and what is round it
            }
            const bool is_inside = outline.holds(patch);
            const bool is_line_like = patch.is_line_like();
            if (is_line_like || patch.cells < furniture * outline.box()) {
                all += patch.cells;
                inside += is_inside ? patch.cells : 0.0;
            }
            if (is_inside && is_line_like) {
                largest_inside = std::max(largest_inside, patch.cells);
            } else {
                largest_beside = std::max(largest_beside, patch.cells);
            }
        }
        const bool is_sheet = outline.cells > 0.5 * outline.box();
        // Titles and legends have more ink than a thin line; but of a small frame among them more is asked.
        constexpr double large = 0.3; // of the page
        const bool is_large = outline.box() >= large * page_.columns * page_.rows;
        const double enough = is_large ? 0.25 : 0.5;
        constexpr double by_far = 1.5;
        return (is_sheet && is_large) || (inside > 0.0 && inside >= enough * all) ||
               (largest_inside > 0.0 && largest_inside > by_far * largest_beside);
    }

    const Surface& page_;
    std::uint32_t paper_;
    CellRuns found_;
    std::vector<Patch> patches_;
};

} // namespace

std::optional<Area> find_board_outline(const Surface& page, const std::vector<double>& line_widths_mm) {
    constexpr int least = 9;
    if (page.columns < least || page.rows < least) {
        return std::nullopt;
    }
    const std::optional<std::uint32_t> paper = colour_of_rim(page);
    if (!paper) {
        return std::nullopt;
    }
    constexpr double narrowest_tape_mm = 8.0;
    const double tape =
        line_widths_mm.empty() ? narrowest_tape_mm : *std::min_element(line_widths_mm.begin(), line_widths_mm.end());
    return OutlineFinder(page, *paper).run(tape);
}

} // namespace vast_turn
