#include "course/floor/floor_cells.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <numeric>
#include <optional>

#include "course/floor/cell_runs.hpp"

namespace vast_turn {

namespace {

constexpr double square_mm = 6.0;
constexpr int least_cells = 3;        // a side: of so many cells the camera's noise goes out
constexpr double tape_mm = 60.0;      // strips are narrower
constexpr float smooth = 0.16F;       // change of the logarithm from square to square that light makes
constexpr float same_light = 0.12F;   // the same across a strip
constexpr float same_hue = 0.1F;      // of colours beside one another
constexpr float hue_in_shade = 0.16F; // which the sky lights bluer than the sun does
constexpr float stands_out = 0.35F;   // a strip against what it lies on
constexpr float same_contrast = 0.3F;

/// What a square looks like: the logarithm of its brightness, and its hue as differences against it.
struct Look {
    float light = 0.0F;
    float red = 0.0F;
    float blue = 0.0F;
};

float hue_apart(const Look& a, const Look& b) { return std::max(std::abs(a.red - b.red), std::abs(a.blue - b.blue)); }

template <typename T> T middle_one(std::vector<T>& values) {
    const auto middle = values.begin() + static_cast<std::ptrdiff_t>(values.size() / 2);
    std::nth_element(values.begin(), middle, values.end());
    return *middle;
}

/// Squares of a surface, parted.
class Parting {
public:
    Parting(const Surface& surface, FloorCells& cells)
        : surface_(surface), cells_(cells),
          strip_squares_(2 + static_cast<int>(tape_mm / (cells.side * surface.cell_mm))) {
        look_at_squares();
        part();
    }

    void find() {
        std::vector<std::uint8_t> is_floor(part_.size(), 0); // by part
        is_floor[static_cast<std::size_t>(std::max_element(size_.begin(), size_.end()) - size_.begin())] = 1;
        constexpr int most_rounds = 40; // floor within floor within floor
        bool grown = true;
        for (int round = 0; grown && round < most_rounds; ++round) {
            for (std::size_t i = 0; i < part_.size(); ++i) {
                cells_.floor[i] = is_floor[part_[i]];
            }
            grown = grow(is_floor);
        }
    }

private:
    struct Steps {
        int column;
        int row;
    };
    static constexpr std::array<Steps, 4> ways{{{1, 0}, {0, 1}, {-1, 0}, {0, -1}}};

    void look_at_squares() {
        looks_.resize(cells_.floor.size());
        std::vector<std::uint8_t> red;
        std::vector<std::uint8_t> green;
        std::vector<std::uint8_t> blue;
        for (int row = 0; row < cells_.rows; ++row) {
            for (int column = 0; column < cells_.columns; ++column) {
                red.clear();
                green.clear();
                blue.clear();
                const int right = std::min(surface_.columns, (column + 1) * cells_.side);
                const int bottom = std::min(surface_.rows, (row + 1) * cells_.side);
                for (int y = row * cells_.side; y < bottom; ++y) {
                    for (int x = column * cells_.side; x < right; ++x) {
                        const Rgb rgb = surface_.at(x, y);
                        red.push_back(rgb.r);
                        green.push_back(rgb.g);
                        blue.push_back(rgb.b);
                    }
                }
                const Rgb mid{middle_one(red), middle_one(green), middle_one(blue)};
                const auto whole = static_cast<float>(brightness_of((static_cast<std::uint32_t>(mid.r) << 16U) |
                                                                    (static_cast<std::uint32_t>(mid.g) << 8U) | mid.b));
                constexpr float black = 6.0F; // as dark as that nothing has a hue
                Look& look = looks_[cells_.index(column, row)];
                cells_.brightness[cells_.index(column, row)] = whole;
                look.light = std::log(whole + black);
                look.red = (static_cast<float>(mid.r) - whole) / (whole + black);
                look.blue = (static_cast<float>(mid.b) - whole) / (whole + black);
            }
        }
    }

    void part() {
        part_.resize(looks_.size());
        std::iota(part_.begin(), part_.end(), 0U);
        for (int row = 0; row < cells_.rows; ++row) {
            for (int column = 0; column < cells_.columns; ++column) {
                const std::size_t at = cells_.index(column, row);
                if (column + 1 < cells_.columns && hang_together(at, at + 1)) {
                    cell_runs::unite(part_, static_cast<std::uint32_t>(at), static_cast<std::uint32_t>(at + 1));
                }
                const std::size_t below = at + static_cast<std::size_t>(cells_.columns);
                if (row + 1 < cells_.rows && hang_together(at, below)) {
                    cell_runs::unite(part_, static_cast<std::uint32_t>(at), static_cast<std::uint32_t>(below));
                }
            }
        }
        size_.assign(part_.size(), 0);
        for (std::size_t i = 0; i < part_.size(); ++i) {
            part_[i] = cell_runs::root(part_, static_cast<std::uint32_t>(i));
            ++size_[part_[i]];
        }
    }

    bool hang_together(std::size_t a, std::size_t b) const {
        return std::abs(looks_[a].light - looks_[b].light) < smooth && hue_apart(looks_[a], looks_[b]) < same_hue;
    }

    bool is_large(std::uint32_t part) const {
        constexpr std::uint32_t squares = 16;
        return size_[part] >= squares;
    }

    /// A square against what it looks at.
    struct Facing {
        float light;
        float hue;
    };

    bool is_inside(int column, int row) const {
        return column >= 0 && row >= 0 && column < cells_.columns && row < cells_.rows;
    }

