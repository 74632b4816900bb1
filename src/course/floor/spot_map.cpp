#include <algorithm>
#include <array>
#include <cmath>
#include <cstddef>
#include <mutex>

#include "base/wide.hpp"
#include "vast_turn/course/floor/surface.hpp"

namespace vast_turn {

namespace {

/// How much of each cell a spot covers; the weights sum to 1.
struct Kernel {
    int reach = 0; // cells to each side of the middle one
    std::vector<float> weights;
};

/// Area of the part of a disc (radius r, centred at 0,0) inside a rectangle, by strips across it.
double disc_in_cell(double r, double left, double top, double right, double bottom) {
    constexpr int strips = 200;
    const double strip = (right - left) / strips;
    double area = 0.0;
    for (int i = 0; i < strips; ++i) {
        const double x = left + (i + 0.5) * strip;
        const double half = r * r > x * x ? std::sqrt(r * r - x * x) : 0.0;
        area += strip * std::max(0.0, std::min(bottom, half) - std::max(top, -half));
    }
    return area;
}

Kernel make_kernel(double radius_cells) {
    // Each of two box averages of one cell adds 1/12 to the variance along an axis, interpolation
    // 1/6 in the mean; a disc has r^2/4.
    constexpr double blur = 1.0 / 3.0;
    const double squared = radius_cells * radius_cells - 4.0 * blur;
    Kernel kernel;
    constexpr double least = 0.3; // below this the middle cell is all there is
    if (squared <= least * least) {
        kernel.weights = {1.0F};
        return kernel;
    }
    const double r = std::sqrt(squared);
    kernel.reach = static_cast<int>(std::ceil(r - 0.5));
    double sum = 0.0;
    std::vector<double> areas;
    for (int j = -kernel.reach; j <= kernel.reach; ++j) {
        for (int i = -kernel.reach; i <= kernel.reach; ++i) {
            areas.push_back(disc_in_cell(r, i - 0.5, j - 0.5, i + 0.5, j + 0.5));
            sum += areas.back();
        }
    }
    for (const double area : areas) {
        kernel.weights.push_back(static_cast<float>(area / sum));
    }
    return kernel;
}

/// Cells of a row that are filtered at once; where all in their reach are equal there is nothing to sum up.
constexpr std::size_t at_once = 32;

/// Reflectances of a part of the board, or beyond it; behind them so many more that as many can be read from any of
/// them.
struct LitCells {
    std::ptrdiff_t columns = 0;
    std::ptrdiff_t rows = 0;
    std::vector<float> values;

    const float* at(std::ptrdiff_t column, std::ptrdiff_t row) const { return values.data() + row * columns + column; }
};

/// Whether all of it between these columns and rows is alike.
bool uniform(const LitCells& in, std::ptrdiff_t left, std::ptrdiff_t top, std::ptrdiff_t right, std::ptrdiff_t bottom) {
    const float value = *in.at(left, top);
    for (std::ptrdiff_t j = top; j < bottom; ++j) {
        const float* first = in.at(left, j);
        if (std::any_of(first, first + (right - left), [value](float v) { return v < value || v > value; })) {
            return false;
        }
    }
    return true;
}

} // namespace

struct SpotMap::Filter {
    const Surface& surface;
    float beyond;
    int reach = 0;                 ///< of a spot: cells to each side of the middle one
    std::vector<float> weights{};  ///< of those cells
    std::array<double, 256> red{}; ///< how much the light counts a colour, channel by channel
    std::array<double, 256> green{};
    std::array<double, 256> blue{};
    std::ptrdiff_t margin = 0;
    std::ptrdiff_t columns = 0; ///< of values
    std::ptrdiff_t rows = 0;
    PageArray<std::uint16_t> values{};
    std::mutex lock{};

