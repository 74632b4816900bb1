#include "course/graph/under_plate.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <optional>
#include <tuple>
#include <utility>

#include "course/graph/line_arms.hpp"
#include "course/graph/line_shape.hpp"

namespace vast_turn {

namespace {

/// A piece of line under a plate.
struct HiddenBand {
    std::vector<Vec2> path;
    double width_mm = 0.0;
    std::vector<double> met; ///< how far along it others meet it, mm
};

double angle_between_deg(Vec2 from, Vec2 to) { return to_degrees(std::atan2(cross(from, to), dot(from, to))); }

bool are_alike_arms(const LineArm& a, const LineArm& b) {
    constexpr double alike = 1.5;
    return a.width_mm <= alike * b.width_mm && b.width_mm <= alike * a.width_mm;
}

class HiddenWays {
public:
    HiddenWays(const ShapeBox& box, std::vector<LineArm> arms)
        : box_(box), arms_(std::move(arms)), taken_(arms_.size(), false) {}

    /// Whether every arm has its way on: straight, which is likeliest, to one point, or in a bend.
    bool find() {
        constexpr double straight_deg = 12.0;
        constexpr double bent_deg = 40.0;
        constexpr double exact = 0.12; // of a width
        constexpr double about = 0.4;
        if (go_through(straight_deg)) {
            return run_into_others();
        }
        constexpr std::size_t fewest = 3; // of two that bend lines themselves tell more
        if (arms_.size() < fewest) {
            return false;
        }
        return meet_at_a_point(exact) || (go_through(bent_deg) ? run_into_others() : meet_at_a_point(about));
    }

    UnderPlate made(const LineMask& mask) const {
        UnderPlate out;
        out.lines = bands_.size();
        const double rim_mm = 3.0 * mask.cell_mm;
        const auto is_meant = [&](Vec2 p) {
            return std::any_of(bands_.begin(), bands_.end(), [&](const HiddenBand& band) {
                return nearest_along(band.path, p).second <= 0.5 * band.width_mm;
            });
        };
        box_.each_near(rim_mm, is_meant, [&](std::size_t at) { out.cells.push_back(at); });
        for (const HiddenBand& band : bands_) {
            add_covers(band, out.covers);
        }
        return out;
    }

private:
    /// Pairs of arms that are one line, straight or in a bend that turns each end by no more than so much, the best
    /// first. Whether there are any.
    bool go_through(double most_deg) {
        std::vector<std::tuple<double, std::size_t, std::size_t>> pairs;
        for (std::size_t i = 0; i < arms_.size(); ++i) {
            for (std::size_t k = i + 1; k < arms_.size(); ++k) {
                const Vec2 between = arms_[k].at() - arms_[i].at();
                const double leaves = angle_between_deg(between, arms_[i].inwards());
                const double comes = angle_between_deg(between, -1.0 * arms_[k].inwards());
                // Of ends that are near each other a little to the side makes a large angle.
                constexpr double askew_deg = 12.0;
                constexpr double most_aside = 0.3;
                const double width = std::min(arms_[i].width_mm, arms_[k].width_mm);
                const double aside = to_degrees(std::atan2(most_aside * width, length(between)));
                const double uneven = std::abs(leaves + comes);
                const double more = std::max(std::abs(leaves), std::abs(comes));
                if (uneven <= std::max(askew_deg, 2.0 * aside) && more <= std::max(most_deg, aside) &&
                    are_alike_arms(arms_[i], arms_[k])) {
                    pairs.emplace_back(uneven + more, i, k);
                }
            }
        }
        std::sort(pairs.begin(), pairs.end());
        for (const auto& [cost, i, k] : pairs) {
            if (!taken_[i] && !taken_[k]) {
                taken_[i] = taken_[k] = true;
                bands_.push_back({through(arms_[i], arms_[k]), 0.5 * (arms_[i].width_mm + arms_[k].width_mm), {}});
            }
        }
        for (std::size_t a = 0; a < bands_.size(); ++a) {
            for (std::size_t b = a + 1; b < bands_.size(); ++b) {
                note_crossing(bands_[a], bands_[b]);
            }
        }
        return !bands_.empty();
    }

