#pragma once

/// What `sweep` and `tune` have in common: the trips that are meant, driven with other numbers.

#include <string>
#include <vector>

#include "commands/run_options.hpp"
#include "vast_turn/formats/write/checked_lines.hpp"
#include "vast_turn/trial/trip_ground.hpp"

namespace vturn {

/// The plan of a text with some of its numbers set. Throws InputError when it does not compile so, or has no such
/// number.
vast_turn::Plan plan_with(const std::string& text, const std::string& file,
                          const std::vector<vast_turn::Setting>& settings);

/// The robot of a text with those numbers set that the call sets and then those of a point; its days are those of `as`.
vast_turn::Robot robot_with(const std::string& text, const std::string& file, const SetOptions& set,
                            const std::vector<vast_turn::Setting>& settings, const vast_turn::Robot& as);

/// The trips that have `filter` in their names. Throws InputError when none has.
std::vector<vast_turn::TripCase> chosen_trips(const vast_turn::TripGround& ground, const std::string& filter,
                                              const std::string& course);

/// Of all that decides what comes of a run: the files' texts, the drawing and the pieces that the course names, the
/// files that options name, and the options.
vast_turn::Fingerprint fingerprint_of(const DriveOptions& drive, const vast_turn::Course& course,
                                      const std::vector<std::string>& texts);

} // namespace vturn
