#include "course/graph/line_mask.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <span>
#include <utility>

#include "course/graph/cell_runs.hpp"

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

/// Marks cells of another colour while the mask is made.
constexpr std::uint8_t other_colour = 1;

/// A piece of the rim of a cover at which line begins.
struct Contact {
    std::vector<Vec2> cells;

    Vec2 middle() const {
        Vec2 sum;
        for (const Vec2 cell : cells) {
            sum = sum + cell;
        }
        return 1.0 / static_cast<double>(cells.size()) * sum;
    }
    /// From the least to the most along a direction.
    std::pair<double, double> extent(Vec2 along) const {
        std::pair<double, double> out{1e9, -1e9};
        for (const Vec2 cell : cells) {
            out = {std::min(out.first, dot(cell, along)), std::max(out.second, dot(cell, along))};
        }
        return out;
    }
};

/// What of another colour lies on lines: within one it is line (a plate on tape), and so is the band between two sides
/// at which a line goes under and comes out.
class Inlays {
public:
    explicit Inlays(LineMask& mask) : mask_(mask) {}

    void fill() {
        CellRuns found =
            runs_of(mask_.columns, mask_.rows, [&](std::size_t at) { return mask_.line[at] == other_colour; });
        std::stable_sort(found.runs.begin(), found.runs.end(),
                         [](const CellRun& a, const CellRun& b) { return a.shape < b.shape; });
        std::vector<std::pair<std::size_t, std::size_t>> shapes;
        for (std::size_t i = 0; i < found.runs.size(); ++i) {
            if (i == 0 || found.runs[i].shape != found.runs[i - 1].shape) {
                shapes.emplace_back(i, i);
            }
            shapes.back().second = i + 1;
        }
        std::vector<std::array<Vec2, 4>> bands;
        for (const auto& [from, behind] : shapes) {
            const std::span<const CellRun> shape(found.runs.data() + from, behind - from);
            if (!fill_within(shape)) {
                band_over(contacts_of(shape), bands);
            }
        }
        for (const CellRun& run : found.runs) {
            for (int column = run.from; column < run.behind; ++column) {
                std::uint8_t& cell = mask_.line[mask_.index(column, run.row)];
                cell = cell == other_colour ? std::uint8_t{0} : cell;
            }
        }
        for (const std::array<Vec2, 4>& band : bands) {
            paint(band);
        }
    }

private:
    /// Whether it was line nearly all round.
    bool fill_within(std::span<const CellRun> shape) {
        std::uint32_t rim = 0;
        std::uint32_t on_line = 0;
        for (const CellRun& run : shape) {
            const auto look = [&](int column, int row) {
                const std::uint8_t there = mask_.line[mask_.index(column, row)];
                rim += there == other_colour ? 0 : 1;
                on_line += there >= 128 ? 1 : 0;
            };
            look(run.from - 1, run.row);
            look(run.behind, run.row);
            for (int column = run.from; column < run.behind; ++column) {
                look(column, run.row - 1);
                look(column, run.row + 1);
            }
        }
        constexpr double nearly_all = 0.72;
        if (on_line <= nearly_all * rim) {
            return false;
        }
        for (const CellRun& run : shape) {
            std::fill_n(mask_.line.begin() + static_cast<std::ptrdiff_t>(mask_.index(run.from, run.row)),
                        run.behind - run.from, std::uint8_t{255});
        }
        return true;
    }

