#include "vast_turn/view/comparison_picture.hpp"

#include <algorithm>
#include <array>
#include <cmath>

#include <fmt/format.h>

#include "view/board.hpp"

namespace vast_turn {

namespace {

constexpr double compare_head = 74.0;
constexpr double plot_height = 170.0;
constexpr double plot_bottom = 36.0;

/// Colours that stay apart for colour-blind eyes as well; then again from the start.
constexpr std::array<Ink, 5> plan_inks = {
    {{{214, 92, 28}, 0.9}, {{24, 118, 196}, 0.9}, {{0, 150, 104}, 0.9}, {{168, 66, 150}, 0.9}, {{92, 190, 222}, 0.9}}};

Ink plan_ink(std::size_t plan) { return plan_inks[plan % plan_inks.size()]; }

void draw_paths(Canvas& canvas, const Board& board, const std::vector<PlanFigures>& all, std::size_t trip) {
    std::vector<std::vector<Vec2>> paths(all.size());
    for (std::size_t p = 0; p < all.size(); ++p) {
        for (const LookRecord& look : all[p].first_runs[trip].looks) {
            paths[p].push_back(board.on_page(look.at));
        }
        if (paths[p].size() > 1) {
            canvas.line(paths[p], {ink::paper.colour, 0.8}, 7.0);
        }
    }
    for (std::size_t p = 0; p < all.size(); ++p) { // thinner and thinner, so that none hides another
        if (paths[p].size() > 1) {
            const double width = 2.0 + 3.0 * static_cast<double>(all.size() - 1 - p) / static_cast<double>(all.size());
            canvas.line(paths[p], plan_ink(p), width);
            canvas.dot(paths[p].back(), 3.0 + width, plan_ink(p));
        }
    }
}

struct Offset {
    double way_mm;
    double aside_mm;
};

std::vector<Offset> offsets_of(const Scene& scene, const Run& run) {
    std::vector<Offset> list;
    TapeFinder::Hint hint;
    double way = 0.0;
    for (std::size_t i = 0; i < run.looks.size(); ++i) {
        const LookRecord& look = run.looks[i];
        way += i > 0 ? length(look.at - run.looks[i - 1].at) : 0.0;
        const Vec2 array = from_robot(look.at, direction(static_cast<double>(look.heading_deg)), scene.array_middle());
        list.push_back({way, scene.tape().distance(array, hint)});
    }
    return list;
}

void draw_plot(Canvas& canvas, const Scene& scene, const std::vector<PlanFigures>& all, std::size_t trip) {
    constexpr double from_x = page_margin + 46.0;
    constexpr double to_x = page_width - page_margin;
    constexpr double base_line = page_height - plot_bottom;
    constexpr double ceiling = base_line - plot_height + 30.0;
    std::vector<std::vector<Offset>> lines;
    double longest = 1.0;
    for (const PlanFigures& one : all) {
        lines.push_back(offsets_of(scene, one.first_runs[trip]));
        longest = lines.back().empty() ? longest : std::max(longest, lines.back().back().way_mm);
    }
    double largest = 8.0;
    for (const std::vector<Offset>& line : lines) {
        for (const Offset& o : line) {
            largest = std::max(largest, o.aside_mm);
        }
    }
    const double reach = scene.array_reach_mm(); // beyond, the line is not under the array
    const double highest = std::min(1.2 * largest, 1.4 * reach);
    const auto place = [&](const Offset& o) {
        return Vec2{from_x + (to_x - from_x) * o.way_mm / longest,
                    base_line - (base_line - ceiling) * std::min(1.0, o.aside_mm / highest)};
    };
    canvas.text({from_x, ceiling - 12.0}, "Array's middle from the tape, mm, against the way driven, mm",
                {13.0, ink::text});
    canvas.frame({from_x, ceiling}, {to_x - from_x, base_line - ceiling}, ink::faint, 1.0);
    if (reach < highest) {
        const double reach_y = place({0.0, reach}).y;
        canvas.line({{from_x, reach_y}, {to_x, reach_y}}, ink::alarm, 1.0, true);
        canvas.text({from_x - 8.0, reach_y + 4.0}, fmt::format("{:.0f}", reach), {12.0, ink::alarm, Align::right});
    }
    canvas.text({from_x - 8.0, ceiling + 8.0}, fmt::format("{:.0f}", highest), {12.0, ink::faint, Align::right});
    canvas.text({from_x - 8.0, base_line}, "0", {12.0, ink::faint, Align::right});
    for (int i = 1; i <= 4; ++i) {
        const double x = from_x + (to_x - from_x) * i / 4.0;
        canvas.text({x, base_line + 16.0}, fmt::format("{:.0f}", longest * i / 4.0), {12.0, ink::faint, Align::right});
    }
    for (std::size_t p = 0; p < lines.size(); ++p) {
        std::vector<Vec2> points;
        std::transform(lines[p].begin(), lines[p].end(), std::back_inserter(points), place);
        if (points.size() > 1) {
            canvas.line(points, plan_ink(p), 1.8);
        }
    }
}

void draw_names(Canvas& canvas, const std::vector<PlanFigures>& all) {
    double y = compare_head + 20.0;
    const double x = page_width - 300.0;
    for (std::size_t p = 0; p < all.size() && y < 480.0; ++p) {
        canvas.line({{x, y - 5.0}, {x + 26.0, y - 5.0}}, plan_ink(p), 5.0);
        const TextStyle bold{13.5, ink::text, Align::left, true};
        canvas.text({x + 36.0, y}, canvas.fitted(all[p].plan.name(), 230.0, bold), bold);
        const PlanFigures& one = all[p];
        const std::array<std::string, 3> rows = {
            fmt::format("{} of {} trips passed", one.passed, one.runs),
            fmt::format("{:.2f} s, {:.0f} mm/s in the mean", one.time_s.mean, one.mean_mm_s.mean),
            fmt::format("{:.1f} mm aside, farthest {:.0f} mm", one.aside_mm.mean, one.farthest_mm.mean)};
        for (const std::string& row : rows) {
            y += 18.0;
            canvas.text({x + 36.0, y}, row, {12.0, ink::faint});
        }
        y += 28.0;
    }
}

} // namespace

std::string draw_comparison(const Scene& scene, const std::vector<PlanFigures>& all, std::size_t trip,
                            PictureFormat format) {
    return draw_page(format, [&](Canvas& canvas) {
        canvas.text({page_margin, 36.0},
                    fmt::format("{}: {} plans over trip \"{}\"", scene.course().name, all.size(),
                                scene.course().trips[trip].name),
                    {20.0, ink::text, Align::left, true});
        canvas.text({page_margin, 60.0},
                    "Paths of the point midway between the wheels, first seed; a dot where each ended",
                    {13.0, ink::faint});
        Board board(
            scene.course(), {page_margin, compare_head},
            {page_width - 330.0 - 2.0 * page_margin, page_height - compare_head - plot_height - 2.0 * page_margin});
        board.draw_surface(canvas);
        board.draw_things(canvas);
        board.draw_places(canvas, true);
        draw_paths(canvas, board, all, trip);
        board.draw_starts(canvas);
        draw_names(canvas, all);
        draw_plot(canvas, scene, all, trip);
    });
}

} // namespace vast_turn
