#include <algorithm>
#include <array>
#include <cmath>

#include "vast_turn/course/floor/surface.hpp"

namespace vast_turn {

namespace {

/// How much of each cell a spot covers; the weights sum to 1.
struct Kernel {
    int reach = 0; // cells to each side of the middle one
    std::vector<float> weights;

    int width() const { return 2 * reach + 1; }
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

/// The reflectances of the board with a margin all round.
struct Padded {
    std::ptrdiff_t columns = 0;
    std::ptrdiff_t rows = 0;
    std::vector<float> values;
};

Padded reflectances(const Surface& surface, Light light, int margin, float beyond) {
    Padded out;
    out.columns = surface.columns + 2 * margin;
    out.rows = surface.rows + 2 * margin;
    out.values.assign(static_cast<std::size_t>(out.columns * out.rows), beyond);
    const LightWeights w = weights_of(light);
    const auto channel = [](double weight) {
        std::array<double, 256> table{};
        for (std::size_t v = 0; v < table.size(); ++v) {
            table[v] = weight * static_cast<double>(v) / 255.0;
        }
        return table;
    };
    const std::array<double, 256> red = channel(w.r);
    const std::array<double, 256> green = channel(w.g);
    const std::array<double, 256> blue = channel(w.b);
    for (int j = 0; j < surface.rows; ++j) {
        float* row = out.values.data() + (j + margin) * out.columns + margin;
        for (int i = 0; i < surface.columns; ++i) {
            const Rgb c = surface.at(i, j);
            row[i] = static_cast<float>(red[c.r] + green[c.g] + blue[c.b]);
        }
    }
    return out;
}

bool uniform(const Padded& in, std::ptrdiff_t left, std::ptrdiff_t top, std::ptrdiff_t right, std::ptrdiff_t bottom) {
    const float* first = in.values.data() + top * in.columns + left;
    const float value = *first;
    for (std::ptrdiff_t j = top; j < bottom; ++j, first += in.columns) {
        if (std::any_of(first, first + (right - left), [value](float v) { return v < value || v > value; })) {
            return false;
        }
    }
    return true;
}

void filter_row(const Padded& in, const Kernel& kernel, std::ptrdiff_t row, std::ptrdiff_t left, std::ptrdiff_t right,
                float* out) {
    for (std::ptrdiff_t i = left; i < right; ++i) {
        const float* weight = kernel.weights.data();
        float sum = 0.0F;
        for (int dj = -kernel.reach; dj <= kernel.reach; ++dj) {
            const float* cell = in.values.data() + (row + dj) * in.columns + i - kernel.reach;
            for (int k = 0; k < kernel.width(); ++k) {
                sum += *weight++ * cell[k];
            }
        }
        out[row * in.columns + i] = sum;
    }
}

/// Filters block by block: where all cells in reach are equal there is nothing to sum up, and most of
/// a course is bare floor.
std::vector<float> filtered(const Padded& in, const Kernel& kernel) {
    std::vector<float> out = in.values; // the margin stays
    constexpr std::ptrdiff_t block = 32;
    const std::ptrdiff_t reach = kernel.reach;
    for (std::ptrdiff_t top = reach; top < in.rows - reach; top += block) {
        const std::ptrdiff_t bottom = std::min(top + block, in.rows - reach);
        for (std::ptrdiff_t left = reach; left < in.columns - reach; left += block) {
            const std::ptrdiff_t right = std::min(left + block, in.columns - reach);
            if (uniform(in, left - reach, top - reach, right + reach, bottom + reach)) {
                continue;
            }
            for (std::ptrdiff_t j = top; j < bottom; ++j) {
                filter_row(in, kernel, j, left, right, out.data());
            }
        }
    }
    return out;
}

} // namespace

void SpotMap::lay_out(std::size_t columns, std::size_t rows) {
    constexpr std::size_t block_columns = 8;
    constexpr std::size_t block_rows = 4;
    constexpr std::size_t block = block_columns * block_rows;
    const std::size_t row_of_blocks = (columns + block_columns - 1) / block_columns * block;
    for (std::size_t i = 0; i < columns; ++i) {
        column_.push_back(static_cast<std::uint32_t>(i / block_columns * block + i % block_columns));
    }
    for (std::size_t j = 0; j < rows; ++j) {
        row_.push_back(static_cast<std::uint32_t>(j / block_rows * row_of_blocks + j % block_rows * block_columns));
    }
    values_.resize((rows + block_rows - 1) / block_rows * row_of_blocks);
}

SpotMap::SpotMap(const Surface& surface, Light light, double spot_mm) {
    const Kernel kernel = make_kernel(0.5 * spot_mm / surface.cell_mm);
    const int margin = 2 * kernel.reach + 2;
    const Padded padded = reflectances(surface, light, margin, static_cast<float>(reflectance(surface.beyond, light)));
    const std::vector<float> values = filtered(padded, kernel);
    const auto columns = static_cast<std::size_t>(padded.columns);
    const auto rows = static_cast<std::size_t>(padded.rows);
    lay_out(columns, rows);
    for (std::size_t j = 0; j < rows; ++j) {
        for (std::size_t i = 0; i < columns; ++i) {
            const float scaled = values[j * columns + i] * static_cast<float>(full);
            values_[row_[j] + column_[i]] = static_cast<std::uint16_t>(scaled + 0.5F);
        }
    }
    cells_per_mm_ = 1.0 / surface.cell_mm;
    shift_ = margin - 0.5;                       // a value stands for the middle of its cell
    x_limit_ = static_cast<double>(columns - 2); // so that there is always a next value
    y_limit_ = static_cast<double>(rows - 2);
}

} // namespace vast_turn
