#include "fit/motion_problem.hpp"

#include <algorithm>
#include <cmath>

#include <unsupported/Eigen/NonLinearOptimization>

#include "vast_turn/base/geometry.hpp"

namespace vast_turn {

namespace {

/// As the solver wants to be asked.
struct SolverRows {
    const MotionProblem* problem;
    const Eigen::VectorXd* root_weights;

    int operator()(const Eigen::VectorXd& x, Eigen::VectorXd& out) const {
        out = (root_weights->array() * problem->fresh(x).array()).matrix();
        return 0;
    }
    int df(const Eigen::VectorXd& x, Eigen::MatrixXd& out) const {
        out = (problem->jacobian(x).array().colwise() * root_weights->array()).matrix();
        return 0;
    }
    int inputs() const { return static_cast<int>(problem->unknowns()); }
    int values() const { return static_cast<int>(problem->rows()); }
};

constexpr double uneven_wheels = 0.005; // standard deviation of sizes from the file's, as parts

} // namespace

MotionProblem::MotionProblem(const Robot& robot, const std::vector<DriveLog>& logs, std::optional<ToldTurns> turns)
    : dead_band_pct(robot.motors.dead_band_pct), start_pct(robot.drive ? robot.drive->starts_pct() : 0.0),
      robot_(robot), logs_(logs), turns_(turns), sought_{robot.drive.has_value(), turns.has_value()} {
    const double mm_per_deg = pi * robot.wheel_mm / 360.0;
    for (const DriveLog& log : logs) {
        add_series(log.left_deg, mm_per_deg, 0);
        add_series(log.right_deg, mm_per_deg, 0);
        if (turns) {
            add_series(log.*turns->degrees, to_radians(1.0), 1);
        }
    }
    if (sought_.weighed) {
        told_.conservativeResize(rows() + 1);
        told_[last_row()] = motor_numbers(robot).uneven / uneven_wheels;
    }
    weights_ = curves_ = Eigen::VectorXd::Ones(rows());
}

void MotionProblem::add_series(const std::vector<double>& degrees, double per_degree, std::size_t kind) {
    Eigen::Index row = told_.size();
    series_.push_back({static_cast<Eigen::Index>(degrees.size()), kind});
    told_.conservativeResize(row + series_.back().length);
    for (const double deg : degrees) {
        told_[row++] = per_degree * (deg - degrees.front());
    }
}

Eigen::VectorXd MotionProblem::first_guess() const {
    const MotorNumbers numbers = motor_numbers(robot_);
    Eigen::VectorXd x = Eigen::VectorXd::Zero(unknowns());
    x[Unknowns::left_speed] = std::log(numbers.left_mm_s);
    x[Unknowns::right_speed] = std::log(numbers.right_mm_s);
    x[Unknowns::lag] = std::log(std::max(1.0, numbers.lag_ms));
    x[Unknowns::delay] = numbers.delay_ms;
    if (robot_.drive) {
        x[Unknowns::keep] = numbers.keep_pct;
        x[Unknowns::sag] = numbers.sag;
        x[Unknowns::run_down] = numbers.run_down;
        x[Unknowns::apart] = std::log(robot_.track_mm);
        x[Unknowns::uneven] = numbers.uneven;
    }
    if (turns_) {
        x[sought_.turning()] = x[sought_.turning() + 1] = 1.0 / robot_.skid_track_mm();
    }
    return x;
}

MotorNumbers MotionProblem::numbers_of(const Eigen::VectorXd& x) const {
    MotorNumbers out;
    out.left_mm_s = std::exp(x[Unknowns::left_speed]);
    out.right_mm_s = std::exp(x[Unknowns::right_speed]);
    constexpr double slowest_ms = 1e5; // beyond it all motors are alike
    out.lag_ms = std::min(slowest_ms, std::exp(x[Unknowns::lag]));
    out.delay_ms = x[Unknowns::delay];
    out.dead_band_pct = dead_band_pct;
    if (robot_.drive) {
        out.keep_pct = std::clamp(x[Unknowns::keep], 0.0, 90.0);
        out.start_pct = start_pct;
        out.sag = std::clamp(x[Unknowns::sag], -0.3, 0.9); // below 0 while it is sought
        out.run_down = std::clamp(x[Unknowns::run_down], -0.3, 0.9);
        out.uneven = std::clamp(x[Unknowns::uneven], -0.2, 0.2);
    }
    return out;
}

Robot MotionProblem::robot_of(const Eigen::VectorXd& x) const {
    Robot out = robot_;
    if (out.drive) {
        out.track_mm = std::exp(x[Unknowns::apart]);
    }
    return out;
}

std::vector<RimWays> MotionProblem::ways(const Eigen::VectorXd& x) const {
    const MotorNumbers numbers = numbers_of(x);
    const Robot robot = robot_of(x);
    std::vector<RimWays> out;
    for (std::size_t i = 0; i < logs_.size(); ++i) {
        const Eigen::Index own = sought_.common() + Unknowns::per_log * static_cast<Eigen::Index>(i);
        out.push_back(rim_ways(robot, logs_[i], numbers, {x[own + 2], x[own + 3]}));
    }
    return out;
}

Eigen::VectorXd MotionProblem::residuals(const Eigen::VectorXd& x, const std::vector<RimWays>& all) const {
    Eigen::VectorXd out(rows());
    Eigen::Index row = 0;
    for (std::size_t i = 0; i < logs_.size(); ++i) {
        const DriveLog& log = logs_[i];
        const Eigen::Index own = sought_.common() + Unknowns::per_log * static_cast<Eigen::Index>(i);
        const RimWays& ways = all[i];
        for (const double way : ways.left_mm) {
            out[row] = told_[row] - way - x[own];
            ++row;
        }
        for (const double way : ways.right_mm) {
            out[row] = told_[row] - way - x[own + 1];
            ++row;
        }
        for (std::size_t k = 0; turns_ && k < log.looks(); ++k, ++row) {
            const double t_s = (log.t_ms[k] - log.t_ms.front()) / 1000.0;
            const double settled = turns_->settles_s > 0.0 ? -std::expm1(-t_s / turns_->settles_s) : 0.0;
            const double slid_mm = ways.slid_mm.empty() ? 0.0 : ways.slid_mm[k];
            out[row] = told_[row] - x[sought_.turning() + 1] * (ways.right_mm[k] + slid_mm) +
                       x[sought_.turning()] * (ways.left_mm[k] - slid_mm) - x[sought_.drift()] * t_s - x[own + 4] -
                       x[own + 5] * settled;
        }
    }
    if (sought_.weighed) {
        out[last_row()] = told_[last_row()] - x[Unknowns::uneven] / uneven_wheels;
    }
    return out;
}

Eigen::VectorXd MotionProblem::whitened(Eigen::VectorXd residuals) const {
    Eigen::Index begin = 0;
    for (const Series& one : series_) {
        whitenings_[one.kind].apply(residuals.segment(begin, one.length));
        begin += one.length;
    }
    return residuals;
}

bool MotionProblem::moves_rims(Eigen::Index unknown) const {
    const Eigen::Index own = unknown - sought_.common();
    return unknown < sought_.turning() || (own >= 0 && !sought_.weighed && (own % Unknowns::per_log) / 2 == 1);
}

double MotionProblem::step_of(Eigen::Index k) const {
    if (turns_ && k >= sought_.turning() && k < sought_.common()) {
        return 1e-6;
    }
    if (!sought_.weighed || k >= sought_.common()) {
        return k == Unknowns::delay ? 0.02 : (k < sought_.common() ? 1e-4 : 1e-2);
    }
    // A wheel that starts a moment earlier or later jumps: over so far jumps even out.
    constexpr std::array<double, 9> steps = {1e-3, 1e-3, 4e-3, 0.1, 0.1, 0.01, 0.003, 4e-3, 2e-3};
    return steps[static_cast<std::size_t>(k)];
}

Eigen::VectorXd MotionProblem::derivative(const Eigen::VectorXd& x, Eigen::Index k, const std::vector<RimWays>& all,
                                          const Eigen::VectorXd& here) const {
    const double step = step_of(k);
    Eigen::VectorXd moved = x;
    moved[k] += step;
    if (sought_.weighed && moves_rims(k)) {
        Eigen::VectorXd back = x;
        back[k] -= step;
        return whitened((residuals(moved, ways(moved)) - residuals(back, ways(back))) / (2.0 * step));
    }
    return whitened((residuals(moved, moves_rims(k) ? ways(moved) : all) - here) / step);
}

Eigen::MatrixXd MotionProblem::jacobian(const Eigen::VectorXd& x) const {
    Eigen::MatrixXd out(rows(), unknowns());
    const std::vector<RimWays> all = ways(x);
    const Eigen::VectorXd here = residuals(x, all);
    for (Eigen::Index k = 0; k < unknowns(); ++k) {
        out.col(k) = derivative(x, k, all, here);
    }
    return out;
}

void MotionProblem::solve(Eigen::VectorXd& x) const {
    const Eigen::VectorXd root_weights = weights_.array().sqrt();
    SolverRows asked{this, &root_weights};
    Eigen::LevenbergMarquardt<SolverRows> solver(asked);
    solver.parameters.maxfev = 60;
    solver.parameters.ftol = 1e-8;
    solver.parameters.xtol = 1e-8;
    solver.minimize(x);
}

MotionProblem::Aside::Aside(const MotionProblem& problem, const Eigen::VectorXd& x)
    : problem_(problem), x_(x), root_weights_(problem.weights_.array().sqrt()) {
    const Eigen::MatrixXd rows = problem.jacobian(x).array().colwise() * root_weights_.array();
    const Eigen::ColPivHouseholderQR<Eigen::MatrixXd> parts(rows);
    directions_ = parts.householderQ() * Eigen::MatrixXd::Identity(rows.rows(), parts.rank());
}

double MotionProblem::Aside::cost() const {
    const Eigen::VectorXd left = root_weights_.array() * problem_.fresh(x_).array();
    return left.squaredNorm() - (directions_.transpose() * left).squaredNorm();
}

Eigen::MatrixXd MotionProblem::covariance(const Eigen::VectorXd& x) const {
    std::vector<Eigen::Index> lengths;
    for (const Series& one : series_) {
        lengths.push_back(one.length);
    }
    // What no row tells of would make the rest singular.
    const Eigen::MatrixXd all = jacobian(x);
    std::vector<Eigen::Index> kept;
    for (Eigen::Index k = 0; k < all.cols(); ++k) {
        if (all.col(k).squaredNorm() > 0.0) {
            kept.push_back(k);
        }
    }
    constexpr int lags = 300;
    const Eigen::MatrixXd some = sandwich(all(Eigen::all, kept), fresh(x), weights_, curves_, lengths, lags);
    Eigen::MatrixXd out = Eigen::MatrixXd::Zero(sought_.common(), sought_.common());
    for (std::size_t i = 0; i < kept.size(); ++i) {
        for (std::size_t k = 0; k < kept.size(); ++k) {
            if (kept[i] < out.rows() && kept[k] < out.cols()) {
                out(kept[i], kept[k]) = some(static_cast<Eigen::Index>(i), static_cast<Eigen::Index>(k));
            }
        }
    }
    if (sought_.weighed) { // it goes on in steps, between which a wheel starts or stops
        out(Unknowns::lag, Unknowns::lag) += 1e-4 * 1e-4;
        out(Unknowns::delay, Unknowns::delay) += 2e-3 * 2e-3;
        out(Unknowns::keep, Unknowns::keep) += 5e-4 * 5e-4;
    }
    return out;
}

double MotionProblem::hanging_together(const Eigen::MatrixXd& covariance, const Eigen::VectorXd& x) const {
    const Eigen::MatrixXd rows = jacobian(x).array().colwise() * weights_.array().sqrt();
    const Eigen::MatrixXd plain = (rows.transpose() * rows).completeOrthogonalDecomposition().pseudoInverse();
    double times = 0.0;
    for (const Eigen::Index k : {Unknowns::left_speed, Unknowns::right_speed, Unknowns::lag, Unknowns::delay}) {
        times += 0.25 * covariance(k, k) / std::max(plain(k, k), 1e-300);
    }
    return std::max(1.0, times);
}

double MotionProblem::told_part(const Eigen::VectorXd& x) const {
    const Eigen::VectorXd left = residuals(x);
    constexpr Eigen::Index apart = 20; // looks: so long that counting in steps does not matter
    double all = 0.0;
    double untold = 0.0;
    each_rim([&](Eigen::Index begin, Eigen::Index length) {
        for (Eigen::Index row = begin + apart; row < begin + length; row += apart) {
            all += std::pow(told_[row] - told_[row - apart], 2);
            untold += std::pow(left[row] - left[row - apart], 2);
        }
    });
    return all > 0.0 ? 1.0 - untold / all : 0.0;
}

std::vector<RimWays> MotionProblem::followed(const Eigen::VectorXd& x) const {
    const Eigen::VectorXd news = fresh(x);
    std::vector<RimWays> out = ways(x); // of which what slid is kept
    std::size_t rim = 0;
    each_rim([&](Eigen::Index begin, Eigen::Index length) {
        RimWays& ways = out[rim / 2];
        std::vector<double>& list = rim % 2 == 0 ? ways.left_mm : ways.right_mm;
        list.clear();
        for (Eigen::Index row = begin; row < begin + length; ++row) {
            list.push_back(told_[row] - (1.0 - whitenings_[0].place) * news[row]);
        }
        ++rim;
    });
    return out;
}

} // namespace vast_turn
