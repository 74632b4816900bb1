#include "view/board.hpp"

#include <algorithm>
#include <cmath>
#include <cstring>
#include <memory>

#include <fmt/format.h>

namespace vast_turn {

namespace {

struct Free {
    void operator()(cairo_surface_t* s) const { cairo_surface_destroy(s); }
};

} // namespace

Board::Board(const Course& course, Vec2 at, Vec2 size) : course_(course) {
    scale_ = std::min(size.x / course.width_mm, size.y / course.height_mm);
    size_ = {scale_ * course.width_mm, scale_ * course.height_mm};
    origin_ = {at.x + 0.5 * (size.x - size_.x), at.y + 0.5 * (size.y - size_.y)};
}

void Board::draw_surface(Canvas& canvas) const {
    const Surface& surface = course_.surface;
    const std::unique_ptr<cairo_surface_t, Free> image(cairo_image_surface_create(CAIRO_FORMAT_RGB24, surface.columns, surface.rows));
    unsigned char* bytes = cairo_image_surface_get_data(image.get());
    const auto stride = static_cast<std::size_t>(cairo_image_surface_get_stride(image.get()));
    const auto columns = static_cast<std::size_t>(surface.columns);
    for (std::size_t row = 0; row < static_cast<std::size_t>(surface.rows); ++row) {
        std::memcpy(bytes + row * stride, surface.cells.data() + row * columns, columns * sizeof(std::uint32_t));
    }
    cairo_surface_mark_dirty(image.get());
    cairo_t* c = canvas.context();
    cairo_save(c);
    cairo_rectangle(c, origin_.x, origin_.y, size_.x, size_.y);
    cairo_clip(c);
    cairo_translate(c, origin_.x, origin_.y);
    cairo_scale(c, scale_ * surface.cell_mm, scale_ * surface.cell_mm);
    cairo_set_source_surface(c, image.get(), 0.0, 0.0);
    cairo_pattern_set_filter(cairo_get_source(c), CAIRO_FILTER_GOOD);
    cairo_paint(c);
    cairo_restore(c);
    canvas.frame(origin_, size_, ink::faint, 1.0);
}

Vec2 Board::label_spot(Vec2 page_point, double gap, double width) const {
    const bool fits = page_point.x + gap + width < origin_.x + size_.x - 4.0;
    return {fits ? page_point.x + gap : page_point.x - gap - width, page_point.y + 5.0};
}

void Board::draw_places(Canvas& canvas, bool with_names) const {
    for (const CoursePlace& place : course_.places) {
        const Vec2 at = on_page(place.at);
        const double radius = scale_ * place.radius_mm;
        canvas.circle(at, radius, ink::fern, 1.8, true);
        if (with_names) {
            const TextStyle style{14.0, ink::fern, Align::left, true, false, true};
            canvas.text(label_spot(at, radius + 6.0, canvas.text_width(place.name, style)), place.name, style);
        }
    }
}

void Board::draw_starts(Canvas& canvas) const {
    for (const StartPose& start : course_.starts) {
        const Vec2 at = on_page(start.pose.at);
        const Vec2 ahead = direction(start.pose.heading_deg);
        canvas.dot(at, 5.0, ink::alarm);
        canvas.arrow(at, at + 34.0 * ahead, ink::alarm, 3.0);
        canvas.text({at.x, at.y + 26.0}, start.name, {14.0, ink::alarm, Align::middle, true, false, true});
    }
}

void Board::draw_things(Canvas& canvas) const {
    for (const Wall& wall : course_.walls) {
        canvas.line({on_page(wall.from), on_page(wall.to)}, ink::text, 4.0);
    }
    for (const Thing& thing : course_.things) {
        const Vec2 corner = on_page(thing.at - 0.5 * thing.size_mm);
        canvas.fill_rect(corner, scale_ * thing.size_mm, {{90, 110, 130}, 0.55});
        canvas.frame(corner, scale_ * thing.size_mm, ink::text, 1.2);
        const std::string when = thing.until_s ? fmt::format(" ({:g}-{:g} s)", thing.from_s, *thing.until_s) : std::string{};
        canvas.text({corner.x, corner.y - 5.0}, thing.name + when, {12.0, ink::text, Align::left, false, false, true});
    }
}

void Board::draw_scale(Canvas& canvas) const {
    // The longest of 1, 2, 5 times a power of ten that is at most a fifth of the board.
    const double wanted = course_.width_mm / 5.0;
    const double power = std::pow(10.0, std::floor(std::log10(wanted)));
    const double mm = power * (wanted / power >= 5.0 ? 5.0 : (wanted / power >= 2.0 ? 2.0 : 1.0));
    const Vec2 from{origin_.x, origin_.y + size_.y + 14.0};
    const Vec2 to{from.x + scale_ * mm, from.y};
    canvas.line({from, to}, ink::text, 2.0);
    canvas.line({{from.x, from.y - 4.0}, {from.x, from.y + 4.0}}, ink::text, 2.0);
    canvas.line({{to.x, to.y - 4.0}, {to.x, to.y + 4.0}}, ink::text, 2.0);
    canvas.text({to.x + 8.0, to.y + 5.0}, fmt::format("{:g} mm; board {:g} x {:g} mm", mm, course_.width_mm, course_.height_mm), {12.0, ink::faint});
}

} // namespace vast_turn
