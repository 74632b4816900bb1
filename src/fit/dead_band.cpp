#include "fit/dead_band.hpp"

#include <algorithm>
#include <cmath>
#include <limits>

namespace vast_turn {

namespace {

constexpr double most_pct = 45.0;
constexpr double alike_pct = 0.004; // logs round powers to a hundredth

} // namespace

DeadBand::DeadBand(const std::vector<DriveLog>& logs) {
    for (const DriveLog& log : logs) {
        for (const std::vector<double>* powers : {&log.left_pct, &log.right_pct}) {
            for (const double power : *powers) {
                if (std::abs(power) > alike_pct && std::abs(power) <= most_pct) {
                    powers_.push_back(std::abs(power));
                }
            }
        }
    }
    std::sort(powers_.begin(), powers_.end());
    powers_.erase(std::unique(powers_.begin(), powers_.end(), [](double a, double b) { return b - a < alike_pct; }),
                  powers_.end());
}

std::size_t DeadBand::gap_of(double dead_band_pct) const {
    return std::min(
        powers_.size() - 1,
        static_cast<std::size_t>(std::lower_bound(powers_.begin(), powers_.end(), dead_band_pct) - powers_.begin()));
}

double DeadBand::best(double now, const Cost& cost) const {
    if (powers_.empty()) {
        return now;
    }
    // Ever closer round the best so far, down to each gap by itself.
    constexpr std::size_t places = 24;
    std::size_t from = 0;
    std::size_t to = powers_.size() - 1;
    std::size_t best = gap_of(now);
    double least = cost(middle(best));
    for (;;) {
        const std::size_t stride = std::max<std::size_t>(1, (to - from) / places);
        for (std::size_t i = from; i <= to; i += stride) {
            const double costs = cost(middle(i));
            if (costs < least) {
                least = costs;
                best = i;
            }
        }
        if (stride == 1) {
            return middle(best);
        }
        from = best > stride ? best - stride : 0;
        to = std::min(powers_.size() - 1, best + stride);
    }
}

std::optional<std::pair<double, double>> DeadBand::between(double best, const Cost& cost) const {
    if (powers_.empty()) {
        return std::nullopt;
    }
    const std::size_t at = gap_of(best);
    const double least = cost(middle(at));
    struct Gap {
        double from;
        double to;
        double weight;
    };
    std::vector<Gap> gaps;
    constexpr double far_off = 20.0;
    constexpr std::size_t most_gaps = 80;
    const auto take = [&](std::size_t i) {
        const double off = std::max(0.0, cost(middle(i)) - least);
        const double from = i == 0 ? 0.0 : powers_[i - 1];
        gaps.push_back({from, powers_[i], (powers_[i] - from) * std::exp(-0.5 * off)});
        return off < far_off;
    };
    for (std::size_t i = at; i < powers_.size() && i < at + most_gaps && take(i); ++i) {
    }
    for (std::size_t i = at; i-- > 0 && at - i < most_gaps && take(i);) {
    }
    std::sort(gaps.begin(), gaps.end(), [](const Gap& a, const Gap& b) { return a.from < b.from; });
    double all = 0.0;
    for (const Gap& gap : gaps) {
        all += gap.weight;
    }
    const auto where = [&](double part) {
        double below = 0.0;
        for (const Gap& gap : gaps) {
            if (below + gap.weight >= part * all) {
                return gap.from + (gap.to - gap.from) * (part * all - below) / std::max(gap.weight, 1e-300);
            }
            below += gap.weight;
        }
        return gaps.back().to;
    };
    return std::pair{where(0.025), where(0.975)};
}

} // namespace vast_turn
