#include "vast_turn/view/sweep_picture.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <set>

#include <fmt/format.h>

#include "view/canvas.hpp"

namespace vast_turn {

namespace {

constexpr double left_edge = 130.0;
constexpr double right_edge = page_width - 190.0;
constexpr double top_edge = 110.0;
constexpr double bottom_edge = page_height - 90.0;

/// From alarm over sand to fern: none pass, all pass. Lightness rises and falls with it, for eyes that see no colours.
Ink share_ink(double share) {
    const auto mix = [](Rgb a, Rgb b, double part) {
        const auto one = [part](std::uint8_t x, std::uint8_t y) {
            return static_cast<std::uint8_t>(std::lround(x + part * (y - x)));
        };
        return Rgb{one(a.r, b.r), one(a.g, b.g), one(a.b, b.b)};
    };
    constexpr Rgb none{120, 24, 40};
    constexpr Rgb half{226, 176, 110};
    constexpr Rgb all{226, 240, 222};
    return {share < 0.5 ? mix(none, half, 2.0 * share) : mix(half, all, 2.0 * share - 1.0), 1.0};
}

double share_of(const SweepPoint& point) {
    return point.runs > 0 ? static_cast<double>(point.passed) / point.runs : 0.0;
}

std::string name_of_axis(const Axis& axis) {
    return written_name(axis.number) + (axis.unit.empty() ? "" : fmt::format(", {}", axis.unit));
}

/// Values of one axis, in order, and where they lie on the page.
struct Scale {
    std::vector<double> values; // each once
    double from = 0.0;          // on the page
    double to = 1.0;

    double least() const { return values.front(); }
    double most() const { return values.back(); }
    double at(double value) const {
        return values.size() < 2 ? 0.5 * (from + to) : from + (value - least()) / (most() - least()) * (to - from);
    }
    /// The stretch of the page that stands for a value: half way to its neighbours.
    std::pair<double, double> cell(double value) const {
        const auto i = static_cast<std::size_t>(std::lower_bound(values.begin(), values.end(), value) - values.begin());
        const auto count = static_cast<double>(values.size());
        const double part = (to - from) / count;
        return {from + static_cast<double>(i) * part, from + (static_cast<double>(i) + 1.0) * part};
    }
};

Scale scale_of(const std::vector<SweepPoint>& points, std::size_t axis, double from, double to) {
    std::set<double> values;
    for (const SweepPoint& point : points) {
        values.insert(point.at[axis]);
    }
    return {{values.begin(), values.end()}, from, to};
}

/// Of points that differ in further axes alone the one of which most runs pass; of those the fastest.
std::vector<SweepPoint> best_by_two(const std::vector<SweepPoint>& points) {
    std::map<std::pair<double, double>, const SweepPoint*> best;
    for (const SweepPoint& point : points) {
        const SweepPoint*& one = best[{point.at[0], point.at[1]}];
        if (one == nullptr || share_of(point) > share_of(*one) ||
            (share_of(point) == share_of(*one) && point.time_s.mean < one->time_s.mean)) {
            one = &point;
        }
    }
    std::vector<SweepPoint> out;
    for (const auto& [at, point] : best) {
        out.push_back(*point);
    }
    return out;
}

/// A value told at an axis, and where.
struct Told {
    double value = 0.0;
    double at = 0.0;
};

/// Values of a grid in the middle of their cells, as many as have room; of points that lie anywhere round ones.
std::vector<Told> told_values(const Scale& scale, bool is_grid) {
    std::vector<Told> out;
    if (is_grid) {
        for (std::size_t i = 0; i < scale.values.size(); i += 1 + scale.values.size() / 17) {
            const auto [from, to] = scale.cell(scale.values[i]);
            out.push_back({scale.values[i], 0.5 * (from + to)});
        }
        return out;
    }
    const double span = scale.most() - scale.least();
    const double step = span > 0.0 ? round_step(span / 5.0) : 1.0;
    const double first = std::ceil(scale.least() / step - 1e-9);
    for (int i = 0; i <= static_cast<int>(std::floor(scale.most() / step + 1e-9) - first); ++i) {
        const double value = step * (first + i);
        out.push_back({value, scale.at(value)});
    }
    return out;
}

void draw_values(Canvas& canvas, const std::vector<Told>& across) {
    for (const Told& one : across) {
        canvas.text({one.at, bottom_edge + 22.0}, fmt::format("{:.4g}", one.value),
                    {.size = 13.0, .align = Align::middle});
    }
}

void draw_legend(Canvas& canvas, double sure) {
    const double x = right_edge + 40.0;
    for (int i = 0; i <= 100; ++i) {
        canvas.fill_rect({x, top_edge + 24.0 + 2.0 * (100 - i)}, {22.0, 2.5}, share_ink(0.01 * i));
    }
    canvas.text({x, top_edge + 8.0}, "runs that pass", {.size = 13.0});
    for (const int percent : {0, 50, 100}) {
        canvas.text({x + 30.0, top_edge + 30.0 + 2.0 * (100 - percent)}, fmt::format("{} %", percent), {.size = 13.0});
    }
    canvas.frame({x, top_edge + 252.0}, {22.0, 16.0}, ink::fern, 3.0);
    canvas.text({x + 30.0, top_edge + 265.0}, "sure:", {.size = 13.0});
    canvas.text({x, top_edge + 285.0}, fmt::format("in {:g} % at least", 100.0 * sure), {.size = 13.0});
}

/// Two axes on the page, and where what they show is sure.
struct Map {
    Scale across;
    Scale up;
    bool is_grid = false;
    std::set<std::pair<double, double>> sure;

