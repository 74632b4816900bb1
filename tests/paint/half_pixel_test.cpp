/// Edges between the pixels of a picture.

#include <cmath>
#include <cstdint>

#include <doctest/doctest.h>

#include "paint/half_pixel.hpp"

using namespace vast_turn;

namespace {

constexpr int pixels_a_side = 24;

std::uint32_t* row_of(cairo_surface_t* picture, int y) {
    return reinterpret_cast<std::uint32_t*>(cairo_image_surface_get_data(picture) +
                                            static_cast<std::ptrdiff_t>(y) * cairo_image_surface_get_stride(picture));
}

/// White from `edge` on, each pixel as much as it is covered.
OwnedSurface picture_of(double edge) {
    OwnedSurface picture(cairo_image_surface_create(CAIRO_FORMAT_RGB24, pixels_a_side, pixels_a_side));
    for (int y = 0; y < pixels_a_side; ++y) {
        for (int x = 0; x < pixels_a_side; ++x) {
            const double white = std::min(1.0, std::max(0.0, x + 1.0 - edge));
            row_of(picture.get(), y)[x] = 0x010101U * static_cast<std::uint32_t>(std::lround(255.0 * white));
        }
    }
    cairo_surface_mark_dirty(picture.get());
    return picture;
}

/// Where a row goes through the middle between black and white, taken straight between pixels; the middle of its first
/// one lies at `first`.
double edge_seen(cairo_surface_t* picture, double first) {
    const std::uint32_t* row = row_of(picture, pixels_a_side / 2);
    for (int x = 0; x + 1 < cairo_image_surface_get_width(picture); ++x) {
        const double here = row[x] & 255U;
        const double next = row[x + 1] & 255U;
        if (here < 127.5 && next >= 127.5) {
            return first + x + (127.5 - here) / (next - here);
        }
    }
    return -1.0;
}

} // namespace

TEST_CASE("an edge is where it is, however it lies in the pixels") {
    double most = 0.0;
    double most_without = 0.0;
    for (int i = 0; i <= 50; ++i) {
        const double edge = 11.0 + i / 50.0;
        const OwnedSurface picture = picture_of(edge);
        const OwnedSurface off = half_a_pixel_off("d.png", picture.get());
        REQUIRE(cairo_image_surface_get_width(off.get()) == pixels_a_side + 1);
        REQUIRE(cairo_image_surface_get_height(off.get()) == pixels_a_side + 1);
        most = std::max(most, std::abs(edge_seen(off.get(), 0.0) - edge));
        most_without = std::max(most_without, std::abs(edge_seen(picture.get(), 0.5) - edge));
    }
    CHECK(most < 0.015); // three steps of 255, on a slope of a half
    CHECK(most_without > 0.08);
}

TEST_CASE("an even picture stays as it is to its rim, and a stroke of one pixel keeps most of itself") {
    OwnedSurface picture(cairo_image_surface_create(CAIRO_FORMAT_ARGB32, pixels_a_side, pixels_a_side));
    for (int y = 0; y < pixels_a_side; ++y) {
        std::fill(row_of(picture.get(), y), row_of(picture.get(), y) + pixels_a_side, 0xFF3A7BC4U);
    }
    cairo_surface_mark_dirty(picture.get());
    const OwnedSurface even = half_a_pixel_off("d.png", picture.get());
    CHECK(cairo_image_surface_get_format(even.get()) == CAIRO_FORMAT_ARGB32);
    for (int y = 0; y <= pixels_a_side; ++y) {
        for (int x = 0; x <= pixels_a_side; ++x) {
            CHECK(row_of(even.get(), y)[x] == 0xFF3A7BC4U);
        }
    }
    const OwnedSurface empty = picture_of(pixels_a_side);
    for (int y = 0; y < pixels_a_side; ++y) {
        row_of(empty.get(), y)[12] = 0x00FFFFFFU;
    }
    const OwnedSurface stroke = half_a_pixel_off("d.png", empty.get());
    CHECK((row_of(stroke.get(), 9)[12] & 255U) > 150U);
    CHECK((row_of(stroke.get(), 9)[13] & 255U) > 150U);
}
