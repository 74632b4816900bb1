#include "course/graph/line_inlays.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdint>
#include <span>
#include <utility>

#include "course/floor/cell_runs.hpp"
#include "course/graph/plate_contacts.hpp"
#include "course/graph/under_plate.hpp"

namespace vast_turn {

namespace {

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
        drop_fringes(found.runs);
        std::vector<std::span<const CellRun>> open;
        for (const auto& [from, behind] : shapes) {
            const std::span<const CellRun> shape(found.runs.data() + from, behind - from);
            if (!fill_within(shape)) {
                open.push_back(shape);
            }
        }
        // A line that another plate bites tells nothing before that is mended. Chains of plates are short.
        constexpr int most_rounds = 3;
        for (int round = 0; round < most_rounds && lead_under(open, &Inlays::leads_by_arms); ++round) {
        }
        mended_.clear();
        lead_under(open, &Inlays::leads_by_sides);
        for (const CellRun& run : found.runs) {
            for (int column = run.from; column < run.behind; ++column) {
                std::uint8_t& cell = mask_.line[mask_.index(column, run.row)];
                cell = cell == other_colour ? std::uint8_t{0} : cell;
            }
        }
    }

private:
    /// Pictures that were made small blur colours more than light, so that a plate has a rim that looks like half a
    /// line. What lies at a plate, is less than line, and has floor behind it is such a rim.
    void drop_fringes(const std::vector<CellRun>& others) {
        constexpr int rim = 4; // cells
        std::vector<std::size_t> fringe;
        for (const CellRun& run : others) {
            for (int row = std::max(1, run.row - rim); row <= std::min(mask_.rows - 2, run.row + rim); ++row) {
                const int from = std::max(1, run.from - rim);
                const int behind = std::min(mask_.columns - 1, run.behind + rim);
                for (int column = from; column < behind; ++column) {
                    const std::uint8_t line = mask_.line[mask_.index(column, row)];
                    const bool within = row == run.row && column >= run.from && column < run.behind;
                    if (!within && line > surely_floor && line < surely_line && has_floor_behind(column, row, rim)) {
                        fringe.push_back(mask_.index(column, row));
                    }
                }
            }
        }
        for (const std::size_t at : fringe) {
            mask_.line[at] = 0;
        }
    }

    static constexpr std::uint8_t surely_line = 217;

    /// Looks away from the cells of another colour round a cell that is no rim of a line.
    bool has_floor_behind(int column, int row, int reach) const {
        constexpr int rim_of_line = 2;
        for (int y = std::max(0, row - rim_of_line); y <= std::min(mask_.rows - 1, row + rim_of_line); ++y) {
            for (int x = std::max(0, column - rim_of_line); x <= std::min(mask_.columns - 1, column + rim_of_line);
                 ++x) {
                if (mask_.line[mask_.index(x, y)] >= surely_line) {
                    return false;
                }
            }
        }
        Vec2 away;
        for (int y = std::max(0, row - reach); y <= std::min(mask_.rows - 1, row + reach); ++y) {
            for (int x = std::max(0, column - reach); x <= std::min(mask_.columns - 1, column + reach); ++x) {
                if (mask_.line[mask_.index(x, y)] == other_colour) {
                    away = away + Vec2{static_cast<double>(column - x), static_cast<double>(row - y)};
                }
            }
        }
        const double size = length(away);
        if (size <= 0.0) {
            return false;
        }
        constexpr double behind_mm = 6.0;
        return mask_.at(mask_.middle(column, row) + behind_mm / size * away) < 0.5;
    }

    using Leads = bool (Inlays::*)(std::span<const CellRun>);

    /// Leads lines on under shapes, and takes those off the list of which it is known how; whether there were any. All
    /// are looked at before any is painted, so that their order does not matter.
    bool lead_under(std::vector<std::span<const CellRun>>& shapes, Leads leads) {
        const std::size_t before = shapes.size();
        std::vector<Vec2> mended;
        const auto may_tell_now = [&](Vec2 at) {
            constexpr double near_mm = 240.0; // of two corners: the longest plate, its last ring and the arm there
            return mended_.empty() || std::any_of(mended_.begin(), mended_.end(),
                                                  [&](Vec2 other) { return length(other - at) < near_mm; });
        };
        const auto is_mended = [&](std::span<const CellRun> shape) {
            const Vec2 at = mask_.middle(shape.front().from, shape.front().row);
            if (!may_tell_now(at) || !(this->*leads)(shape)) {
                return false;
            }
            mended.push_back(at);
            return true;
        };
        shapes.erase(std::remove_if(shapes.begin(), shapes.end(), is_mended), shapes.end());
        mended_ = std::move(mended);
        for (const std::array<Vec2, 4>& band : bands_) {
            paint(band);
        }
        for (const std::size_t at : under_) {
            mask_.line[at] = 255;
        }
        bands_.clear();
        under_.clear();
        return shapes.size() < before;
    }

