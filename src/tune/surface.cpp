#include "tune/surface.hpp"

#include <utility>

namespace vast_turn {

namespace {

constexpr double ridge = 0.02;

} // namespace

Eigen::Index TuneSurface::count() const {
    const auto n = static_cast<Eigen::Index>(middle_.size());
    return (n + 1) * (n + 2) / 2;
}

Eigen::VectorXd TuneSurface::terms(const std::vector<double>& place) const {
    Eigen::VectorXd out(count());
    Eigen::Index next = 0;
    out[next++] = 1.0;
    std::vector<double> x(place.size());
    for (std::size_t k = 0; k < x.size(); ++k) {
        x[k] = (place[k] - middle_[k]) / reach_;
        out[next++] = x[k];
    }
    for (std::size_t k = 0; k < x.size(); ++k) {
        for (std::size_t m = 0; m <= k; ++m) {
            out[next++] = x[k] * x[m];
        }
    }
    return out;
}

TuneSurface TuneSurface::of_values(std::vector<double> middle, double radius, const std::vector<Seen>& seen) {
    TuneSurface it(std::move(middle), radius);
    Eigen::MatrixXd bends = ridge * Eigen::MatrixXd::Identity(it.count(), it.count());
    bends(0, 0) = 1e-9;
    Eigen::VectorXd slope = Eigen::VectorXd::Zero(it.count());
    for (const Seen& one : seen) {
        const Eigen::VectorXd terms = it.terms(one.place);
        slope += one.days * one.value * terms;
        bends += one.days * terms * terms.transpose();
    }
    it.factors_ = bends.ldlt().solve(slope);
    return it;
}

double TuneSurface::value_at(const std::vector<double>& place) const { return factors_.dot(terms(place)); }

} // namespace vast_turn
