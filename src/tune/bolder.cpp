#include "tune/bolder.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <numeric>
#include <utility>

namespace vast_turn {

namespace {

constexpr double reach = 0.22; // of a range, within which places tell of one another

/// Of a surface at a place, by differences.
std::vector<double> slope_of(const TuneSurface& times, const std::vector<double>& middle) {
    std::vector<double> slope(middle.size());
    for (std::size_t k = 0; k < slope.size(); ++k) {
        std::vector<double> low = middle;
        std::vector<double> high = middle;
        low[k] -= 0.04;
        high[k] += 0.04;
        slope[k] = times.value_at(high) - times.value_at(low);
    }
    return slope;
}

} // namespace

std::optional<std::vector<double>> BolderPlaces::nth(CandidateNumber held, int n) const {
    const std::vector<double> middle = field_.place_of(held);
    if (n % 8 == 0) {
        return beyond(held, middle, n / 8);
    }
    return n % 4 == 0 ? half_way(held, middle, n / 4) : promising(held, middle, 3 * (n / 4) + n % 4 - 1);
}

/// To the n-th of those that failed, the seldom failing and near ones first.
std::optional<std::vector<double>> BolderPlaces::half_way(CandidateNumber held, const std::vector<double>& middle,
                                                          int n) const {
    std::vector<std::pair<double, CandidateNumber>> failed;
    for (CandidateNumber one = 0; one < field_.size(); ++one) {
        if (!field_.is_in(one) && field_.days(one) > 0 && is_near(one, middle) && field_.time_s(one) > 0.0 &&
            field_.time_s(one) < field_.time_s(held)) {
            failed.emplace_back(static_cast<double>(field_.failed(one)) / static_cast<double>(field_.days(one)), one);
        }
    }
    if (static_cast<std::size_t>(n) >= failed.size()) {
        return std::nullopt;
    }
    std::sort(failed.begin(), failed.end());
    std::vector<double> place = field_.place_of(failed[static_cast<std::size_t>(n)].second);
    for (std::size_t k = 0; k < place.size(); ++k) {
        place[k] = 0.5 * (place[k] + middle[k]);
    }
    return place;
}

/// Past it from the n-th fastest of those that hold too: what made it faster than that one, once more.
std::optional<std::vector<double>> BolderPlaces::beyond(CandidateNumber held, const std::vector<double>& middle,
                                                        int n) const {
    int left = n;
    for (const CandidateNumber one : field_.by_time()) {
        if (one == held || left-- > 0) {
            continue;
        }
        std::vector<double> place = field_.place_of(one);
        for (std::size_t k = 0; k < place.size(); ++k) {
            place[k] = std::clamp(middle[k] + std::clamp(middle[k] - place[k], -0.1, 0.1), 0.0, 1.0);
        }
        return place;
    }
    return std::nullopt;
}

/// The n-th of some strides that should make it faster: down the surface of times, then along each number, long
/// strides first.
std::optional<std::vector<double>> BolderPlaces::promising(CandidateNumber held, const std::vector<double>& middle,
                                                           int n) const {
    constexpr std::array<double, 4> strides = {0.08, 0.04, 0.02, 0.01};
    const std::size_t count = middle.size();
    // Each stride: down the slope, along each number, and any ways down: along an edge it is one of those.
    const std::size_t ways = 1 + count + 2 * count;
    const std::size_t way = static_cast<std::size_t>(n) % ways;
    const double stride = strides[static_cast<std::size_t>(n) / ways % strides.size()];
    const std::vector<double> slope = slope_of(times_around(middle, held), middle);
    std::vector<double> step(count, 0.0);
    if (way == 0) {
        step = slope;
    } else if (way <= count) {
        step[way - 1] = slope[way - 1];
    } else {
        const SweepValues any = fill_of(cube_, static_cast<std::size_t>(n) + 1, seed_ + 7).back();
        std::transform(any.begin(), any.end(), step.begin(), [](double x) { return 2.0 * x - 1.0; });
        const bool is_down = std::inner_product(step.begin(), step.end(), slope.begin(), 0.0) > 0.0;
        std::transform(step.begin(), step.end(), step.begin(), [&](double x) { return is_down ? x : -x; });
    }
    double longest = 0.0;
    for (const double part : step) {
        longest = std::max(longest, std::abs(part));
    }
    if (!(longest > 0.0)) {
        return std::nullopt;
    }
    std::vector<double> place = middle;
    for (std::size_t k = 0; k < count; ++k) {
        place[k] = std::clamp(place[k] - stride * step[k] / longest, 0.0, 1.0);
    }
    return place;
}

/// Logarithms of times against one of them.
TuneSurface BolderPlaces::times_around(const std::vector<double>& middle, CandidateNumber reference) const {
    std::vector<TuneSurface::Seen> seen;
    for (CandidateNumber one = 0; one < field_.size(); ++one) {
        if (is_near(one, middle) && field_.is_in(one) && field_.time_s(one) > 0.0) {
            seen.push_back(
                {field_.place_of(one), static_cast<double>(field_.days(one)), std::log(field_.worth(one, reference))});
        }
    }
    return TuneSurface::of_values(middle, reach, seen);
}

bool BolderPlaces::is_near(CandidateNumber one, const std::vector<double>& middle) const {
    const std::vector<double> place = field_.place_of(one);
    double apart = 0.0;
    for (std::size_t k = 0; k < place.size(); ++k) {
        apart = std::max(apart, std::abs(place[k] - middle[k]));
    }
    return field_.days(one) > 0 && apart <= reach;
}

} // namespace vast_turn
