#pragma once

/// How well numbers of a robot are found that are known.

#include <algorithm>
#include <cmath>
#include <cstdint>
#include <map>
#include <random>
#include <string>
#include <vector>

#include <doctest/doctest.h>
#include <fmt/format.h>

#include "vast_turn/fit/fit.hpp"

namespace fixtures {

using vast_turn::FitReport;
using vast_turn::FittedNumber;

/// How often true values lay within their intervals, and how far off the values were.
class Tally {
public:
    /// `within`: how near to the truth a number is held to be.
    void take(const FitReport& report, const std::string& key, double truth, double within = HUGE_VAL) {
        const FittedNumber* number = report.find(key);
        if (number == nullptr) {
            ++untold_[key];
            return;
        }
        Kept& kept = kept_[key];
        ++kept.all;
        const bool inside = truth >= number->low && truth <= number->high;
        kept.inside += inside ? 1 : 0;
        kept.worst = std::max(kept.worst, std::abs(number->value - truth));
        kept.near += std::abs(number->value - truth) <= within ? 1 : 0;
        kept.off.push_back(std::abs(number->value - truth) / std::max(1e-12, 0.5 * (number->high - number->low)));
        if (!inside) {
            MESSAGE(fmt::format("{}: {:.6g} of {:.6g}, {:.6g} to {:.6g}", key, number->value, truth, number->low,
                                number->high));
        }
    }

    double share_inside() const {
        double all = 0.0;
        double inside = 0.0;
        for (const auto& [key, kept] : kept_) {
            all += kept.all;
            inside += kept.inside;
        }
        return inside / all;
    }
    double share_near(const std::string& key) const {
        return static_cast<double>(kept_.at(key).near) / kept_.at(key).all;
    }

    std::string text() const {
        std::string out;
        for (const auto& [key, kept] : kept_) {
            const auto untold = untold_.find(key);
            out += fmt::format(
                "{}: {} of {} inside, {} near enough, {} untold, off by at most {:.4g}; 19 of 20 by at most "
                "{:.2f} half intervals\n",
                key, kept.inside, kept.all, kept.near, untold == untold_.end() ? 0 : untold->second, kept.worst,
                nineteen_of_twenty(kept.off));
        }
        return out;
    }

private:
    static double nineteen_of_twenty(std::vector<double> off) {
        std::sort(off.begin(), off.end());
        return off[static_cast<std::size_t>(0.95 * static_cast<double>(off.size() - 1))];
    }

    struct Kept {
        int all = 0;
        int inside = 0;
        double worst = 0.0;
        int near = 0;
        std::vector<double> off; ///< in half widths of their intervals
    };
    std::map<std::string, Kept> kept_;
    std::map<std::string, int> untold_;
};

/// Random numbers.
class Dice {
public:
    explicit Dice(std::uint32_t seed) : random_(seed) {}
    double even(double from, double to) { return from + (to - from) * static_cast<double>(random_()) / 4294967296.0; }
    /// Nearly: the sum of twelve even ones (central limit).
    double normal() {
        double sum = -6.0;
        for (int i = 0; i < 12; ++i) {
            sum += even(0.0, 1.0);
        }
        return sum;
    }
    bool one_in(unsigned n) { return random_() % n == 0; }
    std::size_t of(std::size_t n) { return random_() % n; }

private:
    std::mt19937 random_;
};

} // namespace fixtures
