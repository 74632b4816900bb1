#include "fit/sensor_fit.hpp"

#include <algorithm>
#include <cmath>
#include <numeric>

#include "fit/whitening.hpp"

namespace vast_turn {

namespace {

constexpr std::size_t beside = 5; // looks on either side that must agree
constexpr std::size_t apart = 2;  // between them and those that are compared

double mean_of(const std::vector<double>& counts, std::size_t from) {
    return std::accumulate(counts.begin() + static_cast<std::ptrdiff_t>(from),
                           counts.begin() + static_cast<std::ptrdiff_t>(from + beside), 0.0) /
           static_cast<double>(beside);
}

/// What is seen most often: the middle of the shortest stretch of counts that holds a quarter of all.
double most_seen(const std::vector<const std::vector<double>*>& logs) {
    std::vector<double> all;
    for (const std::vector<double>* log : logs) {
        all.insert(all.end(), log->begin(), log->end());
    }
    std::sort(all.begin(), all.end());
    const std::size_t quarter = std::max<std::size_t>(1, all.size() / 4);
    std::size_t best = 0;
    for (std::size_t i = 0; i + quarter < all.size(); ++i) {
        if (all[i + quarter] - all[i] < all[best + quarter] - all[best]) {
            best = i;
        }
    }
    return all[best + quarter / 2];
}

/// Pairs of looks one after the other, none of them twice, with quiet ones before and behind.
template <class Take>
void each_pair(const std::vector<const std::vector<double>*>& logs, double level, double tolerance, Take take) {
    for (const std::vector<double>* log : logs) {
        const std::vector<double>& counts = *log;
        for (std::size_t i = beside + apart; i + 1 + apart + beside < counts.size(); ++i) {
            const double before = mean_of(counts, i - apart - beside);
            const double behind = mean_of(counts, i + 2 + apart);
            if (std::abs(before - level) <= tolerance && std::abs(behind - level) <= tolerance) {
                take(counts[i], counts[i + 1]);
                ++i;
            }
        }
    }
}

} // namespace

std::optional<SensorFit> fit_sensor(const std::vector<const std::vector<double>*>& logs) {
    if (logs.empty() || logs.front()->empty()) {
        return std::nullopt;
    }
    double level = most_seen(logs);
    std::vector<double> steps;
    for (const std::vector<double>* log : logs) {
        for (std::size_t i = 1; i < log->size(); ++i) {
            steps.push_back((*log)[i] - (*log)[i - 1]);
        }
    }
    double noise = spread_of(steps) / std::sqrt(2.0);
    std::vector<double> squares;
    std::vector<double> seen;
    constexpr int rounds = 4;
    for (int round = 0; round < rounds; ++round) {
        squares.clear();
        seen.clear();
        const double tolerance = std::max(1.0, 3.0 * noise / std::sqrt(static_cast<double>(beside)));
        each_pair(logs, level, tolerance, [&](double a, double b) {
            // An edge that came and went between the quiet looks is far off.
            if (std::max(std::abs(a - level), std::abs(b - level)) < 8.0 * std::max(noise, 0.5) + 1.0) {
                squares.push_back(0.5 * (a - b) * (a - b));
                seen.push_back(a);
                seen.push_back(b);
            }
        });
        constexpr std::size_t enough = 100;
        if (squares.size() < enough) {
            return std::nullopt;
        }
        const auto count = static_cast<double>(squares.size());
        noise = std::sqrt(std::accumulate(squares.begin(), squares.end(), 0.0) / count);
        level = std::accumulate(seen.begin(), seen.end(), 0.0) / (2.0 * count);
    }
    SensorFit out;
    const auto count = static_cast<double>(squares.size());
    const double variance = noise * noise;
    double fourth = 0.0;
    for (const double square : squares) {
        fourth += (square - variance) * (square - variance);
    }
    const double variance_error = std::sqrt(fourth) / count;
    constexpr double by_whole_counts = 1.0 / 12.0; // rounding adds so much
    out.noise = std::sqrt(std::max(0.0, variance - by_whole_counts));
    out.noise_error = out.noise > 0.0 ? 0.5 * variance_error / out.noise : std::sqrt(variance_error);
    out.level = level;
    out.level_error = std::max(noise / std::sqrt(2.0 * count), 0.05);
    return out;
}

} // namespace vast_turn
