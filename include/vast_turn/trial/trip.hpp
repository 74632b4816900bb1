#pragma once

/// A route test: what a run from a start must do.

#include <cstdint>
#include <map>
#include <optional>
#include <string>
#include <utility>
#include <vector>

#include "vast_turn/course/board/course.hpp"
#include "vast_turn/sim/run.hpp"

namespace vast_turn {

/// What a plate tells whoever drives over it, or past it.
enum class PlateMeaning : std::uint8_t {
    left, ///< at the next junction
    straight,
    right,
    back, ///< turn round where it lies
    end,  ///< halt there
    side, ///< of plates beside the line, right before a junction: to the side on which it lies; one on each: turn round
};

/// "left", "straight", "right", "back", "end", "side".
const char* name_of(PlateMeaning meaning);

/// A spot that a run must end at.
struct EndSpot {
    Vec2 at;
    double within_mm = 0.0; ///< of the point midway between the wheels
    std::string what;       ///< "the magenta plate"
};

/// A route test: what a run from a start must do.
struct Trip {
    /// What it is called in tables and results.
    std::string name{};
    std::string from{};                   ///< name of a start
    std::vector<std::string> also_from{}; ///< further starts, from which it must do the same
    std::vector<std::string>
        variants{};  ///< of the course, by name, over which it is driven; all and as_drawn when empty
    int repeats = 1; ///< runs, each with a seed of its own; all must pass
    /// In place of repeats: the share of days on which it must hold, 0.5 to below 1; see SequentialTest.
    std::optional<double> sure{};
    std::vector<std::string> visits{}; ///< names of places, in this order, nothing else between
    /// What it does at junctions, all of them, in this order: "fork left", "crossing 1 straight", "bench exit 2"
    /// (counted from the left as seen by who comes in). With choices and no visits any places may be passed.
    std::vector<std::string> choices{};
    /// What plates tell, by their colour, in place of choices: then those are expected that the plates of the course
    /// tell, whatever the course, straight on where none tells anything. See told_by_plates().
    std::map<std::string, PlateMeaning> plates{};
    std::vector<std::string> never{}; ///< places that it must not come to
    int laps = 1;                     ///< visits and choices are expected so many times over
    Ending ends = Ending::halted;
    /// What comes behind its visits and choices does not matter, nor how it ends; `ends` is not asked.
    bool then_any = false;
    std::string ends_at{};              ///< the place in which it must end; empty for anywhere
    std::optional<EndSpot> ends_near{}; ///< likewise a spot, as plates tell it
    /// The run ends after this long.
    double within_s = 60.0;
    std::vector<std::pair<double, double>> button_s{}; ///< from, until: when the start button is held
    std::vector<Heard> hears{};                        ///< what comes from outside, by name
    /// Farther from any tape ends the run.
    double off_course_mm = 250.0;
    bool touch_ends = true;               ///< as in RunOptions
    std::optional<double> lost_after_s{}; ///< as RunOptions say when not given
    std::string file{};                   ///< in which it stands; empty when made in memory
    int line = 0;                         ///< where it stands there; 0 when made in memory
};

/// All its starts, the first one first.
std::vector<std::string> starts_of(const Trip& trip);

/// The variants over which a trip runs.
std::vector<std::string> variants_of(const Course& course, const Trip& trip);

/// The variants over which any of these trips runs, in the course's order, "as drawn" first.
std::vector<std::string> variants_of(const Course& course, const std::vector<Trip>& trips);

/// The same trip with one lap: its visits and choices as often as there were laps.
Trip with_laps_written_out(const Trip& trip);

} // namespace vast_turn
