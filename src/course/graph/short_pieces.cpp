#include "course/graph/short_pieces.hpp"

#include <algorithm>
#include <cmath>
#include <optional>

namespace vast_turn {

namespace {

/// From end to end; straight when it is hardly bent.
std::vector<Vec2> middle_line_of(const LinePiece& piece) {
    const Vec2 half = 0.5 * piece.length_mm * piece.along;
    const Vec2 right{-piece.along.y, piece.along.x};
    const double rise = 0.25 * piece.bow * piece.length_mm * piece.length_mm;
    constexpr double clear_mm = 0.3;
    if (std::abs(rise) < clear_mm) {
        return {piece.middle - half, piece.middle + half};
    }
    std::vector<Vec2> points;
    constexpr int steps = 24;
    for (int i = 0; i <= steps; ++i) {
        const double part = 2.0 * i / steps - 1.0; // -1 to 1
        points.push_back(piece.middle + part * half + (rise * (part * part - 1.0 / 3.0)) * right);
    }
    return points;
}

bool is_dash(const LinePiece& piece) {
    constexpr double least_dash = 1.2; // times as long as wide
    return piece.length_mm >= least_dash * piece.width_mm;
}

void take_piece(LineNet& net, Line& line, const LinePiece& piece) {
    line.shape.middle = resampled(middle_line_of(piece), 2.0);
    line.shape.usual_width_mm = piece.width_mm;
    line.shape.width_mm.assign(line.shape.middle.size(), piece.width_mm);
    net.knots[static_cast<std::size_t>(line.from)].at = line.shape.middle.front();
    net.knots[static_cast<std::size_t>(line.to)].at = line.shape.middle.back();
    line.is_whole = true;
}

} // namespace

void take_whole_piece(LineNet& net, const LineMask& mask, Line& line) {
    const double width = line.shape.usual_width_mm;
    constexpr double few = 2.2; // widths
    if (length_of(line.shape.middle) > few * width) {
        return;
    }
    const auto piece = piece_at(mask, line.shape.middle[line.shape.middle.size() / 2], 6.0 * width);
    if (piece && is_dash(*piece)) {
        take_piece(net, line, *piece);
    } else if (piece) {
        net.spots.push_back(*piece);
    }
}

void take_lone_pieces(LineNet& net, const LineMask& mask, const SkeletonGraph& graph) {
    std::vector<Vec2> taken;
    for (std::size_t k = 0; k < graph.knots.size(); ++k) {
        const double width = 2.0 * graph.knots[k].half_width_mm;
        const bool alone = graph.ends.at(static_cast<int>(k)).empty() || graph.is_all_spurs(static_cast<int>(k));
        const std::optional<LinePiece> piece =
            alone && width >= dirt_mm ? piece_at(mask, graph.knots[k].at, 6.0 * width) : std::nullopt;
        const auto is_it = [&piece](Vec2 at) { return length(at - piece->middle) < dirt_mm; };
        if (!piece || std::any_of(taken.begin(), taken.end(), is_it)) {
            continue;
        }
        taken.push_back(piece->middle);
        if (!is_dash(*piece)) {
            net.spots.push_back(*piece);
            continue;
        }
        Line line{static_cast<int>(k), static_cast<int>(net.knots.size()), {}, {}, false};
        net.knots.push_back(net.knots[k]);
        net.ends.add_knot();
        net.ends.add(line.from, net.lines.size());
        net.ends.add(line.to, net.lines.size());
        take_piece(net, line, *piece);
        net.lines.push_back(std::move(line));
    }
}

} // namespace vast_turn
