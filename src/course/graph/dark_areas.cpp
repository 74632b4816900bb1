#include "course/graph/dark_areas.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstddef>
#include <iterator>

#include "course/graph/line_judge.hpp"
#include "course/graph/nearest_map.hpp"
#include "course/graph/pads.hpp"
#include "course/graph/point_box.hpp"
#include "course/graph/thinning.hpp"
#include "course/graph/way_past_area.hpp"
#include "course/graph/width_histogram.hpp"

namespace vast_turn {

namespace {

/// Cells that hang together, and the box round them.
struct DarkPatch {
    std::vector<std::size_t> cells;
    PointBox box;
};

/// Where a line comes to an area.
struct Mouth {
    LineMouth behind;      ///< the line a little further on
    std::size_t cells = 0; ///< of the line that touch the area
    bool passes = false;   ///< it goes on to both sides
};

class AreaFinder {
public:
    AreaFinder(LineMask& mask, const std::vector<std::uint8_t>& deep, double line_mm)
        : mask_(mask), deep_(deep), line_mm_(line_mm), around_(mask.columns) {}

    /// Takes off one after the other.
    std::vector<NotLine> run(const std::vector<Area>& taken_in) {
        // An opening (J. Serra: Image analysis and mathematical morphology, 1982): what discs of this radius reach.
        constexpr double part = 1.25; // the wedge between two lines is as deep as a line is wide
        const double radius = part * line_mm_ + mask_.cell_mm;
        const double deep_enough = 3.0 * (radius / mask_.cell_mm + 0.5);
        std::vector<NotLine> list;
        if (deep_enough > 250.0) {
            return list;
        }
        const auto core = static_cast<std::uint8_t>(deep_enough);
        for (std::size_t at = 0; at < deep_.size(); ++at) {
            if (deep_[at] >= core && (kind_.empty() || kind_[at] == Kind::unseen)) {
                if (kind_.empty()) {
                    kind_.assign(deep_.size(), Kind::unseen);
                }
                const DarkPatch patch = opened(at, core);
                if (!patch.cells.empty() && !patch.box.meets_any(taken_in) && take_off(patch)) {
                    list.push_back(not_line(NotLineKind::dark_area, patch.box));
                }
            }
        }
        return list;
    }

    /// Takes off the pads among the tapes of a course, where they lie.
    std::vector<NotLine> run(const Course& course) {
        kind_.assign(deep_.size(), Kind::unseen);
        std::vector<NotLine> list;
        for (const Tape& tape : course.tapes) {
            if (!is_pad(course, tape)) {
                continue;
            }
            const DarkPatch patch = under(tape);
            if (!patch.cells.empty() && take_off(patch, true)) {
                list.push_back(not_line(NotLineKind::dark_area, patch.box));
            }
        }
        return list;
    }

private:
    enum class Kind : std::uint8_t { unseen, core, reached, rest };

    /// The cells of line under a tape.
    DarkPatch under(const Tape& tape) {
        DarkPatch patch;
        const Vec2 half{0.5 * mask_.cell_mm, 0.5 * mask_.cell_mm};
        PointBox box;
        for (const Vec2 p : tape.path) {
            box.add(p);
        }
        const double reach = 0.5 * tape.width_mm + mask_.cell_mm;
        const auto number = [this](double at, int most) {
            return static_cast<int>(std::clamp(at / mask_.cell_mm + 0.5, 1.0, most - 2.0));
        };
        const int right = number(box.high.x + reach, mask_.columns);
        const int bottom = number(box.high.y + reach, mask_.rows);
        for (int row = number(box.low.y - reach, mask_.rows); row <= bottom; ++row) {
            for (int column = number(box.low.x - reach, mask_.columns); column <= right; ++column) {
                const std::size_t cell = mask_.index(column, row);
                const Vec2 p = mask_.middle(column, row);
                if (mask_.line[cell] != 0 && kind_[cell] == Kind::unseen && covers(tape, p, mask_.cell_mm)) {
                    kind_[cell] = Kind::core;
                    patch.cells.push_back(cell);
                    patch.box.add(p - half);
                    patch.box.add(p + half);
                }
            }
        }
        return patch;
    }

