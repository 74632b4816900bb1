#include "tune/caution.hpp"

#include <algorithm>
#include <cmath>
#include <iterator>

namespace vast_turn {

namespace {

constexpr double least_back = 0.001; // of the time of one that was too bold
constexpr double most_back = 0.1;
constexpr double like_it = 0.06; // of a range: what is nearer is much the same

} // namespace

void TuneCaution::back_off(CandidateNumber one) {
    back_ = back_ > 0.0 ? std::min(1.3 * back_, most_back) : least_back;
    too_bold_.push_back(one);
}

bool TuneCaution::is_careful(CandidateNumber one) const {
    const std::vector<double> place = field_.place_of(one);
    return std::none_of(too_bold_.begin(), too_bold_.end(), [&](CandidateNumber other) {
        const std::vector<double> there = field_.place_of(other);
        double apart = 0.0;
        for (std::size_t k = 0; k < place.size(); ++k) {
            apart = std::max(apart, std::abs(place[k] - there[k]));
        }
        return apart < like_it && field_.time_ratio(one, other) < 1.0 + back_;
    });
}

std::vector<CandidateNumber> TuneCaution::careful(const std::vector<CandidateNumber>& ranked) const {
    std::vector<CandidateNumber> left;
    std::copy_if(ranked.begin(), ranked.end(), std::back_inserter(left),
                 [this](CandidateNumber one) { return is_careful(one); });
    if (left.empty() && !ranked.empty()) {
        left.push_back(ranked.back());
    }
    return left;
}

} // namespace vast_turn