    /// Line cells at most two cells off, those that hang together as one.
    std::vector<Contact> contacts_of(std::span<const CellRun> shape) const {
        std::vector<std::pair<int, int>> cells; // row, column
        const auto look = [&](int column, int row) {
            if (column > 0 && row > 0 && column + 1 < mask_.columns && row + 1 < mask_.rows &&
                mask_.line[mask_.index(column, row)] >= 128) {
                cells.emplace_back(row, column);
            }
        };
        for (const CellRun& run : shape) {
            for (const int off : {1, 2}) {
                look(run.from - off, run.row);
                look(run.behind - 1 + off, run.row);
                for (int column = run.from; column < run.behind; ++column) {
                    look(column, run.row - off);
                    look(column, run.row + off);
                }
            }
        }
        std::sort(cells.begin(), cells.end());
        cells.erase(std::unique(cells.begin(), cells.end()), cells.end());
        std::vector<char> taken(cells.size(), 0);
        std::vector<Contact> list;
        for (std::size_t first = 0; first < cells.size(); ++first) {
            if (taken[first] != 0) {
                continue;
            }
            Contact contact;
            std::vector<std::size_t> open{first};
            taken[first] = 1;
            while (!open.empty()) {
                const auto [row, column] = cells[open.back()];
                open.pop_back();
                contact.cells.push_back(mask_.middle(column, row));
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

    /// Between two sides that face each other.
    void band_over(const std::vector<Contact>& contacts, std::vector<std::array<Vec2, 4>>& bands) {
        if (contacts.size() != 2) {
            return;
        }
        const Vec2 a = contacts[0].middle();
        const Vec2 b = contacts[1].middle();
        const double way = length(b - a);
        constexpr double longest_mm = 120.0;
        if (way <= 0.0 || way > longest_mm) {
            return;
        }
        const Vec2 along = 1.0 / way * (b - a);
        const Vec2 across{-along.y, along.x};
        const double half = 0.5 * mask_.cell_mm;
        const auto [a_low, a_high] = contacts[0].extent(across);
        const auto [b_low, b_high] = contacts[1].extent(across);
        const double a_wide = a_high - a_low + mask_.cell_mm;
        const double b_wide = b_high - b_low + mask_.cell_mm;
        const double aside = std::abs(0.5 * (a_low + a_high - b_low - b_high));
        constexpr double least_mm = 4.0;
        if (std::min(a_wide, b_wide) < least_mm || std::max(a_wide, b_wide) > 1.7 * std::min(a_wide, b_wide) ||
            aside > 0.4 * a_wide) {
            return;
        }
        // Into the line on both sides as far as it comes round what covers it, so that no sliver stays between.
        const double from = contacts[0].extent(along).first;
        const double to = contacts[1].extent(along).second;
        const auto point = [&](double on, double off) { return on * along + off * across; };
        bands.push_back(
            {point(from, a_low - half), point(from, a_high + half), point(to, b_high + half), point(to, b_low - half)});
        const double back = half + mask_.cell_mm; // the cells that touch are up to two away
        mask_.covers.push_back(
            {point(dot(a, along) + back, 0.5 * (a_low + a_high)), point(dot(b, along) - back, 0.5 * (b_low + b_high))});
    }

    /// Fills a four-sided shape.
    void paint(const std::array<Vec2, 4>& corners) {
        Vec2 low = corners[0];
        Vec2 high = corners[0];
        for (const Vec2 p : corners) {
            low = {std::min(low.x, p.x), std::min(low.y, p.y)};
            high = {std::max(high.x, p.x), std::max(high.y, p.y)};
        }
        const auto cell = [&](double mm) { return static_cast<int>(std::floor(mm / mask_.cell_mm + 0.5)); };
        for (int row = std::max(1, cell(low.y)); row <= std::min(mask_.rows - 2, cell(high.y) + 1); ++row) {
            for (int column = std::max(1, cell(low.x)); column <= std::min(mask_.columns - 2, cell(high.x) + 1);
                 ++column) {
                const Vec2 p = mask_.middle(column, row);
                int sides = 0;
                for (std::size_t i = 0; i < corners.size(); ++i) {
                    sides += cross(corners[(i + 1) % corners.size()] - corners[i], p - corners[i]) >= 0.0 ? 1 : -1;
                }
                if (std::abs(sides) == static_cast<int>(corners.size())) {
                    mask_.line[mask_.index(column, row)] = 255;
                }
            }
        }
    }

    LineMask& mask_;
};

} // namespace

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
    const Likeness likeness(course.floor, course.line);
    const int join = std::max(1, static_cast<int>(std::lround(1.0 / surface.cell_mm)));
    LineMask mask;
    mask.cell_mm = surface.cell_mm * join;
    const int inner_columns = surface.columns / join;
    const int inner_rows = surface.rows / join;
    mask.columns = inner_columns + 2;
    mask.rows = inner_rows + 2;
    mask.line.resize(static_cast<std::size_t>(mask.columns) * static_cast<std::size_t>(mask.rows));
    if (!likeness.differs()) {
        return mask;
    }
    std::uint32_t last_colour = 0;
    double last = likeness(0); // most cells look like the one before
    const auto of = [&](std::uint32_t colour) {
        if (colour != last_colour) {
            last_colour = colour;
            last = likeness(colour);
        }
        return last;
    };
    const double scale = 255.0 / (join * join);
    bool any_other = false;
    for (int row = 0; row < inner_rows; ++row) {
        for (int column = 0; column < inner_columns; ++column) {
            double sum = 0.0;
            int others = 0;
            for (int y = 0; y < join; ++y) {
                const std::uint32_t* cells =
                    surface.cells.data() +
                    static_cast<std::size_t>(row * join + y) * static_cast<std::size_t>(surface.columns) +
                    static_cast<std::size_t>(column) * static_cast<std::size_t>(join);
                for (int x = 0; x < join; ++x) {
                    const double line = of(cells[x]);
                    sum += std::max(0.0, line);
                    others += line < 0.0 ? 1 : 0;
                }
            }
            const auto line = static_cast<std::uint8_t>(std::lround(sum * scale));
            const bool is_other = 2 * others >= join * join;
            any_other = any_other || is_other;
            mask.line[mask.index(column + 1, row + 1)] = is_other               ? other_colour
                                                         : line == other_colour ? std::uint8_t{0}
                                                                                : line;
        }
    }
    if (any_other) {
        Inlays(mask).fill();
    }
    return mask;
}

} // namespace vast_turn
