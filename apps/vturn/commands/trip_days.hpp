#pragma once

/// How often trips are driven, as commands that take trips are told it.

#include <cstdint>
#include <optional>
#include <vector>

#include "vast_turn/trial/trip_report.hpp"

namespace vturn {

struct TripRepeats {
    int repeats = 0;                ///< 0: as each trip says
    std::uint64_t days = 0;         ///< in place of repeats
    std::optional<double> sure_pct; ///< percent of its days on which each trip must hold
};

/// Fills that in; `run` of the options is set already.
void set_repeats(vast_turn::TripReportOptions& options, const TripRepeats& asked);

/// Whether many days are driven, by the call or by a trip.
bool drives_days(const std::vector<vast_turn::TripCase>& cases, const vast_turn::TripReportOptions& options);

/// Refuses (InputError) an option that is of trips whose days are driven, or of one layout, where that is not so;
/// nothing when `option` is null.
void refuse_days_asked_in_vain(const char* option, bool drives, bool over_layouts);

} // namespace vturn
