#include "commands/trip_days.hpp"

#include <algorithm>

#include <fmt/format.h>

namespace vturn {

using namespace vast_turn;

void set_repeats(TripReportOptions& options, const TripRepeats& asked) {
    options.repeats = asked.repeats;
    options.days.days = asked.days;
    if (asked.sure_pct) {
        options.days.sure = *asked.sure_pct / 100.0;
    }
    if (options.run.day > 0 && asked.days == 0 && asked.repeats == 0 && !asked.sure_pct) {
        options.repeats = 1; // that day alone
    }
    if (asked.days > 0 && options.run.day == 0) {
        options.run.day = 1;
    }
}

bool drives_days(const std::vector<TripCase>& cases, const TripReportOptions& options) {
    return options.days.days > 0 || options.days.sure ||
           std::any_of(cases.begin(), cases.end(), [](const TripCase& one) { return one.trip.sure.has_value(); });
}

void refuse_days_asked_in_vain(const char* option, bool drives, bool over_layouts) {
    if (option != nullptr && !drives) {
        throw InputError("", fmt::format("{} is of trips whose days are driven", option), "give --days or --sure too");
    }
    if (option != nullptr && over_layouts) {
        throw InputError("", fmt::format("{} is of one layout", option), "name it: --variant \"layout 1\"");
    }
}

} // namespace vturn
