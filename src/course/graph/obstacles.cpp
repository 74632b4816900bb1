#include "vast_turn/course/graph/obstacles.hpp"

#include <algorithm>
#include <cmath>
#include <iterator>
#include <map>
#include <optional>
#include <utility>

#include <fmt/format.h>

#include "course/floor/cell_runs.hpp"
#include "course/graph/equal_box.hpp"

namespace vast_turn {

namespace {

/// A point between cells, in cells.
using Corner = std::pair<int, int>;

/// One patch of cells.
class Obstacle {
public:
    void add(const CellRun& run) {
        for (int column = run.from; column < run.behind; ++column) {
            moments_.add(column, run.row);
        }
        runs_.push_back(run);
    }

    double cells() const { return moments_.n; }
    const std::vector<CellRun>& runs() const { return runs_; }

    /// Its box of equal moments, when it is no other shape.
    std::optional<EqualBox> as_box(double cell_size) const {
        const EqualBox box = equal_box(moments_, cell_size);
        const Vec2 along = direction(box.heading_deg);
        double inside = 0.0;
        for (const CellRun& run : runs_) {
            for (int column = run.from; column < run.behind; ++column) {
                const Vec2 off = Vec2{(column + 0.5) * cell_size, (run.row + 0.5) * cell_size} - box.at;
                inside += std::abs(dot(off, along)) <= 0.5 * box.length_mm + cell_size &&
                                  std::abs(cross(along, off)) <= 0.5 * box.across_mm + cell_size
                              ? 1.0
                              : 0.0;
            }
        }
        const double size = box.length_mm * box.across_mm / (cell_size * cell_size);
        constexpr double most_outside = 0.02;
        constexpr double size_apart = 0.06;
        const bool is_box =
            inside >= (1.0 - most_outside) * moments_.n && std::abs(size - moments_.n) < size_apart * moments_.n;
        return is_box ? std::optional<EqualBox>(box) : std::nullopt;
    }

    /// The lines round it and round its holes, closed, in cells.
    std::vector<std::vector<Corner>> outlines() const {
        std::multimap<Corner, Corner> edges = rim();
        std::vector<std::vector<Corner>> loops;
        while (!edges.empty()) {
            std::vector<Corner> loop{edges.begin()->first};
            Corner at = edges.begin()->second;
            edges.erase(edges.begin());
            while (at != loop.front()) {
                const auto next = edges.find(at);
                const Corner& before = loop.back();
                const bool straight = (before.first == at.first && at.first == next->second.first) ||
                                      (before.second == at.second && at.second == next->second.second);
                if (!straight) {
                    loop.push_back(at);
                }
                at = next->second;
                edges.erase(next);
            }
            loops.push_back(std::move(loop));
        }
        return loops;
    }

private:
    /// Edges between a cell of the patch and one that is none, the patch to their right.
    std::multimap<Corner, Corner> rim() const {
        std::map<int, std::vector<CellRun>> by_row;
        for (const CellRun& run : runs_) {
            by_row[run.row].push_back(run);
        }
        const auto holds = [&](int column, int row) {
            const auto found = by_row.find(row);
            if (found == by_row.end()) {
                return false;
            }
            const auto behind = std::upper_bound(found->second.begin(), found->second.end(), column,
                                                 [](int c, const CellRun& run) { return c < run.from; });
            return behind != found->second.begin() && column < std::prev(behind)->behind;
        };
        std::multimap<Corner, Corner> edges;
        for (const CellRun& run : runs_) {
            edges.insert({{run.from, run.row + 1}, {run.from, run.row}});
            edges.insert({{run.behind, run.row}, {run.behind, run.row + 1}});
            for (int column = run.from; column < run.behind; ++column) {
                if (!holds(column, run.row - 1)) {
                    edges.insert({{column, run.row}, {column + 1, run.row}});
                }
                if (!holds(column, run.row + 1)) {
                    edges.insert({{column + 1, run.row + 1}, {column, run.row + 1}});
                }
            }
        }
        return edges;
    }

    Moments moments_;
    std::vector<CellRun> runs_;
};

/// Points of an open line that are needed to be true to `tolerance` (D. Douglas, T. Peucker: Algorithms for the
/// reduction of the number of points, Cartographica 10, 1973), without recursion.
std::vector<Vec2> simplified(const std::vector<Vec2>& line, double tolerance) {
    std::vector<bool> kept(line.size(), false);
    kept.front() = kept.back() = true;
    std::vector<std::pair<std::size_t, std::size_t>> open{{0, line.size() - 1}};
    while (!open.empty()) {
        const auto [from, to] = open.back();
        open.pop_back();
        std::size_t farthest = from;
        double most = tolerance;
        for (std::size_t i = from + 1; i < to; ++i) {
            const double off = length(line[i] - nearest_on_segment(line[i], line[from], line[to]));
            if (off > most) {
                most = off;
                farthest = i;
            }
        }
        if (farthest != from) {
            kept[farthest] = true;
            open.emplace_back(from, farthest);
            open.emplace_back(farthest, to);
        }
    }
    std::vector<Vec2> out;
    for (std::size_t i = 0; i < line.size(); ++i) {
        if (kept[i]) {
            out.push_back(line[i]);
        }
    }
    return out;
}

class ObstacleFinder {
public:
    explicit ObstacleFinder(Course& course) : course_(course), surface_(course.surface) {}

    void run() {
        for (const InTheWay& asked : course_.in_the_way) {
            find(asked);
        }
    }

private:
    bool is_of(Rgb colour, std::uint32_t cell) const {
        constexpr double near = 60.0;
        const Rgb own = rgb_of(cell);
        const double apart = squared_apart(own, colour);
        return apart < near * near && apart < squared_apart(own, course_.floor) &&
               apart < squared_apart(own, course_.line);
    }

