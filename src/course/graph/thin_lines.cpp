#include "course/graph/thin_lines.hpp"

#include <algorithm>
#include <cstddef>
#include <utility>
#include <vector>

#include "course/graph/line_judge.hpp"
#include "course/graph/skeleton_graph.hpp"

namespace vast_turn {

std::vector<std::size_t> take_out_thin_lines(LineNet& net, const std::vector<double>& line_widths_mm) {
    std::vector<std::pair<double, double>> widths; // and lengths
    double whole_mm = 0.0;
    for (const Line& line : net.lines) {
        if (!line.gone) {
            widths.emplace_back(line.shape.usual_width_mm, length_of(line.shape.middle));
            whole_mm += widths.back().second;
        }
    }
    std::sort(widths.begin(), widths.end());
    const bool given = !line_widths_mm.empty();
    double usual_mm = given ? *std::min_element(line_widths_mm.begin(), line_widths_mm.end()) : 0.0;
    double so_far_mm = 0.0;
    for (const auto& [width, length] : widths) {
        so_far_mm += length;
        usual_mm = usual_mm == 0.0 && so_far_mm >= 0.5 * whole_mm ? width : usual_mm;
    }
    constexpr double thin = 0.4;
    constexpr double little = 0.45;
    double thin_mm = 0.0;
    for (const auto& [width, length] : widths) {
        thin_mm += width < thin * usual_mm ? length : 0.0;
    }
    if (!given && thin_mm > little * whole_mm) {
        return {};
    }
    std::vector<std::size_t> taken;
    for (std::size_t i = 0; i < net.lines.size(); ++i) {
        Line& line = net.lines[i];
        if (line.gone || line.shape.usual_width_mm >= thin * usual_mm) {
            continue;
        }
        line.gone = true;
        taken.push_back(i);
        for (const int knot : {line.from, line.to}) {
            if (knot >= 0) {
                net.crossings.push_back(net.knots[static_cast<std::size_t>(knot)].at);
            }
        }
        PointBox box;
        for (const Vec2 p : line.shape.middle) {
            box.add(p);
        }
        net.not_lines.push_back(not_line(NotLineKind::thin_line, box));
    }
    return taken;
}

} // namespace vast_turn