    bool is_sure(const SweepPoint& point) const { return sure.contains({point.at[0], point.at[1]}); }
};

void draw_dot(Canvas& canvas, const Map& map, const SweepPoint& point) {
    const Vec2 at{map.across.at(point.at[0]), map.up.at(point.at[1])};
    canvas.dot(at, 8.0, share_ink(share_of(point)));
    canvas.circle(at, 8.0, map.is_sure(point) ? ink::fern : ink::faint, map.is_sure(point) ? 3.0 : 0.7);
}

void draw_cell(Canvas& canvas, const Map& map, const SweepPoint& point) {
    const auto [x0, x1] = map.across.cell(point.at[0]);
    const auto [y0, y1] = map.up.cell(point.at[1]);
    canvas.fill_rect({x0, y1}, {x1 - x0 + 0.5, y0 - y1 + 0.5}, share_ink(share_of(point)));
    if (x1 - x0 > 44.0 && y0 - y1 > 30.0 && point.passed > 0) {
        canvas.text({0.5 * (x0 + x1), 0.5 * (y0 + y1) + 5.0}, fmt::format("{:.2f} s", point.time_s.mean),
                    {.size = 12.0, .align = Align::middle, .halo = true});
    }
}

/// The sides of sure cells towards what is not sure, or is not there.
void outline_sure(Canvas& canvas, const Map& map) {
    const std::size_t columns = map.across.values.size();
    const std::size_t rows = map.up.values.size();
    const auto is_sure = [&](std::size_t column, std::size_t row) { // beyond the grid numbers are larger than it
        return column < columns && row < rows && map.sure.contains({map.across.values[column], map.up.values[row]});
    };
    for (std::size_t i = 0; i < columns; ++i) {
        for (std::size_t k = 0; k < rows; ++k) {
            if (!is_sure(i, k)) {
                continue;
            }
            const auto [x0, x1] = map.across.cell(map.across.values[i]);
            const auto [y0, y1] = map.up.cell(map.up.values[k]);
            const std::array<std::pair<bool, std::vector<Vec2>>, 4> sides{{{is_sure(i - 1, k), {{x0, y0}, {x0, y1}}},
                                                                           {is_sure(i + 1, k), {{x1, y0}, {x1, y1}}},
                                                                           {is_sure(i, k - 1), {{x0, y0}, {x1, y0}}},
                                                                           {is_sure(i, k + 1), {{x0, y1}, {x1, y1}}}}};
            for (const auto& [goes_on, side] : sides) {
                if (!goes_on) {
                    canvas.line(side, ink::fern, 4.0);
                }
            }
        }
    }
}

void draw_map(Canvas& canvas, const std::vector<Axis>& axes, const std::vector<SweepPoint>& all,
              const SweepWords& words) {
    const std::vector<SweepPoint> points = best_by_two(all);
    Map map{scale_of(points, 0, left_edge, right_edge), scale_of(points, 1, bottom_edge, top_edge), false, {}};
    map.is_grid = map.across.values.size() * map.up.values.size() == points.size();
    for (const SweepPoint& point : points) {
        if (point.runs > 0 && point.share.low >= words.sure) {
            map.sure.insert({point.at[0], point.at[1]});
        }
    }
    canvas.fill_rect({left_edge, top_edge}, {right_edge - left_edge, bottom_edge - top_edge}, {{238, 238, 232}, 1.0});
    for (const SweepPoint& point : points) {
        if (point.runs > 0) { // one that was refused is left as the ground
            map.is_grid ? draw_cell(canvas, map, point) : draw_dot(canvas, map, point);
        }
    }
    if (map.is_grid) {
        outline_sure(canvas, map);
    }
    draw_values(canvas, told_values(map.across, map.is_grid));
    for (const Told& one : told_values(map.up, map.is_grid)) {
        canvas.text({left_edge - 10.0, one.at + 5.0}, fmt::format("{:.4g}", one.value),
                    {.size = 13.0, .align = Align::right});
    }
    canvas.text({0.5 * (left_edge + right_edge), bottom_edge + 50.0}, name_of_axis(axes[0]),
                {.align = Align::middle, .bold = true});
    canvas.text({page_margin, top_edge - 12.0}, name_of_axis(axes[1]), {.bold = true});
    draw_legend(canvas, words.sure);
}

/// Shares with their bounds over one axis, and how long the runs took.
void draw_line(Canvas& canvas, const std::vector<Axis>& axes, const std::vector<SweepPoint>& points,
               const SweepWords& words) {
    const double middle = top_edge + 0.58 * (bottom_edge - top_edge);
    const Scale across = scale_of(points, 0, left_edge + 20.0, right_edge - 20.0);
    const auto y_share = [&](double share) { return middle - share * (middle - top_edge); };
    double slowest = 0.0;
    for (const SweepPoint& point : points) {
        slowest = std::max(slowest, point.time_s.mean + point.time_s.deviation);
    }
    const double step = round_step(std::max(slowest, 1.0) / 2.0);
    const double top_s = step * std::ceil(std::max(slowest, 1.0) / step);
    const double below = middle + 50.0;
    const auto y_time = [&](double s) { return bottom_edge - s / top_s * (bottom_edge - below); };
    for (const double share : {0.0, 0.5, 1.0}) {
        canvas.line({{left_edge, y_share(share)}, {right_edge, y_share(share)}}, {{210, 212, 204}, 1.0}, 1.0);
        canvas.text({left_edge - 10.0, y_share(share) + 5.0}, fmt::format("{:.0f} %", 100.0 * share),
                    {.size = 13.0, .align = Align::right});
    }
    canvas.line({{left_edge, y_share(words.sure)}, {right_edge, y_share(words.sure)}}, ink::fern, 1.2, true);
    canvas.text({right_edge + 10.0, y_share(words.sure) + 5.0}, fmt::format("sure from {:g} % on", 100.0 * words.sure),
                {.size = 13.0, .colour = ink::fern});
    for (int i = 0; i <= static_cast<int>(std::lround(top_s / step)); ++i) {
        const double s = i * step;
        canvas.line({{left_edge, y_time(s)}, {right_edge, y_time(s)}}, {{210, 212, 204}, 1.0}, 1.0);
        canvas.text({left_edge - 10.0, y_time(s) + 5.0}, fmt::format("{:g} s", s),
                    {.size = 13.0, .align = Align::right});
    }
    for (const SweepPoint& point : points) {
        if (point.runs == 0) {
            continue;
        }
        const double x = across.at(point.at[0]);
        const bool is_sure = point.share.low >= words.sure;
        const Ink colour = is_sure ? ink::fern : ink::alarm;
        canvas.line({{x, y_share(point.share.low)}, {x, y_share(point.share.high)}}, colour, 2.0);
        canvas.dot({x, y_share(share_of(point))}, 5.0, colour);
        if (point.passed > 0) {
            canvas.line({{x, y_time(point.time_s.mean - point.time_s.deviation)},
                         {x, y_time(point.time_s.mean + point.time_s.deviation)}},
                        ink::faint, 2.0);
            canvas.dot({x, y_time(point.time_s.mean)}, 4.0, is_sure ? ink::fern : ink::faint);
        }
    }
    std::vector<Told> told;
    for (std::size_t i = 0; i < across.values.size(); i += 1 + across.values.size() / 17) {
        told.push_back({across.values[i], across.at(across.values[i])});
    }
    draw_values(canvas, told);
    canvas.text({page_margin, top_edge - 12.0}, "runs that pass, with the bounds of 95 %", {.bold = true});
    canvas.text({page_margin, below - 14.0}, "time of those, with one standard deviation", {.bold = true});
    canvas.text({0.5 * (left_edge + right_edge), bottom_edge + 50.0}, name_of_axis(axes[0]),
                {.align = Align::middle, .bold = true});
}

} // namespace

std::string draw_sweep(const std::vector<Axis>& axes, const std::vector<SweepPoint>& points, const SweepWords& words,
                       PictureFormat format) {
    return draw_page(format, [&](Canvas& canvas) {
        const std::size_t best = fastest_sure(points, words.sure);
        std::string about = "nothing is sure";
        if (best < points.size()) {
            about = fmt::format("fastest that is sure: {:.2f} s with", points[best].time_s.mean);
            for (std::size_t k = 0; k < axes.size(); ++k) {
                about += fmt::format(" {}={:.4g}{}", written_name(axes[k].number), points[best].at[k], axes[k].unit);
            }
        }
        draw_heading(canvas, words.title, about);
        if (points.empty()) {
            return;
        }
        axes.size() == 1 ? draw_line(canvas, axes, points, words) : draw_map(canvas, axes, points, words);
    });
}

} // namespace vast_turn
