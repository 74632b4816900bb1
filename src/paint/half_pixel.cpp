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
constexpr int inner = 5;
constexpr int outer = 1;
constexpr int whole = 8;

std::uint32_t* row_of(cairo_surface_t* picture, int y) {
    return reinterpret_cast<std::uint32_t*>(cairo_image_surface_get_data(picture) +
                                            static_cast<std::ptrdiff_t>(y) * cairo_image_surface_get_stride(picture));
}

const std::uint8_t* bytes_of(cairo_surface_t* picture, int y) {
    return reinterpret_cast<const std::uint8_t*>(row_of(picture, y));
}

} // namespace

bool are_coarse(double mm_a_pixel, cairo_surface_t* picture) {
    constexpr double coarse_mm = 0.75;
    constexpr double most = 4e7; // a second
    return mm_a_pixel > coarse_mm &&
           static_cast<double>(cairo_image_surface_get_width(picture)) * cairo_image_surface_get_height(picture) < most;
}

OwnedSurface half_a_pixel_off(const std::string& path, cairo_surface_t* picture) {
    cairo_surface_flush(picture);
    const int columns = cairo_image_surface_get_width(picture);
    const int rows = cairo_image_surface_get_height(picture);
    OwnedSurface out = make_picture(path, columns + 1, rows + 1, cairo_image_surface_get_format(picture));
    cairo_surface_flush(out.get());
    // Of each channel its sums over four rows; two pixels before the first and behind the last repeat these.
    constexpr std::size_t channels = 4;
    constexpr std::size_t beyond = 2 * channels;
    const std::size_t bytes = channels * static_cast<std::size_t>(columns);
    std::vector<std::int16_t> sums(bytes + 2 * beyond);
    for (int y = 0; y <= rows; ++y) {
        const auto at = [&](int k) { return bytes_of(picture, std::clamp(y - 2 + k, 0, rows - 1)); };
        const std::array<const std::uint8_t*, 4> above{at(0), at(1), at(2), at(3)};
        for (std::size_t i = 0; i < bytes; ++i) {
            sums[i + beyond] =
                static_cast<std::int16_t>(inner * (above[1][i] + above[2][i]) - outer * (above[0][i] + above[3][i]));
        }
        for (std::size_t i = 0; i < beyond; ++i) {
            sums[i] = sums[beyond + i % channels];
            sums[beyond + bytes + i] = sums[bytes + beyond - channels + i % channels];
        }
        auto* to = reinterpret_cast<std::uint8_t*>(row_of(out.get(), y));
        for (std::size_t i = 0; i < bytes + channels; ++i) {
            const int sum =
                inner * (sums[i + channels] + sums[i + 2 * channels]) - outer * (sums[i] + sums[i + 3 * channels]);
            to[i] = static_cast<std::uint8_t>(std::clamp((sum + whole * whole / 2) / (whole * whole), 0, 255));
        }
    }
    cairo_surface_mark_dirty(out.get());
    return out;
}

} // namespace vast_turn