    static std::vector<Vec2> through(const LineArm& in, const LineArm& out) {
        const double way = length(out.at() - in.at());
        std::vector<Vec2> path;
        const int steps = std::max(2, static_cast<int>(std::lround(0.5 * way)));
        for (int i = 0; i <= steps; ++i) {
            path.push_back(
                cubic_at(static_cast<double>(i) / steps, in.at(), way * in.inwards(), out.at(), -way * out.inwards()));
        }
        return path;
    }

    static void note_crossing(HiddenBand& a, HiddenBand& b) {
        for (std::size_t i = 1; i < a.path.size(); ++i) {
            for (std::size_t k = 1; k < b.path.size(); ++k) {
                if (segments_cross(a.path[i - 1], a.path[i], b.path[k - 1], b.path[k])) {
                    a.met.push_back(nearest_along(a.path, a.path[i]).first);
                    b.met.push_back(nearest_along(b.path, a.path[i]).first);
                    return;
                }
            }
        }
    }

    /// What did not go through runs into what did.
    bool run_into_others() {
        const std::size_t through = bands_.size();
        for (std::size_t i = 0; i < arms_.size(); ++i) {
            if (!taken_[i] && !run_into_others(arms_[i], through)) {
                return false;
            }
        }
        return true;
    }

    /// As it heads, as far as the first that it meets; beside it where it comes near it most.
    bool run_into_others(const LineArm& arm, std::size_t through) {
        constexpr double longest_mm = 220.0;
        constexpr double met_mm = 0.75;
        constexpr double beside = 0.3; // of the width
        const std::vector<Vec2> on = arm.prolonged(longest_mm);
        std::vector<Vec2> path;
        std::vector<double> before(through, 1e9);
        for (const Vec2 p : on) {
            for (std::size_t k = 0; k < through; ++k) {
                const auto [along, off] = nearest_along(bands_[k].path, p);
                if (off <= met_mm || (off > before[k] && before[k] < beside * bands_[k].width_mm)) {
                    bands_[k].met.push_back(along);
                    path.push_back(p);
                    bands_.push_back({std::move(path), arm.width_mm, {}});
                    return true;
                }
                before[k] = off;
            }
            path.push_back(p);
        }
        return false;
    }

    bool meet_at_a_point(double most_aside) {
        constexpr double reach_mm = 110.0;
        std::vector<FittedArm> ways;
        for (const LineArm& arm : arms_) {
            ways.push_back(arm.way);
        }
        const Vec2 point = meeting_point(ways, box_.middle(), reach_mm);
        std::vector<HiddenBand> found;
        for (const LineArm& arm : arms_) {
            std::vector<Vec2> path = arm.prolonged(reach_mm);
            const auto [along, off] = nearest_along(path, point);
            if (off > most_aside * arm.width_mm + 1.0 || box_.off_mm(point) > 1.5 * arm.width_mm) {
                return false;
            }
            path.resize(std::max<std::size_t>(1, static_cast<std::size_t>(along)));
            path.push_back(point);
            found.push_back({std::move(path), arm.width_mm, {}});
        }
        bands_ = std::move(found);
        return true;
    }

