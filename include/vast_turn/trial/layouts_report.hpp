#pragma once

/// The same trips over many courses that are laid out of the same pieces.

#include <functional>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "vast_turn/trial/trip_ground.hpp"
#include "vast_turn/trial/trip_report.hpp"

namespace vast_turn {

/// What came of one trip on one layout.
struct LayoutOutcome {
    int layout = 0; ///< its number, from 1
    std::string trip;
    int line = 0; ///< where the trip stands
    int runs = 0;
    int passed = 0;                    ///< of those
    double time_s = 0.0;               ///< of the first run that failed, else of the first
    std::vector<std::string> failures; ///< of that run

    bool all_passed() const { return runs > 0 && passed == runs; }
};

/// The layouts of one pilot.
struct PilotLayouts {
    Pilot pilot;
    std::vector<LayoutOutcome> outcomes; ///< by layout, then by trip

    /// How many were as the trip says in all their runs.
    int passed() const;
};

/// What came of all.
struct LayoutsReport {
    std::string course;
    std::string robot;
    std::string file; ///< of the trips
    int layouts = 0;  ///< that were asked for
    std::vector<PilotLayouts> pilots;
    /// Of some layouts on which a trip failed, and some on which none did, for cures to be tried on: explained as
    /// report_trips() does it; the first five cures of each, 24 at most, are then driven over all layouts
    /// (Cure::layouts), and those come first that hold on most. None when nothing failed.
    std::optional<TripReport> looked_into;
    std::vector<std::shared_ptr<TripGround>> grounds; ///< what its cases point to
    bool stopped = false;                             ///< layouts are missing

    int passed() const; ///< outcomes in which all runs passed
    int taken() const;  ///< outcomes
};

/// Makes one layout ready, from 1; called from any thread.
using MakeLayout = std::function<TripGround(int number)>;

/// Layouts `from` to `to`, both made, all in memory; by several threads (0: as many as there are). Throws what `make`
/// throws.
std::vector<TripGround> make_layouts(int from, int to, const MakeLayout& make, int threads = 0);

/// Drives every case of every layout with every pilot; few layouts are in memory at a time. Cases of which `takes` is
/// false are passed over; all are taken when it is empty. The same for any number of threads, unless `stop` says so.
/// Throws InputError as `make` and take_trip() do, and when no case is taken.
LayoutsReport report_layouts(int layouts, const MakeLayout& make, const std::vector<Pilot>& pilots,
                             const TripReportOptions& options = {},
                             const std::function<bool(const TripCase&)>& takes = {});

} // namespace vast_turn
