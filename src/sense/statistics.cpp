#include "sense/statistics.hpp"

#include <algorithm>
#include <cmath>
#include <cstddef>
#include <numeric>

namespace vast_turn {

double mean_of(const std::vector<double>& values) {
    return values.empty() ? 0.0
                          : std::accumulate(values.begin(), values.end(), 0.0) / static_cast<double>(values.size());
}

double deviation_of(const std::vector<double>& values) {
    if (values.size() < 2) {
        return 0.0;
    }
    const double mean = mean_of(values);
    double sum = 0.0;
    for (const double v : values) {
        sum += (v - mean) * (v - mean);
    }
    return std::sqrt(sum / static_cast<double>(values.size() - 1));
}

double median_of(std::vector<double> values) {
    if (values.empty()) {
        return 0.0;
    }
    std::sort(values.begin(), values.end());
    const std::size_t half = values.size() / 2;
    return values.size() % 2 == 1 ? values[half] : 0.5 * (values[half - 1] + values[half]);
}

double successive_noise(const std::vector<double>& values) {
    if (values.size() < 2) {
        return 0.0;
    }
    double sum = 0.0;
    for (std::size_t i = 1; i < values.size(); ++i) {
        sum += (values[i] - values[i - 1]) * (values[i] - values[i - 1]);
    }
    return std::sqrt(0.5 * sum / static_cast<double>(values.size() - 1));
}

Fit fit_of(const Sample& sample) {
    const std::size_t n = sample.at.size();
    if (n < 3) {
        return {};
    }
    const double middle = mean_of(sample.at);
    const double mean = mean_of(sample.counts);
    double across = 0.0;
    double both = 0.0;
    for (std::size_t i = 0; i < n; ++i) {
        across += (sample.at[i] - middle) * (sample.at[i] - middle);
        both += (sample.at[i] - middle) * (sample.counts[i] - mean);
    }
    if (!(across > 0.0)) {
        return {};
    }
    Fit fit;
    fit.slope = both / across;
    fit.at_zero = mean - fit.slope * middle;
    double rest = 0.0;
    for (std::size_t i = 0; i < n; ++i) {
        const double off = sample.counts[i] - mean - fit.slope * (sample.at[i] - middle);
        rest += off * off;
    }
    fit.slope_error = std::sqrt(rest / static_cast<double>(n - 2) / across);
    return fit;
}

} // namespace vast_turn
