#include "vast_turn/view/parting_picture.hpp"

#include <algorithm>
#include <cassert>
#include <utility>

#include <fmt/format.h>
#include <fmt/ranges.h>

#include "view/board.hpp"
#include "view/robot_on_board.hpp"

namespace vast_turn {

namespace {

constexpr double parting_head = 74.0;
constexpr double parting_side = 500.0;
constexpr double shown_mm = 420.0;

/// The place that should have come next: ringed where it is in view, else an arrow at the rim towards it.
void draw_expected(Canvas& canvas, Board& board, const Course& course, const Parting& parting, Vec2 corner, Vec2 size) {
    const CoursePlace* place = course.find_place(parting.expected);
    if (place == nullptr) {
        return;
    }
    constexpr double margin = 34.0;
    const Vec2 at = board.on_page(place->at);
    const Vec2 low = corner + Vec2{margin, margin};
    const Vec2 high = corner + size - Vec2{margin, margin};
    const std::string words = fmt::format("expected: {}", place->name);
    const TextStyle style{13.0, ink::fern, Align::left, true};
    if (at.x > low.x && at.y > low.y && at.x < high.x && at.y < high.y) {
        const double radius = std::max(8.0, place->radius_mm * board.scale());
        canvas.circle(at, radius, ink::paper, 6.0);
        canvas.circle(at, radius, ink::fern, 3.0);
        board.label(canvas, at, radius + 6.0, words, style);
        return;
    }
    const Vec2 rim{std::clamp(at.x, low.x, high.x), std::clamp(at.y, low.y, high.y)};
    const Vec2 way = at - rim;
    const Vec2 along = 1.0 / std::max(1e-9, length(way)) * way;
    const Vec2 across{-along.y, along.x};
    const Vec2 tip = rim + 26.0 * along;
    for (const auto& [colour, width] : {std::pair{ink::paper, 8.0}, {ink::fern, 4.0}}) {
        canvas.line({rim - 12.0 * along, tip}, colour, width);
        canvas.line({tip - 13.0 * along + 9.0 * across, tip, tip - 13.0 * along - 9.0 * across}, colour, width);
    }
    board.label(canvas, rim - 12.0 * along, 16.0, words, style);
}

void draw_words(Canvas& canvas, const Pilot& pilot, const TripResult& failed, const Run* cured,
                const std::vector<Cure>& cures) {
    const double x = page_width - parting_side;
    double y = parting_head + 16.0;
    const TextStyle mono{12.5, ink::text, Align::left, false, true};
    const auto row = [&](const std::string& words, const TextStyle& style) {
        for (const std::string& line : canvas.wrapped(words, parting_side - page_margin, style)) {
            canvas.text({x, y}, line, style);
            y += 18.0;
        }
        y += 4.0;
    };
    const auto way = [&](const std::string& words, Ink colour) {
        canvas.line({{x, y - 5.0}, {x + 26.0, y - 5.0}}, colour, 5.0);
        for (const std::string& line : canvas.wrapped(words, parting_side - 70.0, {13.0})) {
            canvas.text({x + 36.0, y}, line, {13.0});
            y += 18.0;
        }
        y += 4.0;
    };
    for (const std::string& failure : failed.failures) {
        row(failure, {13.0, ink::alarm});
    }
    way("as it went", ink::alarm);
    if (cured != nullptr && !cures.empty()) {
        way("with " + cures.front().change, ink::fern);
    }
    y += 10.0;
    for (const std::string& line : explain(pilot, *failed.parting)) {
        row(line, {13.0});
    }
    y += 10.0;
    row("the looks before", {13.0, ink::text, Align::left, true});
    const auto rows = [&](const std::vector<std::string>& looks) { // in columns, so as they are
        for (const std::string& line : looks) {
            canvas.text({x, y}, line, mono);
            y += 20.0;
        }
    };
    rows(looks_before(pilot, failed.run, *failed.parting));
    y += 4.0;
    const std::vector<std::string> after = looks_after(pilot, failed.run, *failed.parting);
    constexpr double room_for_cures = 150.0;
    if (!after.empty() && y < page_height - room_for_cures) {
        row("and after", {13.0, ink::text, Align::left, true});
        rows(after);
    }
    y += 10.0;
    for (std::size_t i = 0; i < cures.size() && y < page_height - 60.0; ++i) {
        row(describe(cures[i]), {13.0, ink::fern});
    }
}

} // namespace

std::string draw_parting(const Scene& scene, const Pilot& pilot, const TripResult& failed, const Run* cured,
                         const std::vector<Cure>& cures, PictureFormat format) {
    assert(failed.parting.has_value());
    return draw_page(format, [&](Canvas& canvas) {
        canvas.text({page_margin, 36.0},
                    fmt::format("{}: \"{}\" with {}", scene.course().name, failed.trip.name, pilot.name()),
                    {20.0, ink::text, Align::left, true});
        canvas.text({page_margin, 60.0},
                    fmt::format("round {:.0f},{:.0f} mm at {:.2f} s, {}", failed.parting->at.x, failed.parting->at.y,
                                failed.parting->t_s,
                                failed.run.day > 0 ? fmt::format("day {}", failed.run.day)
                                                   : fmt::format("seed {}", failed.run.seed)),
                    {13.0, ink::faint});
        const Vec2 box{page_width - parting_side - 2.0 * page_margin, page_height - parting_head - page_margin};
        // The decision and where the ways parted, which may be some way on.
        const Vec2 decided = failed.parting->at;
        const Vec2 parted = failed.run.looks[std::min(failed.parting->left_way, failed.run.looks.size() - 1)].at;
        const double apart = length(parted - decided);
        constexpr double most_apart = 900.0;
        const Vec2 middle = apart < most_apart ? 0.5 * (decided + parted) : decided;
        Board board(scene.course(), {page_margin, parting_head}, box, middle,
                    apart < most_apart ? std::max(shown_mm, apart + 260.0) : shown_mm);
        board.draw_surface(canvas);
        cairo_t* c = canvas.context();
        cairo_save(c);
        cairo_rectangle(c, page_margin, parting_head, box.x, box.y);
        cairo_clip(c);
        if (cured != nullptr) {
            draw_way(canvas, board, *cured, ink::fern);
        }
        draw_way(canvas, board, failed.run, ink::alarm);
        draw_robot(canvas, board, scene, failed.run.looks[failed.parting->look]);
        draw_expected(canvas, board, scene.course(), *failed.parting, {page_margin, parting_head}, box);
        cairo_restore(c);
        draw_words(canvas, pilot, failed, cured, cures);
    });
}

} // namespace vast_turn
