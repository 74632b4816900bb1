#include "vast_turn/course/graph/plate_colours.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdint>

#include <fmt/format.h>

#include "course/floor/cell_runs.hpp"
#include "vast_turn/course/graph/drawn.hpp"

namespace vast_turn {

namespace {

int chroma(Rgb c) { return std::max({c.r, c.g, c.b}) - std::min({c.r, c.g, c.b}); }

/// By its hue, as people call it.
std::string name_of_hue(Rgb c) {
    const double most = std::max({c.r, c.g, c.b});
    const double span = std::max(1, chroma(c));
    const double sector = !(most > c.r)   ? (c.g - c.b) / span
                          : !(most > c.g) ? 2.0 + (c.b - c.r) / span
                                          : 4.0 + (c.r - c.g) / span;
    const double hue = 60.0 * (sector < 0.0 ? sector + 6.0 : sector);
    struct Hue {
        double below;
        const char* name;
    };
    constexpr std::array<Hue, 10> hues{{{16.0, "red"},
                                        {34.0, "orange"},
                                        {50.0, "amber"},
                                        {70.0, "yellow"},
                                        {160.0, "green"},
                                        {195.0, "teal"},
                                        {255.0, "blue"},
                                        {290.0, "violet"},
                                        {346.0, "magenta"},
                                        {361.0, "red"}}};
    return std::find_if(hues.begin(), hues.end(), [hue](const Hue& one) { return hue < one.below; })->name;
}

/// A patch of one colour, on a grid of about 2 mm.
struct PlatePatch {
    int cells = 0;
    std::array<double, 3> sum{};
    int left = 1 << 30;
    int right = -1;
    int top = 1 << 30;
    int bottom = -1;

    Rgb colour() const {
        const auto channel = [&](std::size_t i) { return static_cast<std::uint8_t>(std::lround(sum[i] / cells)); };
        return {channel(0), channel(1), channel(2)};
    }
};

class PlateFinder {
public:
    explicit PlateFinder(const Course& course) : course_(course), area_(area_of(course)) {
        const Surface& surface = course.surface;
        step_ = std::max(1, static_cast<int>(std::lround(2.0 / surface.cell_mm)));
        columns_ = surface.columns / step_ + 2;
        rows_ = surface.rows / step_ + 2;
    }

    std::vector<PlatePatch> patches() const {
        const CellRuns found = runs_of(columns_, rows_, [&](std::size_t at) {
            const int column = static_cast<int>(at % static_cast<std::size_t>(columns_));
            const int row = static_cast<int>(at / static_cast<std::size_t>(columns_));
            return is_coloured(column, row);
        });
        std::vector<PlatePatch> list(found.shapes);
        for (const CellRun& run : found.runs) {
            PlatePatch& patch = list[run.shape];
            for (int column = run.from; column < run.behind; ++column) {
                const Rgb c = colour(column, run.row);
                patch.sum[0] += c.r;
                patch.sum[1] += c.g;
                patch.sum[2] += c.b;
            }
            patch.cells += run.behind - run.from;
            patch.left = std::min(patch.left, run.from);
            patch.right = std::max(patch.right, run.behind - 1);
            patch.top = std::min(patch.top, run.row);
            patch.bottom = std::max(patch.bottom, run.row);
        }
        std::erase_if(list, [&](const PlatePatch& patch) { return !is_plate(patch); });
        return list;
    }

private:
    Rgb colour(int column, int row) const {
        return course_.surface.at((column - 1) * step_ + step_ / 2, (row - 1) * step_ + step_ / 2);
    }

    /// Whether a cell of the grid shows a strong colour, and so do its neighbours: edges are mixtures.
    bool is_coloured(int column, int row) const {
        const double mm = step_ * course_.surface.cell_mm;
        if (column < 2 || row < 2 || column + 3 > columns_ || row + 3 > rows_ ||
            !area_.holds({(column - 0.5) * mm, (row - 0.5) * mm})) {
            return false;
        }
        const Rgb c = colour(column, row);
        constexpr int strong = 60;
        constexpr double far = 60.0;
        if (chroma(c) < strong || squared_apart(c, course_.floor) < far * far ||
            squared_apart(c, course_.line) < far * far) {
            return false;
        }
        constexpr double like = 24.0;
        return squared_apart(c, colour(column + 1, row)) < like * like &&
               squared_apart(c, colour(column, row + 1)) < like * like;
    }

    bool is_plate(const PlatePatch& patch) const {
        const double mm = step_ * course_.surface.cell_mm;
        const double area = patch.cells * mm * mm;
        const double wide = (patch.right - patch.left + 1) * mm;
        const double high = (patch.bottom - patch.top + 1) * mm;
        constexpr double least_mm2 = 50.0; // its rim is not counted
        constexpr double most_mm2 = 14400.0;
        constexpr double longest_mm = 150.0;
        constexpr double full = 0.4; // a thin plate askew fills less of its box
        return area >= least_mm2 && area <= most_mm2 && std::max(wide, high) <= longest_mm &&
               area >= full * wide * high && is_near_line(patch);
    }

    bool is_near_line(const PlatePatch& patch) const {
        const double mm = step_ * course_.surface.cell_mm;
        const int reach = static_cast<int>(60.0 / mm);
        int line = 0;
        for (int row = std::max(1, patch.top - reach); row <= std::min(rows_ - 2, patch.bottom + reach); ++row) {
            for (int column = std::max(1, patch.left - reach); column <= std::min(columns_ - 2, patch.right + reach);
                 ++column) {
                constexpr double like = 60.0;
                line += squared_apart(colour(column, row), course_.line) < like * like ? 1 : 0;
            }
        }
        constexpr double least_mm2 = 200.0;
        return line * mm * mm >= least_mm2;
    }

    const Course& course_;
    Area area_;
    int step_ = 1;
    int columns_ = 0;
    int rows_ = 0;
};

} // namespace

std::map<std::string, Rgb> find_plate_colours(const Course& course) {
    std::vector<PlatePatch> colours;
    for (const PlatePatch& patch : PlateFinder(course).patches()) {
        constexpr double like = 48.0;
        if (std::any_of(course.in_the_way.begin(), course.in_the_way.end(),
                        [&](const InTheWay& one) { return squared_apart(one.colour, patch.colour()) < like * like; })) {
            continue; // no plate, but something that stands there
        }
        const auto known = std::find_if(colours.begin(), colours.end(), [&](const PlatePatch& other) {
            return squared_apart(other.colour(), patch.colour()) < like * like;
        });
        if (known == colours.end()) {
            colours.push_back(patch);
            continue;
        }
        known->cells += patch.cells;
        for (std::size_t i = 0; i < 3; ++i) {
            known->sum[i] += patch.sum[i];
        }
    }
    std::stable_sort(colours.begin(), colours.end(),
                     [](const PlatePatch& a, const PlatePatch& b) { return a.cells > b.cells; });
    constexpr std::size_t most = 8;
    colours.resize(std::min(colours.size(), most));
    std::map<std::string, Rgb> palette;
    for (const PlatePatch& patch : colours) {
        const std::string name = name_of_hue(patch.colour());
        std::string free = name;
        for (int number = 2; palette.count(free) > 0; ++number) {
            free = fmt::format("{}{}", name, number);
        }
        palette[free] = patch.colour();
    }
    return palette;
}

} // namespace vast_turn
