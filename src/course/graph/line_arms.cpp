#include "course/graph/line_arms.hpp"

#include <algorithm>
#include <cmath>
#include <numeric>
#include <optional>
#include <utility>

#include "course/graph/line_shape.hpp"

namespace vast_turn {

namespace {

constexpr double widest_arm_mm = 60.0;
constexpr double narrowest_arm_mm = 4.0;

Vec2 left_of(Vec2 along) { return {along.y, -along.x}; }

/// A cut across a line.
struct ArmCut {
    Vec2 middle;
    double width_mm = 0.0;
};

std::optional<ArmCut> arm_cut_at(const LineMask& mask, Vec2 p, Vec2 along) {
    if (mask.at(p) < 0.5) {
        return std::nullopt;
    }
    const Vec2 aside = left_of(along);
    const double to_left = way_to_rim(mask, p, aside, widest_arm_mm);
    const double to_right = way_to_rim(mask, p, -1.0 * aside, widest_arm_mm);
    if (to_left + to_right >= widest_arm_mm || to_left + to_right < narrowest_arm_mm) {
        return std::nullopt;
    }
    return ArmCut{p + 0.5 * (to_left - to_right) * aside, to_left + to_right};
}

bool are_alike_cuts(const ArmCut& a, const ArmCut& b, double part, double rim_mm) {
    return a.width_mm <= part * b.width_mm + rim_mm && b.width_mm <= part * a.width_mm + rim_mm;
}

/// Of cuts as wide as most are, which is `width_mm`: what lies over a line's rim, or another line beside it, moves the
/// middles of the others.
std::vector<Vec2> sound_middles(const std::vector<ArmCut>& cuts, double& width_mm) {
    std::vector<double> widths;
    for (const ArmCut& cut : cuts) {
        widths.push_back(cut.width_mm);
    }
    width_mm = median(widths);
    std::vector<Vec2> middles;
    for (const ArmCut& cut : cuts) {
        constexpr double alike = 1.05;
        constexpr double rim_mm = 0.6;
        if (are_alike_cuts(cut, {{}, width_mm}, alike, rim_mm)) {
            middles.push_back(cut.middle);
        }
    }
    return middles;
}

/// The line that goes away from a point of it, about in a direction; nothing when what goes there is none.
std::optional<LineArm> arm_from(const LineMask& mask, Vec2 from, Vec2 away) {
    constexpr double alike = 1.25;
    constexpr double rim_mm = 1.5;
    constexpr double step_mm = 2.5;
    constexpr int most_steps = 14;
    constexpr std::size_t fewest = 3;
    constexpr std::size_t shortest = 7;
    constexpr double straight_or_round_mm = 0.3;
    Vec2 along = away;
    LineArm out;
    for (int round = 0; round < 3; ++round) { // each cuts it more squarely
        std::vector<ArmCut> cuts;
        Vec2 at = from;
        for (int i = 0; i <= most_steps; ++i) {
            const std::optional<ArmCut> cut = arm_cut_at(mask, at, along);
            if (!cut || (!cuts.empty() && !are_alike_cuts(*cut, cuts.front(), alike, rim_mm))) {
                break;
            }
            const Vec2 on = cuts.empty() ? along : cut->middle - cuts.back().middle;
            cuts.push_back(*cut);
            at = cut->middle + step_mm / std::max(1e-9, length(on)) * on;
        }
        const std::vector<Vec2> middles = sound_middles(cuts, out.width_mm);
        if (middles.size() < fewest || length(middles.back() - middles.front()) < 0.4 * out.width_mm) {
            return std::nullopt;
        }
        out.way = fit_arm(middles);
        for (std::size_t n = middles.size() - 1; out.way.off_mm > straight_or_round_mm && n >= shortest; --n) {
            out.way = fit_arm({middles.begin(), middles.begin() + static_cast<std::ptrdiff_t>(n)});
        }
        along = -1.0 * out.inwards();
    }
    constexpr double least_outwards = 0.35; // else it goes along the shape
    return dot(along, away) < least_outwards ? std::nullopt : std::optional(out);
}

} // namespace

bool LineArm::holds(Vec2 p) const {
    constexpr int reach = 40; // steps
    constexpr double step_mm = 2.0;
    constexpr double aside = 0.4; // of the width
    for (int i = 0; i < reach; ++i) {
        if (length(way.point(step_mm * i) - p) < std::max(step_mm, aside * width_mm)) {
            return true;
        }
    }
    return false;
}

std::vector<Vec2> LineArm::prolonged(double length_mm) const {
    const double speed = length(way.along);
    const double bow = 2.0 * cross(way.along, way.bend) / (speed * speed * speed); // of the way outwards
    Vec2 on = inwards();
    Vec2 p = at();
    std::vector<Vec2> path{p};
    const auto [sine, cosine] = sine_and_cosine(0.5 * bow);
    for (int i = 0; i < static_cast<int>(length_mm); ++i) {
        on = turned(on, sine, cosine);
        p = p + on;
        on = turned(on, sine, cosine);
        path.push_back(p);
    }
    return path;
}

ShapeBox::ShapeBox(const LineMask& mask, std::span<const CellRun> shape, double margin_mm)
    : mask_(mask), margin_(static_cast<int>(std::ceil(margin_mm / mask.cell_mm))), left_(shape.front().from),
      top_(shape.front().row - margin_) {
    int behind = shape.front().behind;
    for (const CellRun& run : shape) {
        left_ = std::min(left_, run.from);
        behind = std::max(behind, run.behind);
    }
    left_ = std::max(0, left_ - margin_);
    top_ = std::max(0, top_);
    wide_ = std::min(mask.columns, behind + margin_) - left_;
    high_ = std::min(mask.rows, shape.back().row + 1 + margin_) - top_;
    const std::vector<bool> outside = outside_of(shape);
    const auto owned = std::accumulate(shape.begin(), shape.end(), 0.0,
                                       [](double sum, const CellRun& run) { return sum + (run.behind - run.from); });
    nearest_ = NearestMap(wide_, high_);
    double within = 0.0;
    for (int y = 0; y < high_; ++y) {
        for (int x = 0; x < wide_; ++x) {
            if (!outside[index(x, y)]) {
                nearest_.set(x, y);
                within += 1.0;
                middle_ = middle_ + mask.middle(left_ + x, top_ + y);
            }
        }
    }
    middle_ = 1.0 / within * middle_;
    constexpr double filled = 0.6;
    compact_ = owned >= filled * within;
    nearest_.sweep();
}

/// Cells of the box from which its rim is reached without crossing the shape.
std::vector<bool> ShapeBox::outside_of(std::span<const CellRun> shape) const {
    std::vector<bool> closed(index(0, high_), false);
    for (const CellRun& run : shape) {
        std::fill_n(closed.begin() + static_cast<std::ptrdiff_t>(index(run.from - left_, run.row - top_)),
                    run.behind - run.from, true);
    }
    std::vector<bool> outside(closed.size(), false);
    std::vector<std::pair<int, int>> open;
    const auto reach = [&](int x, int y) {
        if (x >= 0 && y >= 0 && x < wide_ && y < high_ && !closed[index(x, y)]) {
            closed[index(x, y)] = outside[index(x, y)] = true;
            open.emplace_back(x, y);
        }
    };
    for (int x = 0; x < wide_; ++x) {
        reach(x, 0);
        reach(x, high_ - 1);
    }
    for (int y = 0; y < high_; ++y) {
        reach(0, y);
        reach(wide_ - 1, y);
    }
    while (!open.empty()) {
        const auto [x, y] = open.back();
        open.pop_back();
        reach(x - 1, y);
        reach(x + 1, y);
        reach(x, y - 1);
        reach(x, y + 1);
    }
    return outside;
}

double ShapeBox::off_of(int x, int y) const { return std::sqrt(nearest_.squared(x, y)) * mask_.cell_mm; }

double ShapeBox::off_mm(Vec2 p) const {
    const auto cell = [&](double mm) { return static_cast<int>(std::floor(mm / mask_.cell_mm + 1.0)); };
    const int x = cell(p.x) - left_;
    const int y = cell(p.y) - top_;
    return x < 0 || y < 0 || x >= wide_ || y >= high_ ? 1e9 : off_of(x, y);
}

/// Where a point lies from the shape, of length 1.
Vec2 ShapeBox::away_at(Vec2 p) const {
    const double step = 2.0 * mask_.cell_mm;
    const Vec2 slope{off_mm({p.x + step, p.y}) - off_mm({p.x - step, p.y}),
                     off_mm({p.x, p.y + step}) - off_mm({p.x, p.y - step})};
    return 1.0 / std::max(1e-9, length(slope)) * slope;
}

bool ShapeBox::add_arms_at(double off_mm, std::vector<LineArm>& arms) const {
    const double thick = 1.5 * mask_.cell_mm;
    const auto squared_cells = [&](double mm) { return mm * mm / (mask_.cell_mm * mask_.cell_mm); };
    const double from = squared_cells(off_mm);
    const double behind = squared_cells(off_mm + thick);
    const CellRuns found = runs_of(wide_, high_, [&](std::size_t at) {
        const double off = nearest_.squared(at);
        return off >= from && off < behind &&
               mask_.line[mask_.index(left_ + static_cast<int>(at) % wide_, top_ + static_cast<int>(at) / wide_)] >=
                   half_covered;
    });
    constexpr std::uint32_t most_arms = 12;
    if (found.shapes == 0 || found.shapes > most_arms) {
        return false;
    }
    bool all = true;
    for (std::uint32_t piece = 0; piece < found.shapes; ++piece) {
        Vec2 sum;
        double cells = 0.0;
        for (const CellRun& run : found.runs) {
            for (int x = run.from; run.shape == piece && x < run.behind; ++x) {
                sum = sum + mask_.middle(left_ + x, top_ + run.row);
                cells += 1.0;
            }
        }
        constexpr double fewest_ring_cells = 3.0;
        if (cells < fewest_ring_cells) {
            continue;
        }
        const Vec2 met = 1.0 / cells * sum;
        if (std::any_of(arms.begin(), arms.end(), [&](const LineArm& arm) { return arm.holds(met); })) {
            continue;
        }
        const std::optional<LineArm> arm = arm_from(mask_, met, away_at(met));
        constexpr double most_askew = 1.9; // as wide as it is across, or so much more
        if (arm && cells * mask_.cell_mm * mask_.cell_mm <= most_askew * thick * arm->width_mm + thick * 4.0) {
            arms.push_back(*arm);
        } else {
            all = false;
        }
    }
    return all;
}

} // namespace vast_turn
