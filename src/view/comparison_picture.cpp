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

void draw_paths(Canvas& canvas, const Board& board, const std::vector<PilotFigures>& all, std::size_t trip) {
    std::vector<std::vector<Vec2>> paths(all.size());
    for (std::size_t p = 0; p < all.size(); ++p) {
        for (const LookRecord& look : all[p].cases[trip].first_run.looks) {
            paths[p].push_back(board.on_page(look.at));
        }
        if (paths[p].size() > 1) {
            canvas.line(paths[p], {ink::paper.colour, 0.8}, 7.0);
        }
    }
    for (std::size_t p = 0; p < all.size(); ++p) { // thinner and thinner, so that none hides another
        if (paths[p].size() > 1) {
            const double width = 2.0 + 3.0 * static_cast<double>(all.size() - 1 - p) / static_cast<double>(all.size());
            canvas.line(paths[p], series_ink(p), width);
            canvas.dot(paths[p].back(), 3.0 + width, series_ink(p));
        }
    }
}

/// The plot below the board: offset to the left upwards, against the way.
class OffsetPlot {
public:
    OffsetPlot(Canvas& canvas, const Scene& scene, const std::vector<PilotFigures>& all, std::size_t trip)
        : canvas_(canvas), reach_mm_(scene.array_reach_mm()) {
        for (const PilotFigures& one : all) {
            lines_.push_back(offsets_of(scene, one.cases[trip].first_run));
            longest_mm_ = lines_.back().empty() ? longest_mm_ : std::max(longest_mm_, lines_.back().back().way_mm);
            for (const LineOffset& offset : lines_.back()) {
                widest_mm_ = std::max(widest_mm_, 1.15 * std::abs(offset.left_mm));
            }
        }
        widest_mm_ = std::min(widest_mm_, 1.4 * reach_mm_); // beyond its reach the array sees no line
    }

    void draw() {
        canvas_.text({from_x, ceiling - 12.0},
                     "Array's middle beside the tape, mm (up is left), against the way driven, mm", {13.0, ink::text});
        const double step_mm = round_step(longest_mm_ / 5.0);
        for (int i = 0; i * step_mm <= longest_mm_; ++i) {
            const double x = place({i * step_mm, 0.0}).x;
            canvas_.line({{x, ceiling}, {x, base_line}}, {ink::faint.colour, 0.3}, 1.0);
            canvas_.text({x, base_line + 16.0}, fmt::format("{:g}", i * step_mm), {12.0, ink::faint, Align::middle});
        }
        const double rung_mm = round_step(widest_mm_);
        for (const double at : {-rung_mm, 0.0, rung_mm}) {
            const double y = place({0.0, at}).y;
            canvas_.line({{from_x, y}, {to_x, y}}, {ink::faint.colour, at < 0.0 || at > 0.0 ? 0.3 : 0.8}, 1.0);
            canvas_.text({from_x - 8.0, y + 4.0}, fmt::format("{:g}", at), {12.0, ink::faint, Align::right});
        }
        for (const double at : {-reach_mm_, reach_mm_}) {
            if (reach_mm_ < widest_mm_) {
                const double y = place({0.0, at}).y;
                canvas_.line({{from_x, y}, {to_x, y}}, ink::alarm, 1.0, true);
            }
        }
        canvas_.frame({from_x, ceiling}, {to_x - from_x, base_line - ceiling}, ink::faint, 1.0);
        for (std::size_t p = 0; p < lines_.size(); ++p) {
            std::vector<Vec2> points;
            std::transform(lines_[p].begin(), lines_[p].end(), std::back_inserter(points),
                           [this](const LineOffset& offset) { return place(offset); });
            if (points.size() > 1) {
                canvas_.line(points, series_ink(p), 1.8);
            }
        }
    }

private:
    static constexpr double from_x = page_margin + 46.0;
    static constexpr double to_x = page_width - page_margin;
    static constexpr double base_line = page_height - plot_bottom;
    static constexpr double ceiling = base_line - plot_height + 30.0;

    Vec2 place(const LineOffset& offset) const {
        const double up = std::clamp(offset.left_mm / widest_mm_, -1.0, 1.0);
        return {from_x + (to_x - from_x) * offset.way_mm / longest_mm_,
                0.5 * (base_line + ceiling) - 0.5 * (base_line - ceiling) * up};
    }

    Canvas& canvas_;
    double reach_mm_;
    std::vector<std::vector<LineOffset>> lines_;
    double longest_mm_ = 1.0;
    double widest_mm_ = 8.0;
};

void draw_names(Canvas& canvas, const std::vector<PilotFigures>& all, std::size_t trip) {
    double y = compare_head + 20.0;
    const double x = page_width - 300.0;
    for (std::size_t p = 0; p < all.size() && y < 480.0; ++p) {
        canvas.line({{x, y - 5.0}, {x + 26.0, y - 5.0}}, series_ink(p), 5.0);
        const TextStyle bold{13.5, ink::text, Align::left, true};
        canvas.text({x + 36.0, y}, canvas.fitted(all[p].pilot.name(), 230.0, bold), bold);
        const CaseFigures& figures = all[p].cases[trip];
        const std::array<std::string, 4> rows = {
            fmt::format("{} of {} runs passed", figures.passed, figures.runs),
            fmt::format("{:.2f} s, {:.0f} mm/s in the mean", figures.time_s.mean, figures.mean_mm_s.mean),
            fmt::format("{:.1f} mm aside, farthest {:.0f} mm", figures.aside_mm.mean, figures.farthest_mm.mean),
            all[p].cases.size() > 1 ? fmt::format("of all trips {} of {} passed", all[p].passed, all[p].runs) : ""};
        for (const std::string& row : rows) {
            y += 18.0;
            canvas.text({x + 36.0, y}, row, {12.0, ink::faint});
        }
        y += 28.0;
    }
}

} // namespace

std::string draw_comparison(const std::vector<TripCase>& cases, const std::vector<PilotFigures>& all, std::size_t trip,
                            PictureFormat format) {
    const Scene& scene = *cases[trip].scene;
    return draw_page(format, [&](Canvas& canvas) {
        canvas.text(
            {page_margin, 36.0},
            fmt::format("{}: {} plans over trip \"{}\"", scene.course().name, all.size(), cases[trip].trip.name),
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
        draw_names(canvas, all, trip);
        OffsetPlot(canvas, scene, all, trip).draw();
    });
}

} // namespace vast_turn
