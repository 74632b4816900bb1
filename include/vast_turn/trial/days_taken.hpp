#pragma once

/// A trip over many days: how surely it holds, on which days it does not, and what breaks it.

#include <cstdint>
#include <optional>
#include <vector>

#include "vast_turn/base/crew.hpp"
#include "vast_turn/trial/causes.hpp"
#include "vast_turn/trial/margins.hpp"
#include "vast_turn/trial/sureness.hpp"

namespace vast_turn {

/// What came of one trip by one pilot over its days.
struct DaysTaken {
    ShareBounds share;                 ///< of days on which it holds, as surely as 95 of 100
    std::optional<double> sure;        ///< the share of days that was asked for
    std::optional<bool> decided;       ///< whether it holds so often; none when the most days did not decide it
    std::uint64_t first = 1;           ///< the first day driven
    std::vector<std::uint64_t> failed; ///< numbers of the first thousand days on which it failed
    std::vector<Cause> causes; ///< what days of failure have in common, the most telling first; of 20,000 days at most
    std::optional<Margins> margins; ///< when they were asked for
};

/// How many days are driven.
struct DaysAsked {
    std::uint64_t days = 0;     ///< so many; with `sure` at most so many, 0: 20,000
    std::optional<double> sure; ///< until a SequentialTest of this share has decided
    Crew* crew = nullptr;       ///< several processes drive; null: this one alone
};

/// The days as they came.
struct CountedDays {
    std::uint64_t runs = 0; ///< days that were driven and counted
    std::uint64_t passed = 0;
    std::uint64_t told = 1; ///< the first day that failed, else the first
    DaysTaken taken;
};

/// Drives days `options.day` (1 when that is 0) and those after it, and seeks what breaks the trip. `go_on` is asked
/// before each day, from any thread; when it says no, the days before the first one left out are counted. `day_done` is
/// called after each, from any thread. The same for any number of threads.
CountedDays take_days(const TripCase& one, const Pilot& pilot, const DaysAsked& asked, const RunOptions& options = {},
                      int threads = 0, const std::function<bool()>& go_on = {},
                      const std::function<void()>& day_done = {});

} // namespace vast_turn
