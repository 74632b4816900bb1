#include "course/graph/line_judge.hpp"

#include <algorithm>
#include <cmath>
#include <numeric>

#include "course/floor/cell_runs.hpp"
#include "course/graph/dark_areas.hpp"
#include "course/graph/equal_box.hpp"
#include "course/graph/pads.hpp"
#include "course/graph/thick_part.hpp"
#include "course/graph/width_histogram.hpp"

namespace vast_turn {

namespace {

/// What is measured of cells that hang together.
struct Shape {
    double area_mm2 = 0.0;
    double depth_sum_mm = 0.0; ///< over its cells
    double deepest_mm = 0.0;
    PointBox box;
    Moments moments;
    double width_mm = 0.0;
    bool taken_in = false; ///< the course says that it is line

    bool is_longer_than(double widths) const { return area_mm2 > widths * width_mm * width_mm; }
};

bool touches(const LineMask& mask, const CellRun& run, const std::vector<Area>& areas) {
    const Vec2 from = mask.middle(run.from, run.row);
    const Vec2 to = mask.middle(run.behind - 1, run.row);
    return std::any_of(areas.begin(), areas.end(), [&](const Area& area) {
        return from.y >= area.from.y && from.y <= area.to.y && to.x >= area.from.x && from.x <= area.to.x;
    });
}

std::vector<Shape> measured(const CellRuns& found, const LineMask& mask, const std::vector<std::uint8_t>& deep,
                            const std::vector<Area>& taken_in) {
    std::vector<Shape> shapes(found.shapes);
    const double cell = mask.cell_mm;
    const Vec2 half{0.5 * cell, 0.5 * cell};
    for (const CellRun& run : found.runs) {
        Shape& shape = shapes[run.shape];
        shape.taken_in = shape.taken_in || touches(mask, run, taken_in);
        for (int column = run.from; column < run.behind; ++column) {
            const double depth = (deep[mask.index(column, run.row)] / 3.0 - 0.5) * cell;
            shape.moments.add(column, run.row);
            shape.depth_sum_mm += depth;
            shape.deepest_mm = std::max(shape.deepest_mm, depth);
        }
        shape.area_mm2 += (run.behind - run.from) * cell * cell;
        shape.box.add(mask.middle(run.from, run.row) - half);
        shape.box.add(mask.middle(run.behind - 1, run.row) + half);
    }
    for (Shape& shape : shapes) {
        shape.width_mm = 4.0 * shape.depth_sum_mm * cell * cell / shape.area_mm2;
    }
    return shapes;
}

constexpr double narrower = 0.7;
constexpr double wider = 1.6;

bool fits(double width, double wanted) { return width > narrower * wanted && width < wider * wanted; }

/// Whether a short shape is about as wide all over as where it is widest: the head of an arrow that has the line's
/// width makes no line of its thin shaft. Nor is a head by itself one, nor one with a short shaft: a triangle has 0.75
/// of the area that a strip of its moments has, however it stands, a round dot 1.1.
bool is_even(const Shape& shape, double cell_mm) {
    const double widest = 2.0 * shape.deepest_mm;
    const double strip_mm = shape.area_mm2 / widest; // as long as a strip so wide would be
    constexpr double part = 0.7;
    const double long_mm = length(shape.box.size()) - widest; // of a strip at any angle, or less
    if (strip_mm <= part * long_mm) {
        return false;
    }
    constexpr double so_short = 2.5; // what is longer may be bent, which takes from its area too
    if (strip_mm > so_short * widest) {
        return true;
    }
    const EqualBox box = equal_box(shape.moments, cell_mm);
    const double filled = shape.area_mm2 / (box.length_mm * box.across_mm);
    const double tapers = shape.width_mm / (widest * (1.0 - widest / (3.0 * strip_mm))); // of a strip it is 1
    constexpr double hardly_filled = 0.89;
    constexpr double less_filled = 0.94;
    constexpr double clearly_tapers = 0.85;
    return filled > less_filled || (filled > hardly_filled && tapers > clearly_tapers);
}

/// Whether it is short, but one of several of a size.
bool is_dash(const Shape& shape, const std::vector<Shape>& shapes) {
    constexpr double least_long = 1.2;
    constexpr double alike = 0.08;
    constexpr std::size_t many = 4;
    constexpr std::size_t most = 2000; // of noise there are millions
    constexpr double straight = 0.7;   // letters of a word are alike too, but curled up
    if (shapes.size() > most || !shape.is_longer_than(least_long) ||
        length(shape.box.size()) < straight * shape.area_mm2 / shape.width_mm) {
        return false;
    }
    return static_cast<std::size_t>(std::count_if(shapes.begin(), shapes.end(), [&](const Shape& other) {
               return std::abs(other.area_mm2 - shape.area_mm2) < alike * shape.area_mm2 &&
                      std::abs(other.width_mm - shape.width_mm) < alike * shape.width_mm;
           })) >= many;
}

/// Whether it tells how wide lines are: a dash, or what is long and reaches that far.
bool counts(const Shape& shape, const std::vector<Shape>& shapes, double least_reach_mm) {
    constexpr double least_long = 6.0;
    return (shape.is_longer_than(least_long) && shape.box.longer_side() > least_reach_mm) || is_dash(shape, shapes);
}

/// The width of most, and others that have much area beside it: of what reaches as far as a fifth of the farthest line,
/// since large letters are long for their strokes, but not on the floor.
void add_further_widths(const std::vector<Shape>& shapes, const WidthHistogram& all, std::size_t best,
                        std::vector<double>& widths) {
    double farthest = 0.0;
    for (const Shape& shape : shapes) {
        farthest = std::max(farthest, fits(shape.width_mm, all.width_mm(best)) ? shape.box.longer_side() : 0.0);
    }
    WidthHistogram area;
    for (const Shape& shape : shapes) {
        constexpr double of_farthest = 0.2;
        if (counts(shape, shapes, of_farthest * farthest)) {
            area.add(shape.width_mm, shape.area_mm2);
        }
    }
    constexpr double second = 0.25;
    for (std::size_t i = 0; i < all.size(); ++i) {
        if (i == best || (all.at(i) > 0.0 && area.round(i) > second * all.round(best) && area.at(i) > 0.0)) {
            widths.push_back(all.width_mm(i));
        }
    }
}

/// The widths that lines have.
std::vector<double> widths_of_lines(const Course& course, const std::vector<Shape>& shapes) {
    std::vector<double> widths = course.line_widths_mm;
    for (const Tape& tape : course.tapes) {
        if (!tape.drawn && !is_pad(course, tape) &&
            std::find(widths.begin(), widths.end(), tape.width_mm) == widths.end()) {
            widths.push_back(tape.width_mm);
        }
    }
    if (!course.line_widths_mm.empty()) {
        return widths;
    }
    WidthHistogram area; // of long shapes by their width
    for (const Shape& shape : shapes) {
        if (counts(shape, shapes, 0.0)) {
            area.add(shape.width_mm, shape.area_mm2);
        }
    }
    constexpr std::size_t seldom = 2; // strokes of less than 7 mm are seldom tape: they count when nothing else is long
    area.leave_out_first(seldom);
    const std::size_t best = area.best();
    if (area.round(best) <= 0.0) {
        return {}; // nothing is long: whatever there is may be line
    }
    add_further_widths(shapes, area, best, widths);
    return widths;
}

NotLine told(const Shape& shape, double usual) {
    const double high = shape.box.longer_side();
    constexpr double glyph = 5.0; // widths
    const NotLineKind kind = shape.width_mm > usual         ? NotLineKind::dark_area
                             : high <= 2.0 * shape.width_mm ? NotLineKind::speck
                             : high < std::max(90.0, glyph * usual) && !shape.is_longer_than(60)
                                 ? NotLineKind::lettering
                                 : NotLineKind::thin_line;
    return not_line(kind, shape.box);
}

Vec2 low_of(const NotLine& it) { return it.at - 0.5 * it.size_mm; }
Vec2 high_of(const NotLine& it) { return it.at + 0.5 * it.size_mm; }

bool are_near(const NotLine& a, const NotLine& b) {
    const auto larger = [](const NotLine& it) { return std::max(it.size_mm.x, it.size_mm.y); };
    const double room = 0.7 * std::min({larger(a), larger(b), 80.0});
    return std::abs(a.at.x - b.at.x) < 0.5 * (a.size_mm.x + b.size_mm.x) + room &&
           std::abs(a.at.y - b.at.y) < 0.5 * (a.size_mm.y + b.size_mm.y) + room;
}

/// Letters of a word, bars of a grating: like things side by side are one.
std::vector<NotLine> grouped(const std::vector<NotLine>& list) {
    std::vector<std::uint32_t> parent(list.size());
    std::iota(parent.begin(), parent.end(), 0U);
    for (std::size_t i = 0; i < list.size(); ++i) {
        for (std::size_t k = i + 1; k < list.size(); ++k) {
            if (list[k].kind == list[i].kind && list[i].kind != NotLineKind::dark_area && are_near(list[i], list[k])) {
                cell_runs::unite(parent, static_cast<std::uint32_t>(i), static_cast<std::uint32_t>(k));
            }
        }
    }
    std::vector<NotLine> out;
    std::vector<std::size_t> place(list.size());
    for (std::size_t i = 0; i < list.size(); ++i) {
        const std::size_t root = cell_runs::root(parent, static_cast<std::uint32_t>(i));
        if (root == i) {
            place[i] = out.size();
            out.push_back(list[i]);
            continue;
        }
        join_into(out[place[root]], list[i]);
    }
    return out;
}

} // namespace

NotLine not_line(NotLineKind kind, const PointBox& box) {
    NotLine it;
    it.kind = kind;
    it.at = box.middle();
    it.size_mm = box.size();
    return it;
}

void join_into(NotLine& whole, const NotLine& part) {
    PointBox box{low_of(whole), high_of(whole)};
    box.add(low_of(part));
    box.add(high_of(part));
    whole.at = box.middle();
    whole.size_mm = box.size();
    whole.pieces += part.pieces;
}

std::vector<NotLine> take_out_what_is_no_line(LineMask& mask, std::vector<std::uint8_t>& deep, const Course& course) {
    const double line_mm = course.line_widths_mm.empty()
                               ? usual_width(mask, deep)
                               : *std::max_element(course.line_widths_mm.begin(), course.line_widths_mm.end());
    std::vector<NotLine> list;
    if (line_mm > 0.0) {
        list = take_off_dark_areas(mask, deep, line_mm, course.line_hints.take_in);
    }
    const CellRuns found = runs_of(mask.columns, mask.rows, [&](std::size_t at) { return deep[at] != 0; });
    const std::vector<Shape> shapes = measured(found, mask, deep, course.line_hints.take_in);
    const std::vector<double> widths = widths_of_lines(course, shapes);
    if (widths.empty()) {
        return list;
    }
    const double usual = *std::max_element(widths.begin(), widths.end());
    std::vector<char> is_line(shapes.size(), 1);
    int frames = 0;
    for (std::size_t i = 0; i < shapes.size(); ++i) {
        const Shape& shape = shapes[i];
        constexpr double is_long = 6.0; // what is short has the width of a line all over
        const bool line = std::any_of(widths.begin(), widths.end(), [&](double wanted) {
            return fits(shape.width_mm, wanted) &&
                   (shape.is_longer_than(is_long) ||
                    (2.0 * shape.deepest_mm < 1.35 * wanted && is_even(shape, mask.cell_mm)));
        });
        if (!line && !shape.taken_in) {
            is_line[i] = 0;
            constexpr double dust_mm = 4.0;
            if (shape.box.longer_side() > dust_mm) {
                list.push_back(told(shape, usual));
            }
            const auto thick = std::find_if(widths.begin(), widths.end(), [&](double wanted) {
                constexpr double whole = 0.9; // a frame of strokes nearly as wide as the line is none
                return shape.width_mm < narrower * wanted && 2.0 * shape.deepest_mm > whole * wanted &&
                       2.0 * shape.deepest_mm < wider * wanted;
            });
            constexpr int most_frames = 200; // each costs a look at all cells
            if (thick != widths.end() && shape.area_mm2 > 4.0 * *thick * *thick && ++frames <= most_frames &&
                keep_thick_part(mask, deep, found, static_cast<std::uint32_t>(i), *thick)) {
                is_line[i] = 1;
            }
        }
    }
    for (const CellRun& run : found.runs) {
        if (is_line[run.shape] == 0) {
            const auto at = static_cast<std::ptrdiff_t>(mask.index(run.from, run.row));
            std::fill_n(mask.line.begin() + at, run.behind - run.from, std::uint8_t{0});
            std::fill_n(deep.begin() + at, run.behind - run.from, std::uint8_t{0});
        }
    }
    // Of noise there are millions, and nobody reads them.
    if (list.size() > most_not_lines) {
        std::stable_sort(list.begin(), list.end(), [](const NotLine& a, const NotLine& b) {
            return a.size_mm.x * a.size_mm.y > b.size_mm.x * b.size_mm.y;
        });
        list.resize(most_not_lines);
    }
    return grouped(list);
}

bool is_hollow(const NotLine& it) {
    constexpr double large_mm = 100.0;
    return it.kind == NotLineKind::thin_line && it.size_mm.x > large_mm && it.size_mm.y > large_mm;
}

void measure_from_lines(RouteGraph& graph) {
    constexpr double far_mm = 200.0;
    for (NotLine& it : graph.not_lines) {
        if (is_hollow(it)) {
            continue; // its box says nothing of where it is
        }
        const Vec2 low = low_of(it);
        const Vec2 high = high_of(it);
        double nearest = far_mm;
        for (const Stretch& stretch : graph.stretches) {
            constexpr std::size_t step = 4; // points are 2 mm apart
            for (std::size_t i = 0; i < stretch.path.size(); i += step) {
                const Vec2 p = stretch.path[i];
                const double x = std::max({low.x - p.x, 0.0, p.x - high.x});
                const double y = std::max({low.y - p.y, 0.0, p.y - high.y});
                if (x < nearest && y < nearest) {
                    nearest = std::min(nearest, std::hypot(x, y));
                }
            }
        }
        if (nearest < far_mm) {
            it.from_line_mm = nearest;
        }
    }
}

} // namespace vast_turn
