#pragma once

/// How sure a share is, and when enough runs were made.

#include <cstdint>
#include <optional>

namespace vast_turn {

/// A share with the bounds between which it lies as surely as was asked.
struct ShareBounds {
    double low = 0.0;
    double high = 1.0;
};

/// Standard deviations between which 95 of 100 of a normal distribution lie.
inline constexpr double deviations_of_95 = 1.959963984540054;

/// The bounds of a share of which `passed` of `runs` came true, by Wilson's score ("Probable inference, the law of
/// succession, and statistical inference", 1927). By default they cover the true share in 95 of 100 cases. Without
/// runs 0 to 1.
ShareBounds wilson(std::uint64_t passed, std::uint64_t runs, double deviations = deviations_of_95);

/// The bounds of a difference of two shares of the same runs: `only_first` of `runs` came true with the first alone,
/// `only_second` with the second alone. By Agresti and Min ("Simple improved confidence intervals for comparing
/// matched proportions", 2005): half a run is added to each of the four outcomes.
ShareBounds difference_of_shares(std::uint64_t only_first, std::uint64_t only_second, std::uint64_t runs,
                                 double deviations = deviations_of_95);

/// Wald's sequential test ("Sequential analysis", 1947) of whether runs fail seldom enough: it goes on until it has
/// decided. It says yes to what fails in `1 - sure` of all runs, or more often, in at most 5 of 100 cases, and no to
/// what fails in a quarter of that, or more seldom, in at most 5 of 100; of what lies between it says either.
class SequentialTest {
public:
    /// 0.5 <= `sure` < 1 (asserted).
    explicit SequentialTest(double sure);

    /// One more run.
    void take(bool passed);
    /// Yes, no, or nothing as long as more runs are needed.
    std::optional<bool> decided() const;

private:
    double for_a_pass_;
    double for_a_failure_;
    double sum_ = 0.0; ///< logarithm of how much likelier the runs are when it is bad than when it is good
};

} // namespace vast_turn