    Vec2 middle(std::size_t cell) const {
        const auto columns = static_cast<std::size_t>(mask_.columns);
        return mask_.middle(static_cast<int>(cell % columns), static_cast<int>(cell / columns));
    }

    template <class Take> void each_neighbour(std::size_t cell, const Take& take) const {
        for (const std::ptrdiff_t step : around_.step) {
            take(cell + static_cast<std::size_t>(step));
        }
    }

    /// The cells deep within that hang together, and all that lies as near to them as they lie deep. Nothing of what
    /// covers much of the board.
    DarkPatch opened(std::size_t first, std::uint8_t core) {
        DarkPatch patch;
        patch.cells = {first};
        kind_[first] = Kind::core;
        for (std::size_t i = 0; i < patch.cells.size(); ++i) {
            each_neighbour(patch.cells[i], [&](std::size_t next) {
                if (deep_[next] >= core && kind_[next] == Kind::unseen) {
                    kind_[next] = Kind::core;
                    patch.cells.push_back(next);
                }
            });
        }
        constexpr std::size_t part_of_all = 8; // what is larger is no furniture: a shade, the floor itself
        if (patch.cells.size() > deep_.size() / part_of_all) {
            return {};
        }
        if (!reach_out(patch, core / 3.0 + 0.5)) { // chamfers fall short of a circle
            return {};
        }
        const Vec2 half{0.5 * mask_.cell_mm, 0.5 * mask_.cell_mm};
        for (const std::size_t cell : patch.cells) {
            patch.box.add(middle(cell) - half);
            patch.box.add(middle(cell) + half);
        }
        return patch;
    }

    /// Takes in the cells of line up to so many cells away. Not of what spreads over more than 2 x 2 m, as a frame
    /// round the board does: it would cost more than all else, and is no furniture.
    bool reach_out(DarkPatch& patch, double cells) {
        const auto columns = static_cast<std::size_t>(mask_.columns);
        const int reach = static_cast<int>(cells) + 1;
        int left = mask_.columns;
        int right = 0;
        int top = mask_.rows;
        int bottom = 0;
        for (const std::size_t cell : patch.cells) {
            const int column = static_cast<int>(cell % columns);
            const int row = static_cast<int>(cell / columns);
            left = std::min(left, column);
            right = std::max(right, column);
            top = std::min(top, row);
            bottom = std::max(bottom, row);
        }
        left = std::max(1, left - reach);
        right = std::min(mask_.columns - 2, right + reach);
        top = std::max(1, top - reach);
        bottom = std::min(mask_.rows - 2, bottom + reach);
        constexpr std::int64_t most = 4'000'000;
        if (static_cast<std::int64_t>(right - left + 1) * (bottom - top + 1) > most) {
            return false;
        }
        NearestMap nearest(right - left + 1, bottom - top + 1);
        for (const std::size_t cell : patch.cells) {
            nearest.set(static_cast<int>(cell % columns) - left, static_cast<int>(cell / columns) - top);
        }
        nearest.sweep();
        for (int row = top; row <= bottom; ++row) {
            for (int column = left; column <= right; ++column) {
                const std::size_t cell = mask_.index(column, row);
                if (is_rest(cell) && nearest.squared(column - left, row - top) <= cells * cells) {
                    kind_[cell] = Kind::reached;
                    patch.cells.push_back(cell);
                }
            }
        }
        return true;
    }

    /// The cells of line that hang together with one and were not reached, within three widths of it.
    std::vector<std::size_t> hanging_on(std::size_t first) {
        std::vector<std::size_t> cells{first};
        kind_[first] = Kind::rest;
        for (std::size_t i = 0; i < cells.size(); ++i) {
            each_neighbour(cells[i], [&](std::size_t next) {
                if (is_rest(next) && length(middle(next) - middle(first)) < 3.0 * line_mm_) {
                    kind_[next] = Kind::rest;
                    cells.push_back(next);
                }
            });
        }
        return cells;
    }

