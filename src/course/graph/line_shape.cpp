#include "course/graph/line_shape.hpp"

#include <algorithm>
#include <cmath>
#include <utility>

#include "course/graph/one_rim.hpp"
#include "course/graph/skeleton_graph.hpp"

namespace vast_turn {

namespace {

constexpr double point_step_mm = 2.0;

/// Each point becomes the mean of those up to `reach` away; less near open ends, which stay.
std::vector<Vec2> smoothed(const std::vector<Vec2>& points, int reach, bool closed) {
    const int n = static_cast<int>(points.size());
    std::vector<Vec2> out(points.size());
    const int round = n - 1; // the last point of a closed path is the first
    for (int i = 0; i < n; ++i) {
        const int r = closed ? std::min(reach, round / 2) : std::min({reach, i, n - 1 - i});
        Vec2 sum;
        for (int k = -r; k <= r; ++k) {
            const int at = closed ? ((i + k) % round + round) % round : i + k;
            sum = sum + points[static_cast<std::size_t>(at)];
        }
        out[static_cast<std::size_t>(i)] = 1.0 / (2 * r + 1) * sum;
    }
    return out;
}

Vec2 unit_or_zero(Vec2 v) {
    const double l = length(v);
    return l > 0.0 ? 1.0 / l * v : Vec2{};
}

Vec2 heading_at(const std::vector<Vec2>& points, std::size_t i, bool closed) {
    constexpr std::size_t reach = 3;
    const std::size_t n = points.size();
    if (closed && n > 2 * reach + 1) {
        const std::size_t round = n - 1;
        return unit_or_zero(points[(i + reach) % round] - points[(i + round - reach) % round]);
    }
    return unit_or_zero(points[std::min(n - 1, i + reach)] - points[i < reach ? 0 : i - reach]);
}

} // namespace

Vec2 cubic_at(double t, Vec2 from, Vec2 leaves, Vec2 to, Vec2 arrives) {
    const double s = 1.0 - t;
    return (s * s * (1.0 + 2.0 * t)) * from + (t * s * s) * leaves + (t * t * (3.0 - 2.0 * t)) * to -
           (t * t * s) * arrives;
}

double median(std::vector<double> list) {
    if (list.empty()) {
        return 0.0;
    }
    const auto middle = list.begin() + static_cast<std::ptrdiff_t>(list.size() / 2);
    std::nth_element(list.begin(), middle, list.end());
    return *middle;
}

std::vector<Vec2> resampled(const std::vector<Vec2>& points, double step) {
    const double total = length_of(points);
    const int pieces = std::max(1, static_cast<int>(std::lround(total / step)));
    std::vector<Vec2> out{points.front()};
    double done = 0.0;
    std::size_t at = 1;
    for (int i = 1; i < pieces; ++i) {
        const double want = total * i / pieces;
        while (at + 1 < points.size() && done + length(points[at] - points[at - 1]) < want) {
            done += length(points[at] - points[at - 1]);
            ++at;
        }
        const double piece = length(points[at] - points[at - 1]);
        const double part = piece > 0.0 ? std::min(1.0, (want - done) / piece) : 0.0;
        out.push_back(points[at - 1] + part * (points[at] - points[at - 1]));
    }
    out.push_back(points.back());
    return out;
}

namespace {

/// A cell and how much of it is line.
struct CellPart {
    Vec2 at;
    double part = 0.0;
};

/// How a piece is bent, by its inner part: at its ends a bent piece has more on the one side than on the other.
double bow_of(const std::vector<CellPart>& cells, Vec2 mean, Vec2 along, double length_mm) {
    constexpr double inner = 0.35;
    double n = 0.0, q = 0.0, y = 0.0, qq = 0.0, qy = 0.0;
    for (const CellPart& cell : cells) {
        const double s = dot(cell.at - mean, along);
        if (std::abs(s) <= inner * length_mm) {
            const double off = cross(along, cell.at - mean);
            n += cell.part;
            q += cell.part * s * s;
            y += cell.part * off;
            qq += cell.part * s * s * s * s;
            qy += cell.part * s * s * off;
        }
    }
    const double spread = n > 0.0 ? qq / n - (q / n) * (q / n) : 0.0;
    return spread > 0.0 ? (qy / n - (q / n) * (y / n)) / spread : 0.0;
}

/// The piece that cells make up; `at` is where their frame begins.
std::optional<LinePiece> piece_of(const std::vector<CellPart>& cells, Vec2 at, double cell_side) {
    double n = 0.0, sx = 0.0, sy = 0.0, xx = 0.0, xy = 0.0, yy = 0.0;
    for (const CellPart& cell : cells) {
        const Vec2 p = cell.at;
        n += cell.part;
        sx += cell.part * p.x;
        sy += cell.part * p.y;
        xx += cell.part * (p.x * p.x + cell_side * cell_side / 12.0);
        xy += cell.part * p.x * p.y;
        yy += cell.part * (p.y * p.y + cell_side * cell_side / 12.0);
    }
    if (n <= 0.0) {
        return std::nullopt;
    }
    const Vec2 mean{sx / n, sy / n};
    const double a = xx / n - mean.x * mean.x;
    const double b = xy / n - mean.x * mean.y;
    const double c = yy / n - mean.y * mean.y;
    const double off = std::hypot(0.5 * (a - c), b);
    const double turn = 0.5 * std::atan2(2.0 * b, a - c);
    const Vec2 along{std::cos(turn), std::sin(turn)};
    const double size = std::sqrt(12.0 * (0.5 * (a + c) + off));
    return LinePiece{at + mean, along, size, std::sqrt(12.0 * std::max(0.0, 0.5 * (a + c) - off)),
                     bow_of(cells, mean, along, size)};
}

} // namespace

std::optional<LinePiece> piece_at(const LineMask& mask, Vec2 at, double reach_mm) {
    const int reach = static_cast<int>(reach_mm / mask.cell_mm) + 1;
    const int column = static_cast<int>(std::floor(at.x / mask.cell_mm + 1.0));
    const int row = static_cast<int>(std::floor(at.y / mask.cell_mm + 1.0));
    const int side = 2 * reach + 1;
    std::vector<char> seen(static_cast<std::size_t>(side) * static_cast<std::size_t>(side), 0);
    std::vector<std::pair<int, int>> open;
    const auto reach_cell = [&](int x, int y) { // whether it is still within reach
        const int i = x - column + reach;
        const int j = y - row + reach;
        if (i < 0 || j < 0 || i >= side || j >= side) {
            return false;
        }
        char& here = seen[static_cast<std::size_t>(j) * static_cast<std::size_t>(side) + static_cast<std::size_t>(i)];
        if (here == 0 && x >= 0 && y >= 0 && x < mask.columns && y < mask.rows && mask.line[mask.index(x, y)] > 0) {
            here = 1;
            open.emplace_back(x, y);
        }
        return true;
    };
    reach_cell(column, row);
    std::vector<CellPart> cells;
    while (!open.empty()) {
        const auto [x, y] = open.back();
        open.pop_back();
        const std::uint8_t here = mask.line[mask.index(x, y)];
        const double part = here / 255.0;
        const Vec2 p = mask.middle(x, y) - at;
        cells.push_back({p, part});
        if (here < 128) {
            continue; // its rim
        }
        for (int j = y - 1; j <= y + 1; ++j) {
            for (int i = x - 1; i <= x + 1; ++i) {
                if (!reach_cell(i, j)) {
                    return std::nullopt;
                }
            }
        }
    }
    return piece_of(cells, at, mask.cell_mm);
}

double way_to_rim(const LineMask& mask, Vec2 from, Vec2 along, double most) {
    constexpr double step = 0.5;
    double before = mask.at(from);
    const int steps = static_cast<int>(most / step);
    for (int i = 1; i <= steps; ++i) {
        const double s = step * i;
        const double here = mask.at(from + s * along);
        if (here < 0.5) {
            return before >= 0.5 ? s - step * (0.5 - here) / (before - here) : 0.0;
        }
        before = here;
    }
    return most;
}

bool is_free(const LineMask& mask, Vec2 from, Vec2 to) {
    const double way = length(to - from);
    constexpr double rim = 3.0;
    double on_line = 0.0;
    const int steps = static_cast<int>(way - 2.0 * rim);
    for (int i = 0; i < steps; ++i) {
        const double s = rim + i;
        on_line += mask.at(from + (s / way) * (to - from)) > 0.5 ? 1.0 : 0.0;
    }
    constexpr double most = 3.0;
    return on_line < most;
}

Rims rims_at(const LineMask& mask, const std::vector<Vec2>& middle, std::size_t i, bool closed) {
    constexpr double widest = 80.0;
    const Vec2 along = heading_at(middle, i, closed);
    const Vec2 across{-along.y, along.x};
    return {across, way_to_rim(mask, middle[i], across, widest), way_to_rim(mask, middle[i], -1.0 * across, widest)};
}

LineShape measured(const LineMask& mask, const std::vector<Vec2>& rough, bool closed) {
    LineShape shape;
    shape.middle = resampled(smoothed(rough, 5, closed), point_step_mm);
    const std::vector<Vec2> rough_middle = shape.middle;
    std::vector<Vec2> moved = shape.middle;
    std::vector<double> shift(shape.middle.size());
    std::vector<Rims> rims;
    for (std::size_t i = 0; i < shape.middle.size(); ++i) {
        rims.push_back(rims_at(mask, shape.middle, i, closed));
        shape.width_mm.push_back(rims[i].one + rims[i].other);
        shift[i] = 0.5 * (rims[i].one - rims[i].other);
        moved[i] = shape.middle[i] + shift[i] * rims[i].across;
    }
    shape.usual_width_mm = median(shape.width_mm);
    for (std::size_t i = 0; i < moved.size(); ++i) { // at a junction the profile is that of another line
        const bool sound =
            shape.width_mm[i] < 1.25 * shape.usual_width_mm && std::abs(shift[i]) < 0.3 * shape.usual_width_mm;
        shape.middle[i] = sound ? moved[i] : shape.middle[i];
    }
    follow_own_rim(mask, rough_middle, rims, shape);
    shape.middle = smoothed(shape.middle, 2, closed);
    return shape;
}

} // namespace vast_turn
