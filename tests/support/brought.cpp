#include "support/brought.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <random>

#include <cairo-pdf.h>
#include <fmt/format.h>
#include <jpeglib.h>
#include <librsvg/rsvg.h>

#include "vast_turn/base/geometry.hpp"

using namespace vast_turn;

namespace fixtures {

namespace {

cairo_status_t append_bytes(void* to, const unsigned char* data, unsigned size) {
    static_cast<std::string*>(to)->append(reinterpret_cast<const char*>(data), size);
    return CAIRO_STATUS_SUCCESS;
}

void draw_svg(cairo_t* context, const std::string& svg, double wide, double high) {
    RsvgHandle* handle = rsvg_handle_new_from_data(reinterpret_cast<const guint8*>(svg.data()), svg.size(), nullptr);
    const RsvgRectangle room{0.0, 0.0, wide, high};
    rsvg_handle_render_document(handle, context, &room, nullptr);
    g_object_unref(handle);
}

struct Pixels {
    int columns = 0;
    int rows = 0;
    std::vector<std::uint32_t> cells;

    std::uint32_t at(int x, int y) const {
        return cells[static_cast<std::size_t>(y) * static_cast<std::size_t>(columns) + static_cast<std::size_t>(x)];
    }
};

Pixels painted(const MixedCourse& mixed, double mm_a_pixel) {
    Pixels out;
    out.columns = static_cast<int>(std::lround(mixed.board_mm.x / mm_a_pixel));
    out.rows = static_cast<int>(std::lround(mixed.board_mm.y / mm_a_pixel));
    cairo_surface_t* image = cairo_image_surface_create(CAIRO_FORMAT_RGB24, out.columns, out.rows);
    cairo_t* context = cairo_create(image);
    draw_svg(context, mixed.svg, mixed.board_mm.x / mm_a_pixel, mixed.board_mm.y / mm_a_pixel);
    cairo_surface_flush(image);
    for (int y = 0; y < out.rows; ++y) {
        const auto* row = reinterpret_cast<const std::uint32_t*>(cairo_image_surface_get_data(image) +
                                                                 static_cast<std::ptrdiff_t>(y) *
                                                                     cairo_image_surface_get_stride(image));
        out.cells.insert(out.cells.end(), row, row + out.columns);
    }
    cairo_destroy(context);
    cairo_surface_destroy(image);
    return out;
}

/// A pinhole camera over the middle of a board.
class Pinhole {
public:
    Pinhole(Vec2 board, const Camera& camera)
        : board_(board), camera_(camera),
          focal_(1.15 * camera.columns), middle_{0.5 * camera.columns, 0.5 * camera.rows},
          unit_(0.5 * std::hypot(camera.columns, camera.rows)) {
        for (distance_ = 0.5 * length(board); !holds_all(); distance_ *= 1.02) {
        }
    }

    Vec2 to_picture(Vec2 mm) const {
        const Vec2 off = mm - 0.5 * board_;
        const double t = to_radians(camera_.turn_deg);
        const Vec2 turned{off.x * std::cos(t) - off.y * std::sin(t), off.x * std::sin(t) + off.y * std::cos(t)};
        const double tilt = to_radians(camera_.tilt_deg);
        const double depth = distance_ - turned.y * std::sin(tilt);
        return bowed(middle_ + focal_ / depth * Vec2{turned.x, turned.y * std::cos(tilt)});
    }

    Vec2 to_board(Vec2 px) const {
        const Vec2 flat = 1.0 / focal_ * (unbowed(px) - middle_);
        const double tilt = to_radians(camera_.tilt_deg);
        const double y = flat.y * distance_ / (std::cos(tilt) + flat.y * std::sin(tilt));
        const double x = flat.x * (distance_ - y * std::sin(tilt));
        const double t = to_radians(-camera_.turn_deg);
        return Vec2{x * std::cos(t) - y * std::sin(t), x * std::sin(t) + y * std::cos(t)} + 0.5 * board_;
    }

private:
    Vec2 unbowed(Vec2 px) const {
        const Vec2 d = 1.0 / unit_ * (px - middle_);
        return middle_ + unit_ / (1.0 + camera_.bow * dot(d, d)) * d;
    }

    /// By going back and forth.
    Vec2 bowed(Vec2 px) const {
        Vec2 guess = px;
        for (int i = 0; i < 40; ++i) {
            guess = guess + (px - unbowed(guess));
        }
        return guess;
    }

