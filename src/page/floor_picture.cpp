#include "page/floor_picture.hpp"

#include <cstdint>
#include <new>
#include <unordered_map>
#include <vector>

#include <png.h>

namespace vast_turn {

namespace {

void append_rgb(std::vector<png_byte>& bytes, std::uint32_t cell) {
    bytes.push_back(static_cast<png_byte>(cell >> 16U));
    bytes.push_back(static_cast<png_byte>(cell >> 8U));
    bytes.push_back(static_cast<png_byte>(cell));
}

/// Numbers of colours in a palette, and the palette; no pixels when there are too many colours.
struct Indexed {
    std::vector<png_byte> pixels;
    std::vector<png_byte> palette;
};

Indexed indexed(const Surface& surface) {
    constexpr std::size_t most = 256;
    Indexed out;
    std::unordered_map<std::uint32_t, png_byte> numbers;
    std::uint32_t last = ~std::uint32_t{0};
    png_byte number = 0;
    out.pixels.reserve(surface.cells.size());
    for (const std::uint32_t cell : surface.cells) {
        if (cell != last) { // most are as the one before
            const auto [found, is_new] = numbers.try_emplace(cell, static_cast<png_byte>(numbers.size()));
            if (is_new && numbers.size() > most) {
                return {};
            }
            if (is_new) {
                append_rgb(out.palette, cell);
            }
            number = found->second;
            last = cell;
        }
        out.pixels.push_back(number);
    }
    return out;
}

} // namespace

std::string floor_picture(const Surface& surface) {
    Indexed colours = indexed(surface);
    png_image image{};
    image.version = PNG_IMAGE_VERSION;
    image.width = static_cast<png_uint_32>(surface.columns);
    image.height = static_cast<png_uint_32>(surface.rows);
    image.flags = PNG_IMAGE_FLAG_FAST;
    std::vector<png_byte> pixels;
    if (colours.pixels.empty()) {
        image.format = PNG_FORMAT_RGB;
        pixels.reserve(3 * surface.cells.size());
        for (const std::uint32_t cell : surface.cells) {
            append_rgb(pixels, cell);
        }
    } else {
        image.format = PNG_FORMAT_RGB_COLORMAP;
        image.colormap_entries = static_cast<png_uint_32>(colours.palette.size() / 3);
        pixels = std::move(colours.pixels);
    }
    const void* palette = colours.palette.empty() ? nullptr : colours.palette.data();
    png_alloc_size_t size = PNG_IMAGE_PNG_SIZE_MAX(image);
    std::string png(size, '\0');
    if (png_image_write_to_memory(&image, png.data(), &size, 0, pixels.data(), 0, palette) == 0) {
        throw std::bad_alloc(); // the only way in which it can fail
    }
    png.resize(size);
    return png;
}

} // namespace vast_turn
