#pragma once

/// The fastest numbers that surely hold: sought with few runs, confirmed on days that the search never saw.

#include <cstddef>
#include <cstdint>
#include <functional>
#include <optional>
#include <string>
#include <vector>

#include "vast_turn/trial/sureness.hpp"

namespace vast_turn {

/// A number that may move, both ends included.
struct TuneNumber {
    std::string name;
    double least = 0.0;
    double greatest = 1.0; ///< more than `least`
    double step = 0.0;     ///< it moves by so much, from `least` on; 0: to values that are round to a thousandth or so
};

/// A value for each number, in their order.
using TuneValues = std::vector<double>;

/// One run of one trip.
struct TuneRun {
    bool passed = false;
    double time_s = 0.0; ///< from start to end
};

/// Days, one after the other, that are to be driven with some values.
struct TuneBatch {
    TuneValues at;
    std::uint64_t first_day = 1;
    std::uint64_t days = 1;
};

/// The runs of each batch: of its first day all trips, then of its second ... None at all where nothing can be driven
/// with those values (a plan that does not compile with them). Batches of one call may be driven in any order and side
/// by side.
using TuneDrive = std::function<std::vector<std::vector<TuneRun>>(const std::vector<TuneBatch>&)>;

/// A tuning as it is asked for.
struct TuneAsk {
    std::vector<TuneNumber> numbers; ///< one to twelve
    TuneValues start;                ///< what they are now: tried too, and what the winner is held against
    std::size_t trips = 1;
    double sure = 0.99;             ///< part of the days on which each trip must pass, 0.5 up to 0.9999
    std::uint64_t most_runs = 2000; ///< of search and confirmation together
    std::uint64_t seed = 1;         ///< of the places that are tried first
    std::uint64_t first_day = 1;    ///< the search sees days from here on, the confirmation those behind them
    TuneDrive drive;
    /// Told how many runs were made, after each call of `drive`.
    std::function<void(std::uint64_t runs)> progress{};
    /// Asked before each call of `drive`; true ends the search with what is known.
    std::function<bool()> stop{};
};

/// What brought values to be tried.
enum class TuneStage : std::uint8_t {
    start,   ///< what the numbers were
    spread,  ///< evenly over the ranges
    local,   ///< by the optimiser, around the best of those
    between, ///< beside one that held: half way to a faster one that did not, past it, or right beside it
};

/// "start", "spread", "local", "between".
constexpr const char* name_of(TuneStage stage) {
    switch (stage) {
    case TuneStage::start: return "start";
    case TuneStage::spread: return "spread";
    case TuneStage::local: return "local";
    case TuneStage::between: return "between";
    }
    return "";
}

/// Values that were tried, and how they did on the days of the search.
struct TuneTried {
    TuneValues at;
    TuneStage stage = TuneStage::spread;
    std::uint64_t days = 0;   ///< driven; the sooner it failed, or was slow, the fewer
    std::uint64_t failed = 0; ///< of those, of the trip that failed most often
    double time_s = 0.0;      ///< mean of the days on which all trips passed, all trips together; 0 without any
    bool refuted = false;     ///< by the confirmation
};

/// Values on the days of the confirmation.
struct TuneConfirmed {
    std::uint64_t days = 0;
    std::uint64_t failed = 0; ///< of the trip that failed most often
    ShareBounds share;        ///< of days on which that trip passes, as surely as 95 of 100
    double time_s = 0.0;      ///< mean of all trips together, of days on which all pass
};

/// How far one number of the winner may go by itself.
struct TuneMargin {
    /// The farthest value below the winner's, and above it, with which all of 20 days passed; the winner's own where
    /// not even the next one tried did.
    double low = 0.0;
    double high = 0.0;
    bool low_is_end = false; ///< it is the end of its range
    bool high_is_end = false;
};

/// What came of it.
struct Tuned {
    std::vector<TuneTried> tried;           ///< in the order in which they were first tried; the start first
    std::optional<std::size_t> winner;      ///< of those; none when nothing was confirmed
    TuneConfirmed confirmed;                ///< the winner
    std::optional<TuneConfirmed> start;     ///< what the numbers were, on the first days of the confirmation
    std::vector<TuneMargin> margins;        ///< one a number
    std::uint64_t runs = 0;                 ///< of search and confirmation
    std::uint64_t further_runs = 0;         ///< of start and margins
    bool stopped = false;                   ///< by `stop`
    std::optional<std::size_t> unconfirmed; ///< without a winner: the fastest that still held when runs were used up
};

/// How many runs a tuning of so many trips may well be allowed: 5000 a trip, more where so sure an answer takes more.
std::uint64_t tune_runs(double sure, std::size_t trips);

/// Seeks the values with which all trips together are fastest while each passes on at least `sure` of all days.
///
/// First values spread over the ranges (Halton) are raced: all on the same few days, the better third on twice as many,
/// and so on, each dropped as soon as it has failed too often (K. Jamieson and A. Talwalkar, Non-stochastic best arm
/// identification and hyperparameter optimization, 2016). Around the best an optimiser goes on: Subplex (T. Rowan,
/// Functional stability analysis of numerical algorithms, 1990) as NLopt has it, on the same days. The fastest of all
/// are driven on more days, with values between them and slower ones where they fail; what holds is put to a
/// SequentialTest of `sure` on days of its own, and the first that is not refuted wins.
///
/// Values are round to about a thousandth of their range, and driven as they are told. The same for the same seed, if
/// `drive` is. Throws InputError for ranges, starts and shares that cannot be, and passes on what `drive` throws.
Tuned tune(const TuneAsk& ask);

} // namespace vast_turn
