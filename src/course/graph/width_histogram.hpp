#pragma once

/// How much of a floor is how wide.

#include <algorithm>
#include <cmath>
#include <cstddef>
#include <vector>

namespace vast_turn {

/// In steps of a twelfth, from 6 to 60 mm, as tape is.
class WidthHistogram {
public:
    void add(double width_mm, double much) {
        const auto at = std::lround(std::log(std::max(0.1, width_mm) / least_mm) / std::log(step));
        if (at >= 0 && at < static_cast<long>(much_.size())) {
            much_[static_cast<std::size_t>(at)] += much;
        }
    }

    /// Forgets the first steps when there is anything beyond them.
    void leave_out_first(std::size_t steps) {
        const auto first = much_.begin() + static_cast<std::ptrdiff_t>(steps);
        if (std::any_of(first, much_.end(), [](double much) { return much > 0.0; })) {
            std::fill(much_.begin(), first, 0.0);
        }
    }

    std::size_t size() const { return much_.size(); }
    double width_mm(std::size_t i) const { return least_mm * std::pow(step, static_cast<double>(i)); }
    double at(std::size_t i) const { return much_[i]; }

    /// With both neighbours: a width lies on the border of two steps.
    double round(std::size_t i) const {
        return much_[i] + (i > 0 ? much_[i - 1] : 0.0) + (i + 1 < much_.size() ? much_[i + 1] : 0.0);
    }

    std::size_t best() const {
        std::size_t best = 0;
        for (std::size_t i = 1; i < much_.size(); ++i) {
            best = round(i) > round(best) ? i : best;
        }
        return best;
    }

private:
    static constexpr double least_mm = 6.0;
    static constexpr double step = 1.085;
    std::vector<double> much_ = std::vector<double>(31, 0.0);
};

} // namespace vast_turn
