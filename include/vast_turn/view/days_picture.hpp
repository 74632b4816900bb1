#pragma once

/// What breaks a trip, drawn.

#include <string>

#include "vast_turn/trial/trip_report.hpp"
#include "vast_turn/view/picture.hpp"

namespace vast_turn {

/// A row a quantity: where it lay on the days on which the trip failed, above, and on which it held, below; a dashed
/// line at the bound of each cause, a band where its margins are known. At most 2,000 days are drawn. The report must
/// have days (asserted).
std::string draw_days(const TripCase& one, const Pilot& pilot, const CaseReport& report, PictureFormat format);

} // namespace vast_turn
