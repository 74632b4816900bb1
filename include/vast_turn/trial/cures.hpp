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

/// What kind of change a cure is, in the order in which it is sought among equals: structure first, numbers last.
enum class CureKind : std::uint8_t {
    order,     ///< a rule at another place of its block
    side,      ///< left and right exchanged: words, wheels, a sign
    marker,    ///< another marker
    mirrored,  ///< a twin more or less
    word,      ///< another word: and for or, < for >, another sensor, block or let, fresh more or less
    count,     ///< another small whole number
    lasting,   ///< a condition that must last more or less
    limit,     ///< an item longer or shorter
    threshold, ///< a number that a condition compares with
    pattern,   ///< another mark in a pattern
    taken_out, ///< a rule or item less
    added,     ///< a rule or item more
    power,     ///< another number in what the wheels do
};

/// "side", "marker", ... "taken out", "power".
const char* name_of(CureKind kind);

/// What a change does over the layouts of a course of pieces, on each of which all trips are driven.
struct CureOverLayouts {
    int held = 0;   ///< layouts on which every trip is as it says, with the change
    int before = 0; ///< and without it
    int taken = 0;  ///< how many were driven; 0 when none were
};

/// One change of a plan's text, or two where no single one is enough, with which a failed trip goes as expected.
struct Cure {
    /// "line 10 moved above line 9", "line 5: inside = 21 becomes 27.3"; of two changes "line 12: right becomes left,
    /// then line 38: 140mm becomes 73.3mm", the second in the lines that the first leaves.
    std::string change;
    std::string text;               ///< the whole plan, changed
    CureKind kind = CureKind::side; ///< what kind of change it is; of two the first
    int line = 0;            ///< that is changed, from 1; of an exchange all over the plan its first, of two likewise
    bool passes = false;     ///< driven from the start with the change the trip passes
    bool from_there = false; ///< changed only at the deciding look it goes on as expected, farther than without
    int held = 0;            ///< in how many of `repeats` further runs it passes too
    int repeats = 0;         ///< how many there were; 0 when it does not pass
    bool over_days = false;  ///< they were the days after the one at hand, not other seeds
    bool slower = false;     ///< it makes the whole robot slower by a tenth or more
    std::vector<std::string> breaks; ///< trips that pass without the change and fail with it
    std::vector<std::string> mends;  ///< other trips that fail without it and pass with it
    CureOverLayouts layouts;         ///< of the first cures of a failed layout, filled in by report_layouts()

    /// Whether it can be believed: it passes in every repeat and breaks no other trip.
    bool counts() const { return passes && repeats > 0 && held == repeats && breaks.empty(); }
};

/// What a search came to.
struct CureSearch {
    std::vector<Cure> cures;
    std::size_t tried = 0; ///< changes, single and by twos, that made a plan, each driven
};

/// What a cure does, before its change is told: "would pass with", "goes right from there, but not from the start,
/// with".
const char* promise_of(const Cure& cure);

/// What is to be said behind the change: " (20 of 20 repeats; but then "fetch pots" fails)"; empty when there is
/// nothing.
std::string reserve_of(const Cure& cure);

/// The promise, the change and the reserve: "would pass with line 10 moved above line 9 (20 of 20 repeats)".
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

    /// Tries changes all over the plan from the start of the failed trip: sides, markers, `mirrored`, words taken for
    /// one another, counts, marks of patterns, every rule at every other place of its block, limits, `lasting`,
    /// thresholds, rules and items taken out, or added where it went wrong, powers. Of a number the smallest change
    /// that passes is found by bisection. What passes is driven with 20 other seeds and over all other trips. First
    /// come those that count (Cure::counts()), then what breaks fewer trips and holds more often; what only makes the
    /// robot slower is last among equals; then what mends more other trips, what makes the plan less odd in itself (a
    /// pattern answered, a rule in reach again), then what does as before until shortly before the deciding look, what
    /// makes the text no more irregular, then what changes the deciding rule, a rule that called its block, or one that
    /// held too; then by kind and by size. When no change alone passes, each is tried once more with up to four others
    /// that bring the trip farther, up to 6,000 pairs, and what then passes with every seed is told. When nothing
    /// passes: changes of those rules with which it goes on as expected from the deciding look. The same for any number
    /// of threads; when `stop`, asked before each change, says so, those found until then.
    ///
    /// `failed` is a result of `one` with this plan and `options`, explained by take_trip() or find_parting().
    CureSearch find(const TripCase& one, const TripResult& failed, const RunOptions& options,
                    const Progress& progress = {}, const std::function<bool()>& stop = {});

    /// Tries only cures that were found for other failed trips of the plan: where many fail of one slip, the first
    /// search serves them all. In the order of `earlier`.
    CureSearch again(const std::vector<Cure>& earlier, const TripCase& one, const TripResult& failed,
                     const RunOptions& options);

    /// Of the library's own use.
    class Tries;

private:
    std::unique_ptr<Tries> tries_;
};

/// The cures of one failed trip.
std::vector<Cure> find_cures(const TripCase& one, const Plan& plan, const TripResult& failed,
                             const std::vector<TripCase>& others, const RunOptions& options = {}, int threads = 0);

} // namespace vast_turn
