#include "fit/dead_band.hpp"

#include <algorithm>
#include <cmath>
#include <iterator>
#include <map>
#include <set>

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

std::vector<std::size_t> DeadBand::valleys(double now, const Cost& cost) const {
    std::map<std::size_t, double> known;
    const auto costs = [&](std::size_t i) {
        const auto at = known.find(i);
        return at != known.end() ? at->second : known.emplace(i, cost(middle(i))).first->second;
    };
    // Ever closer round the best places of all, down to each gap by itself: what fits may lie in one gap alone, far
    // from another that fits as well.
    constexpr std::size_t places = 24;
    constexpr std::size_t most = 3;
    std::set<std::size_t> coarse = {gap_of(now), powers_.size() - 1};
    for (std::size_t i = 0; i < powers_.size(); i += std::max<std::size_t>(1, powers_.size() / places)) {
        coarse.insert(i);
    }
    struct Valley {
        std::size_t at;
        std::size_t from;
        std::size_t to;
    };
    std::vector<Valley> found;
    for (auto it = coarse.begin(); it != coarse.end(); ++it) {
        const std::size_t before = it == coarse.begin() ? *it : *std::prev(it);
        const std::size_t behind = std::next(it) == coarse.end() ? *it : *std::next(it);
        if (costs(*it) <= costs(before) && costs(*it) <= costs(behind)) {
            found.push_back({*it, before, behind});
        }
    }
    const auto is_lower = [&](std::size_t a, std::size_t b) { return costs(a) < costs(b); };
    std::stable_sort(found.begin(), found.end(),
                     [&](const Valley& a, const Valley& b) { return is_lower(a.at, b.at); });
    found.resize(std::min(found.size(), most));
    std::vector<std::size_t> out;
    for (Valley& valley : found) {
        for (std::size_t stride = powers_.size(); stride > 1;) {
            stride = std::max<std::size_t>(1, (valley.to - valley.from) / places);
            for (std::size_t i = valley.from; i <= valley.to; i += stride) {
                valley.at = is_lower(i, valley.at) ? i : valley.at;
            }
            valley.from = valley.at > stride ? valley.at - stride : 0;
            valley.to = std::min(powers_.size() - 1, valley.at + stride);
        }
        out.push_back(valley.at);
    }
    std::stable_sort(out.begin(), out.end(), is_lower);
    out.erase(std::unique(out.begin(), out.end()), out.end());
    return out;
}

double DeadBand::best(double now, const Cost& cost) const {
    return powers_.empty() ? now : middle(valleys(now, cost).front());
}

std::optional<std::pair<double, double>> DeadBand::between(double best, const Cost& cost) const {
    if (powers_.empty()) {
        return std::nullopt;
    }
    std::vector<std::size_t> at = valleys(best, cost);
    at.insert(at.begin(), gap_of(best));
    const double least = cost(middle(at.front()));
    struct Gap {
        double from;
        double to;
        double weight;
    };
    std::vector<Gap> gaps;
    constexpr double far_off = 20.0;
    constexpr std::size_t most_gaps = 80;
    std::set<std::size_t> taken;
    const auto take = [&](std::size_t i) {
        if (!taken.insert(i).second) {
            return true;
        }
        const double off = std::max(0.0, cost(middle(i)) - least);
        const double from = i == 0 ? 0.0 : powers_[i - 1];
        gaps.push_back({from, powers_[i], (powers_[i] - from) * std::exp(-0.5 * off)});
        return off < far_off;
    };
    for (const std::size_t valley : at) {
        for (std::size_t i = valley; i < powers_.size() && i < valley + most_gaps && take(i); ++i) {
        }
        for (std::size_t i = valley; i-- > 0 && valley - i < most_gaps && take(i);) {
        }
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
