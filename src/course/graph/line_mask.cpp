#include "course/graph/line_mask.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <utility>

#include "course/graph/line_holes.hpp"
#include "course/graph/line_inlays.hpp"
#include "course/graph/line_seams.hpp"

namespace vast_turn {

namespace {

/// What a colour is that is no mixture of floor and line.
constexpr double neither = -1.0;

/// How much line there is in a colour: 0 at the floor's, 1 at the line's.
class Likeness {
public:
    Likeness(Rgb floor, Rgb line)
        : floor_{static_cast<double>(floor.r), static_cast<double>(floor.g), static_cast<double>(floor.b)},
          way_{line.r - floor_[0], line.g - floor_[1], line.b - floor_[2]},
          square_(way_[0] * way_[0] + way_[1] * way_[1] + way_[2] * way_[2]) {}

    double operator()(std::uint32_t cell) const {
        const double r = static_cast<double>((cell >> 16U) & 255U) - floor_[0];
        const double g = static_cast<double>((cell >> 8U) & 255U) - floor_[1];
        const double b = static_cast<double>(cell & 255U) - floor_[2];
        const double part = (r * way_[0] + g * way_[1] + b * way_[2]) / square_;
        constexpr double most_aside = 0.2; // of the way from floor to line
        const double aside = r * r + g * g + b * b - part * part * square_;
        return aside > most_aside * most_aside * square_ ? neither : std::clamp(part, 0.0, 1.0);
    }

    bool differs() const { return square_ > 0.0; }

private:
    std::array<double, 3> floor_;
    std::array<double, 3> way_;
    double square_;
};

/// How much line there is in a colour, by all that the course says of colours.
class LineColours {
public:
    explicit LineColours(const Course& course) : hints_(course.line_hints), line_(course.line) {
        likenesses_.emplace_back(course.floor, course.line);
        for (const Rgb colour : hints_.take_in_colours) {
            likenesses_.emplace_back(course.floor, colour);
        }
    }

    double operator()(std::uint32_t cell) const {
        for (const Rgb colour : hints_.leave_out_colours) {
            constexpr double like = 40.0;
            const double off = squared_apart(cell, colour);
            if (off < like * like && off < squared_apart(cell, line_)) {
                return 0.0;
            }
        }
        double most = neither;
        for (const Likeness& likeness : likenesses_) {
            most = likeness.differs() ? std::max(most, likeness(cell)) : most;
        }
        return most;
    }

    bool differ() const {
        return std::any_of(likenesses_.begin(), likenesses_.end(), [](const Likeness& one) { return one.differs(); });
    }

private:
    static double squared_apart(std::uint32_t cell, Rgb colour) {
        const auto channel = [cell](unsigned shift) { return static_cast<std::uint8_t>((cell >> shift) & 255U); };
        return vast_turn::squared_apart({channel(16), channel(8), channel(0)}, colour);
    }

    const LineHints& hints_;
    Rgb line_;
    std::vector<Likeness> likenesses_;
};

/// How much line there is in squares of cells.
class CellJoiner {
public:
    CellJoiner(const Surface& surface, const LineColours& likeness, int join)
        : surface_(surface), likeness_(likeness), join_(join), scale_(255.0 / (join * join)), last_(likeness(0)) {}

    /// A row of squares, each 0 to 255, or other_colour.
    void operator()(int row, int columns, std::uint8_t* out) {
        const std::uint32_t* cells =
            surface_.cells.data() + static_cast<std::size_t>(row) * static_cast<std::size_t>(join_ * surface_.columns);
        const int side = join_;
        std::uint32_t plain_colour = *cells; // most squares are of one colour, and of that of the one before
        std::uint8_t plain = 0;
        bool has_plain = false;
        for (int column = 0; column < columns; ++column, cells += side) {
            const std::uint32_t first = *cells;
            if (side > 1 && !is_all(first, cells, side)) {
                out[column] = of_cells(cells);
                continue;
            }
            if (!has_plain || first != plain_colour) {
                plain_colour = first;
                plain = of_cells(cells);
                has_plain = true;
            }
            out[column] = plain;
        }
    }

private:
    bool is_all(std::uint32_t colour, const std::uint32_t* cells, int side) const {
        std::uint32_t differing = 0;
        for (int y = 0; y < side; ++y, cells += surface_.columns) {
            for (int x = 0; x < side; ++x) {
                differing |= cells[x] ^ colour;
            }
        }
        return differing == 0;
    }