    /// As the lines that come to it tell, or between the two sides that there are.
    bool leads_by_arms(std::span<const CellRun> shape) {
        const std::array contacts{contacts_of(mask_, shape, near_cells), contacts_of(mask_, shape, blurred_cells)};
        if (contacts.back().empty()) {
            return false;
        }
        const UnderPlate found = under_plate(mask_, shape);
        under_.insert(under_.end(), found.cells.begin(), found.cells.end());
        mask_.covers.insert(mask_.covers.end(), found.covers.begin(), found.covers.end());
        return !found.cells.empty() ||
               std::any_of(contacts.begin(), contacts.end(), [&](const std::vector<PlateContact>& sides) {
                   return sides.size() == 2 && bands_over(sides);
               });
    }

    /// Between pairs of many sides.
    bool leads_by_sides(std::span<const CellRun> shape) {
        return bands_over(contacts_of(mask_, shape, near_cells)) ||
               bands_over(contacts_of(mask_, shape, blurred_cells));
    }

    /// Whether it was line nearly all round.
    bool fill_within(std::span<const CellRun> shape) {
        std::uint32_t rim = 0;
        std::uint32_t on_line = 0;
        for (const CellRun& run : shape) {
            const auto look = [&](int column, int row, int right, int down) {
                const int blur = blur_before_line(column, row, right, down);
                rim += blur < 0 ? 0 : 1;
                on_line += blur >= 0 && blur <= most_blur ? 1 : 0;
            };
            all_round(run, look);
        }
        constexpr double nearly_all = 0.72;
        constexpr double all = 0.97;
        if (on_line <= nearly_all * rim ||
            (on_line < all * rim && under_plate(mask_, shape).lines > 1)) { // beside one another, each bitten
            return false;
        }
        for (const CellRun& run : shape) {
            all_round(run, [&](int column, int row, int right, int down) {
                const int blur = blur_before_line(column, row, right, down);
                for (int i = 0; blur <= most_blur && i < blur; ++i) {
                    mask_.line[mask_.index(column + i * right, row + i * down)] = 255;
                }
            });
        }
        for (const CellRun& run : shape) {
            std::fill_n(mask_.line.begin() + static_cast<std::ptrdiff_t>(mask_.index(run.from, run.row)),
                        run.behind - run.from, std::uint8_t{255});
        }
        fill_specks_round(shape);
        return true;
    }

    /// Where colours are blurred the rim of a plate on tape has cells that look like floor. Those that line has all
    /// round, not more than a rim away and fewer than the plate's own, are line too.
    void fill_specks_round(std::span<const CellRun> shape) {
        constexpr int rim = 8; // cells
        int left = mask_.columns;
        int right = 0;
        std::int64_t own = 0;
        const int top = std::max(0, shape.front().row - rim);
        const int bottom = std::min(mask_.rows - 1, shape.back().row + rim);
        for (const CellRun& run : shape) {
            left = std::min(left, std::max(0, run.from - rim));
            right = std::max(right, std::min(mask_.columns - 1, run.behind - 1 + rim));
            own += run.behind - run.from;
        }
        const int wide = right - left + 1;
        const int high = bottom - top + 1;
        const CellRuns found = runs_of(wide, high, [&](std::size_t at) {
            const int column = left + static_cast<int>(at) % wide;
            const int row = top + static_cast<int>(at) / wide;
            return mask_.line[mask_.index(column, row)] < 128;
        });
        std::vector<std::int64_t> cells(found.shapes, 0);
        for (const CellRun& run : found.runs) {
            const bool at_edge = run.from <= 1 || run.behind >= wide - 1 || run.row <= 1 || run.row >= high - 2;
            cells[run.shape] += at_edge ? own : run.behind - run.from;
        }
        for (const CellRun& run : found.runs) {
            if (2 * cells[run.shape] < own) {
                std::fill_n(mask_.line.begin() +
                                static_cast<std::ptrdiff_t>(mask_.index(left + run.from, top + run.row)),
                            run.behind - run.from, std::uint8_t{255});
            }
        }
    }

