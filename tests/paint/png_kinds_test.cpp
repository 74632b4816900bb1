#include <cstdint>
#include <cstdio>
#include <memory>

#include <doctest/doctest.h>
#include <png.h>

#include "support/drawn_course.hpp"
#include "support/rounds.hpp"

using namespace vast_turn;

namespace {

constexpr int wide = 241;
constexpr int high = 140;

/// A line of 19 pixels across a grey floor.
std::uint8_t grey_at(int x, int y) { return x >= 30 && x < 211 && y >= 60 && y < 79 ? 27 : 234; }

/// One row as this kind of PNG stores it.
std::vector<png_byte> row_of(int y, int kind, int depth) {
    std::vector<png_byte> row;
    const int repeats = (kind & PNG_COLOR_MASK_COLOR) != 0 && kind != PNG_COLOR_TYPE_PALETTE ? 3 : 1;
    unsigned bits = 0;
    int held = 0;
    for (int x = 0; x < wide; ++x) {
        const std::uint8_t grey = grey_at(x, y);
        if (depth < 8) { // palette: entry 0 is line, 1 is floor
            bits = bits << static_cast<unsigned>(depth) | (grey == 27 ? 0U : 1U);
            held += depth;
            if (held == 8 || x + 1 == wide) {
                row.push_back(static_cast<png_byte>(bits << static_cast<unsigned>(8 - held)));
                bits = 0;
                held = 0;
            }
            continue;
        }
        const std::uint8_t sample = kind == PNG_COLOR_TYPE_PALETTE ? (grey == 27 ? 0 : 1) : grey;
        for (int i = 0; i < repeats; ++i) {
            row.insert(row.end(), depth == 16 ? 2U : 1U, sample); // 16 bits: 257 times as much
        }
        if ((kind & PNG_COLOR_MASK_ALPHA) != 0) {
            row.insert(row.end(), depth == 16 ? 2U : 1U, 255);
        }
    }
    return row;
}

void write_kind(const std::string& path, int kind, int depth, bool interlaced) {
    const std::unique_ptr<FILE, int (*)(FILE*)> file(std::fopen(path.c_str(), "wb"), &std::fclose);
    REQUIRE(file != nullptr);
    png_structp png = png_create_write_struct(PNG_LIBPNG_VER_STRING, nullptr, nullptr, nullptr);
    png_infop info = png_create_info_struct(png);
    png_init_io(png, file.get());
    png_set_IHDR(png, info, wide, high, depth, kind, interlaced ? PNG_INTERLACE_ADAM7 : PNG_INTERLACE_NONE,
                 PNG_COMPRESSION_TYPE_DEFAULT, PNG_FILTER_TYPE_DEFAULT);
    const png_color entries[2] = {{27, 27, 27}, {234, 234, 234}};
    if (kind == PNG_COLOR_TYPE_PALETTE) {
        png_set_PLTE(png, info, entries, 2);
    }
    std::vector<std::vector<png_byte>> rows;
    std::vector<png_bytep> starts;
    for (int y = 0; y < high; ++y) {
        rows.push_back(row_of(y, kind, depth));
    }
    for (std::vector<png_byte>& row : rows) {
        starts.push_back(row.data());
    }
    png_set_rows(png, info, starts.data());
    png_write_png(png, info, PNG_TRANSFORM_IDENTITY, nullptr);
    png_destroy_write_struct(&png, &info);
}

} // namespace

TEST_CASE("every kind of PNG shows the same floor: grey, RGB, alpha, palette, 16 bits, interlaced") {
    const fixtures::DrawnCourse d;
    write_kind(d.folder.file("plain.png"), PNG_COLOR_TYPE_RGB, 8, false);
    const Course plain = d.load("plain.png", "mm_per_px = 1.4\n");
    REQUIRE(plain.tapes.size() == 1);
    CHECK(plain.tapes[0].width_mm == doctest::Approx(19 * 1.4).epsilon(0.03));
    struct Kind {
        int colours;
        int depth;
    };
    for (const Kind kind :
         {Kind{PNG_COLOR_TYPE_GRAY, 8}, Kind{PNG_COLOR_TYPE_GRAY, 16}, Kind{PNG_COLOR_TYPE_GRAY_ALPHA, 8},
          Kind{PNG_COLOR_TYPE_GRAY_ALPHA, 16}, Kind{PNG_COLOR_TYPE_RGB, 8}, Kind{PNG_COLOR_TYPE_RGB, 16},
          Kind{PNG_COLOR_TYPE_RGB_ALPHA, 8}, Kind{PNG_COLOR_TYPE_RGB_ALPHA, 16}, Kind{PNG_COLOR_TYPE_PALETTE, 1},
          Kind{PNG_COLOR_TYPE_PALETTE, 2}, Kind{PNG_COLOR_TYPE_PALETTE, 4}, Kind{PNG_COLOR_TYPE_PALETTE, 8}}) {
        for (const bool interlaced : {false, true}) {
            if (fixtures::sanitized() && interlaced != (kind.depth == 8)) {
                continue;
            }
            CAPTURE(kind.colours);
            CAPTURE(kind.depth);
            CAPTURE(interlaced);
            write_kind(d.folder.file("kind.png"), kind.colours, kind.depth, interlaced);
            CHECK(fixtures::largest_difference(d.load("kind.png", "mm_per_px = 1.4\n"), plain) == 0);
        }
    }
}