    std::uint8_t of_cells(const std::uint32_t* cells) {
        double sum = 0.0;
        int others = 0;
        for (int y = 0; y < join_; ++y, cells += surface_.columns) {
            for (int x = 0; x < join_; ++x) {
                const double line = of(cells[x]);
                sum += std::max(0.0, line);
                others += line < 0.0 ? 1 : 0;
            }
        }
        if (2 * others >= join_ * join_) {
            return other_colour;
        }
        const auto line = static_cast<std::uint8_t>(std::lround(sum * scale_));
        return line == other_colour ? std::uint8_t{0} : line;
    }

    double of(std::uint32_t colour) {
        if (colour != last_colour_) {
            last_colour_ = colour;
            last_ = likeness_(colour);
        }
        return last_;
    }

    const Surface& surface_;
    const LineColours& likeness_;
    int join_;
    double scale_;
    std::uint32_t last_colour_ = 0;
    double last_;
};

/// Takes out what nobody is to look at: outside the board, and regions that the course leaves out.
void clear_regions(LineMask& mask, const Course& course) {
    const bool is_page = course.board.has_value();
    if (!is_page && course.line_hints.leave_out.empty()) {
        return;
    }
    for (int row = 1; row + 1 < mask.rows; ++row) {
        for (int column = 1; column + 1 < mask.columns; ++column) {
            const Vec2 p = mask.middle(column, row);
            const bool out = (is_page && !course.board->mm.holds(p)) ||
                             std::any_of(course.line_hints.leave_out.begin(), course.line_hints.leave_out.end(),
                                         [&](const Area& area) { return area.holds(p); });
            if (out) {
                mask.line[mask.index(column, row)] = 0;
            }
        }
    }
}

} // namespace

bool LineMask::was_taken_off(Vec2 p) const {
    const double x = std::floor(p.x / cell_mm + 1.0);
    const double y = std::floor(p.y / cell_mm + 1.0);
    return !off.empty() && x >= 0.0 && y >= 0.0 && x < columns && y < rows &&
           off[index(static_cast<int>(x), static_cast<int>(y))];
}

double LineMask::at(Vec2 p) const {
    const double x = p.x / cell_mm + 0.5;
    const double y = p.y / cell_mm + 0.5;
    if (!(x >= 0.0 && y >= 0.0 && x < columns - 1.0 && y < rows - 1.0)) {
        return 0.0;
    }
    const int i = static_cast<int>(x);
    const int j = static_cast<int>(y);
    const double fx = x - i;
    const double fy = y - j;
    const std::size_t k = index(i, j);
    const std::size_t below = k + static_cast<std::size_t>(columns);
    const double upper = line[k] * (1.0 - fx) + line[k + 1] * fx;
    const double lower = line[below] * (1.0 - fx) + line[below + 1] * fx;
    return (upper * (1.0 - fy) + lower * fy) / 255.0;
}

LineMask line_mask(const Course& course) {
    const Surface& surface = course.surface;
    const LineColours likeness(course);
    const int join = std::max(1, static_cast<int>(std::lround(1.0 / surface.cell_mm)));
    LineMask mask;
    mask.cell_mm = surface.cell_mm * join;
    const int inner_columns = surface.columns / join;
    const int inner_rows = surface.rows / join;
    mask.columns = inner_columns + 2;
    mask.rows = inner_rows + 2;
    mask.line.resize(static_cast<std::size_t>(mask.columns) * static_cast<std::size_t>(mask.rows));
    if (!likeness.differ()) {
        return mask;
    }
    CellJoiner joined(surface, likeness, join);
    bool any_other = false;
    for (int row = 0; row < inner_rows; ++row) {
        std::uint8_t* out = mask.line.data() + mask.index(1, row + 1);
        joined(row, inner_columns, out);
        any_other = any_other || std::find(out, out + inner_columns, other_colour) != out + inner_columns;
    }
    clear_regions(mask, course);
    if (any_other) {
        fill_inlays(mask);
    }
    close_seams(mask);
    if (!course.drawing.empty()) {
        fill_holes(mask);
    }
    return mask;
}

} // namespace vast_turn
