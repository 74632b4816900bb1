#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "print/print.hpp"

namespace vturn {

using namespace vast_turn;

namespace {

std::string words(Rgb c) { return fmt::format("\"#{:02X}{:02X}{:02X}\"", c.r, c.g, c.b); }

/// The width that most of the length of the lines has, mm, to a half.
double usual_width(const RouteGraph& graph) {
    double best = 0.0;
    double most = 0.0;
    for (const Stretch& one : graph.stretches) {
        double like = 0.0;
        for (const Stretch& other : graph.stretches) {
            like += std::abs(other.width_mm - one.width_mm) < 1.0 ? other.length_mm : 0.0;
        }
        if (like > most) {
            most = like;
            best = one.width_mm;
        }
    }
    return std::round(2.0 * best) / 2.0;
}

/// What was found and could stand in the course file.
std::vector<std::string> hints(const Course& course, const RouteGraph& graph) {
    std::vector<std::string> lines;
    if (course.taken.floor) {
        lines.push_back(fmt::format("floor = {}", words(course.floor)));
    }
    const bool width = course.line_widths_mm.empty() && !graph.stretches.empty();
    if (course.taken.line || width) {
        const std::string wide = width ? fmt::format(", width_mm = {:g}", usual_width(graph)) : std::string{};
        lines.push_back(fmt::format("line = {{ colour = {}{} }}", words(course.line), wide));
    }
    if (course.taken.palette) {
        lines.emplace_back("[palette]");
        for (const auto& [name, colour] : course.palette) {
            lines.push_back(fmt::format("{} = {}", name, words(colour)));
        }
    }
    return lines;
}

} // namespace

void print_drawing(std::ostream& out, const Course& course, const RouteGraph& graph) {
    if (course.drawing.empty()) {
        return;
    }
    if (course.board) {
        const Area& board = course.board->mm;
        const Area& units = course.board->units;
        out << fmt::format("\nthe drawing is a page with a board of {:.0f} x {:.0f} mm on it, from {:.0f},{:.0f} mm: "
                           "nothing outside is taken for line or plate\n"
                           "  board = {{ from = [{:.1f}, {:.1f}], to = [{:.1f}, {:.1f}] }}   makes it the course, with "
                           "its own corner as 0,0\n"
                           "  board = \"page\"   has all of it looked at\n",
                           board.to.x - board.from.x, board.to.y - board.from.y, board.from.x, board.from.y,
                           units.from.x, units.from.y, units.to.x, units.to.y);
    }
    for (const std::string& note : course.drawing_notes) {
        out << fmt::format("{}the drawing: {}\n", &note == &course.drawing_notes.front() ? "\n" : "", note);
    }
    const std::vector<std::string> lines = hints(course, graph);
    if (!lines.empty()) {
        out << "\nfound on the drawing; written into the course file it stays so:\n";
        for (const std::string& line : lines) {
            out << "  " << line << "\n";
        }
    }
}

} // namespace vturn
