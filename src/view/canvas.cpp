#include "view/canvas.hpp"

#include <array>
#include <cmath>
#include <map>
#include <memory>
#include <sstream>
#include <string_view>

#include <cairo-pdf.h>
#include <cairo-svg.h>
#include <fmt/format.h>

#include "paint/cairo_owned.hpp"
#include "vast_turn/base/problem.hpp"
#include "vast_turn/base/utf8.hpp"
#include "vast_turn/base/visible.hpp"

namespace vast_turn {

void Canvas::use(Ink colour) {
    cairo_set_source_rgba(c_, colour.colour.r / 255.0, colour.colour.g / 255.0, colour.colour.b / 255.0, colour.alpha);
}

void Canvas::fill_rect(Vec2 at, Vec2 size, Ink colour) {
    use(colour);
    cairo_rectangle(c_, at.x, at.y, size.x, size.y);
    cairo_fill(c_);
}

void Canvas::frame(Vec2 at, Vec2 size, Ink colour, double width) {
    use(colour);
    cairo_set_line_width(c_, width);
    cairo_rectangle(c_, at.x, at.y, size.x, size.y);
    cairo_stroke(c_);
}

void Canvas::line(const std::vector<Vec2>& points, Ink colour, double width, bool dashed) {
    if (points.size() < 2) {
        return;
    }
    use(colour);
    constexpr std::array<double, 2> dashes = {5.0, 4.0};
    cairo_set_dash(c_, dashes.data(), dashed ? 2 : 0, 0.0);
    cairo_set_line_width(c_, width);
    cairo_set_line_join(c_, CAIRO_LINE_JOIN_ROUND);
    cairo_set_line_cap(c_, CAIRO_LINE_CAP_ROUND);
    cairo_move_to(c_, points[0].x, points[0].y);
    for (const Vec2 p : points) {
        cairo_line_to(c_, p.x, p.y);
    }
    cairo_stroke(c_);
    cairo_set_dash(c_, nullptr, 0, 0.0);
}

void Canvas::polygon(const std::vector<Vec2>& points, Ink colour) {
    use(colour);
    for (const Vec2 p : points) {
        cairo_line_to(c_, p.x, p.y);
    }
    cairo_close_path(c_);
    cairo_fill(c_);
}

void Canvas::circle(Vec2 at, double radius, Ink colour, double width, bool dashed) {
    use(colour);
    constexpr std::array<double, 2> dashes = {4.0, 4.0};
    cairo_set_dash(c_, dashes.data(), dashed ? 2 : 0, 0.0);
    cairo_set_line_width(c_, width);
    cairo_new_sub_path(c_);
    cairo_arc(c_, at.x, at.y, radius, 0.0, 2.0 * pi);
    cairo_stroke(c_);
    cairo_set_dash(c_, nullptr, 0, 0.0);
}

void Canvas::dot(Vec2 at, double radius, Ink colour) {
    use(colour);
    cairo_new_sub_path(c_);
    cairo_arc(c_, at.x, at.y, radius, 0.0, 2.0 * pi);
    cairo_fill(c_);
}

void Canvas::font(const TextStyle& style) {
    cairo_select_font_face(c_, style.mono ? "DejaVu Sans Mono" : "DejaVu Sans", CAIRO_FONT_SLANT_NORMAL,
                           style.bold ? CAIRO_FONT_WEIGHT_BOLD : CAIRO_FONT_WEIGHT_NORMAL);
    cairo_set_font_size(c_, style.size);
}

double Canvas::text_width(const std::string& words, const TextStyle& style) {
    font(style);
    cairo_text_extents_t extents;
    cairo_text_extents(c_, visible(words).c_str(), &extents);
    return extents.x_advance;
}

void Canvas::text(Vec2 at, const std::string& words, const TextStyle& style) {
    double x = at.x;
    if (style.align != Align::left) {
        x -= text_width(words, style) * (style.align == Align::middle ? 0.5 : 1.0);
    }
    font(style);
    cairo_move_to(c_, x, at.y);
    if (style.halo) {
        cairo_text_path(c_, visible(words).c_str());
        use({ink::paper.colour, 0.9});
        cairo_set_line_width(c_, 4.0);
        cairo_set_line_join(c_, CAIRO_LINE_JOIN_ROUND);
        cairo_stroke(c_);
        cairo_move_to(c_, x, at.y);
    }
    use(style.colour);
    cairo_show_text(c_, visible(words).c_str());
    cairo_new_path(c_);
}

std::string Canvas::fitted(const std::string& words, double width, const TextStyle& style) {
    std::string out = words;
    while (!out.empty() && text_width(out.size() == words.size() ? out : out + "...", style) > width) {
        out.resize(at_most_bytes(out, out.size() - 1).size());
    }
    return out.size() == words.size() ? out : out + "...";
}

std::vector<std::string> Canvas::wrapped(const std::string& words, double width, const TextStyle& style) {
    std::vector<std::string> lines;
    std::string line;
    std::istringstream all(words);
    for (std::string word; all >> word;) {
        const std::string longer = line.empty() ? word : fmt::format("{} {}", line, word);
        if (!line.empty() && text_width(longer, style) > width) {
            lines.push_back(line);
            line = word;
        } else {
            line = longer;
        }
    }
    lines.push_back(line);
    return lines;
}

void Canvas::arrow(Vec2 a, Vec2 b, Ink colour, double width) {
    const double size = std::max(length(b - a), 1e-9);
    const Vec2 along = (1.0 / size) * (b - a);
    const Vec2 across{-along.y, along.x};
    const double head = 3.2 * width;
    const Vec2 neck = b - head * along;
    line({a, neck}, colour, width);
    polygon({b, neck + 0.6 * head * across, neck - 0.6 * head * across}, colour);
}

namespace {

cairo_status_t append(void* closure, const unsigned char* data, unsigned int size) {
    static_cast<std::string*>(closure)->append(reinterpret_cast<const char*>(data), size);
    return CAIRO_STATUS_SUCCESS;
}

cairo_surface_t* make_surface(PictureFormat format, std::string& bytes) {
    if (format == PictureFormat::svg) {
        return cairo_svg_surface_create_for_stream(append, &bytes, page_width, page_height);
    }
    if (format == PictureFormat::pdf) {
        cairo_surface_t* surface = cairo_pdf_surface_create_for_stream(append, &bytes, page_width, page_height);
        // Without a date of its own the file would hold the time at which it was drawn.
        cairo_pdf_surface_set_metadata(surface, CAIRO_PDF_METADATA_CREATE_DATE, "2000-01-01T00:00:00Z");
        return surface;
    }
    return cairo_image_surface_create(CAIRO_FORMAT_RGB24, static_cast<int>(page_width), static_cast<int>(page_height));
}

/// Cairo numbers what an SVG refers to over all that a process ever drew: surface7, image9. Here from 1 in each file,
/// in the order in which they come, so that the same page is the same file.
std::string with_own_numbers(const std::string& svg) {
    std::string out;
    std::map<std::string, std::size_t> numbers;
    std::size_t copied = 0;
    for (std::size_t quote = svg.find('"'); quote != std::string::npos; quote = svg.find('"', quote + 1)) {
        const std::size_t name = quote + (svg.compare(quote + 1, 1, "#") == 0 ? 2 : 1);
        for (const std::string_view kind : {"surface", "image"}) {
            const std::size_t digits = name + kind.size();
            const std::size_t end = svg.find_first_not_of("0123456789", std::min(digits, svg.size()));
            if (svg.compare(name, kind.size(), kind) == 0 && end != std::string::npos && end > digits &&
                svg[end] == '"') {
                const auto known = numbers.emplace(svg.substr(name, end - name), numbers.size() + 1).first;
                out.append(svg, copied, digits - copied);
                out += fmt::format("{}", known->second);
                copied = end;
            }
        }
    }
    return out.append(svg, copied);
}

} // namespace

Ink series_ink(std::size_t number) {
    constexpr std::array<Ink, 5> inks = {{{{214, 92, 28}, 0.9},
                                          {{24, 118, 196}, 0.9},
                                          {{0, 150, 104}, 0.9},
                                          {{168, 66, 150}, 0.9},
                                          {{92, 190, 222}, 0.9}}};
    return inks[number % inks.size()];
}

void draw_heading(Canvas& canvas, const std::string& title, const std::string& about) {
    constexpr double width = page_width - 2.0 * page_margin;
    const TextStyle large{20.0, ink::text, Align::left, true};
    const TextStyle small{13.0, ink::faint};
    canvas.text({page_margin, 36.0}, canvas.fitted(title, width, large), large);
    canvas.text({page_margin, 60.0}, canvas.fitted(about, width, small), small);
}

double round_step(double x) {
    const double power = std::pow(10.0, std::floor(std::log10(x)));
    return power * (x / power >= 5.0 ? 5.0 : (x / power >= 2.0 ? 2.0 : 1.0));
}

std::string draw_page(PictureFormat format, const std::function<void(Canvas&)>& draw) {
    std::string bytes;
    const OwnedSurface surface(make_surface(format, bytes));
    const OwnedContext context(cairo_create(surface.get()));
    Canvas canvas(context.get());
    canvas.fill_rect({0, 0}, {page_width, page_height}, ink::paper);
    draw(canvas);
    const cairo_status_t status = cairo_status(context.get());
    if (status == CAIRO_STATUS_SUCCESS && format == PictureFormat::png) {
        cairo_surface_write_to_png_stream(surface.get(), append, &bytes);
    }
    cairo_surface_finish(surface.get());
    if (status != CAIRO_STATUS_SUCCESS || bytes.empty()) {
        throw InputError("", fmt::format("the picture cannot be drawn: {}", cairo_status_to_string(status)),
                         "check names and notes for text that is not UTF-8");
    }
    return format == PictureFormat::svg ? with_own_numbers(bytes) : bytes;
}

std::optional<PictureFormat> picture_format(std::string_view path) {
    if (path.ends_with(".png")) {
        return PictureFormat::png;
    }
    if (path.ends_with(".svg")) {
        return PictureFormat::svg;
    }
    if (path.ends_with(".pdf")) {
        return PictureFormat::pdf;
    }
    return std::nullopt;
}

} // namespace vast_turn
