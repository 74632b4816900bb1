#include "fit/whitening.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <numeric>

namespace vast_turn {

namespace {

double left_over(const Eigen::VectorXd& series, const Eigen::VectorXd& weights, const Whitening& by) {
    Eigen::VectorXd fresh = series;
    by.apply(fresh);
    return (weights.array() * fresh.array().square()).sum();
}

} // namespace

Whitening best_whitening(const Eigen::VectorXd& series, const Eigen::VectorXd& weights, double keeps) {
    constexpr std::array<double, 11> places = {0.0, 0.01, 0.03, 0.07, 0.15, 0.3, 0.5, 0.7, 0.85, 0.95, 1.0};
    constexpr std::array<double, 8> paces = {0.0, 0.005, 0.02, 0.07, 0.2, 0.45, 0.7, 1.0};
    Whitening best;
    double least = std::numeric_limits<double>::infinity();
    for (const double place : places) {
        for (const double pace : paces) {
            const Whitening by{place, pace * place, keeps};
            const double left = left_over(series, weights, by);
            if (left < least) {
                least = left;
                best = by;
            }
        }
    }
    return best;
}

double spread_of(std::vector<double> values) {
    if (values.empty()) {
        return 0.0;
    }
    for (double& value : values) {
        value = std::abs(value);
    }
    const auto middle = values.begin() + static_cast<std::ptrdiff_t>(values.size() / 2);
    std::nth_element(values.begin(), middle, values.end());
    return 1.4826 * *middle;
}

double huber_weight(double off) {
    constexpr double far_off = 7.0;
    const double size = std::abs(off);
    return size > far_off ? 0.0 : (size > huber_near ? huber_near / size : 1.0);
}

Eigen::MatrixXd sandwich(const Eigen::MatrixXd& jacobian, const Eigen::VectorXd& fresh, const Eigen::VectorXd& weights,
                         const Eigen::VectorXd& curves, const std::vector<Eigen::Index>& series, int lags) {
    const Eigen::MatrixXd bread = jacobian.transpose() * (jacobian.array().colwise() * curves.array()).matrix();
    const Eigen::MatrixXd scores = (jacobian.array().colwise() * (weights.array() * fresh.array())).matrix();
    Eigen::MatrixXd meat = scores.transpose() * scores;
    // Rows behind the series are known beforehand: they are as far off as they are said to be, wherever they lie.
    const Eigen::Index told = std::accumulate(series.begin(), series.end(), Eigen::Index{0});
    for (Eigen::Index row = told; row < jacobian.rows(); ++row) {
        meat -= scores.row(row).transpose() * scores.row(row);
        meat += jacobian.row(row).transpose() * jacobian.row(row);
    }
    Eigen::Index begin = 0;
    for (const Eigen::Index length : series) {
        const auto most = std::min<Eigen::Index>(lags, length / 8);
        // Sums of scores over stretches as long as the taper: the same as adding up all pairs that lie so close, each
        // weighed by how much the stretches overlap.
        Eigen::RowVectorXd window = Eigen::RowVectorXd::Zero(jacobian.cols());
        Eigen::MatrixXd sums = Eigen::MatrixXd::Zero(jacobian.cols(), jacobian.cols());
        for (Eigen::Index i = 0; i < length + most; ++i) {
            if (i < length) {
                window += scores.row(begin + i);
            }
            if (i > most) {
                window -= scores.row(begin + i - most - 1);
            }
            sums += window.transpose() * window;
        }
        meat += sums / static_cast<double>(most + 1) -
                scores.middleRows(begin, length).transpose() * scores.middleRows(begin, length);
        begin += length;
    }
    const Eigen::MatrixXd solved = bread.ldlt().solve(meat);
    // The taper takes from the variance what lies farther apart, and it is an estimate itself: both are allowed for as
    // by Kiefer and Vogelsang ("A new asymptotic theory for heteroskedasticity-autocorrelation robust tests", 2005).
    const double part =
        static_cast<double>(lags) / static_cast<double>(std::max<Eigen::Index>(1, series.empty() ? 1 : series.front()));
    const double allowed = 1.0 + 1.515 * std::min(0.125, part);
    return allowed * allowed * bread.ldlt().solve(solved.transpose());
}

} // namespace vast_turn
