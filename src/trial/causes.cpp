#include "vast_turn/trial/causes.hpp"

#include <algorithm>
#include <cmath>
#include <optional>

#include <fmt/format.h>

namespace vast_turn {

namespace {

/// A quantity, or what two of them make together, day by day.
struct Series {
    std::string name;
    std::string unit;
    const char* lower;
    const char* higher;
    double usual = 1.0;
    double step = 0.01;
    std::vector<double> values; ///< by day
};

std::optional<std::size_t> place_of(const std::vector<DayValue>& values, Quantity what) {
    const auto at = std::find_if(values.begin(), values.end(), [&](const DayValue& one) { return one.what == what; });
    return at == values.end() ? std::nullopt : std::optional(static_cast<std::size_t>(at - values.begin()));
}

std::vector<Series> series_of(const std::vector<DayOutcome>& days) {
    std::vector<Series> all;
    const std::vector<DayValue>& first = days.front().values;
    for (std::size_t k = 0; k < first.size(); ++k) {
        const QuantityFacts& facts = facts_of(first[k].what);
        Series one{name_of(first[k]), facts.unit, facts.lower, facts.higher, facts.usual, facts.step, {}};
        for (const DayOutcome& day : days) {
            one.values.push_back(day.values[k].value);
        }
        all.push_back(std::move(one));
    }
    const auto ratio = [&](Quantity of, Quantity against, const char* name, const char* lower, const char* higher) {
        const std::optional<std::size_t> a = place_of(first, of);
        const std::optional<std::size_t> b = place_of(first, against);
        if (a && b) {
            Series one{name, "", lower, higher, 1.0, 0.01, {}};
            for (const DayOutcome& day : days) {
                one.values.push_back(day.values[*a].value / day.values[*b].value);
            }
            all.push_back(std::move(one));
        }
    };
    ratio(Quantity::left_motor, Quantity::right_motor, "left motor against the right one", "weaker than",
          "stronger than");
    ratio(Quantity::left_wheel, Quantity::right_wheel, "left wheel against the right one", "smaller than",
          "larger than");
    return all;
}

/// n log(n), 0 for none.
double n_log_n(double n) { return n > 0.0 ? n * std::log(n) : 0.0; }

/// Twice the logarithm of how much likelier the outcomes are with a share of failures of its own beyond a bound.
double likelihood_ratio(double failures, double passes, double of_failures, double of_passes) {
    const auto of = [](double f, double p) { return n_log_n(f) + n_log_n(p) - n_log_n(f + p); };
    return 2.0 * (of(failures, passes) + of(of_failures - failures, of_passes - passes) - of(of_failures, of_passes));
}

class CauseSearch {
public:
    explicit CauseSearch(const std::vector<DayOutcome>& days) : days_(days), series_(series_of(days)) {
        for (std::size_t i = 0; i < days.size(); ++i) {
            left_.push_back(i);
        }
    }

    std::vector<Cause> run() {
        std::vector<Cause> causes;
        constexpr std::size_t most = 4;
        while (causes.size() < most) {
            const std::optional<Found> found = best();
            if (!found) {
                break;
            }
            causes.push_back(told(*found));
            std::erase_if(left_, [&](std::size_t day) { return beyond(*found, found->series->values[day]); });
        }
        return causes;
    }

private:
    enum class Side : std::uint8_t { low, high, both };

    struct Found {
        const Series* series = nullptr;
        Side side = Side::low;
        double bound = 0.0;
        double failures = 0.0;
        double passes = 0.0;
        double ratio = 0.0;
    };

    /// The larger, the farther on this side.
    static double reach(const Series& series, Side side, double value) {
        return side == Side::low ? -value : side == Side::high ? value : std::abs(value - series.usual);
    }
    static bool beyond(const Found& found, double value) {
        return reach(*found.series, found.side, value) > found.bound;
    }

