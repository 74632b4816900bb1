#pragma once

/// The dead band found: powers below it move nothing, so what fits changes only from one asked power to the next.

#include <cstddef>
#include <functional>
#include <optional>
#include <utility>
#include <vector>

#include "vast_turn/fit/drive_log.hpp"

namespace vast_turn {

/// Looks for it among the powers of logs.
class DeadBand {
public:
    explicit DeadBand(const std::vector<DriveLog>& logs);

    /// What a dead band costs, in any unit.
    using Cost = std::function<double(double dead_band_pct)>;

    /// One that costs least; `now` when no power is small enough to tell.
    double best(double now, const Cost& cost) const;

    /// Where it lies with 95 %, for costs as squares of standard deviations; none when no power tells it. Between two
    /// powers next to one another all dead bands fit alike.
    std::optional<std::pair<double, double>> between(double best, const Cost& cost) const;

private:
    /// Gaps that cost less than what lies about them, the least of all first; three at most.
    std::vector<std::size_t> valleys(double now, const Cost& cost) const;
    /// Between the powers i - 1 and i; the first begins at 0.
    double middle(std::size_t i) const { return 0.5 * ((i == 0 ? 0.0 : powers_[i - 1]) + powers_[i]); }
    std::size_t gap_of(double dead_band_pct) const;

    std::vector<double> powers_; // above 0, up to most_pct, each once, in their order
};

} // namespace vast_turn
