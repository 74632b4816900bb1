#include "vast_turn/paint/surface_export.hpp"

#include "vast_turn/base/visible.hpp"
#include <memory>
#include <sstream>

#include <fmt/format.h>
#include <glib.h>
#include <pugixml.hpp>

#include "paint/cairo_owned.hpp"
#include "vast_turn/base/problem.hpp"
#include "vast_turn/paint/surface.hpp"

namespace vast_turn {

namespace {

std::string svg_colour(Rgb colour) { return fmt::format("#{:02X}{:02X}{:02X}", colour.r, colour.g, colour.b); }

std::string path_data(const std::vector<Vec2>& points, bool closed) {
    std::string data;
    for (const Vec2 p : points) {
        data += fmt::format("{}{},{}", data.empty() ? "M" : " L", p.x, p.y);
    }
    return closed ? data + " Z" : data;
}

/// Whether the surface shows the tape and the markers of the course, and nothing else.
bool shows_tape_alone(const Course& course) {
    Course again = course;
    paint_surface(again, course.surface.cell_mm);
    return again.surface.columns == course.surface.columns && again.surface.cells == course.surface.cells;
}

void add_tape(pugi::xml_node to, const Course& course) {
    pugi::xml_node group = to.append_child("g");
    group.append_attribute("id") = "tape";
    group.append_attribute("fill") = "none";
    group.append_attribute("stroke") = svg_colour(course.line).c_str();
    group.append_attribute("stroke-linecap") = "butt";
    group.append_attribute("stroke-linejoin") = "miter";
    group.append_attribute("stroke-miterlimit") = "4";
    const auto add = [&](const std::vector<Vec2>& points, bool closed, double width_mm) {
        pugi::xml_node path = group.append_child("path");
        path.append_attribute("stroke-width") = fmt::format("{}", width_mm).c_str();
        path.append_attribute("d") = path_data(points, closed).c_str();
    };
    for (const Tape& tape : course.tapes) {
        if (tape.gaps.empty()) {
            if (tape.path.size() > 1) {
                add(tape.path, tape.closed, tape.width_mm);
            }
            continue;
        }
        for (const std::vector<Vec2>& piece : pieces_of(tape)) {
            add(piece, false, tape.width_mm);
        }
    }
}

void add_markers(pugi::xml_node to, const Course& course) {
    pugi::xml_node group = to.append_child("g");
    group.append_attribute("id") = "markers";
    for (const Marker& marker : course.markers) {
        pugi::xml_node rect = group.append_child("rect");
        rect.append_attribute("fill") = svg_colour(marker.rgb).c_str();
        rect.append_attribute("x") = fmt::format("{:g}", -0.5 * marker.length_mm).c_str();
        rect.append_attribute("y") = fmt::format("{:g}", -0.5 * marker.across_mm).c_str();
        rect.append_attribute("width") = fmt::format("{:g}", marker.length_mm).c_str();
        rect.append_attribute("height") = fmt::format("{:g}", marker.across_mm).c_str();
        rect.append_attribute("transform") =
            fmt::format("translate({} {}) rotate({})", marker.at.x, marker.at.y, 0.0 - marker.heading_deg).c_str();
    }
}

void add_picture(pugi::xml_node to, const Course& course) {
    const std::string png = surface_png(course);
    const std::unique_ptr<gchar, decltype(&g_free)> text(
        g_base64_encode(reinterpret_cast<const guchar*>(png.data()), png.size()), &g_free);
    pugi::xml_node image = to.append_child("image");
    image.append_attribute("width") = fmt::format("{}", course.surface.columns * course.surface.cell_mm).c_str();
    image.append_attribute("height") = fmt::format("{}", course.surface.rows * course.surface.cell_mm).c_str();
    image.append_attribute("preserveAspectRatio") = "none";
    image.append_attribute("style") = "image-rendering: pixelated";
    image.append_attribute("xlink:href") = (std::string("data:image/png;base64,") + text.get()).c_str();
}

cairo_status_t append_bytes(void* closure, const unsigned char* bytes, unsigned int size) {
    static_cast<std::string*>(closure)->append(reinterpret_cast<const char*>(bytes), size);
    return CAIRO_STATUS_SUCCESS;
}

} // namespace

std::string surface_svg(const Course& course) {
    if (course.surface.cells.empty()) {
        throw InputError(course.file, "this course has no surface to export", "paint it first");
    }
    pugi::xml_document document;
    pugi::xml_node svg = document.append_child("svg");
    svg.append_attribute("xmlns") = "http://www.w3.org/2000/svg";
    svg.append_attribute("xmlns:xlink") = "http://www.w3.org/1999/xlink";
    svg.append_attribute("width") = fmt::format("{}mm", course.width_mm).c_str();
    svg.append_attribute("height") = fmt::format("{}mm", course.height_mm).c_str();
    svg.append_attribute("viewBox") = fmt::format("0 0 {} {}", course.width_mm, course.height_mm).c_str();
    if (!course.name.empty()) {
        svg.append_child("title").text() = visible(course.name).c_str();
    }
    if (shows_tape_alone(course)) {
        pugi::xml_node floor = svg.append_child("rect");
        floor.append_attribute("id") = "floor";
        floor.append_attribute("width") = fmt::format("{}", course.width_mm).c_str();
        floor.append_attribute("height") = fmt::format("{}", course.height_mm).c_str();
        floor.append_attribute("fill") = svg_colour(course.floor).c_str();
        add_tape(svg, course);
        add_markers(svg, course);
    } else {
        add_picture(svg, course);
    }
    std::ostringstream text;
    document.save(text, "  ", pugi::format_default, pugi::encoding_utf8);
    return text.str();
}

std::string surface_png(const Course& course) {
    const Surface& surface = course.surface;
    if (surface.cells.empty()) {
        throw InputError(course.file, "this course has no surface to export", "paint it first");
    }
    PageArray<std::uint32_t> cells = surface.cells; // cairo wants them to change
    const OwnedSurface image(cairo_image_surface_create_for_data(reinterpret_cast<unsigned char*>(cells.data()),
                                                                 CAIRO_FORMAT_RGB24, surface.columns, surface.rows,
                                                                 surface.columns * 4));
    std::string png;
    const cairo_status_t status = cairo_surface_write_to_png_stream(image.get(), append_bytes, &png);
    if (status != CAIRO_STATUS_SUCCESS) {
        throw InputError(course.file, fmt::format("the surface cannot be exported: {}", cairo_status_to_string(status)),
                         "raise cell_mm");
    }
    return png;
}

} // namespace vast_turn
