#include "vast_turn/view/tuning_picture.hpp"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "view/canvas.hpp"

namespace vast_turn {

namespace {

constexpr double panels_from = 100.0;
constexpr double panels_to = page_height - 70.0;
constexpr Ink grid_line{{214, 216, 208}, 1.0};
constexpr Ink held{{38, 112, 72}, 0.75};

/// Where a panel lies on the page, and which times it shows.
struct Panel {
    Vec2 at;
    Vec2 size;
    double fastest = 0.0;
    double slowest = 1.0;
    static constexpr double strip = 34.0; ///< at the top: places of which no day passed

    double x(double part) const { return at.x + part * size.x; }
    double y(double time_s) const {
        const double part = (time_s - fastest) / (slowest - fastest);
        return at.y + size.y - std::clamp(part, 0.0, 1.0) * (size.y - strip - 8.0);
    }
};

double part_of(const TuneNumber& number, double value) {
    return (value - number.least) / (number.greatest - number.least);
}

/// So many columns that panels are wider than high.
std::size_t columns_for(std::size_t panels) { return panels <= 2 ? panels : panels <= 6 ? 3 : 4; }

void draw_frame(Canvas& canvas, const Panel& panel, const TuneNumber& number, const Axis& axis, bool first) {
    canvas.fill_rect(panel.at, {panel.size.x, Panel::strip}, {{236, 226, 220}, 1.0});
    const double step = round_step((panel.slowest - panel.fastest) / 4.0);
    const int first_line = static_cast<int>(std::ceil(panel.fastest / step));
    const int last_line = static_cast<int>(std::floor(panel.slowest / step));
    for (int i = first_line; i <= last_line; ++i) {
        const double s = i * step;
        canvas.line({{panel.at.x, panel.y(s)}, {panel.at.x + panel.size.x, panel.y(s)}}, grid_line, 1.0);
        if (first) {
            canvas.text({panel.at.x - 8.0, panel.y(s) + 4.0}, fmt::format("{:.4g} s", s),
                        {.size = 12.0, .align = Align::right});
        }
    }
    canvas.frame(panel.at, panel.size, ink::faint, 1.0);
    for (const double part : {0.0, 0.5, 1.0}) {
        canvas.text({panel.x(part), panel.at.y + panel.size.y + 17.0},
                    fmt::format("{:.4g}", number.least + part * (number.greatest - number.least)),
                    {.size = 12.0, .align = Align::middle});
    }
    const std::string unit = axis.unit.empty() ? "" : ", " + axis.unit;
    canvas.text({panel.x(0.5), panel.at.y + panel.size.y + 36.0}, number.name + unit,
                {.align = Align::middle, .bold = true});
}

void draw_tried(Canvas& canvas, const Panel& panel, double part, const TuneTried& it) {
    const Vec2 at{panel.x(part), it.time_s > 0.0 ? panel.y(it.time_s) : panel.at.y + 0.5 * Panel::strip};
    // The longer it was driven, the larger.
    const double radius = 2.5 + std::min(3.5, 0.25 * std::sqrt(static_cast<double>(it.days)));
    if (it.failed == 0 && !it.refuted) {
        canvas.dot(at, radius, held);
    } else {
        canvas.circle(at, radius, ink::alarm, 1.2);
    }
}

void draw_margin(Canvas& canvas, const Panel& panel, const TuneNumber& number, const TuneMargin& margin) {
    const double y = panel.at.y + panel.size.y + 3.0;
    canvas.line({{panel.x(part_of(number, margin.low)), y}, {panel.x(part_of(number, margin.high)), y}}, ink::fern,
                5.0);
}

void draw_legend(Canvas& canvas, const Tuned& tuned) {
    double x = page_margin;
    const double y = page_height - 16.0;
    const auto word = [&](const std::string& words) {
        canvas.text({x + 12.0, y}, words, {.size = 13.0});
        x += 34.0 + canvas.text_width(words, {.size = 13.0});
    };
    canvas.dot({x, y - 4.0}, 5.0, held);
    word("held as far as it was driven");
    canvas.circle({x, y - 4.0}, 5.0, ink::alarm, 1.2);
    word("failed (at the top: on all its days)");
    canvas.circle({x, y - 4.0}, 8.0, ink::text, 1.5, true);
    word("what it was");
    if (tuned.winner) {
        canvas.circle({x, y - 4.0}, 8.0, ink::fern, 3.0);
        word("tuned");
        canvas.line({{x - 8.0, y - 4.0}, {x + 8.0, y - 4.0}}, ink::fern, 5.0);
        word("how far it may go by itself");
    }
}

/// From the fastest to a time that shows most of what held.
std::pair<double, double> times_shown(const Tuned& tuned) {
    std::vector<double> times;
    for (const TuneTried& it : tuned.tried) {
        if (it.time_s > 0.0) {
            times.push_back(it.time_s);
        }
    }
    if (times.empty()) {
        return {0.0, 1.0};
    }
    std::sort(times.begin(), times.end());
    const double fastest = times.front();
    const double slowest = std::max(times[times.size() * 9 / 10], tuned.tried.front().time_s);
    const double room = std::max(0.05 * (slowest - fastest), 0.001 * fastest);
    return {fastest - room, slowest + room};
}

std::string told(const std::vector<Axis>& axes, const TuneAsk& ask, const Tuned& tuned) {
    if (!tuned.winner) {
        return fmt::format("{} places tried in {} runs; none was confirmed", tuned.tried.size(), tuned.runs);
    }
    std::string words = fmt::format("{:.2f} s", tuned.confirmed.time_s);
    if (tuned.start && tuned.start->time_s > 0.0) {
        words += fmt::format(" in place of {:.2f} s", tuned.start->time_s);
    }
    words += " with";
    for (std::size_t k = 0; k < axes.size(); ++k) {
        words += fmt::format(" {}={:.6g}{}", ask.numbers[k].name, tuned.tried[*tuned.winner].at[k], axes[k].unit);
    }
    return words + fmt::format("; {} places tried in {} runs", tuned.tried.size(), tuned.runs);
}

} // namespace

std::string draw_tuning(const std::vector<Axis>& axes, const TuneAsk& ask, const Tuned& tuned, const std::string& title,
                        PictureFormat format) {
    return draw_page(format, [&](Canvas& canvas) {
        draw_heading(canvas, title, told(axes, ask, tuned));
        const std::size_t columns = columns_for(axes.size());
        const std::size_t rows = (axes.size() + columns - 1) / columns;
        const double left = page_margin + 62.0;
        const double wide = (page_width - page_margin - left) / static_cast<double>(columns);
        const double high = (panels_to - panels_from) / static_cast<double>(rows);
        const auto [fastest, slowest] = times_shown(tuned);
        for (std::size_t k = 0; k < axes.size(); ++k) {
            const std::size_t rows_above = k / columns;
            const auto row = static_cast<double>(rows_above);
            const auto column = static_cast<double>(k % columns);
            const Panel panel{
                {left + wide * column, panels_from + high * row}, {wide - 30.0, high - 52.0}, fastest, slowest};
            const TuneNumber& number = ask.numbers[k];
            draw_frame(canvas, panel, number, axes[k], k % columns == 0);
            for (const TuneTried& it : tuned.tried) {
                draw_tried(canvas, panel, part_of(number, it.at[k]), it);
            }
            const auto ring = [&](const TuneTried& it, Ink colour, double width, bool dashed) {
                canvas.circle({panel.x(part_of(number, it.at[k])),
                               it.time_s > 0.0 ? panel.y(it.time_s) : panel.at.y + 0.5 * Panel::strip},
                              9.0, colour, width, dashed);
            };
            ring(tuned.tried.front(), ink::text, 1.5, true);
            if (tuned.winner) {
                ring(tuned.tried[*tuned.winner], ink::fern, 3.0, false);
                if (k < tuned.margins.size()) {
                    draw_margin(canvas, panel, number, tuned.margins[k]);
                }
            }
        }
        draw_legend(canvas, tuned);
    });
}

} // namespace vast_turn