    std::optional<Found> best() {
        of_failures_ = static_cast<double>(
            std::count_if(left_.begin(), left_.end(), [&](std::size_t day) { return !days_[day].passed; }));
        of_passes_ = static_cast<double>(left_.size()) - of_failures_;
        tried_ = 0.0;
        Found best;
        for (const Series& series : series_) {
            for (const Side side : {Side::low, Side::high, Side::both}) {
                best_bound(series, side, best);
            }
        }
        constexpr double least_chance = 0.01;
        return best.series != nullptr && chance_of(best) < least_chance ? std::optional(best) : std::nullopt;
    }

    /// The chance that one of all bounds tells as much: chi-squared with one degree of freedom, as often as was tried.
    double chance_of(const Found& found) const {
        return std::min(1.0, tried_ * std::erfc(std::sqrt(std::max(0.0, found.ratio) / 2.0)));
    }

    void best_bound(const Series& series, Side side, Found& best) {
        std::vector<std::pair<double, bool>> sorted; // farthest first; whether it passed
        for (const std::size_t day : left_) {
            sorted.emplace_back(reach(series, side, series.values[day]), days_[day].passed);
        }
        std::sort(sorted.begin(), sorted.end(), [](const auto& a, const auto& b) { return a.first > b.first; });
        double failures = 0.0;
        double passes = 0.0;
        for (std::size_t i = 0; i + 1 < sorted.size(); ++i) {
            (sorted[i].second ? passes : failures) += 1.0;
            if (!(sorted[i].first > sorted[i + 1].first)) {
                continue; // no bound lies between equals
            }
            tried_ += 1.0;
            const bool frequenter = failures * of_passes_ > passes * of_failures_;
            const double ratio = likelihood_ratio(failures, passes, of_failures_, of_passes_);
            if (frequenter && ratio > best.ratio + 1e-9) {
                best = {&series, side, 0.5 * (sorted[i].first + sorted[i + 1].first), failures, passes, ratio};
            }
        }
    }

    Cause told(const Found& found) const {
        Cause cause;
        cause.quantity = found.series->name;
        cause.unit = found.series->unit;
        cause.is_high = found.side == Side::high;
        cause.both_ways = found.side == Side::both;
        cause.usual = found.series->usual;
        cause.bound = found.side == Side::low ? -found.bound : found.bound;
        cause.failures = static_cast<std::size_t>(found.failures);
        cause.passes = static_cast<std::size_t>(found.passes);
        cause.of_failures = static_cast<std::size_t>(of_failures_);
        cause.of_passes = static_cast<std::size_t>(of_passes_);
        cause.chance = chance_of(found);
        cause.words = found.side == Side::low ? found.series->lower : found.series->higher;
        return cause;
    }

    const std::vector<DayOutcome>& days_;
    std::vector<Series> series_;
    std::vector<std::size_t> left_; ///< days within the bounds so far
    double of_failures_ = 0.0;
    double of_passes_ = 0.0;
    double tried_ = 0.0; ///< bounds, in the search that is on
};

} // namespace

std::vector<Cause> find_causes(const std::vector<DayOutcome>& days) {
    const bool any = std::any_of(days.begin(), days.end(), [](const DayOutcome& day) { return !day.passed; });
    return any ? CauseSearch(days).run() : std::vector<Cause>{};
}

std::string describe(const Cause& cause) {
    const std::string unit = cause.unit.empty() ? "" : " " + cause.unit;
    const std::string beyond = cause.both_ways
                                   ? fmt::format("more than {:.3g}{} from {:g}", cause.bound, unit, cause.usual)
                                   : fmt::format("{} {:.3g}{}", cause.words, cause.bound, unit);
    return fmt::format("{} of {} failure{}: {} {} (so were {} of {} days that passed)", cause.failures,
                       cause.of_failures, cause.of_failures == 1 ? "" : "s", cause.quantity, beyond, cause.passes,
                       cause.of_passes);
}

} // namespace vast_turn
