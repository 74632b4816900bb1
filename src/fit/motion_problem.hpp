#pragma once

/// Logs as rows of residuals, of which least squares finds motors and turning.

#include <array>
#include <optional>
#include <vector>

#include <Eigen/Dense>

#include "fit/rim_ways.hpp"
#include "fit/whitening.hpp"

namespace vast_turn {

/// What is sought, in the order of the unknowns. Of a robot without weight what it lacks is not there.
struct Unknowns {
    static constexpr Eigen::Index left_speed = 0; ///< natural logarithms of the full speeds and of the lag
    static constexpr Eigen::Index right_speed = 1;
    static constexpr Eigen::Index lag = 2;
    static constexpr Eigen::Index delay = 3; ///< ms
    static constexpr Eigen::Index keep = 4;  ///< percent
    static constexpr Eigen::Index sag = 5;
    static constexpr Eigen::Index run_down = 6;
    static constexpr Eigen::Index apart =
        7; ///< natural logarithm of track_mm: how much wheels move one another by the body's turning
    static constexpr Eigen::Index uneven = 8; ///< of the wheels' sizes, which they feel when they move one another
    bool weighed = false;
    bool turns = false; ///< the last three of those that all logs share: turns a mm of either rim, drift a second

    Eigen::Index turning() const { return weighed ? 9 : 4; }
    Eigen::Index drift() const { return turning() + 2; }
    Eigen::Index common() const { return turning() + (turns ? 3 : 0); }
    /// Of each log: where both rims and the turn were at the first look, how fast rims turned, what settles.
    static constexpr Eigen::Index per_log = 6;
};

/// Turns that are told, and the time constant with which a drift after the start dies away (0: none does).
struct ToldTurns {
    std::vector<double> DriveLog::*degrees = nullptr;
    double settles_s = 0.0;
};

/// Of each log the looks of the left rim (mm), of the right one, then of the turn (radians) when turns are told. Of a
/// robot with weight a last row says that its wheels are about as the file has them.
class MotionProblem {
public:
    MotionProblem(const Robot& robot, const std::vector<DriveLog>& logs, std::optional<ToldTurns> turns = {});

    Eigen::Index rows() const { return told_.size(); }
    Eigen::Index unknowns() const {
        return sought_.common() + Unknowns::per_log * static_cast<Eigen::Index>(logs_.size());
    }
    const Unknowns& sought() const { return sought_; }

    /// As the file says; what the file does not know is 0.
    Eigen::VectorXd first_guess() const;
    MotorNumbers numbers_of(const Eigen::VectorXd& x) const;
    /// The robot with its wheels as far apart as x says.
    Robot robot_of(const Eigen::VectorXd& x) const;

    /// What is told less what the model says; `fresh` is what of that is new at each look.
    Eigen::VectorXd residuals(const Eigen::VectorXd& x) const { return residuals(x, ways(x)); }
    Eigen::VectorXd fresh(const Eigen::VectorXd& x) const { return whitened(residuals(x)); }
    Eigen::MatrixXd jacobian(const Eigen::VectorXd& x) const;
    /// Sum of squares, in standard deviations.
    double cost(const Eigen::VectorXd& x) const { return (weights_.array() * fresh(x).array().square()).sum(); }

    /// The cost that is left when all unknowns give way as far as they can, to first order: what of the rows lies
    /// across the directions in which unknowns move them, as they are at x. For what does not change smoothly: with it
    /// an error that others would make up for is no gain.
    class Aside {
    public:
        Aside(const MotionProblem& problem, const Eigen::VectorXd& x);
        double cost() const;

    private:
        const MotionProblem& problem_;
        Eigen::VectorXd x_;
        Eigen::VectorXd root_weights_;
        Eigen::MatrixXd directions_; // orthonormal
    };

    /// What was told, in the order of the rows.
    const Eigen::VectorXd& told() const { return told_; }
    /// Which rows are taken in full, not as outliers.
    const Eigen::VectorXd& curves() const { return curves_; }

    /// A filter and weights that suit what is left at x. Near the truth rows are weighed each by itself, and outliers
    /// left out.
    void attune(const Eigen::VectorXd& x, bool is_near);
    /// Moves x to where the cost is least.
    void solve(Eigen::VectorXd& x) const;
    Eigen::MatrixXd covariance(const Eigen::VectorXd& x) const;

    /// How many times greater variances are than if rows were independent and weighed right.
    double hanging_together(const Eigen::MatrixXd& covariance, const Eigen::VectorXd& x) const;

    /// Where the rims were by all that is known: what was counted, less what counting in steps adds to it.
    std::vector<RimWays> followed(const Eigen::VectorXd& x) const;
    /// Part of what the rims did over twenty looks that the model tells: 1 is all of it.
    double told_part(const Eigen::VectorXd& x) const;
    /// Part of what is new of a rim that is true: 1 where encoders are finer than what the model does not know.
    double rims_are_exact() const { return whitenings_[0].place; }
    /// Of the rims' rows alone.
    template <class Take> void each_rim(Take take) const {
        Eigen::Index begin = 0;
        for (const Series& one : series_) {
            if (one.kind == 0) {
                take(begin, one.length);
            }
            begin += one.length;
        }
    }

    // What does not change smoothly, and is sought by trying.
    double dead_band_pct;
    double start_pct;

private:
    struct Series {
        Eigen::Index length;
        std::size_t kind; // 0 a rim, 1 a turn
    };
    void add_series(const std::vector<double>& degrees, double per_degree, std::size_t kind);
    Eigen::VectorXd whitened(Eigen::VectorXd residuals) const;
    std::vector<RimWays> ways(const Eigen::VectorXd& x) const;
    Eigen::VectorXd residuals(const Eigen::VectorXd& x, const std::vector<RimWays>& all) const;
    /// Whether the rims' ways change with it.
    bool moves_rims(Eigen::Index unknown) const;
    /// By so much it is moved for a derivative.
    double step_of(Eigen::Index unknown) const;
    /// Of what is new at each look; `here` are the residuals at x.
    Eigen::VectorXd derivative(const Eigen::VectorXd& x, Eigen::Index k, const std::vector<RimWays>& all,
                               const Eigen::VectorXd& here) const;
    void weigh_alike(std::size_t kind, const Eigen::VectorXd& news);
    void weigh(std::size_t kind, const Eigen::VectorXd& news, const Eigen::VectorXd& lever,
               const Eigen::VectorXd& rounded);
    Eigen::VectorXd rounding(const Eigen::VectorXd& x, double look_ms, double keeps) const;
    Whitening whitening_for(std::size_t kind, const Eigen::VectorXd& left, double keeps) const;
    std::vector<double> while_moving(const Eigen::VectorXd& values, std::size_t kind) const;

    Eigen::Index last_row() const { return rows() - 1; }

    const Robot& robot_;
    const std::vector<DriveLog>& logs_;
    std::optional<ToldTurns> turns_;
    Unknowns sought_;
    Eigen::VectorXd told_;
    std::vector<Series> series_;
    std::array<Whitening, 2> whitenings_{};
    Eigen::VectorXd weights_;
    Eigen::VectorXd curves_; // of what is summed up, where looks are taken in full
};

} // namespace vast_turn
