#include <cmath>
#include <cstring>
#include <memory>
#include <optional>

#include <fmt/format.h>

#include "paint/cairo_owned.hpp"
#include "paint/drawing.hpp"
#include "paint/painter.hpp"
#include "paint/shared_memory.hpp"
#include "vast_turn/base/problem.hpp"

namespace vast_turn {

namespace {

constexpr double most_cells = 110e6;
constexpr double longest_side = 32'000; // of a Cairo image

void use(cairo_t* c, Rgb colour) { cairo_set_source_rgb(c, colour.r / 255.0, colour.g / 255.0, colour.b / 255.0); }

void stroke(cairo_t* c, const std::vector<Vec2>& points, bool closed) {
    cairo_move_to(c, points.front().x, points.front().y);
    for (std::size_t i = 1; i < points.size(); ++i) {
        cairo_line_to(c, points[i].x, points[i].y);
    }
    if (closed) {
        cairo_close_path(c);
    }
    cairo_stroke(c);
}

void paint_tape(cairo_t* c, const Tape& tape) {
    if (tape.drawn) {
        return;
    }
    cairo_set_line_width(c, tape.width_mm);
    cairo_set_line_cap(c, CAIRO_LINE_CAP_BUTT);
    cairo_set_line_join(c, CAIRO_LINE_JOIN_MITER);
    cairo_set_miter_limit(c, 4.0);
    if (tape.gaps.empty()) {
        if (tape.path.size() > 1) {
            stroke(c, tape.path, tape.closed);
        }
        return;
    }
    for (const std::vector<Vec2>& piece : pieces_of(tape)) {
        stroke(c, piece, false);
    }
}

void paint_marker(cairo_t* c, const Marker& marker) {
    if (marker.drawn) {
        return;
    }
    use(c, marker.rgb);
    cairo_save(c);
    cairo_translate(c, marker.at.x, marker.at.y);
    cairo_rotate(c, -to_radians(marker.heading_deg));
    cairo_rectangle(c, -0.5 * marker.length_mm, -0.5 * marker.across_mm, marker.length_mm, marker.across_mm);
    cairo_fill(c);
    cairo_restore(c);
}

} // namespace

void paint_surface(Course& course, double cell_mm) { paint_surface(course, cell_mm, nullptr); }

void paint_surface(Course& course, double cell_mm, const Drawing* drawing) {
    const double columns = std::ceil(course.width_mm / cell_mm - 1e-9);
    const double rows = std::ceil(course.height_mm / cell_mm - 1e-9);
    if (columns > longest_side || rows > longest_side || columns * rows > most_cells) {
        throw InputError(course.file, fmt::format("a surface of {:.0f} x {:.0f} cells is too large", columns, rows),
                         "raise cell_mm, or part the course");
    }
    // What is painted by a child must lie where both see it.
    std::optional<SharedMemory> shared;
    const int row_bytes = cairo_format_stride_for_width(CAIRO_FORMAT_RGB24, static_cast<int>(columns));
    if (drawing != nullptr && drawing->is_apart()) {
        shared.emplace(static_cast<std::size_t>(row_bytes) * static_cast<std::size_t>(rows));
    }
    const OwnedSurface image(
        shared ? cairo_image_surface_create_for_data(shared->bytes(), CAIRO_FORMAT_RGB24, static_cast<int>(columns),
                                                     static_cast<int>(rows), row_bytes)
               : cairo_image_surface_create(CAIRO_FORMAT_RGB24, static_cast<int>(columns), static_cast<int>(rows)));
    const OwnedContext context(cairo_create(image.get()));
    cairo_t* c = context.get();
    cairo_set_antialias(c, CAIRO_ANTIALIAS_BEST);
    use(c, course.floor);
    cairo_paint(c);
    cairo_scale(c, 1.0 / cell_mm, 1.0 / cell_mm);
    if (drawing != nullptr) {
        drawing->paint(c);
    }
    use(c, course.line);
    for (const Tape& tape : course.tapes) {
        paint_tape(c, tape);
    }
    for (const Marker& marker : course.markers) {
        paint_marker(c, marker);
    }
    cairo_surface_flush(image.get());
    if (cairo_status(c) != CAIRO_STATUS_SUCCESS) {
        throw InputError(course.file,
                         fmt::format("the surface cannot be painted: {}", cairo_status_to_string(cairo_status(c))),
                         "check the sizes in the file");
    }
    Surface& surface = course.surface;
    surface.columns = static_cast<int>(columns);
    surface.rows = static_cast<int>(rows);
    surface.cell_mm = cell_mm;
    surface.beyond = course.floor;
    const auto width = static_cast<std::size_t>(surface.columns);
    surface.cells.resize(width * static_cast<std::size_t>(surface.rows));
    const unsigned char* bytes = cairo_image_surface_get_data(image.get());
    const auto stride = static_cast<std::size_t>(cairo_image_surface_get_stride(image.get()));
    for (std::size_t row = 0; row < static_cast<std::size_t>(surface.rows); ++row) {
        std::memcpy(surface.cells.data() + row * width, bytes + row * stride, width * sizeof(std::uint32_t));
    }
    for (std::uint32_t& cell : surface.cells) {
        cell &= 0xFFFFFFU; // the top byte of RGB24 means nothing
    }
}

} // namespace vast_turn