    Filter(const Surface& seen, Light light, double spot_mm)
        : surface(seen), beyond(static_cast<float>(reflectance(seen.beyond, light))) {
        Kernel kernel = make_kernel(0.5 * spot_mm / seen.cell_mm);
        reach = kernel.reach;
        weights = std::move(kernel.weights);
        margin = 2 * reach + 2;
        columns = seen.columns + 2 * margin;
        rows = seen.rows + 2 * margin;
        const LightWeights w = weights_of(light);
        for (std::size_t v = 0; v < red.size(); ++v) {
            const auto count = static_cast<double>(v);
            red[v] = w.r * count / 255.0;
            green[v] = w.g * count / 255.0;
            blue[v] = w.b * count / 255.0;
        }
    }

    /// The reflectances of these columns and rows of values.
    LitCells cells(std::ptrdiff_t left, std::ptrdiff_t top, std::ptrdiff_t right, std::ptrdiff_t bottom) const {
        LitCells out{right - left, bottom - top, {}};
        out.values.assign(static_cast<std::size_t>(out.columns * out.rows) + at_once, beyond);
        const std::ptrdiff_t from = std::max(left, margin);
        const std::ptrdiff_t to = std::min(right, margin + surface.columns);
        for (std::ptrdiff_t j = std::max(top, margin); j < std::min(bottom, margin + surface.rows); ++j) {
            float* row = out.values.data() + (j - top) * out.columns - left;
            for (std::ptrdiff_t i = from; i < to; ++i) {
                const Rgb c = surface.at(static_cast<int>(i - margin), static_cast<int>(j - margin));
                row[i] = static_cast<float>(red[c.r] + green[c.g] + blue[c.b]);
            }
        }
        return out;
    }

