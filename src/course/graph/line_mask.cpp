#include "course/graph/line_mask.hpp"

#include <algorithm>
#include <array>
#include <cmath>

namespace vast_turn {

namespace {

/// How much line there is in a colour: 0 at the floor's, 1 at the line's; 0 for a colour that is no mixture of both.
class Likeness {
public:
    Likeness(Rgb floor, Rgb line)
        : floor_{static_cast<double>(floor.r), static_cast<double>(floor.g), static_cast<double>(floor.b)},
          way_{line.r - floor_[0], line.g - floor_[1], line.b - floor_[2]},
          square_(way_[0] * way_[0] + way_[1] * way_[1] + way_[2] * way_[2]) {}

    double operator()(std::uint32_t cell) const {
        const double r = static_cast<double>((cell >> 16U) & 255U) - floor_[0];
        const double g = static_cast<double>((cell >> 8U) & 255U) - floor_[1];
        const double b = static_cast<double>(cell & 255U) - floor_[2];
        const double part = (r * way_[0] + g * way_[1] + b * way_[2]) / square_;
        if (part <= 0.0) {
            return 0.0;
        }
        constexpr double most_aside = 0.2; // of the way from floor to line
        const double aside = r * r + g * g + b * b - part * part * square_;
        return aside > most_aside * most_aside * square_ ? 0.0 : std::min(part, 1.0);
    }

    bool differs() const { return square_ > 0.0; }

private:
    std::array<double, 3> floor_;
    std::array<double, 3> way_;
    double square_;
};

} // namespace

double LineMask::at(Vec2 p) const {
    const double x = p.x / cell_mm + 0.5;
    const double y = p.y / cell_mm + 0.5;
    if (!(x >= 0.0 && y >= 0.0 && x < columns - 1.0 && y < rows - 1.0)) {
        return 0.0;
    }
    const int i = static_cast<int>(x);
    const int j = static_cast<int>(y);
    const double fx = x - i;
    const double fy = y - j;
    const std::size_t k = index(i, j);
    const std::size_t below = k + static_cast<std::size_t>(columns);
    const double upper = line[k] * (1.0 - fx) + line[k + 1] * fx;
    const double lower = line[below] * (1.0 - fx) + line[below + 1] * fx;
    return (upper * (1.0 - fy) + lower * fy) / 255.0;
}

LineMask line_mask(const Course& course) {
    const Surface& surface = course.surface;
    const Likeness likeness(course.floor, course.line);
    const int join = std::max(1, static_cast<int>(std::lround(1.0 / surface.cell_mm)));
    LineMask mask;
    mask.cell_mm = surface.cell_mm * join;
    const int inner_columns = surface.columns / join;
    const int inner_rows = surface.rows / join;
    mask.columns = inner_columns + 2;
    mask.rows = inner_rows + 2;
    mask.line.resize(static_cast<std::size_t>(mask.columns) * static_cast<std::size_t>(mask.rows));
    if (!likeness.differs()) {
        return mask;
    }
    std::uint32_t last_colour = 0;
    double last = likeness(0); // most cells look like the one before
    const auto of = [&](std::uint32_t colour) {
        if (colour != last_colour) {
            last_colour = colour;
            last = likeness(colour);
        }
        return last;
    };
    const double scale = 255.0 / (join * join);
    for (int row = 0; row < inner_rows; ++row) {
        for (int column = 0; column < inner_columns; ++column) {
            double sum = 0.0;
            for (int y = 0; y < join; ++y) {
                const std::uint32_t* cells =
                    surface.cells.data() +
                    static_cast<std::size_t>(row * join + y) * static_cast<std::size_t>(surface.columns) +
                    static_cast<std::size_t>(column) * static_cast<std::size_t>(join);
                for (int x = 0; x < join; ++x) {
                    sum += of(cells[x]);
                }
            }
            mask.line[mask.index(column + 1, row + 1)] = static_cast<std::uint8_t>(std::lround(sum * scale));
        }
    }
    return mask;
}

} // namespace vast_turn