    bool is_rest(std::size_t cell) const { return kind_[cell] == Kind::unseen && mask_.line[cell] >= half_covered; }

    bool touches_area(std::size_t cell) const {
        return std::any_of(std::begin(around_.step), std::end(around_.step), [&](std::ptrdiff_t step) {
            const Kind beside = kind_[cell + static_cast<std::size_t>(step)];
            return beside == Kind::reached || beside == Kind::core;
        });
    }

    /// Where lines come to the area: what hangs on it and was not reached, but for its own corners.
    std::vector<Mouth> mouths_of(const DarkPatch& area, std::vector<std::size_t>& corners) {
        std::vector<Mouth> list;
        std::vector<std::size_t> marked;
        const double much = 0.7 * line_mm_ * line_mm_;
        const auto look_at = [&](std::size_t cell) {
            if (!is_rest(cell)) {
                return;
            }
            const std::vector<std::size_t> there = hanging_on(cell);
            marked.insert(marked.end(), there.begin(), there.end());
            if (static_cast<double>(there.size()) * mask_.cell_mm * mask_.cell_mm < much) {
                corners.insert(corners.end(), there.begin(), there.end());
                return;
            }
            std::vector<std::size_t> touching;
            std::copy_if(there.begin(), there.end(), std::back_inserter(touching),
                         [&](std::size_t one) { return touches_area(one); });
            const Vec2 at = mean_of(touching);
            const std::vector<LineMouth> leads = lines_round(at, middles(there), line_mm_);
            if (leads.size() == 2) {
                const std::vector<std::size_t> own =
                    strip_along(way_past_area(mask_, leads[0], leads[1], line_mm_), 0.5 * line_mm_ + mask_.cell_mm);
                std::copy_if(there.begin(), there.end(), std::back_inserter(corners), [&](std::size_t one) {
                    return length(middle(one) - at) < line_mm_ && !std::binary_search(own.begin(), own.end(), one);
                });
            }
            list.push_back({leads.front(), touching.size(), leads.size() == 2});
        };
        for (const std::size_t cell : area.cells) {
            each_neighbour(cell, look_at);
        }
        for (const std::size_t cell : marked) {
            kind_[cell] = Kind::unseen;
        }
        return list;
    }

    Vec2 mean_of(const std::vector<std::size_t>& cells) const {
        Vec2 sum;
        for (const std::size_t cell : cells) {
            sum = sum + middle(cell);
        }
        return 1.0 / static_cast<double>(cells.size()) * sum;
    }

    std::vector<Vec2> middles(const std::vector<std::size_t>& cells) const {
        std::vector<Vec2> list;
        std::transform(cells.begin(), cells.end(), std::back_inserter(list),
                       [this](std::size_t cell) { return middle(cell); });
        return list;
    }

    /// Whether it is a strip itself, and no area: then it is a line, whatever the usual width is.
    bool is_strip(const DarkPatch& area) const {
        std::uint8_t deepest = 0;
        for (const std::size_t cell : area.cells) {
            deepest = std::max(deepest, deep_[cell]);
        }
        const double across = 2.0 * deepest / 3.0; // cells
        constexpr double long_for_width = 12.0;
        constexpr std::uint8_t deepest_told = 255; // what is deeper still is told so
        const auto cells = static_cast<double>(area.cells.size());
        return deepest < deepest_told && cells > long_for_width * across * across;
    }

