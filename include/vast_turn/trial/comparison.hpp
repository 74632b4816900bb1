#pragma once

/// Several pilots over the same trips and seeds, by numbers.

#include <string>
#include <vector>

#include "vast_turn/trial/layouts_report.hpp"
#include "vast_turn/trial/sureness.hpp"
#include "vast_turn/trial/trip_case.hpp"
#include "vast_turn/trial/trip_result.hpp"

namespace vast_turn {

/// Mean and standard deviation over runs.
struct Spread {
    double mean = 0.0;
    double deviation = 0.0; ///< of the sample; 0 for one run
};

/// Of these values, at least one; of none both are 0.
Spread spread_of(const std::vector<double>& values);

/// One run by numbers.
struct RunFigures {
    /// From start to end.
    double time_s = 0.0;
    /// Way by time; backwards counted too.
    double mean_mm_s = 0.0;
    double top_mm_s = 0.0; ///< fastest over ten looks
    double steering_change_pct =
        0.0;                  ///< root mean square, from look to look, of half the difference of the wheels' powers
    double aside_mm = 0.0;    ///< root mean square of the array's middle from the nearest tape
    double farthest_mm = 0.0; ///< largest of the same
    double unanswered = 0.0;  ///< looks in which no rule held
    double losses = 0.0;      ///< times that the line was nowhere under the array in three looks on end
};

/// RunFigures::steering_change_pct alone, which costs little beside the others.
double steering_change_pct(const Run& run);

/// Of a run with its looks; without them what needs looks is 0.
RunFigures figures_of(const Scene& scene, const Run& run);

/// A spell in which the line was nowhere under the array, of three looks and more: RunFigures::losses counts them.
struct LineLoss {
    std::size_t look = 0;  ///< its first
    std::size_t looks = 0; ///< how many
};

/// All of a run with its looks, in order.
std::vector<LineLoss> losses_of(const Scene& scene, const Run& run);

/// Where the array's middle was against the way driven.
struct LineOffset {
    double way_mm = 0.0;  ///< backwards counted too
    double left_mm = 0.0; ///< of the nearest tape, positive to its left as the robot looks
};

/// Of every look of a run; empty when the course has no tape.
std::vector<LineOffset> offsets_of(const Scene& scene, const Run& run);

/// Whether a pilot is better than the first one: runs of the same case and day, or seed, in pairs.
struct Against {
    int gained = 0;     ///< passed with this pilot alone
    int lost = 0;       ///< passed with the first pilot alone
    ShareBounds better; ///< by what share of the runs it passes more than the first pilot, see difference_of_shares()
};

/// A pilot over one case and all seeds. Figures of unlike trips are never averaged: a long way is no slow robot, and a
/// trip that was left halfway no fast one.
struct CaseFigures {
    int runs = 0;
    int passed = 0;
    /// Each figure over all runs of the case, in the units of RunFigures.
    Spread time_s;
    Spread mean_mm_s;
    Spread top_mm_s;
    Spread steering_change_pct;
    Spread aside_mm;
    Spread farthest_mm;
    Spread unanswered;
    Spread losses;
    Against against; ///< of these runs alone
    Run first_run;   ///< with the first seed, and with its looks
};

/// A pilot over all trips and seeds.
struct PilotFigures {
    /// Whose figures these are.
    Pilot pilot;
    /// Of all cases, and how many of them passed.
    int runs = 0;
    int passed = 0;
    std::vector<CaseFigures> cases; ///< in the order of the cases
    Against against;                ///< of all runs together
};

/// Drives every case with every pilot, with the seed of `options` and the `repeats` - 1 after it, or on its day and the
/// days after that; all pilots on the same. The same for any number of threads (0: as many as there are).
std::vector<PilotFigures> compare(const std::vector<TripCase>& cases, const std::vector<Pilot>& pilots, int repeats,
                                  const RunOptions& options = {}, int threads = 0);

/// The same over layouts 1 to `layouts` of a course of pieces: of each case the figures of its runs over all of them,
/// layout by layout. `cases` are those of one layout, by which the trips of the others are known (trip and start);
/// CaseFigures::first_run is of the first layout. Few layouts are in memory at a time.
std::vector<PilotFigures> compare_layouts(const std::vector<TripCase>& cases, int layouts, const MakeLayout& make,
                                          const std::vector<Pilot>& pilots, int repeats, const RunOptions& options = {},
                                          int threads = 0);

} // namespace vast_turn
