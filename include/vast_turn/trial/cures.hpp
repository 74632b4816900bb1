#pragma once

/// What in a plan would have made a failed trip pass, tried by driving.

#include <cstddef>
#include <cstdint>
#include <functional>
#include <memory>
#include <string>
#include <vector>

#include "vast_turn/trial/trip_case.hpp"
#include "vast_turn/trial/trip_result.hpp"

namespace vast_turn {

/// One change of a plan's text with which a failed trip goes as expected.
struct Cure {
    std::string change;              ///< "line 10 moved above line 9", "line 5: inside = 21 becomes 27.3"
    std::string text;                ///< the whole plan, changed
    bool passes = false;             ///< driven from the start with the change the trip passes
    bool from_there = false;         ///< changed only at the deciding look it goes on as expected, farther than without
    std::vector<std::string> breaks; ///< trips that pass without the change and fail with it
    std::vector<std::string> mends;  ///< other trips that fail without it and pass with it
};

/// What a cure does, before its change is told: "would pass with", "goes right from there, but not from the start,
/// with".
const char* promise_of(const Cure& cure);

/// The promise and the change: "would pass with line 10 moved above line 9".
std::string describe(const Cure& cure);

/// Seeks cures for the failed trips of one plan. What one search finds out of other trips serves the next, so many
/// failures cost little more than a few.
class CureFinder {
public:
    /// Told how many of how many are tried of what, "changes"; from any thread, one at a time.
    using Progress = std::function<void(const char* what, std::size_t done, std::size_t all)>;

    /// `others` are the trips that a change must not break; their scenes must outlive this. `threads` 0: as many as
    /// there are.
    CureFinder(const Plan& plan, const std::vector<TripCase>& others, int threads = 0);
    /// Forgets what it found out.
    ~CureFinder();
    CureFinder(const CureFinder&) = delete;
    CureFinder& operator=(const CureFinder&) = delete;

    /// Tries changes among the plan's own rules and numbers, each from the deciding look on and then from the start of
    /// the failed trip; those with which it passes then over all other trips. Tried for the deciding rule and for every
    /// rule or item that called its block: every other rule of its block moved directly above it, it taken out, and
    /// its sides exchanged; and each number of the plan's lets and of those lines times 0.6, 0.8, 1.25 and 1.6 and with
    /// the other sign. What passes and breaks no trip comes first, then what breaks fewer, then what goes right only
    /// from the deciding look on; among equals the order above. The same for any number of threads; when `stop`, asked
    /// before each change, says so, those found until then.
    ///
    /// `failed` is a result of `one` with this plan and `options`, explained by take_trip() or find_parting().
    std::vector<Cure> find(const TripCase& one, const TripResult& failed, const RunOptions& options,
                           const Progress& progress = {}, const std::function<bool()>& stop = {});

private:
    class Tries;
    std::unique_ptr<Tries> tries_;
};

/// The cures of one failed trip.
std::vector<Cure> find_cures(const TripCase& one, const Plan& plan, const TripResult& failed,
                             const std::vector<TripCase>& others, const RunOptions& options = {}, int threads = 0);

} // namespace vast_turn
