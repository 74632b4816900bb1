#include "view/board.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstring>
#include <memory>

#include <fmt/format.h>

#include "paint/cairo_owned.hpp"
namespace vast_turn {

Board::Board(const Course& course, Vec2 at, Vec2 size) : course_(course) {
    scale_ = std::min(size.x / course.width_mm, size.y / course.height_mm);
    size_ = {scale_ * course.width_mm, scale_ * course.height_mm};
    origin_ = window_ = {at.x + 0.5 * (size.x - size_.x), at.y + 0.5 * (size.y - size_.y)};
}

Board::Board(const Course& course, Vec2 at, Vec2 size, Vec2 round, double width_mm)
    : course_(course), window_(at), size_(size), scale_(size.x / width_mm) {
    origin_ = at + 0.5 * size - scale_ * round;
}

void Board::draw_surface(Canvas& canvas) const {
    const Surface& surface = course_.surface;
    const OwnedSurface image(cairo_image_surface_create(CAIRO_FORMAT_RGB24, surface.columns, surface.rows));
    unsigned char* bytes = cairo_image_surface_get_data(image.get());
    const auto stride = static_cast<std::size_t>(cairo_image_surface_get_stride(image.get()));
    const auto columns = static_cast<std::size_t>(surface.columns);
    for (std::size_t row = 0; row < static_cast<std::size_t>(surface.rows); ++row) {
        std::memcpy(bytes + row * stride, surface.cells.data() + row * columns, columns * sizeof(std::uint32_t));
    }
    cairo_surface_mark_dirty(image.get());
    cairo_t* c = canvas.context();
    cairo_save(c);
    cairo_rectangle(c, window_.x, window_.y, size_.x, size_.y);
    cairo_clip(c);
    cairo_translate(c, origin_.x, origin_.y);
    cairo_scale(c, scale_ * surface.cell_mm, scale_ * surface.cell_mm);
    cairo_set_source_surface(c, image.get(), 0.0, 0.0);
    cairo_pattern_set_filter(cairo_get_source(c), CAIRO_FILTER_GOOD);
    cairo_paint(c);
    cairo_restore(c);
    canvas.frame(window_, size_, ink::faint, 1.0);
}

bool Board::bare_floor(Vec2 page_point) const {
    const Surface& surface = course_.surface;
    const double cells = 1.0 / (scale_ * surface.cell_mm);
    const int column = static_cast<int>((page_point.x - origin_.x) * cells);
    const int row = static_cast<int>((page_point.y - origin_.y) * cells);
    return column < 0 || row < 0 || column >= surface.columns || row >= surface.rows ||
           surface.at(column, row) == course_.floor;
}

double Board::cost(const Box& box) const {
    constexpr double off_board = 100.0;
    constexpr double on_label = 40.0;
    const bool inside = box.at.x >= window_.x + 2.0 && box.at.y >= window_.y + 2.0 &&
                        box.at.x + box.size.x <= window_.x + size_.x - 2.0 &&
                        box.at.y + box.size.y <= window_.y + size_.y - 2.0;
    double sum = inside ? 0.0 : off_board;
    for (const Box& other : labels_) {
        const bool apart = other.at.x > box.at.x + box.size.x || box.at.x > other.at.x + other.size.x ||
                           other.at.y > box.at.y + box.size.y || box.at.y > other.at.y + other.size.y;
        sum += apart ? 0.0 : on_label;
    }
    const bool on_path = std::any_of(clear_.begin(), clear_.end(), [&box](Vec2 p) {
        return p.x >= box.at.x && p.y >= box.at.y && p.x <= box.at.x + box.size.x && p.y <= box.at.y + box.size.y;
    });
    sum += on_path ? 12.0 : 0.0;
    constexpr int across = 16;
    constexpr int down = 4;
    for (int i = 0; i <= across; ++i) {
        for (int j = 0; j <= down; ++j) {
            const Vec2 p{box.at.x + box.size.x * i / across, box.at.y + box.size.y * j / down};
            sum += bare_floor(p) ? 0.0 : 1.0;
        }
    }
    return sum;
}

Board::Box Board::best_box(Canvas& canvas, Vec2 page_point, double gap, const std::string& words,
                           const TextStyle& style) const {
    const double width = canvas.text_width(words, style);
    const double height = style.size;
    const double diagonal = 0.72 * gap;
    const std::array<Vec2, 8> corners = {{{page_point.x + gap, page_point.y - 0.5 * height},
                                          {page_point.x - gap - width, page_point.y - 0.5 * height},
                                          {page_point.x - 0.5 * width, page_point.y - gap - height},
                                          {page_point.x - 0.5 * width, page_point.y + gap},
                                          {page_point.x + diagonal, page_point.y - diagonal - height},
                                          {page_point.x - diagonal - width, page_point.y - diagonal - height},
                                          {page_point.x + diagonal, page_point.y + diagonal},
                                          {page_point.x - diagonal - width, page_point.y + diagonal}}};
    Box best{corners[0], {width, height}};
    double least = cost(best);
    for (const Vec2 corner : corners) {
        const Box box{corner, {width, height}};
        const double sum = cost(box);
        if (sum < least) {
            least = sum;
            best = box;
        }
    }
    return best;
}

void Board::write(Canvas& canvas, const Box& box, const std::string& words, const TextStyle& style) {
    labels_.push_back(box);
    TextStyle left = style;
    left.align = Align::left;
    canvas.text({box.at.x, box.at.y + 0.85 * style.size}, words, left);
}

void Board::label(Canvas& canvas, Vec2 page_point, double gap, const std::string& words, const TextStyle& style) {
    write(canvas, best_box(canvas, page_point, gap, words, style), words, style);
}

bool Board::label_if_room(Canvas& canvas, Vec2 page_point, double gap, const std::string& words,
                          const TextStyle& style) {
    const Box box = best_box(canvas, page_point, gap, words, style);
    const bool free = std::none_of(labels_.begin(), labels_.end(), [&](const Box& other) {
        return box.at.x < other.at.x + other.size.x && other.at.x < box.at.x + box.size.x &&
               box.at.y < other.at.y + other.size.y && other.at.y < box.at.y + box.size.y;
    });
    if (free) {
        write(canvas, box, words, style);
    }
    return free;
}

void Board::draw_light(Canvas& canvas) {
    if (course_.lights.empty()) {
        return;
    }
    std::vector<OutsideLight> steady = course_.lights;
    for (OutsideLight& light : steady) {
        light.flicker = 0.0;
    }
    constexpr double patch = 10.0; // of the page
    const auto across = static_cast<int>(std::ceil(size_.x / patch));
    const auto down = static_cast<int>(std::ceil(size_.y / patch));
    const Vec2 shown{std::ceil(window_.x), std::ceil(window_.y)}; // whole points, so that no seams show
    const auto corner = [&](int i, int j) { return shown + Vec2{patch * i, patch * j}; };
    std::vector<double> strengths;
    for (int k = 0; k < across * down; ++k) {
        const Vec2 middle = corner(k % across, k / across) + Vec2{0.5 * patch, 0.5 * patch};
        strengths.push_back(light_at(steady, (1.0 / scale_) * (middle - origin_), 0.0));
    }
    const double most = *std::max_element(strengths.begin(), strengths.end());
    constexpr double darkest = 0.42;
    for (int k = 0; k < across * down && most > 0.0; ++k) {
        const double dark = darkest * (1.0 - strengths[static_cast<std::size_t>(k)] / most);
        const Vec2 at = corner(k % across, k / across);
        const Vec2 size{std::min(patch, window_.x + size_.x - at.x), std::min(patch, window_.y + size_.y - at.y)};
        if (dark > 0.01) {
            canvas.fill_rect(at, size, {{40, 52, 84}, dark});
        }
    }
    for (const OutsideLight& light : course_.lights) {
        if (light.kind == OutsideLight::Kind::lamp) {
            canvas.circle(on_page(light.at), 9.0, ink::alarm, 2.0);
            label(canvas, on_page(light.at), 13.0, "lamp", {12.0, ink::alarm, Align::left, false, false, true});
        }
    }
}

void Board::draw_places(Canvas& canvas, bool with_names) {
    for (const CoursePlace& place : course_.places) {
        const Vec2 at = on_page(place.at);
        const double radius = scale_ * place.radius_mm;
        canvas.circle(at, radius, ink::fern, 1.8, true);
        if (with_names) {
            label(canvas, at, radius + 6.0, place.name, {14.0, ink::fern, Align::left, true, false, true});
        }
    }
}

void Board::draw_starts(Canvas& canvas) {
    for (const StartPose& start : course_.starts) {
        const Vec2 at = on_page(start.pose.at);
        const Vec2 ahead = direction(start.pose.heading_deg);
        canvas.dot(at, 5.0, ink::alarm);
        canvas.arrow(at, at + 34.0 * ahead, ink::alarm, 3.0);
        label(canvas, at, 14.0, start.name, {14.0, ink::alarm, Align::left, true, false, true});
    }
}

void Board::draw_things(Canvas& canvas) { draw_things(canvas, course_.things); }

void Board::draw_things(Canvas& canvas, const std::vector<Thing>& things) {
    for (const Iron& iron : course_.irons) {
        const Vec2 half{6.0, 6.0};
        canvas.fill_rect(on_page(iron.at) - half, 2.0 * half, ink::text);
        label(canvas, on_page(iron.at), 12.0, "iron", {12.0, ink::text, Align::left, false, false, true});
    }
    for (const Wall& wall : course_.walls) {
        canvas.line({on_page(wall.from), on_page(wall.to)}, ink::text, 4.0);
    }
    for (const Thing& thing : things) { // labels keep off them
        const std::vector<Vec2> corners = corners_of(thing);
        const Vec2 half{std::abs(corners[0].x - thing.at.x), std::abs(corners[0].y - thing.at.y)};
        const Vec2 other{std::abs(corners[1].x - thing.at.x), std::abs(corners[1].y - thing.at.y)};
        const Vec2 round{std::max(half.x, other.x), std::max(half.y, other.y)};
        labels_.push_back({on_page(thing.at - round), 2.0 * scale_ * round});
    }
    for (const Thing& thing : things) {
        std::vector<Vec2> corners = corners_of(thing);
        for (Vec2& corner : corners) {
            corner = on_page(corner);
        }
        canvas.polygon(corners, {{90, 110, 130}, 0.55});
        corners.push_back(corners.front());
        canvas.line(corners, ink::text, 1.2);
        const std::string times = when_there(thing);
        const std::string when = times.empty() ? std::string{} : fmt::format(" ({})", times);
        label(canvas, on_page(thing.at), 0.5 * scale_ * std::max(thing.size_mm.x, thing.size_mm.y) + 4.0,
              thing.name + when, {12.0, ink::text, Align::left, false, false, true});
    }
}

void Board::draw_scale(Canvas& canvas) const {
    const double mm = round_step(course_.width_mm / 5.0);
    const Vec2 from{origin_.x, origin_.y + size_.y + 14.0};
    const Vec2 to{from.x + scale_ * mm, from.y};
    canvas.line({from, to}, ink::text, 2.0);
    canvas.line({{from.x, from.y - 4.0}, {from.x, from.y + 4.0}}, ink::text, 2.0);
    canvas.line({{to.x, to.y - 4.0}, {to.x, to.y + 4.0}}, ink::text, 2.0);
    canvas.text({to.x + 8.0, to.y + 5.0},
                fmt::format("{:g} mm; board {:g} x {:g} mm", mm, course_.width_mm, course_.height_mm),
                {12.0, ink::faint});
}

} // namespace vast_turn
