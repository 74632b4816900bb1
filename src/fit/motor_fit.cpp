#include "fit/motor_fit.hpp"

#include <algorithm>
#include <cmath>
#include <numeric>
#include <tuple>
#include <utility>
#include <vector>

#include "fit/dead_band.hpp"

namespace vast_turn {

namespace {

/// Power below which a standing wheel does not start, of a robot with weight: tried in ever smaller steps, and taken
/// where it is told by more than chance.
void find_start(MotionProblem& problem, const MotionProblem::Aside& aside) {
    constexpr double by_more_than_chance = 12.0;
    const double filed = problem.start_pct;
    const double now = aside.cost();
    double least = now;
    double best = filed;
    for (const double step : {1.0, 0.3, 0.1}) {
        const double middle = best;
        for (int i = -5; i <= 5; ++i) {
            problem.start_pct = std::max(0.0, middle + i * step);
            const double costs = aside.cost();
            if (costs < least) {
                least = costs;
                best = problem.start_pct;
            }
        }
    }
    problem.start_pct = now - least > by_more_than_chance ? best : filed;
}

/// Friction at rest and the dead band hide behind one another: both at once, coarsely.
void search_both(MotionProblem& problem, const MotionProblem::Aside& aside) {
    std::pair<double, double> best{problem.start_pct, problem.dead_band_pct};
    double least = aside.cost();
    for (const double start : {0.3, 1.2, 2.1, 3.0, 3.9, 4.8, 5.7, 6.6, 7.5, 8.7}) {
        for (const double dead_band : {0.5, 2.0, 3.2, 4.4, 5.6, 6.8, 8.0, 9.5}) {
            problem.start_pct = start;
            problem.dead_band_pct = dead_band;
            const double costs = aside.cost();
            if (costs < least) {
                least = costs;
                best = {start, dead_band};
            }
        }
    }
    std::tie(problem.start_pct, problem.dead_band_pct) = best;
}

/// A battery that sags hides behind friction and lag: where the search ended at none it is begun anew with some.
void try_other_valleys(MotionProblem& problem, Eigen::VectorXd& x) {
    for (const double sag : {0.05, 0.2}) {
        Eigen::VectorXd other = x;
        other[Unknowns::sag] = sag;
        problem.solve(other);
        if (problem.cost(other) < problem.cost(x)) {
            x = other;
        }
    }
}

/// News of the rims at looks, and by how much a later answer moves them.
struct DelayRows {
    std::vector<double> square; // of what is new
    std::vector<double> lever;  // the derivative's, likewise
};

/// Each new shock of the delay moves what is new at its look by the derivative there: what the squares of both have in
/// common is its variance. Wheels that turn are counted in steps and standing ones are not, so looks of either are held
/// against their like alone. The simulation draws it in whole milliseconds, evenly: (v^2 - 1) / 12.
VaryingDelay varying_delay(std::vector<DelayRows> kinds) {
    double among = 0.0;
    double common = 0.0;
    for (DelayRows& rows : kinds) {
        const auto less_mean = [](std::vector<double>& values) {
            const double mean = std::accumulate(values.begin(), values.end(), 0.0) /
                                static_cast<double>(std::max<std::size_t>(1, values.size()));
            for (double& value : values) {
                value -= mean;
            }
        };
        less_mean(rows.square);
        less_mean(rows.lever);
        among += std::inner_product(rows.lever.begin(), rows.lever.end(), rows.lever.begin(), 0.0);
        common += std::inner_product(rows.lever.begin(), rows.lever.end(), rows.square.begin(), 0.0);
    }
    if (!(among > 0.0)) {
        return {};
    }
    const double variance = common / among;
    double off = 0.0;
    for (const DelayRows& rows : kinds) {
        for (std::size_t i = 0; i < rows.lever.size(); ++i) {
            off += std::pow(rows.lever[i] * (rows.square[i] - variance * rows.lever[i]), 2);
        }
    }
    const double error = std::sqrt(off) / among;
    constexpr double surely = 4.0;
    constexpr double least_ms2 = 0.1;
    VaryingDelay out;
    out.at_most_ms = std::sqrt(12.0 * std::max(0.0, variance + 2.0 * error) + 1.0);
    out.is_told = variance > surely * error && variance > least_ms2;
    if (out.is_told) {
        out.varies_ms = std::sqrt(12.0 * variance + 1.0);
        out.error_ms = 6.0 * error / out.varies_ms;
    }
    return out;
}

VaryingDelay varying_delay(const MotionProblem& problem, const Eigen::VectorXd& x) {
    const Eigen::VectorXd fresh = problem.fresh(x);
    const Eigen::VectorXd by_delay = problem.jacobian(x).col(Unknowns::delay);
    std::vector<DelayRows> kinds(2); // standing and turning
    problem.each_rim([&](Eigen::Index begin, Eigen::Index length) {
        constexpr Eigen::Index about = 4; // looks, so that coarse encoders have counted
        constexpr double hardly_mm = 0.2;
        for (Eigen::Index row = begin; row < begin + length; ++row) {
            if (problem.curves()[row] > 0.0) { // late looks are none that vary
                const double way = problem.told()[std::min(begin + length - 1, row + about)] -
                                   problem.told()[std::max(begin, row - about)];
                DelayRows& rows = kinds[std::abs(way) > hardly_mm ? 1 : 0];
                rows.square.push_back(fresh[row] * fresh[row]);
                rows.lever.push_back(by_delay[row] * by_delay[row]);
            }
        }
    });
    return varying_delay(std::move(kinds));
}

/// The unknowns for which all logs agree best; the problem keeps what is sought by trying.
Eigen::VectorXd search(const Robot& robot, MotionProblem& problem, const DeadBand& dead_band) {
    Eigen::VectorXd x = problem.first_guess();
    problem.solve(x);
    constexpr int rounds = 4;
    constexpr int near = 2; // from that round on
    for (int round = 0; round < rounds; ++round) {
        problem.attune(x, round >= near);
        const MotionProblem::Aside aside(problem, x);
        problem.dead_band_pct = dead_band.best(problem.dead_band_pct, [&](double dead_band_pct) {
            problem.dead_band_pct = dead_band_pct;
            return aside.cost();
        });
        if (robot.drive) {
            if (round % 2 == 1) {
                search_both(problem, aside);
            }
            find_start(problem, aside);
        }
        problem.solve(x);
    }
    if (robot.drive) {
        try_other_valleys(problem, x);
    }
    return x;
}

} // namespace

MotorFit fit_motors(const Robot& robot, const std::vector<DriveLog>& logs, std::optional<ToldTurns> turns) {
    MotionProblem problem(robot, logs, turns);
    const DeadBand dead_band(logs);
    const Eigen::VectorXd x = search(robot, problem, dead_band);
    MotorFit out;
    out.sought = problem.sought();
    out.covariance = problem.covariance(x);
    out.told_part = problem.told_part(x);
    constexpr double nearly_all = 0.8;
    out.rims_are_exact = problem.rims_are_exact() >= nearly_all;
    out.ways = problem.followed(x);
    out.varying = varying_delay(problem, x);
    out.varying.is_told = out.varying.is_told && out.rims_are_exact; // steps of coarse encoders look like it
    const double best = problem.dead_band_pct;
    const MotionProblem::Aside aside(problem, x);
    const double times = problem.hanging_together(out.covariance, x);
    constexpr double as_wide = 3.0; // as intervals of all else are, see fit.cpp
    out.dead_band_pct = dead_band.between(best, [&](double dead_band_pct) {
        problem.dead_band_pct = dead_band_pct;
        return aside.cost() / (as_wide * times);
    });
    problem.dead_band_pct = best;
    out.numbers = problem.numbers_of(x);
    for (double* number : {&out.numbers.delay_ms, &out.numbers.sag, &out.numbers.run_down}) {
        *number = std::max(0.0, *number);
    }
    if (out.dead_band_pct) {
        out.numbers.dead_band_pct = 0.5 * (out.dead_band_pct->first + out.dead_band_pct->second);
    }
    out.track_mm = problem.robot_of(x).track_mm;
    if (turns) {
        const Eigen::Index at = out.sought.turning();
        constexpr double degrees = 57.29577951308232;
        TurnFit turn{x[at], x[at + 1], degrees * x[at + 2]};
        turn.covariance = out.covariance.block<3, 3>(at, at);
        turn.covariance.col(2) *= degrees;
        turn.covariance.row(2) *= degrees;
        out.turn = turn;
    }
    return out;
}

} // namespace vast_turn
