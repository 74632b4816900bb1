/// Photographs as JPEG: the same course as PNG shows, turned as the camera was held.

#include <cstdio>
#include <cstdlib>
#include <memory>
#include <string>
#include <vector>

#include <doctest/doctest.h>

#include <jpeglib.h>

#include "support/drawn_course.hpp"
#include "vast_turn/formats/read/text_file.hpp"

using namespace vast_turn;

namespace {

constexpr unsigned photo_wide = 260;
constexpr unsigned photo_high = 140;

/// An L of tape on a floor, so that every turn and mirror image of it differs.
bool is_line(unsigned x, unsigned y) {
    return (x >= 30 && x < 200 && y >= 40 && y < 54) || (x >= 30 && x < 44 && y >= 40 && y < 120);
}

/// As a camera stores it that was held in this way (1 to 8), or without its marker.
std::string jpeg(int quality, unsigned orientation) {
    jpeg_compress_struct writer{};
    jpeg_error_mgr errors{};
    writer.err = jpeg_std_error(&errors);
    jpeg_create_compress(&writer);
    unsigned char* memory = nullptr;
    unsigned long size = 0;
    jpeg_mem_dest(&writer, &memory, &size);
    const bool turned = orientation >= 5;
    writer.image_width = turned ? photo_high : photo_wide;
    writer.image_height = turned ? photo_wide : photo_high;
    writer.input_components = 3;
    writer.in_color_space = JCS_RGB;
    jpeg_set_defaults(&writer);
    jpeg_set_quality(&writer, quality, TRUE);
    jpeg_start_compress(&writer, TRUE);
    if (orientation > 0) {
        const std::vector<unsigned char> marker = {
            'E', 'x', 'i', 'f',  0,    0, 'M', 'M', 0, 42, 0, 0, 0,
            8,   0,   1,   0x01, 0x12, 0, 3,   0,   0, 0,  1, 0, static_cast<unsigned char>(orientation),
            0,   0,   0,   0,    0,    0};
        jpeg_write_marker(&writer, JPEG_APP0 + 1, marker.data(), static_cast<unsigned>(marker.size()));
    }
    std::vector<unsigned char> row(static_cast<std::size_t>(writer.image_width) * 3);
    for (unsigned y = 0; y < writer.image_height; ++y) {
        for (unsigned x = 0; x < writer.image_width; ++x) {
            unsigned ux = turned ? y : x; // where it is when upright
            unsigned uy = turned ? x : y;
            switch (orientation) {
            case 2: ux = photo_wide - 1 - x; break;
            case 3:
                ux = photo_wide - 1 - x;
                uy = photo_high - 1 - y;
                break;
            case 4: uy = photo_high - 1 - y; break;
            case 6: ux = photo_wide - 1 - y; break;
            case 7:
                ux = photo_wide - 1 - y;
                uy = photo_high - 1 - x;
                break;
            case 8: uy = photo_high - 1 - x; break;
            default: break;
            }
            // 6: the camera was turned so that the stored top is the right side of what is upright.
            const unsigned char grey = is_line(ux, uy) ? 27 : 234;
            row[3 * x] = row[3 * x + 1] = row[3 * x + 2] = grey;
        }
        unsigned char* at = row.data();
        jpeg_write_scanlines(&writer, &at, 1);
    }
    jpeg_finish_compress(&writer);
    std::string bytes(reinterpret_cast<const char*>(memory), size);
    jpeg_destroy_compress(&writer);
    std::free(memory);
    return bytes;
}

} // namespace

TEST_CASE("a JPEG shows the course, at quality 60 too, and upright however the camera was held") {
    const fixtures::DrawnCourse d;
    for (unsigned orientation = 0; orientation <= 8; ++orientation) {
        CAPTURE(orientation);
        write_file(d.folder.file("photo.jpg"), jpeg(orientation % 2 == 0 ? 60 : 92, orientation));
        const Course course = d.load("photo.jpg", "mm_per_px = 2\n");
        CHECK(course.width_mm == 2.0 * photo_wide);
        CHECK(course.height_mm == 2.0 * photo_high);
        REQUIRE(course.tapes.size() == 1);
        const Vec2 a = course.tapes[0].path.front();
        const Vec2 b = course.tapes[0].path.back();
        const Vec2 right = a.x > b.x ? a : b;
        const Vec2 low = a.x > b.x ? b : a;
        CHECK(length(right - Vec2{400.0, 94.0}) < 4.0);
        CHECK(length(low - Vec2{74.0, 240.0}) < 4.0);
    }
}

TEST_CASE("a JPEG that is cut off, lies about its size or has no scale is refused") {
    const fixtures::DrawnCourse d;
    std::string bytes = jpeg(80, 1);
    write_file(d.folder.file("photo.jpg"), bytes);
    CHECK(d.fault("photo.jpg").find("how large is a pixel of this drawing?") != std::string::npos);
    write_file(d.folder.file("cut.jpg"), bytes.substr(0, 60));
    CHECK(d.fault("cut.jpg", "mm_per_px = 1\n").find("cannot be read") != std::string::npos);
    const std::size_t frame = bytes.find("\xFF\xC0");
    REQUIRE(frame != std::string::npos);
    bytes.replace(frame + 5, 4, "\xC1\x01\xC1\x01");
    write_file(d.folder.file("lies.jpg"), bytes);
    CHECK(d.fault("lies.jpg", "mm_per_px = 1\n").find("is too large") != std::string::npos);
}
