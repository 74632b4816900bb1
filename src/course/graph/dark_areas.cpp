#include "course/graph/dark_areas.hpp"

#include <algorithm>
#include <cmath>
#include <cstddef>
#include <iterator>
#include <utility>

#include "course/graph/thinning.hpp"

namespace vast_turn {

namespace {

/// Cells that hang together, and the box round them; of a contact the point of the line behind it.
struct DarkPatch {
    std::vector<std::size_t> cells;
    Vec2 low{1e9, 1e9};
    Vec2 high{-1e9, -1e9};
};

/// How far each cell of a box is from the nearest one that was set: by what its neighbours found, in two sweeps
/// (P.-E. Danielsson: Euclidean distance mapping, 1980).
class NearestMap {
public:
    NearestMap(int wide, int high)
        : wide_(wide), high_(high), off_(static_cast<std::size_t>(wide) * static_cast<std::size_t>(high)) {}

    void set(int x, int y) { at(x, y) = {0, 0}; }

    void sweep() {
        for (const int sign : {1, -1}) {
            for (int y = sign > 0 ? 0 : high_ - 1; y >= 0 && y < high_; y += sign) {
                for (int x = 0; x < wide_; ++x) {
                    for (const auto& [dx, dy] : {std::pair{-1, 0}, {-1, -sign}, {0, -sign}, {1, -sign}}) {
                        ask(x, y, dx, dy);
                    }
                }
                for (int x = wide_; x-- > 0;) {
                    ask(x, y, 1, 0);
                }
            }
        }
    }

    double squared(int x, int y) { return squared(at(x, y)); }

private:
    static constexpr int far = 1 << 14;
    struct Off {
        int x = far;
        int y = far;
    };

    static double squared(Off off) { return static_cast<double>(off.x) * off.x + static_cast<double>(off.y) * off.y; }

    Off& at(int x, int y) {
        return off_[static_cast<std::size_t>(y) * static_cast<std::size_t>(wide_) + static_cast<std::size_t>(x)];
    }

    void ask(int x, int y, int dx, int dy) {
        if (x + dx >= 0 && x + dx < wide_ && y + dy >= 0 && y + dy < high_) {
            const Off there = at(x + dx, y + dy);
            const Off here{there.x + dx, there.y + dy};
            if (there.x < far && squared(here) < squared(at(x, y))) {
                at(x, y) = here;
            }
        }
    }

    int wide_;
    int high_;
    std::vector<Off> off_;
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
                const bool kept = std::any_of(taken_in.begin(), taken_in.end(), [&](const Area& area) {
                    return patch.high.x >= area.from.x && patch.low.x <= area.to.x && patch.high.y >= area.from.y &&
                           patch.low.y <= area.to.y;
                });
                if (!kept && !patch.cells.empty() && take_off(patch)) {
                    NotLine it;
                    it.kind = NotLineKind::dark_area;
                    it.at = 0.5 * (patch.low + patch.high);
                    it.size_mm = patch.high - patch.low;
                    list.push_back(it);
                }
            }
        }
        return list;
    }

