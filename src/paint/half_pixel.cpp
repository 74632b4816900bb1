#include "paint/half_pixel.hpp"

#include <algorithm>
#include <array>
#include <cstddef>
#include <cstdint>
#include <vector>

#include "paint/drawing_kinds.hpp"

namespace vast_turn {

namespace {

/// Of four neighbours, for the place between the middle two: one and a half times the mean of the two less half of
/// that of the four. In parts of 8.
constexpr std::array<int, 4> weights{-1, 5, 5, -1};
constexpr int whole = 8;

struct Channels {
    std::array<int, 4> of{};
};

std::uint32_t* row_of(cairo_surface_t* picture, int y) {
    return reinterpret_cast<std::uint32_t*>(cairo_image_surface_get_data(picture) +
                                            static_cast<std::ptrdiff_t>(y) * cairo_image_surface_get_stride(picture));
}

std::uint32_t packed(const std::array<int, 4>& sums) {
    std::uint32_t out = 0;
    unsigned shift = 0;
    for (const int sum : sums) {
        const int value = (sum + whole * whole / 2) / (whole * whole);
        out |= static_cast<std::uint32_t>(std::clamp(value, 0, 255)) << shift;
        shift += 8;
    }
    return out;
}

} // namespace

OwnedSurface half_a_pixel_off(const std::string& path, cairo_surface_t* picture) {
    cairo_surface_flush(picture);
    const int columns = cairo_image_surface_get_width(picture);
    const int rows = cairo_image_surface_get_height(picture);
    OwnedSurface out = make_picture(path, columns + 1, rows + 1, cairo_image_surface_get_format(picture));
    cairo_surface_flush(out.get());
    std::vector<Channels> upright(static_cast<std::size_t>(columns)); // sums over four rows
    for (int y = 0; y <= rows; ++y) {
        std::fill(upright.begin(), upright.end(), Channels{});
        for (int k = 0; k < 4; ++k) {
            const std::uint32_t* row = row_of(picture, std::clamp(y - 2 + k, 0, rows - 1));
            const int weight = weights[static_cast<std::size_t>(k)];
            for (std::size_t x = 0; x < upright.size(); ++x) {
                for (unsigned channel = 0; channel < 4; ++channel) {
                    upright[x].of[channel] += weight * static_cast<int>((row[x] >> (8 * channel)) & 255U);
                }
            }
        }
        std::uint32_t* to = row_of(out.get(), y);
        for (int x = 0; x <= columns; ++x) {
            std::array<int, 4> sums{};
            for (int k = 0; k < 4; ++k) {
                const Channels& from = upright[static_cast<std::size_t>(std::clamp(x - 2 + k, 0, columns - 1))];
                for (std::size_t channel = 0; channel < 4; ++channel) {
                    sums[channel] += weights[static_cast<std::size_t>(k)] * from.of[channel];
                }
            }
            to[x] = packed(sums);
        }
    }
    cairo_surface_mark_dirty(out.get());
    return out;
}

} // namespace vast_turn
