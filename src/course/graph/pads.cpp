#include "course/graph/pads.hpp"

#include <algorithm>
#include <cmath>

#include "course/graph/skeleton_graph.hpp"

namespace vast_turn {

bool is_pad(const Course& course, const Tape& tape) {
    constexpr double wider_than_lines = 2.2;
    constexpr double long_as_line = 1.6; // widths
    const std::vector<double>& lines = course.line_widths_mm;
    if (tape.drawn || tape.closed || lines.empty() ||
        tape.width_mm < wider_than_lines * *std::max_element(lines.begin(), lines.end())) {
        return false;
    }
    return length_of(tape.path) < long_as_line * tape.width_mm;
}

bool covers(const Tape& tape, Vec2 p, double beside_mm) {
    for (std::size_t i = 1; i < tape.path.size(); ++i) {
        const Vec2 from = tape.path[i - 1];
        const double long_mm = length(tape.path[i] - from);
        const Vec2 along = 1.0 / std::max(1e-9, long_mm) * (tape.path[i] - from);
        const double on = dot(p - from, along);
        if (on > -beside_mm && on < long_mm + beside_mm &&
            std::abs(cross(along, p - from)) < 0.5 * tape.width_mm + beside_mm) {
            return true;
        }
    }
    return false;
}

double widest_line_beside_pads(const Course& course) {
    double widest = 0.0;
    bool any = false;
    for (const Tape& tape : course.tapes) {
        const bool pad = is_pad(course, tape);
        any = any || pad;
        widest = pad ? widest : std::max(widest, tape.width_mm);
    }
    return any ? widest : 0.0;
}

} // namespace vast_turn
