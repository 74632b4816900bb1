#include <fmt/format.h>

#include "vast_turn/view/picture.hpp"
#include "view/board.hpp"

namespace vast_turn {

namespace {

constexpr double course_head = 58.0;
constexpr double course_side = 250.0;

void draw_list(Canvas& canvas, const Course& course) {
    const double x = page_width - course_side;
    double y = course_head + 24.0;
    const auto heading = [&](const std::string& words) {
        canvas.text({x, y}, words, {14.0, ink::text, Align::left, true});
        y += 22.0;
    };
    const auto row = [&](const std::string& left, const std::string& right) {
        canvas.text({x, y}, canvas.fitted(left, 120.0, {13.0}), {13.0});
        canvas.text({page_width - page_margin, y}, right, {12.0, ink::faint, Align::right, false, true});
        y += 19.0;
    };
    heading("Starts");
    for (const StartPose& start : course.starts) {
        row(start.name,
            fmt::format("{:.0f},{:.0f} {:.0f}\u00B0", start.pose.at.x, start.pose.at.y, start.pose.heading_deg));
    }
    y += 12.0;
    heading("Places");
    for (const CoursePlace& place : course.places) {
        row(place.name, fmt::format("{:.0f},{:.0f} r{:.0f}", place.at.x, place.at.y, place.radius_mm));
    }
    y += 12.0;
    heading("Tape");
    for (std::size_t i = 0; i < course.tapes.size(); ++i) {
        row(fmt::format("tape {}", i + 1),
            fmt::format("{:.0f} mm, {:g} wide", length_of(course.tapes[i]), course.tapes[i].width_mm));
    }
}

} // namespace

std::string draw_course(const Course& course, PictureFormat format) {
    return draw_page(format, [&course](Canvas& canvas) {
        canvas.text({page_margin, 38.0}, course.name, {22.0, ink::text, Align::left, true});
        Board board(course, {page_margin, course_head},
                    {page_width - course_side - 2.0 * page_margin, page_height - course_head - 2.0 * page_margin});
        board.draw_surface(canvas);
        board.draw_things(canvas);
        board.draw_places(canvas, true);
        board.draw_starts(canvas);
        board.draw_scale(canvas);
        draw_list(canvas, course);
    });
}

} // namespace vast_turn