    bool holds_all() const {
        bool all = true;
        for (const Vec2 corner : {Vec2{}, Vec2{board_.x, 0.0}, Vec2{0.0, board_.y}, board_}) {
            const Vec2 p = to_picture(corner);
            constexpr double margin = 0.04;
            all = all && p.x > margin * camera_.columns && p.x < (1.0 - margin) * camera_.columns &&
                  p.y > margin * camera_.rows && p.y < (1.0 - margin) * camera_.rows;
        }
        return all;
    }

    Vec2 board_;
    Camera camera_;
    double focal_;
    Vec2 middle_;
    double unit_;
    double distance_ = 1.0;
};

/// What lies on a point of the board, or beside it on floorboards.
std::uint32_t colour_of(const Pixels& floor, Vec2 board, Vec2 mm) {
    if (mm.x < 0.0 || mm.y < 0.0 || mm.x >= board.x || mm.y >= board.y) {
        const bool joint = std::fmod(std::abs(mm.y) + 1000.0, 95.0) < 3.0;
        return joint ? 0x4A3524U : 0x8A6A4CU;
    }
    return floor.at(static_cast<int>(mm.x / board.x * floor.columns), static_cast<int>(mm.y / board.y * floor.rows));
}

double light_at(Vec2 board, Vec2 mm, double gloom) {
    return 1.0 - (1.0 - gloom) * 0.5 * (mm.x / board.x + mm.y / board.y);
}

} // namespace

std::string sheet_for(const MixedCourse& mixed, const std::string& name, const std::string& lines) {
    std::string sheet = mixed.sheet;
    const std::string old = "drawing = \"d.svg\"\n";
    return sheet.replace(sheet.find(old), old.size(), fmt::format("drawing = \"{}\"\n{}", name, lines));
}

std::string jpeg_of(const std::vector<std::uint32_t>& pixels, int columns, int rows, int quality) {
    jpeg_compress_struct writer{};
    jpeg_error_mgr errors{};
    writer.err = jpeg_std_error(&errors);
    jpeg_create_compress(&writer);
    unsigned char* memory = nullptr;
    unsigned long size = 0;
    jpeg_mem_dest(&writer, &memory, &size);
    writer.image_width = static_cast<unsigned>(columns);
    writer.image_height = static_cast<unsigned>(rows);
    writer.input_components = 3;
    writer.in_color_space = JCS_RGB;
    jpeg_set_defaults(&writer);
    jpeg_set_quality(&writer, quality, TRUE);
    jpeg_start_compress(&writer, TRUE);
    std::vector<unsigned char> row(static_cast<std::size_t>(columns) * 3);
    for (std::size_t y = 0; y < static_cast<std::size_t>(rows); ++y) {
        for (std::size_t x = 0; x < static_cast<std::size_t>(columns); ++x) {
            const std::uint32_t cell = pixels[y * static_cast<std::size_t>(columns) + x];
            row[3 * x] = static_cast<unsigned char>((cell >> 16U) & 255U);
            row[3 * x + 1] = static_cast<unsigned char>((cell >> 8U) & 255U);
            row[3 * x + 2] = static_cast<unsigned char>(cell & 255U);
        }
        unsigned char* at = row.data();
        jpeg_write_scanlines(&writer, &at, 1);
    }
    jpeg_finish_compress(&writer);
    std::string bytes(reinterpret_cast<const char*>(memory), size);
    jpeg_destroy_compress(&writer);
    std::free(memory); // NOLINT: of the library
    return bytes;
}

MixedCourse moved(MixedCourse mixed, Vec2 by) {
    for (TrueNode& node : mixed.nodes) {
        node.at = node.at + by;
    }
    for (TrueLine& line : mixed.lines) {
        for (TrueGap& gap : line.gaps) {
            gap.middle = gap.middle + by;
        }
    }
    for (Vec2& plate : mixed.plates) {
        plate = plate + by;
    }
    return mixed;
}

Brought on_page(const MixedCourse& mixed, std::uint32_t seed, bool told) {
    std::mt19937 random(seed);
    const auto real = [&](double low, double high) {
        return low + (high - low) * (static_cast<double>(random()) / 4294967296.0);
    };
    const Vec2 board = mixed.board_mm;
    const Vec2 corner{real(90.0, 240.0), real(120.0, 260.0)};
    const Vec2 page{corner.x + board.x + real(90.0, 200.0), corner.y + board.y + real(220.0, 340.0)};
    const char* paper = random() % 3 == 0 ? "#FFFFFF" : "#FBFAF5";
    std::string out = fmt::format("<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"{0:.3f}mm\" height=\"{1:.3f}mm\" "
                                  "viewBox=\"0 0 {0:.3f} {1:.3f}\">\n<rect width=\"{0:.3f}\" height=\"{1:.3f}\" "
                                  "fill=\"{2}\"/>\n",
                                  page.x, page.y, paper);
    if (random() % 2 == 0) { // a frame round the sheet
        out += fmt::format("<rect x=\"20\" y=\"20\" width=\"{:.2f}\" height=\"{:.2f}\" fill=\"none\" stroke=\"#000\" "
                           "stroke-width=\"1.2\"/>\n",
                           page.x - 40.0, page.y - 40.0);
    }
    out += fmt::format("<text x=\"{:.1f}\" y=\"80\" font-family=\"DejaVu Sans\" font-size=\"46\" fill=\"#111\">Fern "
                       "house, sheet {}</text>\n",
                       corner.x, seed % 100);
    // Dimension lines with arrows.
    const double under = corner.y + board.y + 40.0;
    out += fmt::format("<path d=\"M {0:.2f} {1:.2f} H {2:.2f} M {0:.2f} {3:.2f} v 30 M {2:.2f} {3:.2f} v 30\" "
                       "stroke=\"#111\" stroke-width=\"1.5\" fill=\"none\"/>\n<path d=\"M {0:.2f} {1:.2f} l 22 -7 v 14 "
                       "z M {2:.2f} {1:.2f} l -22 -7 v 14 z\" fill=\"#111\"/>\n<text x=\"{4:.2f}\" y=\"{5:.2f}\" "
                       "font-family=\"DejaVu Sans\" font-size=\"26\" fill=\"#111\">{6:.0f} mm</text>\n",
                       corner.x, under, corner.x + board.x, under - 15.0, corner.x + 0.5 * board.x - 60.0, under - 8.0,
                       board.x);
    // A legend: line and plates, as they look on the board.
    double y = under + 50.0;
    out += fmt::format("<rect x=\"{:.1f}\" y=\"{:.1f}\" width=\"160\" height=\"{:.1f}\" fill=\"#23211F\"/>\n", corner.x,
                       y, mixed.width_mm);
    const std::array<const char*, 3> swatches{"#E69A17", "#148C82", "#C23A86"};
    for (std::size_t i = 0; i < swatches.size(); ++i) {
        out += fmt::format("<rect x=\"{:.1f}\" y=\"{:.1f}\" width=\"40\" height=\"40\" fill=\"{}\"/>\n",
                           corner.x + 200.0 + 90.0 * static_cast<double>(i), y, swatches[i]);
    }
    // The title block.
    out += fmt::format("<path d=\"M {0:.1f} {1:.1f} h 300 v 110 h -300 z m 0 55 h 300 m -150 -55 v 110\" "
                       "fill=\"none\" stroke=\"#111\" stroke-width=\"2\"/>\n",
                       page.x - 340.0, page.y - 150.0);
    out += fmt::format("<g transform=\"translate({:.3f} {:.3f})\">\n", corner.x, corner.y);
    const std::size_t body = mixed.svg.find(">\n") + 2;
    out += mixed.svg.substr(body, mixed.svg.rfind("</svg>") - body);
    const bool dark = mixed.svg.compare(mixed.svg.find("fill=\"", body) + 6, 7, "#23211F") == 0;
    if (!dark || random() % 2 == 0) { // a dark board needs no outline on paper
        out += fmt::format("<rect width=\"{:.2f}\" height=\"{:.2f}\" fill=\"none\" stroke=\"#111\" "
                           "stroke-width=\"{:.1f}\"/>\n",
                           board.x, board.y, real(0.8, 2.4));
    }
    out += "</g>\n</svg>\n";
    Brought brought;
    brought.name = "d.svg";
    brought.bytes = out;
    brought.sheet = mixed.sheet;
    brought.offset = corner;
    if (told) {
        brought.sheet = sheet_for(mixed, brought.name,
                                  fmt::format("board = {{ from = [{:.3f}, {:.3f}], to = [{:.3f}, {:.3f}] }}\n",
                                              corner.x, corner.y, corner.x + board.x, corner.y + board.y));
        brought.offset = {};
    }
    return brought;
}

std::string sheet_of_paper(const MixedCourse& mixed, const std::string& title) {
    std::string bytes;
    constexpr double mm = 72.0 / 25.4;
    cairo_surface_t* surface = cairo_pdf_surface_create_for_stream(append_bytes, &bytes, 841.0 * mm, 594.0 * mm);
    cairo_pdf_surface_set_metadata(surface, CAIRO_PDF_METADATA_CREATE_DATE, "2026-03-09T08:20:00"); // the same bytes
    cairo_t* c = cairo_create(surface);
    cairo_scale(c, mm, mm);
    const auto box = [&](double x, double y, double wide, double high, double r, double g, double b, bool fill) {
        cairo_set_source_rgb(c, r, g, b);
        cairo_rectangle(c, x, y, wide, high);
        if (fill) {
            cairo_fill(c);
        } else {
            cairo_set_line_width(c, 0.5);
            cairo_stroke(c);
        }
    };
    const auto words = [&](double x, double y, double size, const std::string& text) {
        cairo_set_source_rgb(c, 0.1, 0.1, 0.1);
        cairo_select_font_face(c, "DejaVu Sans", CAIRO_FONT_SLANT_NORMAL, CAIRO_FONT_WEIGHT_NORMAL);
        cairo_set_font_size(c, size);
        cairo_move_to(c, x, y);
        cairo_show_text(c, text.c_str());
    };
    const Vec2 at{10.0, 34.0};
    const Vec2 size = 0.5 * mixed.board_mm;
    words(at.x, 22.0, 15.0, title);
    cairo_save(c);
    cairo_translate(c, at.x, at.y);
    draw_svg(c, mixed.svg, size.x, size.y);
    box(600.0, 18.0, 190.0, 44.0, 0.55, 0.45, 0.35, true); // benches
    box(24.0, 486.0, 120.0, 30.0, 0.55, 0.45, 0.35, true);
    words(622.0, 45.0, 11.0, "potting bench");
    words(28.0, 505.0, 9.0, "seed trays");
    cairo_restore(c);
    box(at.x, at.y, size.x, size.y, 0.1, 0.1, 0.1, false);
    const double under = at.y + size.y + 7.0;
    words(at.x, under + 10.0, 6.0,
          fmt::format("board {:.0f} x {:.0f} mm, drawn 1 : 2", mixed.board_mm.x, mixed.board_mm.y));
    const std::array<std::array<double, 3>, 3> plates{{{0.90, 0.60, 0.09}, {0.08, 0.55, 0.51}, {0.75, 0.16, 0.49}}};
    for (std::size_t i = 0; i < plates.size(); ++i) {
        box(200.0 + 40.0 * static_cast<double>(i), under, 19.0, 12.0, plates[i][0], plates[i][1], plates[i][2], true);
    }
    words(330.0, under + 10.0, 6.0, "turn plates: left, right, end");
    box(640.0, under, 190.0, 16.0, 0.1, 0.1, 0.1, false);
    words(644.0, under + 11.0, 7.0, "fern house, sheet 3");
    cairo_show_page(c);
    cairo_destroy(c);
    cairo_surface_destroy(surface);
    return bytes;
}

Brought as_pdf(const MixedCourse& mixed) {
    std::string bytes;
    constexpr double points_a_mm = 72.0 / 25.4;
    const Vec2 size = points_a_mm * mixed.board_mm;
    cairo_surface_t* surface = cairo_pdf_surface_create_for_stream(append_bytes, &bytes, 420.0, 595.0);
    cairo_t* context = cairo_create(surface);
    cairo_move_to(context, 60.0, 90.0);
    cairo_show_text(context, "Rules of the fern house");
    cairo_show_page(context);
    cairo_pdf_surface_set_size(surface, size.x, size.y);
    draw_svg(context, mixed.svg, size.x, size.y);
    cairo_show_page(context);
    cairo_destroy(context);
    cairo_surface_destroy(surface);
    Brought brought;
    brought.name = "d.pdf";
    brought.bytes = bytes;
    brought.sheet = sheet_for(mixed, brought.name, "page = 2\n");
    return brought;
}

Brought in_uneven_light(const MixedCourse& mixed, std::uint32_t seed) {
    std::mt19937 random(seed);
    const auto real = [&](double low, double high) {
        return low + (high - low) * (static_cast<double>(random()) / 4294967296.0);
    };
    constexpr double mm_a_pixel = 1.3;
    Pixels pixels = painted(mixed, mm_a_pixel);
    const double dark = real(0.3, 0.7);
    const Vec2 middle{real(0.1, 0.9) * mixed.board_mm.x, real(0.1, 0.9) * mixed.board_mm.y};
    const Vec2 way = direction(real(0.0, 360.0));
    const double reach = length(mixed.board_mm) * real(0.3, 0.6);
    const double rim = real(8.0, 70.0);
    const auto light = [&](Vec2 mm) {
        const Vec2 off = mm - middle;
        switch (seed % 3) {
        case 0: return 1.0 - (1.0 - dark) * std::clamp(0.5 + 0.5 * dot(off, way) / reach, 0.0, 1.0); // a lamp far off
        case 1: return dark + (1.0 - dark) * std::exp(-0.5 * dot(off, off) / (reach * reach));       // over the board
        default: return 1.0 - (1.0 - dark) * std::clamp(0.5 + dot(off, way) / rim, 0.0, 1.0); // something's shade
        }
    };
    for (int y = 0; y < pixels.rows; ++y) {
        for (int x = 0; x < pixels.columns; ++x) {
            const double bright = light(mm_a_pixel * Vec2{x + 0.5, y + 0.5});
            std::uint32_t& cell = pixels.cells[static_cast<std::size_t>(y) * static_cast<std::size_t>(pixels.columns) +
                                               static_cast<std::size_t>(x)];
            std::uint32_t seen = 0;
            for (const unsigned shift : {16U, 8U, 0U}) {
                const double grain = real(-2.0, 2.0) + real(-2.0, 2.0) + real(-2.0, 2.0);
                const double value = bright * static_cast<double>((cell >> shift) & 255U) + grain;
                seen |= static_cast<std::uint32_t>(std::lround(std::clamp(value, 0.0, 255.0))) << shift;
            }
            cell = seen;
        }
    }
    Brought brought;
    brought.name = "d.jpg";
    brought.bytes = jpeg_of(pixels.cells, pixels.columns, pixels.rows, 85);
    brought.mm_a_pixel = mm_a_pixel;
    brought.sheet =
        sheet_for(mixed, brought.name,
                  fmt::format("size_mm = [{}, {}]\neven_light = true\n", mixed.board_mm.x, mixed.board_mm.y));
    return brought;
}

Brought as_jpeg(const MixedCourse& mixed, double mm_a_pixel, int quality) {
    const Pixels pixels = painted(mixed, mm_a_pixel);
    Brought brought;
    brought.name = "d.jpg";
    brought.bytes = jpeg_of(pixels.cells, pixels.columns, pixels.rows, quality);
    // The pixels are whole, so the board is fitted to within half a pixel.
    brought.sheet = sheet_for(mixed, brought.name, fmt::format("mm_per_px = {}\neven_light = false\n", mm_a_pixel));
    brought.mm_a_pixel = mm_a_pixel;
    return brought;
}

Brought photographed(const MixedCourse& mixed, const Camera& camera) {
    const Pixels floor = painted(mixed, 0.5);
    const Pinhole pinhole(mixed.board_mm, camera);
    std::vector<std::uint32_t> cells;
    for (int y = 0; y < camera.rows; ++y) {
        for (int x = 0; x < camera.columns; ++x) {
            std::array<double, 3> sum{};
            constexpr int parts = 2;
            for (int i = 0; i < parts * parts; ++i) {
                const Vec2 mm = pinhole.to_board({x + (i % parts + 0.5) / parts, y + (i / parts + 0.5) / parts});
                const std::uint32_t c = colour_of(floor, mixed.board_mm, mm);
                const double light = light_at(mixed.board_mm, mm, camera.gloom) / (parts * parts);
                sum[0] += light * ((c >> 16U) & 255U);
                sum[1] += light * ((c >> 8U) & 255U);
                sum[2] += light * (c & 255U);
            }
            const auto channel = [&](std::size_t i) {
                return static_cast<std::uint32_t>(std::lround(std::min(255.0, std::max(0.0, sum[i]))));
            };
            cells.push_back(channel(0) << 16U | channel(1) << 8U | channel(2));
        }
    }
    Brought brought;
    brought.name = "d.jpg";
    brought.bytes = jpeg_of(cells, camera.columns, camera.rows, 85);
    std::string corners = "corners = [";
    for (const Vec2 mm : {Vec2{}, Vec2{mixed.board_mm.x, 0.0}, mixed.board_mm, Vec2{0.0, mixed.board_mm.y}}) {
        const Vec2 px = pinhole.to_picture(mm);
        corners += fmt::format("{}{{ px = [{:.1f}, {:.1f}], mm = [{:.2f}, {:.2f}] }}",
                               corners.back() == '[' ? "" : ", ", px.x, px.y, mm.x, mm.y);
    }
    const Vec2 middle = 0.5 * mixed.board_mm;
    const Vec2 there = pinhole.to_picture(middle);
    brought.mm_a_pixel = std::max(length(pinhole.to_board(there + Vec2{1.0, 0.0}) - middle),
                                  length(pinhole.to_board(there + Vec2{0.0, 1.0}) - middle));
    brought.sheet = sheet_for(mixed, brought.name,
                              corners + fmt::format("]\neven_light = {}\n", camera.gloom < 1.0 ? "true" : "false"));
    return brought;
}

} // namespace fixtures
