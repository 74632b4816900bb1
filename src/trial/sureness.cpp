#include "vast_turn/trial/sureness.hpp"

#include <algorithm>
#include <cassert>
#include <cmath>

namespace vast_turn {

namespace {

constexpr double bad_by_good = 4.0; // times as many failures
constexpr double error_rate = 0.05; // of either kind

} // namespace

ShareBounds wilson(std::uint64_t passed, std::uint64_t runs, double deviations) {
    if (runs == 0) {
        return {};
    }
    const auto n = static_cast<double>(runs);
    const double share = static_cast<double>(passed) / n;
    const double square = deviations * deviations;
    const double middle = (share + square / (2.0 * n)) / (1.0 + square / n);
    const double aside =
        deviations / (1.0 + square / n) * std::sqrt(share * (1.0 - share) / n + square / (4.0 * n * n));
    return {passed == 0 ? 0.0 : middle - aside, passed == runs ? 1.0 : middle + aside}; // exact at the ends
}

ShareBounds difference_of_shares(std::uint64_t only_first, std::uint64_t only_second, std::uint64_t runs,
                                 double deviations) {
    if (runs == 0) {
        return {-1.0, 1.0};
    }
    const double n = static_cast<double>(runs) + 2.0;
    const double first = (static_cast<double>(only_first) + 0.5) / n;
    const double second = (static_cast<double>(only_second) + 0.5) / n;
    const double middle = first - second;
    const double aside = deviations * std::sqrt((first + second - middle * middle) / n);
    return {std::max(-1.0, middle - aside), std::min(1.0, middle + aside)};
}

SequentialTest::SequentialTest(double sure) {
    assert(sure >= 0.5 && sure < 1.0);
    const double bad = 1.0 - sure;
    const double good = bad / bad_by_good;
    for_a_failure_ = std::log(bad / good);
    for_a_pass_ = std::log((1.0 - bad) / (1.0 - good));
}

void SequentialTest::take(bool passed) {
    if (!decided()) { // what was decided stays so
        sum_ += passed ? for_a_pass_ : for_a_failure_;
    }
}

std::optional<bool> SequentialTest::decided() const {
    const double bound = std::log((1.0 - error_rate) / error_rate);
    return sum_ <= -bound ? std::optional(true) : sum_ >= bound ? std::optional(false) : std::nullopt;
}

} // namespace vast_turn