    static constexpr int most_blur = 2; // cells

    /// How many cells lie between a shape and line in a direction, from its neighbour on; more than most_blur where
    /// there is no line, negative where the neighbour is of the shape.
    int blur_before_line(int column, int row, int right, int down) const {
        for (int i = 0; i <= most_blur; ++i) {
            const int x = column + i * right;
            const int y = row + i * down;
            if (x < 0 || y < 0 || x >= mask_.columns || y >= mask_.rows) {
                break;
            }
            const std::uint8_t there = mask_.line[mask_.index(x, y)];
            if (there == other_colour && i == 0) {
                return -1;
            }
            if (there >= 128) {
                return i;
            }
        }
        return most_blur + 1;
    }

    static constexpr int near_cells = 2;
    static constexpr int blurred_cells = 4;

    /// Between sides that face each other; whether there are such. An outline, of a start area or a ring round a place,
    /// goes over lines more than once: two sides of it that are nearest to each other.
    bool bands_over(const std::vector<PlateContact>& contacts) {
        constexpr double longest_mm = 120.0;
        if (contacts.size() == 2) {
            return band_over(contacts[0], contacts[1], longest_mm);
        }
        constexpr std::size_t most_contacts = 200; // of an outline; more are a picture's noise
        if (contacts.size() < 2 || contacts.size() > most_contacts) {
            return false;
        }
        std::vector<std::size_t> nearest(contacts.size());
        for (std::size_t i = 0; i < contacts.size(); ++i) {
            const auto far = [&](std::size_t k) {
                return k == i ? 1e9 : length(contacts[k].middle() - contacts[i].middle());
            };
            for (std::size_t k = 0; k < contacts.size(); ++k) {
                nearest[i] = far(k) < far(nearest[i]) ? k : nearest[i];
            }
        }
        bool any = false;
        for (std::size_t i = 0; i < contacts.size(); ++i) {
            const std::size_t k = nearest[i];
            constexpr double stroke_mm = 12.0;
            any = (k > i && nearest[k] == i && band_over(contacts[i], contacts[k], stroke_mm)) || any;
        }
        return any;
    }

    /// Between two sides that face each other at most so far off; whether they do.
    bool band_over(const PlateContact& first, const PlateContact& second, double longest_mm) {
        const Vec2 a = first.middle();
        const Vec2 b = second.middle();
        const double way = length(b - a);
        if (way <= 0.0 || way > longest_mm) {
            return false;
        }
        const Vec2 along = 1.0 / way * (b - a);
        const Vec2 across{-along.y, along.x};
        const double half = 0.5 * mask_.cell_mm;
        const auto [a_low, a_high] = first.extent(across);
        const auto [b_low, b_high] = second.extent(across);
        const double a_wide = a_high - a_low + mask_.cell_mm;
        const double b_wide = b_high - b_low + mask_.cell_mm;
        const double aside = std::abs(0.5 * (a_low + a_high - b_low - b_high));
        constexpr double least_mm = 4.0;
        if (std::min(a_wide, b_wide) < least_mm || std::max(a_wide, b_wide) > 1.7 * std::min(a_wide, b_wide) ||
            aside > 0.4 * a_wide) {
            return false;
        }
        // Into the line on both sides as far as it comes round what covers it, so that no sliver stays between.
        const double from = first.extent(along).first;
        const double to = second.extent(along).second;
        const auto point = [&](double on, double off) { return on * along + off * across; };
        bands_.push_back(
            {point(from, a_low - half), point(from, a_high + half), point(to, b_high + half), point(to, b_low - half)});
        const double back = half + mask_.cell_mm; // the cells that touch are up to two away
        mask_.covers.push_back(
            {point(dot(a, along) + back, 0.5 * (a_low + a_high)), point(dot(b, along) - back, 0.5 * (b_low + b_high))});
        return true;
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
    std::vector<std::array<Vec2, 4>> bands_; ///< to be painted
    std::vector<std::size_t> under_;
    std::vector<Vec2> mended_; ///< where the last round led lines on; in the first: nowhere yet
};

} // namespace

void fill_inlays(LineMask& mask) { Inlays(mask).fill(); }

} // namespace vast_turn
