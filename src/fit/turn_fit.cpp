#include "fit/turn_fit.hpp"

#include <cmath>

#include "fit/whitening.hpp"
#include "vast_turn/base/geometry.hpp"

namespace vast_turn {

namespace {

constexpr Eigen::Index common = 3;
constexpr Eigen::Index per_log = 2; // the turn at the first look; what settles

/// Rows of all logs, and what each unknown adds to them.
struct TurnRows {
    Eigen::VectorXd told; // radians
    Eigen::MatrixXd by;
    std::vector<Eigen::Index> series;
    double turned_rad = 0.0;
};

TurnRows rows_of(const std::vector<DriveLog>& logs, const std::vector<RimWays>& ways,
                 std::vector<double> DriveLog::*told, double settles_s) {
    TurnRows out;
    Eigen::Index rows = 0;
    for (const DriveLog& log : logs) {
        out.series.push_back(static_cast<Eigen::Index>((log.*told).size()));
        rows += out.series.back();
    }
    out.told = Eigen::VectorXd::Zero(rows);
    out.by = Eigen::MatrixXd::Zero(rows, common + per_log * static_cast<Eigen::Index>(logs.size()));
    Eigen::Index row = 0;
    for (std::size_t i = 0; i < logs.size(); ++i) {
        const std::vector<double>& turns = logs[i].*told;
        const Eigen::Index own = common + per_log * static_cast<Eigen::Index>(i);
        for (std::size_t k = 0; k < turns.size(); ++k, ++row) {
            const double t_s = (logs[i].t_ms[k] - logs[i].t_ms.front()) / 1000.0;
            const double slid_mm = ways[i].slid_mm.empty() ? 0.0 : ways[i].slid_mm[k];
            out.told[row] = to_radians(turns[k] - turns.front());
            out.by(row, 0) = -(ways[i].left_mm[k] - slid_mm);
            out.by(row, 1) = ways[i].right_mm[k] + slid_mm;
            out.by(row, 2) = to_radians(t_s);
            out.by(row, own) = 1.0;
            out.by(row, own + 1) = settles_s > 0.0 ? -std::expm1(-t_s / settles_s) : 0.0;
            out.turned_rad += k > 0 ? std::abs(to_radians(turns[k] - turns[k - 1])) : 0.0;
        }
    }
    return out;
}

/// The rows with the columns that nothing can be learnt from left out of the solution.
Eigen::VectorXd solved(const Eigen::MatrixXd& by, const Eigen::VectorXd& told, const Eigen::VectorXd& weights) {
    const Eigen::MatrixXd weighed = by.array().colwise() * weights.array().sqrt();
    return weighed.completeOrthogonalDecomposition().solve((told.array() * weights.array().sqrt()).matrix());
}

} // namespace

std::optional<TurnFit> fit_turns(const std::vector<DriveLog>& logs, const std::vector<RimWays>& ways,
                                 std::vector<double> DriveLog::*told, double settles_s) {
    const TurnRows rows = rows_of(logs, ways, told, settles_s);
    constexpr double hardly_rad = 1.0;
    const bool both = rows.by.col(0).squaredNorm() > 0.0 && rows.by.col(1).squaredNorm() > 0.0;
    if (rows.told.size() == 0 || rows.turned_rad < hardly_rad || !both) {
        return std::nullopt;
    }
    Eigen::VectorXd weights = Eigen::VectorXd::Ones(rows.told.size());
    Eigen::VectorXd curves = weights;
    Whitening whitening;
    Eigen::VectorXd fresh;
    Eigen::MatrixXd by;
    Eigen::VectorXd x;
    constexpr int rounds = 4;
    for (int round = 0; round < rounds; ++round) {
        by = rows.by;
        fresh = rows.told;
        Eigen::Index begin = 0;
        for (const Eigen::Index length : rows.series) {
            whitening.apply(fresh.segment(begin, length));
            for (Eigen::Index k = 0; k < by.cols(); ++k) {
                whitening.apply(by.col(k).segment(begin, length));
            }
            begin += length;
        }
        x = solved(by, fresh, weights);
        fresh -= by * x;
        if (round + 1 < rounds) {
            const double spread = std::max(spread_of({fresh.begin(), fresh.end()}), 1e-12);
            for (Eigen::Index i = 0; i < fresh.size(); ++i) {
                weights[i] = huber_weight(fresh[i] / spread);
                curves[i] = std::abs(fresh[i]) < huber_near * spread ? 1.0 : 0.0;
            }
            whitening = best_whitening(rows.told - rows.by * x, weights, 1.0);
        }
    }
    TurnFit out{x[0], x[1], x[2]};
    // What no row tells of would make the rest singular.
    std::vector<Eigen::Index> kept;
    for (Eigen::Index k = 0; k < by.cols(); ++k) {
        if (by.col(k).squaredNorm() > 0.0) {
            kept.push_back(k);
        }
    }
    constexpr int lags = 300;
    out.covariance =
        sandwich(by(Eigen::all, kept), fresh, weights, curves, rows.series, lags).topLeftCorner<common, common>();
    return out;
}

} // namespace vast_turn
