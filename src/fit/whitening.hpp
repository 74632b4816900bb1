#pragma once

/// Residuals made white: a steady filter follows what the model does not know, and tells what was new at each look.

#include <vector>

#include <Eigen/Dense>

namespace vast_turn {

/// What is not known is a place that strays and a pace that strays; both are followed in part at each look (the
/// innovations of a Kalman filter that has settled; Ljung, "System Identification", 1999, chapter 3).
struct Whitening {
    double place = 1.0; ///< part of what is new that the place takes: 1 when looks tell it exactly
    double pace = 0.0;  ///< part that the pace takes
    double keeps = 1.0; ///< part of a pace that is left at the next look

    /// In place; linear, so that it serves for derivatives too.
    template <class Column> void apply(Column&& series) const {
        double followed = 0.0;
        double moving = 0.0;
        for (Eigen::Index i = 0; i < series.size(); ++i) {
            const double fresh = series[i] - followed - moving;
            followed += moving + place * fresh;
            moving = keeps * (moving + pace * fresh);
            series[i] = fresh;
        }
    }
};

/// The filter that leaves least of a series, its looks weighed; `keeps` is given.
Whitening best_whitening(const Eigen::VectorXd& series, const Eigen::VectorXd& weights, double keeps);

/// 1.4826 times the median of absolute values: the standard deviation of what is normal and has outliers. 0 for none.
double spread_of(std::vector<double> values);

inline constexpr double huber_near = 2.5;

/// Weight of Huber's estimator for what is so many standard deviations off: 1 within 2.5, farther out as 1 / distance;
/// 0 from 7 on, where looks came late or tyres slid.
double huber_weight(double off);

/// A least-squares estimate's covariance for residuals that are neither alike nor independent: `jacobian` is that of
/// the white residuals `fresh`, `weights` theirs, `curves` those with outliers at 0 (the curvature of what Huber's
/// estimator makes least), `lags` how many looks they may hang together, `series` how long each
/// series in them is. Rows behind those are not looks, but what is known beforehand, in its standard deviations.
Eigen::MatrixXd sandwich(const Eigen::MatrixXd& jacobian, const Eigen::VectorXd& fresh, const Eigen::VectorXd& weights,
                         const Eigen::VectorXd& curves, const std::vector<Eigen::Index>& series, int lags);

} // namespace vast_turn
