#include <algorithm>

#include <fmt/format.h>

#include "vast_turn/view/picture.hpp"
#include "view/board.hpp"

namespace vast_turn {

namespace {

constexpr double course_head = 58.0;
constexpr double course_side = 250.0;

constexpr Ink graph_ink{{208, 96, 24}, 1.0};

/// Part of a path, from one distance along it to another.
std::vector<Vec2> part_of(const std::vector<Vec2>& path, double from_mm, double to_mm) {
    std::vector<Vec2> part;
    double done = 0.0;
    for (std::size_t i = 0; i < path.size(); ++i) {
        done += i > 0 ? length(path[i] - path[i - 1]) : 0.0;
        if (done >= from_mm - 1e-6 && done <= to_mm + 1e-6) {
            part.push_back(path[i]);
        }
    }
    return part;
}

/// What was not taken for line is hatched, so that nobody looks for it in the graph.
void draw_not_lines(Canvas& canvas, const Board& board, const RouteGraph& graph) {
    cairo_t* c = canvas.context();
    for (const NotLine& it : graph.not_lines) {
        const Vec2 low = board.on_page(it.at - 0.5 * it.size_mm) - Vec2{2.0, 2.0};
        const Vec2 high = board.on_page(it.at + 0.5 * it.size_mm) + Vec2{2.0, 2.0};
        if (is_hollow(it)) {
            canvas.line({low, {high.x, low.y}, high, {low.x, high.y}, low}, {graph_ink.colour, 0.75}, 1.2, true);
            continue;
        }
        cairo_save(c);
        cairo_rectangle(c, low.x, low.y, high.x - low.x, high.y - low.y);
        cairo_clip(c);
        const double high_px = high.y - low.y;
        constexpr double pitch = 7.0;
        const int strokes = static_cast<int>((high.x - low.x + high_px) / pitch) + 1;
        for (int i = 0; i < strokes; ++i) {
            const double x = low.x - high_px + i * pitch;
            canvas.line({{x, high.y}, {x + high_px, low.y}}, {graph_ink.colour, 0.75}, 1.2);
        }
        cairo_restore(c);
    }
}

void draw_graph(Canvas& canvas, Board& board, const Course& course, const RouteGraph& graph) {
    for (const Stretch& stretch : graph.stretches) {
        for (const Bridge& bridge : stretch.bridges) {
            std::vector<Vec2> way = part_of(stretch.path, bridge.from_mm, bridge.from_mm + bridge.length_mm);
            for (Vec2& p : way) {
                p = board.on_page(p);
            }
            if (way.size() > 1) {
                canvas.line(way, graph_ink, 2.5, true);
            }
        }
    }
    for (const Node& node : graph.nodes) {
        const Vec2 at = board.on_page(node.at);
        if (node.exits.size() > 2) {
            canvas.circle(at, 9.0, graph_ink, 3.0);
        } else {
            canvas.dot(at, 4.0, graph_ink);
        }
        if (course.find_place(node.name) == nullptr) { // else it is written there already
            const bool junction = node.exits.size() > 2;
            board.label(canvas, at, junction ? 14.0 : 8.0, node.name,
                        {junction ? 13.0 : 11.0, graph_ink, Align::left, junction, false, true});
        }
    }
}

/// Lists of what is on the course, as far down as there is room.
void draw_list(Canvas& canvas, const Course& course, const RouteGraph& graph) {
    const double x = page_width - course_side;
    double y = course_head + 24.0;
    const auto fits = [&] { return y < page_height - page_margin; };
    int left_out = 0;
    const auto heading = [&](const std::string& words) {
        if (fits()) {
            canvas.text({x, y}, words, {14.0, ink::text, Align::left, true});
        }
        y += 22.0;
    };
    const auto row = [&](const std::string& left, const std::string& right) {
        if (fits()) {
            canvas.text({x, y}, canvas.fitted(left, 160.0, {13.0}), {13.0});
            canvas.text({page_width - page_margin, y}, right, {12.0, ink::faint, Align::right, false, true});
        } else {
            ++left_out;
        }
        y += 19.0;
    };
    const auto section = [&](const std::string& words, bool any) { // no heading over nothing
        if (any) {
            y += y > course_head + 30.0 ? 12.0 : 0.0;
            heading(words);
        }
    };
    section("Starts", !course.starts.empty());
    for (const StartPose& start : course.starts) {
        row(start.name,
            fmt::format("{:.0f},{:.0f} {:.0f}\u00B0", start.pose.at.x, start.pose.at.y, start.pose.heading_deg));
    }
    section("Places", !course.places.empty());
    for (const CoursePlace& place : course.places) {
        row(place.name, fmt::format("{:.0f},{:.0f}", place.at.x, place.at.y));
    }
    section("Junctions", std::any_of(graph.nodes.begin(), graph.nodes.end(),
                                     [](const Node& node) { return node.exits.size() > 2; }));
    for (const Node& node : graph.nodes) {
        if (node.exits.size() > 2) {
            row(node.name, fmt::format("{} ways", node.exits.size()));
        }
    }
    section("Lines", !graph.stretches.empty());
    for (const Stretch& stretch : graph.stretches) {
        row(graph.node(stretch.from).name + " - " + graph.node(stretch.to).name,
            fmt::format("{:.0f} mm", stretch.length_mm));
    }
    section("Not taken for line", !graph.not_lines.empty());
    for (const NotLine& it : graph.not_lines) {
        row(it.pieces > 1 ? fmt::format("{}, {} pieces", name_of(it.kind), it.pieces) : name_of(it.kind),
            fmt::format("{:.0f},{:.0f}", it.at.x, it.at.y));
    }
    if (left_out > 0) {
        canvas.text({x, page_height - 20.0}, fmt::format("and {} more, listed by vturn map", left_out),
                    {12.0, ink::faint});
    }
}

} // namespace

std::string draw_course(const Course& course, const RouteGraph& graph, PictureFormat format) {
    return draw_page(format, [&](Canvas& canvas) {
        canvas.text({page_margin, 38.0},
                    course.variant == as_drawn ? course.name : fmt::format("{}, {}", course.name, course.variant),
                    {22.0, ink::text, Align::left, true});
        Board board(course, {page_margin, course_head},
                    {page_width - course_side - 2.0 * page_margin, page_height - course_head - 2.0 * page_margin});
        board.draw_surface(canvas);
        board.draw_light(canvas);
        draw_not_lines(canvas, board, graph);
        if (course.board) {
            const Vec2 low = board.on_page(course.board->mm.from);
            const Vec2 high = board.on_page(course.board->mm.to);
            canvas.line({low, {high.x, low.y}, high, {low.x, high.y}, low}, ink::fern, 1.8, true);
        }
        board.draw_things(canvas);
        board.draw_places(canvas, true);
        board.draw_starts(canvas);
        draw_graph(canvas, board, course, graph);
        board.draw_scale(canvas);
        draw_list(canvas, course, graph);
    });
}

} // namespace vast_turn