    /// Goes on from a square, no farther than a strip is wide, until `at_square(index)` says that it has seen enough.
    template <class AtSquare> void walk(int column, int row, const Steps& way, const AtSquare& at_square) const {
        for (int i = 1; i <= strip_squares_; ++i) {
            const int x = column + i * way.column;
            const int y = row + i * way.row;
            if (!is_inside(x, y) || at_square(cells_.index(x, y))) {
                return;
            }
        }
    }

    /// The logarithm of the contrast of a strip beside a square: what lies behind it looks as the square does.
    std::optional<float> strip_beside(int column, int row, const Steps& way) const {
        const Look& own = looks_[cells_.index(column, row)];
        float most = 0.0F;
        std::optional<float> strip;
        walk(column, row, way, [&](std::size_t there) {
            const float off = looks_[there].light - own.light;
            if (std::abs(off) < same_light && hue_apart(own, looks_[there]) < same_hue) {
                strip = std::abs(most) > stands_out ? std::optional<float>(most) : std::nullopt;
                return true;
            }
            most = std::abs(off) > std::abs(most) ? off : most;
            return false;
        });
        return strip;
    }

    /// The floor that a square looks at over a strip of another part.
    std::optional<Facing> floor_across(int column, int row, const Steps& way) const {
        const std::size_t from = cells_.index(column, row);
        std::optional<Facing> facing;
        walk(column, row, way, [&](std::size_t there) {
            if (cells_.floor[there] != 0) {
                facing = Facing{looks_[from].light - looks_[there].light, hue_apart(looks_[from], looks_[there])};
            }
            return facing || part_[there] == part_[from];
        });
        return facing;
    }

    struct Rim {
        std::vector<float> lights; ///< against the floor across strips
        std::vector<float> hues;
        std::vector<float> strips;
    };

    /// Marks the parts that are floor, too; whether there are any.
    bool grow(std::vector<std::uint8_t>& is_floor) const {
        std::vector<std::uint32_t> number(part_.size(), 0); // of each part among those looked at, from 1
        std::vector<std::uint32_t> parts;
        std::vector<Rim> rims(1); // the first is the floor's own
        for (int row = 0; row < cells_.rows; ++row) {
            for (int column = 0; column < cells_.columns; ++column) {
                const std::size_t at = cells_.index(column, row);
                const std::uint32_t part = part_[at];
                const bool floor = cells_.floor[at] != 0;
                if (!floor && !is_large(part)) {
                    continue;
                }
                if (!floor && number[part] == 0) {
                    parts.push_back(part);
                    rims.emplace_back();
                    number[part] = static_cast<std::uint32_t>(rims.size() - 1);
                }
                Rim& rim = rims[floor ? 0 : number[part]];
                for (const Steps& way : ways) {
                    if (const std::optional<float> strip = strip_beside(column, row, way)) {
                        rim.strips.push_back(*strip);
                    }
                    if (floor) {
                        continue;
                    }
                    if (const std::optional<Facing> facing = floor_across(column, row, way)) {
                        rim.lights.push_back(facing->light);
                        rim.hues.push_back(facing->hue);
                    }
                }
            }
        }
        const std::optional<float> contrast =
            rims[0].strips.empty() ? std::nullopt : std::optional<float>(middle_one(rims[0].strips));
        bool any = false;
        for (std::size_t i = 0; i < parts.size(); ++i) {
            if (looks_like_floor(rims[i + 1], contrast)) {
                is_floor[parts[i]] = 1;
                any = true;
            }
        }
        return any;
    }

    static bool looks_like_floor(Rim& rim, std::optional<float> contrast) {
        constexpr std::size_t least = 3;
        if (rim.lights.size() < least) {
            return false;
        }
        const float hue = middle_one(rim.hues);
        if (hue < same_hue && std::abs(middle_one(rim.lights)) < same_light) {
            return true;
        }
        constexpr std::size_t long_strip = 12; // squares of a rim
        const auto alike =
            static_cast<std::size_t>(std::count_if(rim.strips.begin(), rim.strips.end(), [&](float strip) {
                return contrast && std::abs(strip - *contrast) < same_contrast;
            }));
        return alike >= long_strip && 2 * alike > rim.strips.size() && hue < hue_in_shade;
    }

    const Surface& surface_;
    FloorCells& cells_;
    int strip_squares_ = 0; ///< how many a strip is wide at most, and one more
    std::vector<Look> looks_;
    std::vector<std::uint32_t> part_; ///< of each square, the first of its part
    std::vector<std::uint32_t> size_; ///< of each part, squares
};

} // namespace

FloorCells find_floor_cells(const Surface& surface) {
    FloorCells cells;
    cells.side = std::max(least_cells, static_cast<int>(std::lround(square_mm / surface.cell_mm)));
    cells.columns = (surface.columns + cells.side - 1) / cells.side;
    cells.rows = (surface.rows + cells.side - 1) / cells.side;
    const std::size_t all = static_cast<std::size_t>(cells.columns) * static_cast<std::size_t>(cells.rows);
    cells.brightness.assign(all, 0.0F);
    cells.floor.assign(all, 0);
    if (all == 0) {
        return cells;
    }
    Parting(surface, cells).find();
    constexpr std::size_t part = 5;
    if (part * static_cast<std::size_t>(std::count(cells.floor.begin(), cells.floor.end(), 1)) < all) {
        std::fill(cells.floor.begin(), cells.floor.end(), std::uint8_t{1});
    }
    return cells;
}

} // namespace vast_turn
