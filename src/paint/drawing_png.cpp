#include <algorithm>
#include <cstring>

#include <fmt/format.h>

#include "paint/cairo_owned.hpp"
#include "paint/drawing_kinds.hpp"

namespace vast_turn {

namespace {

/// What is left to read.
struct Rest {
    const char* at;
    std::size_t size;
};

cairo_status_t read_some(void* closure, unsigned char* to, unsigned int size) {
    Rest& rest = *static_cast<Rest*>(closure);
    if (size > rest.size) {
        return CAIRO_STATUS_READ_ERROR;
    }
    std::memcpy(to, rest.at, size);
    rest.at += size;
    rest.size -= size;
    return CAIRO_STATUS_SUCCESS;
}

double big_endian(const std::string& bytes, std::size_t at) {
    double value = 0.0;
    for (std::size_t i = 0; i < 4; ++i) {
        value = value * 256.0 + static_cast<unsigned char>(bytes[at + i]);
    }
    return value;
}

OwnedSurface read_png(const std::string& path, const std::string& bytes) {
    // The size is looked at before room is made for it.
    constexpr std::size_t header = 24;
    const double columns = bytes.size() < header ? 0.0 : big_endian(bytes, 16);
    const double rows = bytes.size() < header ? 0.0 : big_endian(bytes, 20);
    if (columns < 1.0 || rows < 1.0) {
        throw InputError(path, "this PNG is cut off before its size", "save it anew");
    }
    refuse_too_large(path, columns, rows);
    Rest rest{bytes.data(), bytes.size()};
    OwnedSurface image(cairo_image_surface_create_from_png_stream(read_some, &rest));
    const cairo_status_t status = cairo_surface_status(image.get());
    if (status != CAIRO_STATUS_SUCCESS) {
        throw InputError(path, fmt::format("this PNG cannot be read: {}", cairo_status_to_string(status)),
                         "it is cut off or damaged: save it anew");
    }
    return image;
}

} // namespace

void refuse_too_large(const std::string& path, double columns, double rows) {
    if (std::max(columns, rows) > most_pixels_a_side || columns * rows > most_pixels) {
        throw InputError(path, fmt::format("a picture of {:.0f} x {:.0f} pixels is too large", columns, rows),
                         "scale it down: one pixel a millimetre is enough");
    }
}

std::unique_ptr<Drawing> read_png_drawing(const std::string& path, const std::string& bytes, const DrawingKeys& keys,
                                          Checked checked) {
    return make_picture_drawing(path, read_png(path, bytes), keys, checked);
}

} // namespace vast_turn
