#include "graph.hpp"

#include <cmath>

#include "vast_turn/paint/surface.hpp"

namespace bench {

using namespace vast_turn;

Course grid_board(double width_mm, double height_mm, double apart_mm) {
    Course course;
    course.width_mm = width_mm;
    course.height_mm = height_mm;
    const double rim = 0.4 * apart_mm;
    const auto add = [&](bool across, double at, double size) {
        Tape tape;
        const int pieces = static_cast<int>((size - 2.0 * rim) / 5.0);
        for (int i = 0; i <= pieces; ++i) {
            const double along = rim + (size - 2.0 * rim) * i / pieces;
            const double aside = at + 0.06 * apart_mm * std::sin(along / 71.0);
            tape.path.push_back(across ? Vec2{along, aside} : Vec2{aside, along});
        }
        course.tapes.push_back(tape);
    };
    const auto lines = [&](double size) { return static_cast<int>((size - apart_mm) / apart_mm) + 1; };
    for (int i = 0; i < lines(height_mm); ++i) {
        add(true, (i + 0.7) * apart_mm, width_mm);
    }
    for (int i = 0; i < lines(width_mm); ++i) {
        add(false, (i + 0.7) * apart_mm, height_mm);
    }
    paint_surface(course, 1.0);
    return course;
}

} // namespace bench
