#include <fmt/format.h>

#include "vast_turn/trial/junction_choices.hpp"
#include "vast_turn/view/choices_picture.hpp"
#include "view/board.hpp"

namespace vast_turn {

namespace {

constexpr double choices_head = 74.0;
constexpr double choices_side = 300.0;
constexpr Ink mostly{{214, 128, 16}, 1.0};

Ink sureness(double share) { return share >= 0.95 ? ink::fern : share >= 0.7 ? mostly : ink::alarm; }

/// A point of an arm so far from its node, beside the line: who keeps right passes who comes back.
Vec2 beside(const RouteGraph& graph, const Exit& exit, double far_mm, bool leaving) {
    const Stretch& stretch = graph.stretch(exit.stretch);
    const std::size_t n = stretch.path.size();
    const double want = std::min(far_mm, 0.45 * stretch.length_mm);
    double way = 0.0;
    std::size_t i = 1;
    const auto at = [&](std::size_t k) { return stretch.path[exit.forward ? k : n - 1 - k]; };
    while (i + 1 < n && way < want) {
        way += length(at(i) - at(i - 1));
        ++i;
    }
    const Vec2 d = at(i) - at(i - 1);
    const Vec2 along = (leaving ? 1.0 : -1.0) / std::max(1e-9, length(d)) * d;
    return at(i) + (0.5 * stretch.width_mm + 7.0) * Vec2{-along.y, along.x}; // to its right, y down
}

void draw_arm(Canvas& canvas, const Board& board, const RouteGraph& graph, const Arm& arm) {
    const Node& node = graph.node(arm.node);
    const Ink colour = sureness(arm.share);
    const Vec2 from = beside(graph, node.exit(arm.from), 78.0, false);
    if (arm.usual != ArmEnd::exit) {
        const Vec2 p = board.on_page(from);
        if (arm.usual == ArmEnd::halted) {
            canvas.fill_rect({p.x - 5.0, p.y - 5.0}, {10.0, 10.0}, colour);
        } else {
            canvas.line({{p.x - 5.0, p.y - 5.0}, {p.x + 5.0, p.y + 5.0}}, ink::alarm, 2.5);
            canvas.line({{p.x - 5.0, p.y + 5.0}, {p.x + 5.0, p.y - 5.0}}, ink::alarm, 2.5);
        }
        return;
    }
    const Vec2 to = beside(graph, node.exit(arm.usual_exit), 78.0, true);
    const Vec2 corner = node.at + 0.15 * (0.5 * (from + to) - node.at);
    std::vector<Vec2> curve;
    constexpr int parts = 16;
    for (int i = 0; i <= parts; ++i) {
        const double t = static_cast<double>(i) / parts;
        curve.push_back(board.on_page((1 - t) * (1 - t) * from + 2 * t * (1 - t) * corner + t * t * to));
    }
    canvas.line({curve.begin(), curve.end() - 1}, colour, 2.6);
    canvas.arrow(curve[parts - 3], curve[parts], colour, 2.6);
}

/// The table beside the board, as far down as there is room.
void draw_rows(Canvas& canvas, const RouteGraph& graph, const std::vector<Arm>& arms) {
    const double x = page_width - choices_side;
    double y = choices_head + 14.0;
    canvas.text({x, y}, "At, from: goes", {14.0, ink::text, Align::left, true});
    std::size_t left_out = 0;
    for (const Arm& arm : arms) {
        const Node& node = graph.node(arm.node);
        y += 20.0;
        if (y > page_height - 60.0) {
            ++left_out;
            continue;
        }
        const TextStyle style{12.5};
        canvas.text({x, y},
                    canvas.fitted(fmt::format("{}, {}", node.name, arm_name(graph, arm.node, arm.from)), 160.0, style),
                    style);
        canvas.text({page_width - page_margin, y}, describe(graph, arm), {12.5, sureness(arm.share), Align::right});
    }
    if (left_out > 0) {
        canvas.text({x, page_height - 34.0}, fmt::format("and {} more", left_out), {12.0, ink::faint});
    }
}

} // namespace

std::string draw_choices(const Course& course, const RouteGraph& graph, const std::string& plan,
                         const std::vector<Arm>& arms, PictureFormat format) {
    return draw_page(format, [&](Canvas& canvas) {
        canvas.text({page_margin, 36.0}, fmt::format("{}: what {} does at each junction", course.name, plan),
                    {20.0, ink::text, Align::left, true});
        canvas.text({page_margin, 60.0},
                    "Arrows: green, nearly always; amber, mostly; red, less. A square halts, a cross is lost.",
                    {13.0, ink::faint});
        Board board(course, {page_margin, choices_head},
                    {page_width - choices_side - 2.0 * page_margin, page_height - choices_head - 2.0 * page_margin});
        board.draw_surface(canvas);
        board.draw_things(canvas);
        board.draw_starts(canvas);
        for (const Arm& arm : arms) {
            draw_arm(canvas, board, graph, arm);
        }
        for (const Node& node : graph.nodes) {
            board.label(canvas, board.on_page(node.at), 26.0, node.name,
                        {12.0, ink::text, Align::left, true, false, true});
        }
        board.draw_scale(canvas);
        draw_rows(canvas, graph, arms);
    });
}

} // namespace vast_turn