    /// The readings in the middles of this many cells of a row: all of them side by side, tap by tap, so that the
    /// processor adds several at once, yet each in the order of the kernel.
    void means(const LitCells& in, std::ptrdiff_t column, std::ptrdiff_t row, std::array<float, at_once>& sums) const {
        sums.fill(0.0F);
        const float* weight = weights.data();
        for (std::ptrdiff_t dj = -reach; dj <= reach; ++dj) {
            for (std::ptrdiff_t di = -reach; di <= reach; ++di) {
                const float by = *weight++;
                if (by > 0.0F) { // the corners of the square round a spot weigh nothing
                    const float* cell = in.at(column + di, row + dj);
                    for (std::size_t n = 0; n < at_once; ++n) {
                        sums[n] += by * cell[n];
                    }
                }
            }
        }
    }
};

namespace {

// Values lie in blocks of a cache line each.
constexpr std::uint32_t tile_side = 64;
constexpr std::uint32_t tile_cells = tile_side * tile_side;
constexpr std::uint32_t block_columns = 8;
constexpr std::uint32_t block_rows = 4;
constexpr std::uint32_t block_cells = block_columns * block_rows;

/// Where the values of a column or row begin: `i` is its number, counted from the first of a tile.
constexpr std::uint32_t column_begins(std::uint32_t i) {
    return i / tile_side * tile_cells + i % tile_side / block_columns * block_cells + i % block_columns;
}
constexpr std::uint32_t row_begins(std::uint32_t i, std::uint32_t tiles_across) {
    return i / tile_side * (tiles_across * tile_cells) +
           i % tile_side / block_rows * (tile_side / block_columns * block_cells) + i % block_rows * block_columns;
}

} // namespace

void SpotMap::lay_out(std::size_t columns, std::size_t rows) {
    static_assert(SpotMap::tile_side == vast_turn::tile_side);
    // The first tile that is not all margin begins where the filter does.
    to_tile_ = (tile_side - static_cast<std::size_t>(filter_->reach) % tile_side) % tile_side;
    // A tile more than there are, since whoever looks asks for the next one too.
    tiles_across_ = (columns + to_tile_) / tile_side + 2;
    const std::size_t tiles = tiles_across_ * ((rows + to_tile_) / tile_side + 2);
    for (std::size_t i = to_tile_; i < columns + to_tile_; ++i) {
        column_.push_back(column_begins(static_cast<std::uint32_t>(i)));
    }
    for (std::size_t j = to_tile_; j < rows + to_tile_; ++j) {
        row_.push_back(row_begins(static_cast<std::uint32_t>(j), static_cast<std::uint32_t>(tiles_across_)));
    }
    tiles_ = std::make_unique<std::atomic<TileState>[]>(tiles);
    filter_->values.resize(tiles * tile_cells);
    values_ = filter_->values.data();
}

SpotMap::SpotMap(const Surface& surface, Light light, double spot_mm)
    : filter_(std::make_unique<Filter>(surface, light, spot_mm)) {
    const auto columns = static_cast<std::size_t>(filter_->columns);
    const auto rows = static_cast<std::size_t>(filter_->rows);
    lay_out(columns, rows);
    cells_per_mm_ = 1.0 / surface.cell_mm;
    shift_ = static_cast<double>(filter_->margin) - 0.5; // a value stands for the middle of its cell
    x_limit_ = static_cast<double>(columns - 2);         // so that there is always a next value
    y_limit_ = static_cast<double>(rows - 2);
}

SpotMap::~SpotMap() = default;

namespace {

using Indexes = std::array<std::uint32_t, SpotMap::points_at_once>;

/// Of several points: the tile of each, and where its four values are.
struct Places {
    Indexes tile;
    Indexes left;
    Indexes right;
    Indexes upper;
    Indexes lower;
};

VAST_TURN_WIDE void find_places(const Indexes& column, const Indexes& row, std::uint32_t shift, std::uint32_t across,
                                Places& places) {
    for (std::size_t k = 0; k < SpotMap::points_at_once; ++k) {
        const std::uint32_t i = column[k] + shift;
        const std::uint32_t j = row[k] + shift;
        places.tile[k] = j / tile_side * across + i / tile_side;
        places.left[k] = column_begins(i);
        places.right[k] = column_begins(i + 1);
        places.upper[k] = row_begins(j, across);
        places.lower[k] = row_begins(j + 1, across);
    }
}

/// The four values of each.
struct FourValues {
    std::array<std::int32_t, SpotMap::points_at_once> upper_left;
    std::array<std::int32_t, SpotMap::points_at_once> upper_right;
    std::array<std::int32_t, SpotMap::points_at_once> lower_left;
    std::array<std::int32_t, SpotMap::points_at_once> lower_right;
};

/// Places along one axis, in values: which comes before it, and how far it is to the next.
VAST_TURN_WIDE void split_axis(const SpotMap::Numbers& at, double per_mm, double shift, double limit, Indexes& before,
                               SpotMap::Numbers& part) {
    for (std::size_t k = 0; k < SpotMap::points_at_once; ++k) {
        const double v = at[k] * per_mm + shift;
        const double above = v > 0.0 ? v : 0.0;
        const double within = above < limit ? above : limit;
        const int whole = static_cast<int>(within);
        before[k] = static_cast<std::uint32_t>(whole);
        part[k] = within - whole;
    }
}

/// As SpotMap::value() has it.
VAST_TURN_WIDE void mix_values(const FourValues& values, const SpotMap::Numbers& fx, const SpotMap::Numbers& fy,
                               double unit, SpotMap::Numbers& out) {
    for (std::size_t k = 0; k < SpotMap::points_at_once; ++k) {
        const double top = values.upper_left[k] + fx[k] * (values.upper_right[k] - values.upper_left[k]);
        const double bottom = values.lower_left[k] + fx[k] * (values.lower_right[k] - values.lower_left[k]);
        out[k] = (top + fy[k] * (bottom - top)) * unit;
    }
}

} // namespace

void SpotMap::at_many(const Numbers& x, const Numbers& y, Numbers& out) const {
    Indexes column;
    Indexes row;
    Numbers fx;
    Numbers fy;
    split_axis(x, cells_per_mm_, shift_, x_limit_, column, fx);
    split_axis(y, cells_per_mm_, shift_, y_limit_, row, fy);
    Places places;
    find_places(column, row, static_cast<std::uint32_t>(to_tile_), static_cast<std::uint32_t>(tiles_across_), places);
    for (const std::uint32_t tile : places.tile) {
        if (tiles_[tile].load(std::memory_order_acquire) != TileState::surrounded) {
            make_tile(tile);
        }
    }
    FourValues values;
    const std::uint16_t* const from = values_;
    for (std::size_t k = 0; k < points_at_once; ++k) {
        values.upper_left[k] = from[places.left[k] + places.upper[k]];
        values.upper_right[k] = from[places.right[k] + places.upper[k]];
        values.lower_left[k] = from[places.left[k] + places.lower[k]];
        values.lower_right[k] = from[places.right[k] + places.lower[k]];
    }
    mix_values(values, fx, fy, 1.0 / full, out);
}

void SpotMap::filter_tile(std::size_t tile) const {
    if (tiles_[tile].load(std::memory_order_relaxed) != TileState::nothing) {
        return;
    }
    const Filter& filter = *filter_;
    const auto side = static_cast<std::ptrdiff_t>(tile_side);
    const auto shift = static_cast<std::ptrdiff_t>(to_tile_);
    const std::ptrdiff_t reach = filter.reach;
    const auto bound = [&](std::size_t number, std::ptrdiff_t most) { // of tiles across or down
        return std::clamp<std::ptrdiff_t>(static_cast<std::ptrdiff_t>(number) * side - shift, 0, most);
    };
    const std::size_t across = tile % tiles_across_;
    const std::size_t down = tile / tiles_across_;
    const std::ptrdiff_t left = bound(across, filter.columns);
    const std::ptrdiff_t right = bound(across + 1, filter.columns);
    const std::ptrdiff_t top = bound(down, filter.rows);
    const std::ptrdiff_t bottom = bound(down + 1, filter.rows);
    const LitCells in = filter.cells(left - reach, top - reach, right + reach, bottom + reach);
    std::uint16_t* const out = filter_->values.data();
    constexpr auto step = static_cast<std::ptrdiff_t>(at_once);
    std::array<float, at_once> readings{};
    for (std::ptrdiff_t y = top; y < bottom; y += step) {
        for (std::ptrdiff_t x = left; x < right; x += step) {
            const std::ptrdiff_t end_x = std::min(x + step, right);
            const std::ptrdiff_t end_y = std::min(y + step, bottom);
            const bool alike = uniform(in, x - left, y - top, end_x - left + 2 * reach, end_y - top + 2 * reach);
            for (std::ptrdiff_t j = y; j < end_y; ++j) {
                const std::ptrdiff_t row = j - top + reach;
                const float* cell = in.at(x - left + reach, row);
                const bool plain = alike || j >= filter.rows - reach;
                if (!plain) {
                    filter.means(in, x - left + reach, row, readings);
                }
                for (std::ptrdiff_t i = x; i < end_x; ++i) {
                    const auto n = static_cast<std::size_t>(i - x);
                    const float value = plain || i >= filter.columns - reach ? cell[n] : readings[n];
                    out[row_[static_cast<std::size_t>(j)] + column_[static_cast<std::size_t>(i)]] =
                        static_cast<std::uint16_t>(value * static_cast<float>(full) + 0.5F);
                }
            }
        }
    }
    tiles_[tile].store(TileState::own, std::memory_order_relaxed);
}

void SpotMap::make_tile(std::size_t tile) const {
    const std::lock_guard<std::mutex> guard(filter_->lock);
    for (const std::size_t needed : {tile, tile + 1, tile + tiles_across_, tile + tiles_across_ + 1}) {
        filter_tile(needed);
    }
    tiles_[tile].store(TileState::surrounded, std::memory_order_release);
}

} // namespace vast_turn