    /// From where others meet it to the next, as far as it is under the plate.
    void add_covers(HiddenBand band, std::vector<Cover>& covers) const {
        constexpr double fine_step_mm = 0.2;
        band.path = resampled(band.path, fine_step_mm);
        std::vector<double> met = band.met;
        std::sort(met.begin(), met.end());
        met.push_back(1e9);
        std::size_t next = 0;
        Cover open;
        bool is_open = false;
        double along = 0.0;
        const auto close = [&] {
            constexpr double least_mm = 2.0;
            if (is_open && length(open.to - open.from) >= least_mm) {
                covers.push_back(open);
            }
            is_open = false;
        };
        for (std::size_t i = 0; i < band.path.size(); ++i) {
            const Vec2 p = band.path[i];
            along += i > 0 ? length(p - band.path[i - 1]) : 0.0;
            if (along >= met[next]) {
                open.to = p;
                close();
                ++next;
            }
            if (!lies_over(band, i)) {
                close();
                continue;
            }
            open = {is_open ? open.from : p, p};
            is_open = true;
        }
        close();
    }

    /// Whether the plate is over the middle part of a line, not only over its rim.
    bool lies_over(const HiddenBand& band, std::size_t i) const {
        constexpr double part = 0.2; // of the width, to each side
        const Vec2 on = band.path[std::min(i + 1, band.path.size() - 1)] - band.path[i > 0 ? i - 1 : 0];
        const Vec2 aside = part * band.width_mm / std::max(1e-9, length(on)) * Vec2{-on.y, on.x};
        return box_.off_mm(band.path[i] + aside) <= 0.0 && box_.off_mm(band.path[i] - aside) <= 0.0;
    }

    const ShapeBox& box_;
    std::vector<LineArm> arms_;
    std::vector<bool> taken_;
    std::vector<HiddenBand> bands_;
};

/// The longer side of the box round it, in cells, and how many it has.
std::pair<int, int> extent_of_plate(std::span<const CellRun> shape) {
    int left = shape.front().from;
    int behind = shape.front().behind;
    int cells = 0;
    for (const CellRun& run : shape) {
        left = std::min(left, run.from);
        behind = std::max(behind, run.behind);
        cells += run.behind - run.from;
    }
    return {std::max(behind - left, shape.back().row + 1 - shape.front().row), cells};
}

/// From where on rings round a plate tell no more: they are clear of what lies beside it at about a line's width.
double farthest_for(const std::vector<LineArm>& arms) {
    constexpr double widths = 2.4;
    double widest = 0.0;
    for (const LineArm& arm : arms) {
        widest = std::max(widest, arm.width_mm);
    }
    constexpr std::size_t most_arms = 12;
    return arms.empty() ? 1e9 : arms.size() > most_arms ? 0.0 : 8.0 + widths * widest;
}

} // namespace

UnderPlate under_plate(const LineMask& mask, std::span<const CellRun> shape) {
    constexpr double longest_mm = 140.0;
    constexpr double least_mm2 = 60.0;
    const auto [longest, cells] = extent_of_plate(shape);
    if (longest * mask.cell_mm > longest_mm || cells * mask.cell_mm * mask.cell_mm < least_mm2) {
        return {};
    }
    // As near as it can be: where plates lie beside a line, or near a junction, only rings farther off are crossed by
    // single lines.
    std::optional<ShapeBox> box;
    std::vector<LineArm> arms;
    for (const double off_mm : {2.5, 4.0, 6.0, 9.0, 13.0, 18.0, 24.0, 31.0, 40.0, 50.0, 62.0}) {
        if (off_mm > farthest_for(arms)) {
            break;
        }
        constexpr double rim_mm = 2.0;
        if (!box || box->margin_mm() < off_mm + rim_mm) {
            const auto enough = [&](double margin_mm) { return margin_mm >= off_mm; };
            constexpr std::array margins_mm{13.0, 24.0, 40.0, 62.0};
            box.emplace(mask, shape, rim_mm + *std::find_if(margins_mm.begin(), margins_mm.end(), enough));
            if (!box->is_compact()) {
                return {};
            }
        }
        const bool all = box->add_arms_at(off_mm, arms);
        if (all && arms.size() > 1) {
            HiddenWays ways(*box, arms);
            if (ways.find()) {
                return ways.made(mask);
            }
        }
    }
    return {};
}

} // namespace vast_turn
