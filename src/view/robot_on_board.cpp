#include "view/robot_on_board.hpp"

namespace vast_turn {

void draw_way(Canvas& canvas, const Board& board, const Run& run, Ink colour) {
    std::vector<Vec2> path;
    for (const LookRecord& look : run.looks) {
        path.push_back(board.on_page(look.at));
    }
    if (path.size() > 1) {
        canvas.line(path, {ink::paper.colour, 0.8}, 7.0);
        canvas.line(path, colour, 3.4);
    }
}

void draw_robot(Canvas& canvas, Board& board, const Scene& scene, const LookRecord& look) {
    const Vec2 ahead = direction(static_cast<double>(look.heading_deg));
    const auto page = [&](Vec2 in_robot) { return board.on_page(from_robot(look.at, ahead, in_robot)); };
    const double half = 0.5 * scene.robot().track_mm;
    constexpr int parts = 12;
    for (int i = 0; i <= parts; ++i) {
        board.keep_clear({page({0.0, half * (2.0 * i / parts - 1.0)})});
    }
    canvas.line({page({0.0, half}), page({0.0, -half})}, ink::text, 5.0);
    canvas.line({page({0.0, 0.0}), page(scene.array_middle())}, ink::text, 2.0);
    const std::vector<LineSensor>& sensors = scene.robot().sensors;
    for (std::size_t i = 0; i < sensors.size(); ++i) {
        const Vec2 at = page(sensors[i].at_mm);
        const double radius = 0.5 * sensors[i].spot_mm * board.scale() + 2.0;
        canvas.dot(at, radius + 2.0, ink::paper);
        if (((look.line_bits >> i) & 1) != 0) {
            canvas.dot(at, radius, ink::alarm);
        } else {
            canvas.circle(at, radius, ink::alarm, 2.0);
        }
    }
}

} // namespace vast_turn
