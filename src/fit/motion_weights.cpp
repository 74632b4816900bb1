/// A filter that makes what is left of the rows white, and what each of them is worth.

#include <algorithm>
#include <cmath>
#include <utility>

#include "fit/motion_problem.hpp"

namespace vast_turn {

namespace {

constexpr double least_spread = 1e-9; // mm, radians: what numbers of a log are rounded to

} // namespace

/// Values of looks in which a rim, or the turn, moved more than a creep; all when it hardly ever did.
std::vector<double> MotionProblem::while_moving(const Eigen::VectorXd& values, std::size_t kind) const {
    const double creep = kind == 0 ? 0.05 : 5e-4;
    std::vector<double> out;
    std::vector<double> all;
    Eigen::Index row = 0;
    for (const Series& one : series_) {
        for (Eigen::Index i = 0; i < one.length; ++i, ++row) {
            if (one.kind != kind) {
                continue;
            }
            all.push_back(values[row]);
            if (i > 0 && std::abs(told_[row] - told_[row - 1]) > creep) {
                out.push_back(values[row]);
            }
        }
    }
    constexpr std::size_t enough = 50;
    return out.size() < enough ? all : out;
}

Whitening MotionProblem::whitening_for(std::size_t kind, const Eigen::VectorXd& left, double keeps) const {
    Eigen::VectorXd joined(rows()); // end to end: one filter serves all of a kind
    Eigen::VectorXd weights(rows());
    Eigen::Index from = 0;
    Eigen::Index to = 0;
    for (const Series& one : series_) {
        if (one.kind == kind) {
            joined.segment(to, one.length) = left.segment(from, one.length);
            weights.segment(to, one.length) = weights_.segment(from, one.length);
            to += one.length;
        }
        from += one.length;
    }
    return best_whitening(joined.head(to), weights.head(to), keeps);
}

/// How far off a rim may be at a look because powers are logged to a hundredth: only where they change from look to
/// look, others are mostly whole.
Eigen::VectorXd MotionProblem::rounding(const Eigen::VectorXd& x, double look_ms, double keeps) const {
    constexpr double rounded_pct = 0.01 / 3.4641016151377544; // a hundredth, evenly
    constexpr std::size_t answered = 4;                       // looks after which a power has reached the wheels
    Eigen::VectorXd out = Eigen::VectorXd::Zero(rows());
    Eigen::Index row = 0;
    for (const DriveLog& log : logs_) {
        const std::pair<const std::vector<double>*, Eigen::Index> rims[] = {{&log.left_pct, Unknowns::left_speed},
                                                                            {&log.right_pct, Unknowns::right_speed}};
        for (const auto& [powers, speed] : rims) {
            const double off_mm =
                rounded_pct / 100.0 * std::exp(x[speed]) * look_ms / 1000.0 * std::max(0.0, 1.0 - keeps);
            std::size_t since = answered;
            for (std::size_t k = 0; k < powers->size(); ++k, ++row) {
                since = k > 0 && (*powers)[k] != (*powers)[k - 1] ? 0 : since + 1;
                out[row] = since < answered ? off_mm : 0.0;
            }
        }
        row += turns_ ? static_cast<Eigen::Index>(log.looks()) : 0;
    }
    return out;
}

/// Each answer comes a little earlier or later than in the mean, and a look is worth the less the more that moves what
/// is told: by its derivative with the delay, times so much.
void MotionProblem::weigh(std::size_t kind, const Eigen::VectorXd& news, const Eigen::VectorXd& lever,
                          const Eigen::VectorXd& rounded) {
    const std::vector<double> levers = while_moving(lever, kind);
    const std::vector<double> fresh = while_moving(news, kind);
    std::vector<double> sizes = levers;
    for (double& size : sizes) {
        size = std::abs(size);
    }
    std::sort(sizes.begin(), sizes.end());
    const double large = 0.4 * sizes[sizes.size() * 199 / 200];
    std::vector<double> shifts;
    for (std::size_t i = 0; i < levers.size(); ++i) {
        if (std::abs(levers[i]) >= large && large > 0.0) {
            shifts.push_back(fresh[i] / levers[i]);
        }
    }
    const double spread = std::max(least_spread, spread_of(fresh));
    const double shift = spread_of(shifts);
    const double by_spread = large > 0.0 ? spread / large : 0.0;
    constexpr double least_shift_ms = 1e-4; // powers are logged to a hundredth
    const double varies = std::max(least_shift_ms, std::sqrt(std::max(0.0, shift * shift - by_spread * by_spread)));
    Eigen::Index begin = 0;
    for (const Series& one : series_) {
        for (Eigen::Index row = begin; one.kind == kind && row < begin + one.length; ++row) {
            const double expected = std::hypot(spread, varies * lever[row], rounded[row]);
            weights_[row] = huber_weight(news[row] / expected) / (expected * expected);
            curves_[row] = std::abs(news[row]) < huber_near * expected ? 1.0 / (expected * expected) : 0.0;
        }
        begin += one.length;
    }
}

/// All rows of a kind alike, none of them left out: what is far off may be so because x is.
void MotionProblem::weigh_alike(std::size_t kind, const Eigen::VectorXd& news) {
    const std::vector<double> moving = while_moving(news, kind);
    double mean = 0.0;
    for (const double value : moving) {
        mean += value * value / static_cast<double>(moving.size());
    }
    const double spread = std::max(least_spread, std::sqrt(mean));
    Eigen::Index begin = 0;
    for (const Series& one : series_) {
        if (one.kind == kind) {
            weights_.segment(begin, one.length).setConstant(1.0 / (spread * spread));
        }
        begin += one.length;
    }
    curves_ = weights_;
}

void MotionProblem::attune(const Eigen::VectorXd& x, bool is_near) {
    const std::vector<RimWays> all = ways(x);
    const Eigen::VectorXd left = residuals(x, all);
    const DriveLog& log = logs_.front();
    const double look_ms = (log.t_ms.back() - log.t_ms.front()) / static_cast<double>(log.looks() - 1);
    const double keeps = std::exp(-look_ms / std::exp(x[Unknowns::lag]));
    const std::size_t kinds = turns_ ? 2 : 1;
    for (std::size_t kind = 0; kind < kinds; ++kind) {
        whitenings_[kind] = whitening_for(kind, left, keeps);
    }
    const Eigen::VectorXd news = whitened(left);
    const Eigen::VectorXd lever = derivative(x, Unknowns::delay, all, left);
    const Eigen::VectorXd rounded = rounding(x, look_ms, keeps);
    for (std::size_t kind = 0; kind < kinds; ++kind) {
        if (is_near) {
            weigh(kind, news, lever, rounded);
        } else {
            weigh_alike(kind, news);
        }
    }
}

} // namespace vast_turn
