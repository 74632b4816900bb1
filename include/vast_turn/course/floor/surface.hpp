#pragma once

/// What lies under the robot, as a raster of colours.

#include <array>
#include <atomic>
#include <cstddef>
#include <cstdint>
#include <memory>
#include <vector>

#include "vast_turn/base/colour.hpp"
#include "vast_turn/base/geometry.hpp"
#include "vast_turn/base/page_array.hpp"

namespace vast_turn {

/// A raster of the whole board. Cell (i, j) covers x from i to i+1 and y from j to j+1 cells and
/// holds the mean colour of what lies in it. Beyond the board everything has the colour `beyond`.
struct Surface {
    /// Cells to the right and down, as many as make up the board.
    int columns = 0;
    int rows = 0;
    double cell_mm = 1.0; ///< of each side of a cell
    Rgb beyond{237, 234, 226};
    PageArray<std::uint32_t> cells; ///< 0x00RRGGBB, row by row from the top

    /// The colour of a cell; it must be on the board. For a point in mm divide by cell_mm and round down.
    Rgb at(int column, int row) const {
        const std::uint32_t c =
            cells[static_cast<std::size_t>(row) * static_cast<std::size_t>(columns) + static_cast<std::size_t>(column)];
        return {static_cast<std::uint8_t>(c >> 16U), static_cast<std::uint8_t>(c >> 8U), static_cast<std::uint8_t>(c)};
    }
};

/// Mean reflectance 0..1 of red, green and blue under a round spot of this diameter around a point of the board, cell
/// by cell. A cell counts when its middle lies under the spot; beyond the board lies the colour `beyond`. For a few
/// looks only: whoever wants many makes a SpotMap.
std::array<double, 3> light_under(const Surface& surface, Vec2 p, double spot_mm);

/// The surface as a sensor with a round spot sees it under one light: for every point the mean
/// reflectance under the spot. Filtered once where somebody looks, tile by tile, then one interpolated lookup a
/// reading. Any number of threads may read; what they read does not depend on who came first.
///
/// The mean is exact but for the raster: the painted cells, the cells under the rim of the spot and
/// the interpolation each blur a little, and the spot is filtered with a radius smaller by just as
/// much (equal second moments). Against the exact area under a straight edge a reading is within
/// 0.01 of the contrast for a spot 12 cells wide, 0.02 for 8 cells, 0.03 for 6 cells
/// (tests/course/floor/spot_map_test.cpp holds these).
class SpotMap {
public:
    /// `spot_mm` is the diameter; at least 0. Keeps a reference: the surface must outlive the map and stay as it is.
    /// Takes two bytes a cell where somebody looks, next to nothing elsewhere.
    SpotMap(const Surface& surface, Light light, double spot_mm);
    SpotMap(const Surface&& surface, Light light, double spot_mm) = delete;
    SpotMap(const SpotMap&) = delete;
    SpotMap& operator=(const SpotMap&) = delete;
    ~SpotMap();

    /// Mean reflectance 0..1 under a spot centred at `p`, mm on the board; beyond it that of `beyond`.
    double at(Vec2 p) const { return value(locate(p)); }

    /// How many points at_many() takes.
    static constexpr std::size_t points_at_once = 16;
    using Numbers = std::array<double, points_at_once>;
    /// The same of several points: their x and y, and where what at() gives for each of them goes.
    void at_many(const Numbers& x, const Numbers& y, Numbers& out) const;

    /// Where a reading comes from. Whoever wants several readings locates them all first: the memory
    /// is asked for at once and is there when the values are taken.
    struct Spot {
        /// The columns of values to both sides, the rows above and below, and how far it is between them, 0 to 1.
        const std::uint16_t* left;
        const std::uint16_t* right;
        std::size_t upper;
        std::size_t lower;
        double fx;
        double fy;
    };

    /// Where the reading at a point comes from; any point will do, also one that is no number.
    Spot locate(Vec2 p) const {
        // Beyond the board the margin's value holds for ever, so a point out there (or no number at
        // all) may as well lie in the margin.
        const double x = within(p.x * cells_per_mm_ + shift_, x_limit_);
        const double y = within(p.y * cells_per_mm_ + shift_, y_limit_);
        const auto i = static_cast<std::size_t>(static_cast<int>(x));
        const auto j = static_cast<std::size_t>(static_cast<int>(y));
        const std::size_t tile = (j + to_tile_) / tile_side * tiles_across_ + (i + to_tile_) / tile_side;
        if (tiles_[tile].load(std::memory_order_acquire) != TileState::surrounded) {
            make_tile(tile);
        }
        const std::uint32_t* column = column_.data() + i;
        const std::uint32_t* row = row_.data() + j;
        const Spot spot{values_ + column[0],     values_ + column[1],    row[0], row[1],
                        x - static_cast<int>(x), y - static_cast<int>(y)};
        __builtin_prefetch(spot.left + spot.upper);
        __builtin_prefetch(spot.right + spot.lower);
        return spot;
    }

    /// The reading itself, 0..1, bilinear between the four values.
    static double value(const Spot& s) {
        const double top = s.left[s.upper] + s.fx * (s.right[s.upper] - s.left[s.upper]);
        const double bottom = s.left[s.lower] + s.fx * (s.right[s.lower] - s.left[s.lower]);
        return (top + s.fy * (bottom - top)) * (1.0 / full);
    }

private:
    /// 0 .. limit; 0 for what is no number.
    static double within(double v, double limit) {
        const double above = v > 0.0 ? v : 0.0;
        return above < limit ? above : limit;
    }

    static constexpr double full = 65535.0; // stands for reflectance 1: 257 times as fine as the painted surface

    /// Values lie tile by tile, and in a tile in blocks of 8 x 4, one cache line each, so that a robot that moves in
    /// any direction stays on a line for several looks; rows would give it a new one for every cell it moves down.
    void lay_out(std::size_t columns, std::size_t rows);

    /// What is there of a tile. A reading takes values of one tile and of those right of it and below.
    enum class TileState : std::uint8_t { nothing, own, surrounded };
    static constexpr std::size_t tile_side = 64;
    struct Filter;

    /// Filters a tile and those that readings in it need.
    void make_tile(std::size_t tile) const;
    void filter_tile(std::size_t tile) const;

    // There is a margin of cells beyond the board on every side.
    std::unique_ptr<Filter> filter_;                  // what values are made of, and where they are kept
    const std::uint16_t* values_ = nullptr;           // reflectances, 65535 for 1
    std::unique_ptr<std::atomic<TileState>[]> tiles_; // row by row
    std::size_t tiles_across_ = 0;
    std::size_t to_tile_ = 0;           // added to a column or row before it is divided into tiles
    std::vector<std::uint32_t> column_; // where a column's values begin, from the first of its row
    std::vector<std::uint32_t> row_;    // where a row's begin
    double cells_per_mm_ = 1.0;
    double shift_ = 0.0;
    double x_limit_ = 0.0; // beyond which there is no next value to interpolate with
    double y_limit_ = 0.0;
};

} // namespace vast_turn