    static Rgb rgb_of(std::uint32_t cell) {
        return {static_cast<std::uint8_t>(cell >> 16U), static_cast<std::uint8_t>(cell >> 8U),
                static_cast<std::uint8_t>(cell)};
    }

    void find(const InTheWay& asked) {
        const CellRuns found = runs_of(surface_.columns, surface_.rows, [&](std::size_t at) {
            return is_of(asked.colour, std::as_const(surface_.cells)[at]);
        });
        std::vector<Obstacle> shapes(found.shapes);
        for (const CellRun& run : found.runs) {
            shapes[run.shape].add(run);
        }
        std::vector<Obstacle> away;
        std::erase_if(shapes, [&](const Obstacle& patch) {
            const bool is_away = !stands(patch, asked);
            if (is_away) {
                away.push_back(patch);
            }
            return is_away;
        });
        if (asked.as_floor || asked.looks) {
            paint_over(shapes, asked.colour, asked.as_floor ? course_.floor : *asked.looks);
        }
        paint_over(away, asked.colour, course_.floor);
    }

    /// Makes a patch a thing, or walls round it, unless it is not there in this variant; specks are neither.
    bool stands(const Obstacle& patch, const InTheWay& asked) {
        const auto is_away = [&](const std::string& name) {
            return std::find(asked.away.begin(), asked.away.end(), name) != asked.away.end();
        };
        constexpr double least_mm2 = 60.0;
        if (patch.cells() * surface_.cell_mm * surface_.cell_mm < least_mm2) {
            return !is_away(asked.name);
        }
        const std::optional<EqualBox> box = patch.as_box(surface_.cell_mm);
        if (!box) {
            if (is_away(asked.name)) {
                return false;
            }
            wall_in(patch);
            return true;
        }
        const int number = ++things_[asked.name];
        Thing thing;
        thing.name = number == 1 ? asked.name : fmt::format("{} {}", asked.name, number);
        thing.at = box->at;
        thing.size_mm = {box->length_mm, box->across_mm};
        thing.heading_deg = box->heading_deg;
        if (is_away(asked.name) || (number > 1 && is_away(thing.name))) {
            return false;
        }
        course_.things.push_back(std::move(thing));
        return true;
    }

    void wall_in(const Obstacle& patch) {
        const double cell = surface_.cell_mm;
        constexpr std::size_t most_walls = 20'000;
        constexpr std::size_t most_steps = 100'000; // of one outline, before it is simplified
        bool too_many = false;
        for (const std::vector<Corner>& loop : patch.outlines()) {
            too_many = too_many || loop.size() > most_steps || course_.walls.size() > most_walls;
            if (too_many) {
                break;
            }
            std::vector<Vec2> line;
            for (const Corner& corner : loop) {
                line.push_back({corner.first * cell, corner.second * cell});
            }
            // In two halves from its farthest point, since a closed line has no ends to keep.
            const auto far = std::max_element(line.begin(), line.end(), [&](Vec2 a, Vec2 b) {
                return length(a - line.front()) < length(b - line.front());
            });
            std::vector<Vec2> half(line.begin(), far + 1);
            std::vector<Vec2> rest(far, line.end());
            rest.push_back(line.front());
            for (const std::vector<Vec2>& part : {half, rest}) {
                const std::vector<Vec2> corners = simplified(part, cell);
                for (std::size_t i = 1; i < corners.size(); ++i) {
                    course_.walls.push_back({corners[i - 1], corners[i]});
                }
            }
        }
        if (too_many || course_.walls.size() > most_walls) {
            throw InputError(course_.drawing, "what is in the way has more than 20,000 corners",
                             "name another colour in [[in_the_way]], or save the drawing with larger shapes");
        }
    }

    /// The patches and the shades at their rims.
    void paint_over(const std::vector<Obstacle>& shapes, Rgb colour, Rgb looks) {
        const std::uint32_t cell = (std::uint32_t{looks.r} << 16U) | (std::uint32_t{looks.g} << 8U) | looks.b;
        constexpr int rim = 2; // cells
        for (const Obstacle& patch : shapes) {
            for (const CellRun& run : patch.runs()) {
                for (int row = std::max(0, run.row - rim); row <= std::min(surface_.rows - 1, run.row + rim); ++row) {
                    for (int column = std::max(0, run.from - rim);
                         column < std::min(surface_.columns, run.behind + rim); ++column) {
                        std::uint32_t& there =
                            surface_.cells[static_cast<std::size_t>(row) * static_cast<std::size_t>(surface_.columns) +
                                           static_cast<std::size_t>(column)];
                        const bool inside = row == run.row && column >= run.from && column < run.behind;
                        if (inside || is_shade(rgb_of(there), colour)) {
                            there = cell;
                        }
                    }
                }
            }
        }
    }

    /// Whether a cell at a rim is on its way from the colour to floor: neither line nor plate.
    bool is_shade(Rgb own, Rgb colour) const {
        constexpr double same = 20.0;
        const auto like = [&](Rgb other) { return squared_apart(own, other) < same * same; };
        const double whole = std::sqrt(squared_apart(colour, course_.floor));
        const double both = std::sqrt(squared_apart(own, colour)) + std::sqrt(squared_apart(own, course_.floor));
        return own != course_.floor && !like(course_.line) && both < 1.08 * whole;
    }

    Course& course_;
    Surface& surface_;
    std::map<std::string, int> things_;
};

} // namespace

void find_obstacles(Course& course) {
    if (!course.in_the_way.empty()) {
        ObstacleFinder(course).run();
    }
}

} // namespace vast_turn
