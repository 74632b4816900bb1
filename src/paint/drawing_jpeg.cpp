/// Photographs: JPEG, turned as the camera was held.

#include <csetjmp>
#include <cstdio>
#include <cstring>

#include <jpeglib.h>

#include <fmt/format.h>

#include "paint/drawing_kinds.hpp"

namespace vast_turn {

namespace {

/// The library reports through this and expects never to come back.
struct Failure {
    jpeg_error_mgr manager{};
    std::jmp_buf back{};
    char words[JMSG_LENGTH_MAX]{};
};

void fail(j_common_ptr reader) {
    auto* failure = reinterpret_cast<Failure*>(reader->err);
    (*reader->err->format_message)(reader, failure->words);
    std::longjmp(failure->back, 1);
}

void stay_silent(j_common_ptr /*reader*/, int /*level*/) {}

/// Rows of three bytes a pixel as they come out of the file, and the camera's orientation, 1 to 8.
struct Pixels {
    unsigned columns = 0;
    unsigned rows = 0;
    unsigned orientation = 1;
    std::vector<unsigned char> bytes;
};

/// Of the marker that cameras write: "Exif", a TIFF directory, its tag 0x0112 (CIPA DC-008).
unsigned orientation_of(const unsigned char* data, std::size_t size) {
    constexpr std::size_t head = 6;
    if (size < head + 8 || std::memcmp(data, "Exif\0\0", head) != 0) {
        return 1;
    }
    const unsigned char* tiff = data + head;
    const std::size_t room = size - head;
    const bool little = tiff[0] == 'I';
    const auto number = [&](std::size_t at, std::size_t bytes) {
        std::size_t value = 0;
        for (std::size_t i = 0; i < bytes; ++i) {
            value = value * 256 + tiff[at + (little ? bytes - 1 - i : i)];
        }
        return value;
    };
    const std::size_t directory = number(4, 4);
    if (directory + 2 > room) {
        return 1;
    }
    const std::size_t entries = number(directory, 2);
    constexpr std::size_t entry_size = 12;
    for (std::size_t i = 0; i < entries; ++i) {
        const std::size_t at = directory + 2 + i * entry_size;
        if (at + entry_size > room) {
            return 1;
        }
        constexpr std::size_t orientation_tag = 0x0112;
        if (number(at, 2) == orientation_tag) {
            const std::size_t value = number(at + 8, 2);
            return value >= 1 && value <= 8 ? static_cast<unsigned>(value) : 1;
        }
    }
    return 1;
}

/// What is done between setjmp and longjmp: nothing in here has a destructor.
bool decode(jpeg_decompress_struct& reader, Failure& failure, const std::string& bytes, Pixels& out, bool head_only) {
    reader.err = jpeg_std_error(&failure.manager);
    failure.manager.error_exit = fail;
    failure.manager.emit_message = stay_silent;
    if (setjmp(failure.back) != 0) { // NOLINT(cert-err52-cpp): the library knows no other way
        return false;
    }
    jpeg_create_decompress(&reader);
    jpeg_mem_src(&reader, reinterpret_cast<const unsigned char*>(bytes.data()), bytes.size());
    jpeg_save_markers(&reader, JPEG_APP0 + 1, 0xFFFF);
    jpeg_read_header(&reader, TRUE);
    if (head_only) {
        out.columns = reader.image_width;
        out.rows = reader.image_height;
        for (const jpeg_marker_struct* marker = reader.marker_list; marker != nullptr; marker = marker->next) {
            out.orientation = orientation_of(marker->data, marker->data_length);
            if (out.orientation != 1) {
                break;
            }
        }
        return true;
    }
    reader.out_color_space = JCS_RGB;
    jpeg_start_decompress(&reader);
    while (reader.output_scanline < reader.output_height) {
        unsigned char* row = out.bytes.data() + static_cast<std::size_t>(reader.output_scanline) * out.columns * 3;
        jpeg_read_scanlines(&reader, &row, 1);
    }
    jpeg_finish_decompress(&reader);
    return true;
}

Pixels read_pixels(const std::string& path, const std::string& bytes) {
    Pixels pixels;
    Failure failure;
    for (const bool head_only : {true, false}) {
        jpeg_decompress_struct reader{};
        const bool done = decode(reader, failure, bytes, pixels, head_only);
        jpeg_destroy_decompress(&reader);
        if (!done) {
            throw InputError(path, fmt::format("this JPEG cannot be read: {}", failure.words),
                             "it is cut off or damaged: save it anew");
        }
        refuse_too_large(path, pixels.columns, pixels.rows); // before room is made for it
        pixels.bytes.resize(static_cast<std::size_t>(pixels.columns) * pixels.rows * 3);
    }
    return pixels;
}

/// Upright, as the orientation says (1 to 8: as it is, mirrored, upside down, ...).
OwnedSurface upright(const std::string& path, const Pixels& pixels) {
    constexpr unsigned first_turned = 5; // from there on columns are rows
    const bool turned = pixels.orientation >= first_turned;
    const unsigned columns = turned ? pixels.rows : pixels.columns;
    const unsigned rows = turned ? pixels.columns : pixels.rows;
    OwnedSurface image = make_picture(path, static_cast<int>(columns), static_cast<int>(rows));
    cairo_surface_flush(image.get());
    unsigned char* data = cairo_image_surface_get_data(image.get());
    const auto stride = static_cast<std::size_t>(cairo_image_surface_get_stride(image.get()));
    for (unsigned y = 0; y < rows; ++y) {
        auto* row = reinterpret_cast<std::uint32_t*>(data + y * stride);
        for (unsigned x = 0; x < columns; ++x) {
            unsigned from_x = turned ? y : x;
            unsigned from_y = turned ? x : y;
            const unsigned o = pixels.orientation;
            from_x = o == 2 || o == 3 || o == 7 || o == 8 ? pixels.columns - 1 - from_x : from_x;
            from_y = o == 3 || o == 4 || o == 6 || o == 7 ? pixels.rows - 1 - from_y : from_y;
            const unsigned char* p =
                pixels.bytes.data() + (static_cast<std::size_t>(from_y) * pixels.columns + from_x) * 3;
            row[x] = static_cast<std::uint32_t>(p[0]) << 16U | static_cast<std::uint32_t>(p[1]) << 8U | p[2];
        }
    }
    cairo_surface_mark_dirty(image.get());
    return image;
}

} // namespace

std::unique_ptr<Drawing> read_jpeg_drawing(const std::string& path, const std::string& bytes, const DrawingKeys& keys,
                                           Checked checked) {
    return make_picture_drawing(path, upright(path, read_pixels(path, bytes)), keys, checked);
}

} // namespace vast_turn
