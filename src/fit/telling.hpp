#pragma once

/// What the parts of a fit tell, put together.

#include <algorithm>
#include <cmath>
#include <string>
#include <utility>

#include "vast_turn/fit/fit.hpp"

namespace vast_turn {

/// A report as it grows.
class Telling {
protected:
    static constexpr double in_95_percent = 1.96;
    // What tells how wide an interval must be was found in the same logs as the numbers: over robots whose numbers are
    // known standard errors came out too small by so much, that of the delay twice (tests/fit/many_robots_test.cpp).
    static constexpr double wider = 1.4;
    // The log's powers are rounded, and a model is a model.
    static constexpr double least_part = 2e-5;

    explicit Telling(const Robot& robot) { out_.robot = robot; }

    void untold(std::string words, std::string why, std::string needs) {
        out_.untold.push_back({std::move(words), std::move(why), std::move(needs)});
    }

    /// `error`: standard error; `least` and `most`: of what can be.
    void number(std::string key, std::string words, std::string unit, double filed, double value, double error,
                double least, double most) {
        out_.numbers.push_back({std::move(key), std::move(words), std::move(unit), filed, value,
                                std::clamp(value - in_95_percent * error, least, most),
                                std::clamp(value + in_95_percent * error, least, most)});
    }

    /// Of what follows from how wheels moved.
    void motion_number(std::string key, std::string words, std::string unit, double filed, double value, double error,
                       double least, double most) {
        if (!(error > 0.0) || !std::isfinite(value)) {
            return untold(std::move(words), "nothing in the logs depends on it", "a drive that tells (--drives)");
        }
        const double wide = std::max(wider * error, least_part * std::abs(value));
        number(std::move(key), std::move(words), std::move(unit), filed, value, wide, least, most);
    }

    FitReport out_;
};

} // namespace vast_turn