private:
    enum class Kind : std::uint8_t { unseen, core, reached, rest };

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
        reach_out(patch, core / 3.0 + 0.5); // chamfers fall short of a circle
        for (const std::size_t cell : patch.cells) {
            const Vec2 p = middle(cell);
            const Vec2 half{0.5 * mask_.cell_mm, 0.5 * mask_.cell_mm};
            patch.low = {std::min(patch.low.x, p.x - half.x), std::min(patch.low.y, p.y - half.y)};
            patch.high = {std::max(patch.high.x, p.x + half.x), std::max(patch.high.y, p.y + half.y)};
        }
        return patch;
    }

    /// Takes in the cells of line up to so many cells away.
    void reach_out(DarkPatch& patch, double cells) {
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
        NearestMap nearest(right - left + 1, bottom - top + 1);
        for (const std::size_t cell : patch.cells) {
            nearest.set(static_cast<int>(cell % columns) - left, static_cast<int>(cell / columns) - top);
        }
        nearest.sweep();
        for (int row = top; row <= bottom; ++row) {
            for (int column = left; column <= right; ++column) {
                const std::size_t cell = mask_.index(column, row);
                if (kind_[cell] == Kind::unseen && mask_.line[cell] >= half_covered &&
                    nearest.squared(column - left, row - top) <= cells * cells) {
                    kind_[cell] = Kind::reached;
                    patch.cells.push_back(cell);
                }
            }
        }
    }

    /// The cells of line round the area that were not reached: what hangs together there is a place where a line comes
    /// to it, or a corner of it. The rest of what hangs on each is walked no further than that tells which.
    std::vector<DarkPatch> contacts(const DarkPatch& area, std::vector<std::size_t>& corners) {
        std::vector<DarkPatch> list;
        std::vector<std::size_t> marked;
        const double much = 0.7 * line_mm_ * line_mm_;
        for (const std::size_t cell : area.cells) {
            each_neighbour(cell, [&](std::size_t next) {
                if (kind_[next] != Kind::unseen || mask_.line[next] < half_covered) {
                    return;
                }
                // What hangs together here within reach.
                std::vector<std::size_t> open{next};
                const Vec2 begin = middle(next);
                kind_[next] = Kind::rest;
                for (std::size_t i = 0; i < open.size(); ++i) {
                    each_neighbour(open[i], [&](std::size_t beside) {
                        if (kind_[beside] == Kind::unseen && mask_.line[beside] >= half_covered &&
                            length(middle(beside) - begin) < 2.0 * line_mm_) {
                            kind_[beside] = Kind::rest;
                            open.push_back(beside);
                        }
                    });
                }
                marked.insert(marked.end(), open.begin(), open.end());
                if (static_cast<double>(open.size()) * mask_.cell_mm * mask_.cell_mm < much) {
                    corners.insert(corners.end(), open.begin(), open.end());
                    return;
                }
                DarkPatch contact;
                for (const std::size_t one : open) {
                    bool touches = false;
                    each_neighbour(one, [&](std::size_t beside) {
                        touches = touches || kind_[beside] == Kind::reached || kind_[beside] == Kind::core;
                    });
                    if (touches) {
                        contact.cells.push_back(one);
                    }
                }
                contact.low = contact.high = line_behind(contact, open);
                list.push_back(std::move(contact));
            });
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

    /// The middle of the line a little behind its contact, where it is as wide as it is.
    Vec2 line_behind(const DarkPatch& contact, const std::vector<std::size_t>& cells) const {
        const Vec2 at = mean_of(contact.cells);
        std::vector<std::size_t> behind;
        std::copy_if(cells.begin(), cells.end(), std::back_inserter(behind), [&](std::size_t cell) {
            const double way = length(middle(cell) - at);
            return way > 0.9 * line_mm_ && way < 1.4 * line_mm_;
        });
        return behind.empty() ? at : mean_of(behind);
    }

    /// Whether it is a strip itself, and no area: then it is a line, whatever the usual width is.
    bool is_strip(const DarkPatch& area) const {
        std::uint8_t deepest = 0;
        for (const std::size_t cell : area.cells) {
            deepest = std::max(deepest, deep_[cell]);
        }
        const double across = 2.0 * deepest / 3.0; // cells
        constexpr double long_for_width = 12.0;
        return static_cast<double>(area.cells.size()) > long_for_width * across * across;
    }

    bool take_off(const DarkPatch& area) {
        if (is_strip(area)) {
            return false;
        }
        std::vector<std::size_t> corners;
        const std::vector<DarkPatch> there = contacts(area, corners);
        if (there.empty() || there.size() > 2) {
            return false;
        }
        std::vector<std::size_t> gone = area.cells;
        gone.insert(gone.end(), corners.begin(), corners.end());
        if (there.size() == 2) {
            const Vec2 from = there[0].low;
            const Vec2 to = there[1].low;
            const double way = length(to - from);
            // No wider than where it comes out.
            const auto cells = static_cast<double>(std::min(there[0].cells.size(), there[1].cells.size()));
            const double half = 0.5 * std::min(line_mm_, (cells - 1.5) * mask_.cell_mm);
            if (way > 0.0) {
                const Vec2 along = 1.0 / way * (to - from);
                std::erase_if(gone, [&](std::size_t cell) {
                    const Vec2 d = middle(cell) - from;
                    const double s = dot(d, along);
                    return s >= -mask_.cell_mm && s <= way + mask_.cell_mm && std::abs(cross(along, d)) <= half;
                });
            }
        }
        for (const std::size_t cell : gone) {
            mask_.line[cell] = 0;
            each_neighbour(cell, [&](std::size_t next) { // its soft rim
                if (mask_.line[next] < half_covered) {
                    mask_.line[next] = 0;
                }
            });
        }
        return true;
    }

    LineMask& mask_;
    const std::vector<std::uint8_t>& deep_;
    double line_mm_;
    Around around_;
    std::vector<Kind> kind_;
};

} // namespace

double usual_width(const LineMask& mask, const std::vector<std::uint8_t>& deep) {
    // In steps of a twelfth; tape is 6 to 60 mm wide.
    constexpr double step = 1.085;
    constexpr int steps = 29;
    std::vector<double> area(steps + 1, 0.0);
    const Around around(mask.columns);
    for (std::size_t at = 0; at < deep.size(); ++at) {
        if (deep[at] == 0 || std::any_of(std::begin(around.step), std::end(around.step), [&](std::ptrdiff_t next) {
                return deep[at + static_cast<std::size_t>(next)] > deep[at];
            })) {
            continue;
        }
        const double width = (2.0 * deep[at] / 3.0 - 1.0) * mask.cell_mm;
        const auto bin = std::lround(std::log(std::max(1.0, width) / 6.0) / std::log(step));
        if (bin >= 0 && bin <= steps) {
            area[static_cast<std::size_t>(bin)] += width;
        }
    }
    std::size_t best = 0;
    double most = 0.0;
    for (std::size_t i = 0; i < area.size(); ++i) {
        const double round = area[i] + (i > 0 ? area[i - 1] : 0.0) + (i + 1 < area.size() ? area[i + 1] : 0.0);
        if (round > most) {
            most = round;
            best = i;
        }
    }
    return most > 0.0 ? 6.0 * std::pow(step, static_cast<double>(best)) : 0.0;
}

std::vector<NotLine> take_off_dark_areas(LineMask& mask, std::vector<std::uint8_t>& deep, double line_mm,
                                         const std::vector<Area>& taken_in) {
    std::vector<NotLine> list = AreaFinder(mask, deep, line_mm).run(taken_in);
    if (!list.empty()) {
        deep = depths(mask);
    }
    return list;
}

} // namespace vast_turn
