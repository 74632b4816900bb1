#include "vast_turn/view/log_picture.hpp"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "vast_turn/plan/explain/describe.hpp"
#include "view/board.hpp"

namespace vast_turn {

namespace {

constexpr double log_head = 74.0;
constexpr double times_height = 170.0;

std::vector<Vec2> path_on(const Board& board, const Run& run, std::size_t from, std::size_t to) {
    std::vector<Vec2> path;
    for (std::size_t i = from; i < std::min(to, run.looks.size()); ++i) {
        path.push_back(board.on_page(run.looks[i].at));
    }
    return path;
}

void draw_ways(Canvas& canvas, Board& board, const LogComparison& log) {
    const std::vector<Vec2> ideal = path_on(board, log.ideal, 0, log.ideal.looks.size());
    const std::size_t lost = log.way.lost.value_or(log.recorded.looks.size());
    const std::vector<Vec2> own = path_on(board, log.recorded, 0, lost);
    board.keep_clear(own);
    board.keep_clear(ideal);
    if (own.size() > 1) {
        canvas.line(own, {ink::paper.colour, 0.85}, 8.0);
        canvas.line(own, series_ink(0), 4.6);
        canvas.dot(own.back(), 6.0, series_ink(0));
    }
    if (ideal.size() > 1) {
        canvas.line(ideal, series_ink(1), 2.2);
        canvas.dot(ideal.back(), 4.0, series_ink(1));
    }
    const std::vector<Vec2> behind = path_on(board, log.recorded, lost, log.recorded.looks.size());
    if (behind.size() > 1) {
        canvas.line(behind, {ink::faint.colour, 0.6}, 1.5, true);
    }
}

void draw_marks(Canvas& canvas, Board& board, const LogComparison& log) {
    for (std::size_t m = 0; m < log.marks.size(); ++m) {
        const Vec2 at = board.on_page(log.marks[m].at);
        canvas.dot(at, 3.6, ink::text);
        board.label_if_room(canvas, at, 10.0, fmt::format("{}", m + 1),
                            {11.0, ink::text, Align::left, false, false, true});
    }
    if (log.parting) {
        const std::size_t look = log.parting->look.value_or(log.marks.empty() ? 0 : log.marks[log.parting->mark].look);
        const Vec2 at = board.on_page(log.recorded.looks[look].at);
        canvas.dot(at, 8.0, {ink::alarm.colour, 0.5});
        board.label(canvas, at, 14.0, "here they part", {14.0, ink::alarm, Align::left, true, false, true});
    }
    if (log.way.lost) {
        const Vec2 at = board.on_page(log.recorded.looks[*log.way.lost].at);
        board.label(canvas, at, 14.0, "from here on it is not to be found",
                    {14.0, ink::alarm, Align::left, true, false, true});
    }
}

/// How much later than the quickest day: a band for the days, lines for both runs.
void draw_times(Canvas& canvas, const LogComparison& log) {
    const double from_x = page_margin + 46.0;
    const double to_x = page_width - page_margin;
    const double base = page_height - 36.0;
    const double ceiling = base - times_height + 30.0;
    double most = 0.05;
    double longest = 1.0;
    for (const LogMark& mark : log.marks) {
        if (mark.days > 0) {
            most = std::max({most, mark.most_s - mark.least_s, mark.log_s - mark.least_s, mark.least_s - mark.log_s});
        }
        longest = std::max(longest, mark.way_mm);
    }
    most = std::min(most, 4.0);
    const auto place = [&](double way_mm, double late_s) {
        return Vec2{from_x + (to_x - from_x) * way_mm / longest,
                    base - (base - ceiling) * (0.2 + 0.75 * std::clamp(late_s / most, -0.25, 1.05))};
    };
    canvas.text({from_x, ceiling - 12.0},
                "How much later than the quickest day it came to each place, s, against the log's way, mm",
                {13.0, ink::text});
    const double step = round_step(longest / 6.0);
    for (int i = 0; i * step <= longest; ++i) {
        const double x = place(i * step, 0.0).x;
        canvas.line({{x, ceiling}, {x, base}}, {ink::faint.colour, 0.3}, 1.0);
        canvas.text({x, base + 16.0}, fmt::format("{:g}", i * step), {12.0, ink::faint, Align::middle});
    }
    const double rung = round_step(most);
    for (const double at : {0.0, rung}) {
        const double y = place(0.0, at).y;
        canvas.line({{from_x, y}, {to_x, y}}, {ink::faint.colour, 0.5}, 1.0);
        canvas.text({from_x - 8.0, y + 4.0}, fmt::format("{:g}", at), {12.0, ink::faint, Align::right});
    }
    std::vector<Vec2> band;
    std::vector<Vec2> own;
    std::vector<Vec2> ideal;
    for (const LogMark& mark : log.marks) {
        if (mark.days > 0) {
            band.push_back(place(mark.way_mm, mark.most_s - mark.least_s));
            own.push_back(place(mark.way_mm, mark.log_s - mark.least_s));
            if (mark.ideal_s) {
                ideal.push_back(place(mark.way_mm, *mark.ideal_s - mark.least_s));
            }
        }
    }
    for (auto mark = log.marks.rbegin(); mark != log.marks.rend(); ++mark) {
        if (mark->days > 0) {
            band.push_back(place(mark->way_mm, 0.0));
        }
    }
    if (own.size() > 1) {
        canvas.polygon(band, {ink::faint.colour, 0.25});
        canvas.line(own, series_ink(0), 3.0);
    }
    if (ideal.size() > 1) {
        canvas.line(ideal, series_ink(1), 1.8);
    }
    canvas.frame({from_x, ceiling}, {to_x - from_x, base - ceiling}, ink::faint, 1.0);
}

void draw_legend(Canvas& canvas, const Plan& plan, const LogComparison& log) {
    const double x = page_width - 320.0;
    double y = log_head + 20.0;
    const auto row = [&](const std::string& words) {
        canvas.text({x + 36.0, y}, canvas.fitted(words, 270.0, {12.0, ink::faint}), {12.0, ink::faint});
        y += 18.0;
    };
    const auto head = [&](std::size_t series, double width, const std::string& words) {
        canvas.line({{x, y - 5.0}, {x + 26.0, y - 5.0}}, series_ink(series), width);
        canvas.text({x + 36.0, y}, words, {13.5, ink::text, Align::left, true});
        y += 18.0;
    };
    head(0, 5.0, "the log");
    row(fmt::format("{:.2f} s, {} looks, {:.0f} mm", log.recorded.time_s, log.recorded.looks.size(),
                    log.recorded.way_mm));
    row(fmt::format("by {}", words_of(log.way.by)));
    row(fmt::format("{:.1f} % of what it saw is so here", 100.0 * log.way.alike));
    y += 12.0;
    head(1, 2.2, "the map, on an ideal day");
    row(fmt::format("{} at {:.2f} s", name_of(log.ideal.ending), log.ideal.time_s));
    y += 12.0;
    canvas.polygon({{x, y - 12.0}, {x + 26.0, y - 12.0}, {x + 26.0, y}, {x, y}}, {ink::faint.colour, 0.25});
    canvas.text({x + 36.0, y}, fmt::format("{} days", log.days), {13.5, ink::text, Align::left, true});
    y += 18.0;
    row(fmt::format("{} went the log's whole way", log.same_way));
    row(fmt::format("at {} of {} places it was in their time", log.in_time, log.timed));
    if (log.parting && log.parting->look) {
        y += 12.0;
        canvas.text({x, y}, "Where they part", {13.5, ink::alarm, Align::left, true});
        y += 18.0;
        const LookRecord& own = log.recorded.looks[*log.parting->look];
        const LookRecord& map = log.ideal.looks[log.parting->ideal_look];
        const auto acts = [&](const LookRecord& look) {
            return look.rule == no_rule ? std::string("no rule") : describe_rule(plan, look.rule);
        };
        row(fmt::format("log, {:.2f} s: {}", own.t_s, acts(own)));
        row(log.parting->did_otherwise
                ? fmt::format("but it did left {:.4g} %, right {:.4g} %", static_cast<double>(own.left_pct),
                              static_cast<double>(own.right_pct))
                : fmt::format("map, {:.2f} s: {}", map.t_s, acts(map)));
    }
}

} // namespace

std::string draw_log(const Scene& scene, const Plan& plan, const LogComparison& log, PictureFormat format) {
    return draw_page(format, [&](Canvas& canvas) {
        canvas.text(
            {page_margin, 36.0},
            fmt::format("{}: a recorded run of {}, and what the map said", scene.course().name, scene.robot().name),
            {20.0, ink::text, Align::left, true});
        canvas.text({page_margin, 60.0}, fmt::format("plan \"{}\", from {}", plan.name(), log.way.start),
                    {13.0, ink::faint});
        Board board(
            scene.course(), {page_margin, log_head},
            {page_width - 350.0 - 2.0 * page_margin, page_height - log_head - times_height - 2.0 * page_margin});
        board.draw_surface(canvas);
        board.draw_things(canvas);
        board.draw_places(canvas, true);
        draw_ways(canvas, board, log);
        draw_marks(canvas, board, log);
        board.draw_scale(canvas);
        draw_legend(canvas, plan, log);
        draw_times(canvas, log);
    });
}

} // namespace vast_turn
