#pragma once

/// Times at many places, smoothed over.

#include <utility>
#include <vector>

#include <Eigen/Dense>

namespace vast_turn {

/// A quadratic over the places near a middle one.
class TuneSurface {
public:
    /// A place and what was seen there.
    struct Seen {
        std::vector<double> place;
        double days = 0.0;
        double value = 0.0;
    };

    /// Values: least squares, weighted by days, with a ridge.
    static TuneSurface of_values(std::vector<double> middle, double reach, const std::vector<Seen>& seen);

    double value_at(const std::vector<double>& place) const;

private:
    TuneSurface(std::vector<double> middle, double reach) : middle_(std::move(middle)), reach_(reach) {}
    Eigen::VectorXd terms(const std::vector<double>& place) const;
    Eigen::Index count() const;

    std::vector<double> middle_;
    double reach_;
    Eigen::VectorXd factors_;
};

} // namespace vast_turn