    /// A pad is no line where none comes to it, either.
    bool take_off(const DarkPatch& area, bool pad = false) {
        if (!pad && is_strip(area)) {
            return false;
        }
        std::vector<std::size_t> corners;
        std::vector<Mouth> there = mouths_of(area, corners);
        const bool is_touched = !there.empty();
        std::erase_if(there, [](const Mouth& mouth) { return mouth.passes; });
        if ((!is_touched && !pad) || there.size() > 2) {
            return false;
        }
        std::vector<std::size_t> gone = area.cells;
        gone.insert(gone.end(), corners.begin(), corners.end());
        if (there.size() == 2) {
            // No wider than where it comes out.
            const auto cells = static_cast<double>(std::min(there[0].cells, there[1].cells));
            const double width = std::min(line_mm_, (cells - 1.5) * mask_.cell_mm);
            const std::vector<Vec2> way = way_past_area(mask_, there[0].behind, there[1].behind, width);
            const std::vector<std::size_t> strip = strip_along(way, 0.5 * width);
            std::erase_if(gone, [&](std::size_t cell) { return std::binary_search(strip.begin(), strip.end(), cell); });
        }
        if (mask_.off.empty()) {
            mask_.off.resize(mask_.line.size());
        }
        for (const std::size_t cell : gone) {
            mask_.line[cell] = 0;
            mask_.off[cell] = true;
            each_neighbour(cell, [&](std::size_t next) { // its soft rim
                if (mask_.line[next] < half_covered) {
                    mask_.line[next] = 0;
                }
            });
        }
        return true;
    }

    /// The cells within half a width of a way, in order.
    std::vector<std::size_t> strip_along(const std::vector<Vec2>& way, double half) const {
        std::vector<std::size_t> cells;
        const int reach = static_cast<int>(half / mask_.cell_mm) + 1;
        for (const Vec2 p : way) {
            const int column = static_cast<int>(p.x / mask_.cell_mm + 1.0);
            const int row = static_cast<int>(p.y / mask_.cell_mm + 1.0);
            for (int y = std::max(0, row - reach); y <= std::min(mask_.rows - 1, row + reach); ++y) {
                for (int x = std::max(0, column - reach); x <= std::min(mask_.columns - 1, column + reach); ++x) {
                    const Vec2 d = mask_.middle(x, y) - p;
                    if (dot(d, d) <= half * half) {
                        cells.push_back(mask_.index(x, y));
                    }
                }
            }
        }
        std::sort(cells.begin(), cells.end());
        cells.erase(std::unique(cells.begin(), cells.end()), cells.end());
        return cells;
    }

    LineMask& mask_;
    const std::vector<std::uint8_t>& deep_;
    double line_mm_;
    Around around_;
    std::vector<Kind> kind_;
};

} // namespace

double usual_width(const LineMask& mask, const std::vector<std::uint8_t>& deep) {
    WidthHistogram area;
    std::array<double, 256> cells{}; // of middles, by their depth
    const Around around(mask.columns);
    for (std::size_t at = 0; at < deep.size(); ++at) {
        if (deep[at] != 0 && std::none_of(std::begin(around.step), std::end(around.step), [&](std::ptrdiff_t next) {
                return deep[at + static_cast<std::size_t>(next)] > deep[at];
            })) {
            cells[deep[at]] += 1.0;
        }
    }
    for (std::size_t depth = 1; depth < cells.size(); ++depth) {
        const double width = (2.0 * static_cast<double>(depth) / 3.0 - 1.0) * mask.cell_mm;
        area.add(width, cells[depth] * width);
    }
    return area.round(area.best()) > 0.0 ? area.width_mm(area.best()) : 0.0;
}

std::vector<NotLine> take_off_dark_areas(LineMask& mask, std::vector<std::uint8_t>& deep, double line_mm,
                                         const std::vector<Area>& taken_in) {
    std::vector<NotLine> list = AreaFinder(mask, deep, line_mm).run(taken_in);
    if (!list.empty()) {
        deep = depths(mask);
    }
    return list;
}

std::vector<NotLine> take_off_pads(LineMask& mask, std::vector<std::uint8_t>& deep, const Course& course) {
    const double line_mm = widest_line_beside_pads(course);
    if (line_mm <= 0.0) {
        return {};
    }
    std::vector<NotLine> list = AreaFinder(mask, deep, line_mm).run(course);
    if (!list.empty()) {
        deep = depths(mask);
    }
    return list;
}

} // namespace vast_turn
