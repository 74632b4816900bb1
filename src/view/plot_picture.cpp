#include "vast_turn/view/plot_picture.hpp"

#include <algorithm>
#include <cassert>
#include <cmath>

#include <fmt/format.h>

#include "view/canvas.hpp"

namespace vast_turn {

namespace {

constexpr double plots_head = 100.0;
constexpr double plots_left = page_margin + 62.0;
constexpr double plots_right = page_width - page_margin;
constexpr double plots_foot = page_height - 52.0;

/// From the least to the greatest, with some room, and never nothing.
struct Span {
    double low = 0.0;
    double high = 1.0;

    double part(double v) const { return (v - low) / (high - low); }
};

Span span_of(const PlotPanel& panel) {
    if (panel.is_condition) {
        return {-0.15, 1.15};
    }
    double low = HUGE_VAL;
    double high = -HUGE_VAL;
    for (const PlotCurve& curve : panel.curves) {
        for (const double y : curve.y) {
            low = std::min(low, y);
            high = std::max(high, y);
        }
    }
    if (!(low <= high)) {
        return {};
    }
    const double room = std::max(0.06 * (high - low), 1e-6 + 1e-3 * std::abs(high));
    return {low - room, high + room};
}

Span axis_of(const PlotPage& page) {
    Span all{0.0, 0.0};
    for (const PlotPanel& panel : page.panels) {
        for (const PlotCurve& curve : panel.curves) {
            if (!curve.x.empty()) {
                all.low = std::min(all.low, curve.x.front());
                all.high = std::max(all.high, curve.x.back());
            }
        }
    }
    return {all.low, all.high > all.low ? all.high : all.low + 1.0};
}

/// The whole multiples of a step within a span.
std::vector<double> steps_in(const Span& span, double step) {
    std::vector<double> list;
    const auto last = static_cast<long>(std::floor(span.high / step));
    for (auto k = static_cast<long>(std::ceil(span.low / step)); k <= last; ++k) {
        list.push_back(static_cast<double>(k) * step);
    }
    return list;
}

/// In each pixel of the page the first, the least, the greatest and the last value.
std::vector<Vec2> thinned_curve(const std::vector<Vec2>& points) {
    std::vector<Vec2> out;
    for (std::size_t i = 0; i < points.size();) {
        std::size_t end = i;
        std::size_t least = i;
        std::size_t greatest = i;
        for (; end < points.size() && std::floor(points[end].x) <= std::floor(points[i].x); ++end) {
            least = points[end].y < points[least].y ? end : least;
            greatest = points[end].y > points[greatest].y ? end : greatest;
        }
        const auto [first, second] = std::minmax(least, greatest);
        for (const std::size_t k : {i, first, second, end - 1}) {
            if (out.empty() || !(out.back() == points[k])) {
                out.push_back(points[k]);
            }
        }
        i = end;
    }
    return out;
}

class Panels {
public:
    Panels(Canvas& canvas, const PlotPage& page) : canvas_(canvas), page_(page), axis_(axis_of(page)) {
        height_ = (plots_foot - plots_head) / static_cast<double>(page.panels.size());
    }

    void draw() {
        const double step = round_step((axis_.high - axis_.low) / 6.0);
        for (std::size_t k = 0; k < page_.panels.size(); ++k) {
            top_ = plots_head + height_ * static_cast<double>(k) + 22.0;
            bottom_ = plots_head + height_ * static_cast<double>(k + 1) - 6.0;
            draw_panel(page_.panels[k], step);
        }
        for (const double x : steps_in(axis_, step)) {
            canvas_.text({across(x), plots_foot + 14.0}, fmt::format("{:g}", x), {12.0, ink::faint, Align::middle});
        }
        canvas_.text({plots_right, plots_foot + 34.0}, page_.axis, {13.0, ink::text, Align::right});
    }

private:
    double across(double x) const { return plots_left + (plots_right - plots_left) * axis_.part(x); }

    void draw_panel(const PlotPanel& panel, double step) {
        const Span span = span_of(panel);
        const auto down = [&](double y) { return bottom_ - (bottom_ - top_) * span.part(y); };
        canvas_.text({plots_left, top_ - 7.0},
                     panel.name + (panel.unit.empty() ? std::string() : fmt::format(", {}", panel.unit)),
                     {13.0, ink::text, Align::left, true});
        for (const double x : steps_in(axis_, step)) {
            canvas_.line({{across(x), top_}, {across(x), bottom_}}, {ink::faint.colour, 0.25}, 1.0);
        }
        const double rung =
            panel.is_condition ? 1.0 : round_step((span.high - span.low) / (height_ > 150.0 ? 4.0 : 2.0));
        for (const double y : steps_in(span, rung)) {
            canvas_.line({{plots_left, down(y)}, {plots_right, down(y)}}, {ink::faint.colour, 0.25}, 1.0);
            canvas_.text({plots_left - 8.0, down(y) + 4.0},
                         panel.is_condition ? (y > 0.5 ? "true" : "false") : fmt::format("{:.6g}", y),
                         {11.5, ink::faint, Align::right});
        }
        canvas_.frame({plots_left, top_}, {plots_right - plots_left, bottom_ - top_}, ink::faint, 1.0);
        for (std::size_t r = 0; r < panel.curves.size(); ++r) {
            const PlotCurve& curve = panel.curves[r];
            std::vector<Vec2> points;
            for (std::size_t i = 0; i < curve.y.size(); ++i) {
                if (panel.is_condition && i > 0) { // it holds from look to look
                    points.push_back({across(curve.x[i]), down(curve.y[i - 1])});
                }
                points.push_back({across(curve.x[i]), down(curve.y[i])});
            }
            points = thinned_curve(points);
            if (points.size() > 1) {
                canvas_.line(points, series_ink(r), r == 0 ? 1.8 : 1.5, r % 2 == 1);
            }
        }
    }

    Canvas& canvas_;
    const PlotPage& page_;
    Span axis_;
    double height_ = 0.0;
    double top_ = 0.0;
    double bottom_ = 0.0;
};

void draw_run_names(Canvas& canvas, const std::vector<PlotCurve>& curves) {
    double x = plots_left;
    constexpr double y = 86.0;
    for (std::size_t r = 0; r < curves.size() && curves.size() > 1; ++r) {
        const double width = canvas.text_width(curves[r].name, {13.0});
        const double more = r + 1 < curves.size() ? 90.0 : 0.0; // room to say how many are left out
        if (x + width + 44.0 + more > plots_right) {
            canvas.text({x, y}, fmt::format("and {} more", curves.size() - r), {13.0, ink::faint});
            return;
        }
        canvas.line({{x, y - 4.0}, {x + 30.0, y - 4.0}}, series_ink(r), 2.4, r % 2 == 1);
        canvas.text({x + 38.0, y}, curves[r].name, {13.0});
        x += width + 64.0;
    }
}

} // namespace

std::string draw_plot(const PlotPage& page, PictureFormat format) {
    assert(!page.panels.empty());
    return draw_page(format, [&](Canvas& canvas) {
        draw_heading(canvas, page.title, page.about);
        draw_run_names(canvas, page.panels.front().curves);
        Panels(canvas, page).draw();
    });
}

} // namespace vast_turn
