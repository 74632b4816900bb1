#include "vast_turn/trial/causes.hpp"

#include <algorithm>
#include <cmath>
#include <optional>
#include <random>
#include <utility>

#include <fmt/format.h>

namespace vast_turn {

namespace {

std::optional<std::size_t> place_of(const std::vector<DayValue>& values, Quantity what) {
    const auto at = std::find_if(values.begin(), values.end(), [&](const DayValue& one) { return one.what == what; });
    return at == values.end() ? std::nullopt : std::optional(static_cast<std::size_t>(at - values.begin()));
}

/// n log(n) of whole numbers, 0 for none.
class LogTable {
public:
    explicit LogTable(std::size_t most) : values_(most + 1, 0.0) {
        for (std::size_t n = 1; n <= most; ++n) {
            values_[n] = static_cast<double>(n) * std::log(static_cast<double>(n));
        }
    }
    double operator()(std::size_t n) const { return values_[n]; }

private:
    std::vector<double> values_;
};

class CauseSearch {
public:
    explicit CauseSearch(const std::vector<DayOutcome>& days)
        : days_(days), series_(series_of_days(days)), n_log_n_(days.size()) {
        for (std::size_t i = 0; i < days.size(); ++i) {
            left_.push_back(i);
        }
    }

    std::vector<Cause> run() {
        std::vector<Cause> causes;
        constexpr std::size_t most = 4;
        while (causes.size() < most) {
            sort_days();
            std::vector<char> failed;
            for (const std::size_t day : left_) {
                failed.push_back(days_[day].passed ? 0 : 1);
            }
            of_failures_ = static_cast<std::size_t>(std::count(failed.begin(), failed.end(), 1));
            of_passes_ = failed.size() - of_failures_;
            const Found found = best(failed);
            const double chance = found.order == nullptr ? 1.0 : chance_of(found.ratio, failed);
            constexpr double most_chance = 0.01;
            if (!(chance <= most_chance)) {
                break;
            }
            causes.push_back(told(found, chance));
            const Order order = *found.order;
            std::erase_if(left_, [&](std::size_t day) {
                return reach(*order.series, order.side, order.series->values[day]) > found.bound;
            });
        }
        return causes;
    }

private:
    enum class Side : std::uint8_t { low, high, both };

    /// The days that are left, those farthest on a side of a series first.
    struct Order {
        const DaySeries* series = nullptr;
        Side side = Side::low;
        std::vector<std::size_t> places; ///< among the days left
        std::vector<std::size_t> bounds; ///< how many days lie beyond each bound that there is
    };

    struct Found {
        const Order* order = nullptr;
        double bound = 0.0;
        std::size_t failures = 0;
        std::size_t passes = 0;
        double ratio = 0.0;
    };

    /// The larger, the farther on this side.
    static double reach(const DaySeries& series, Side side, double value) {
        return side == Side::low ? -value : side == Side::high ? value : std::abs(value - series.usual);
    }

    double reach_of(const Order& order, std::size_t rank) const {
        return reach(*order.series, order.side, order.series->values[left_[order.places[rank]]]);
    }

    void sort_days() {
        orders_.clear();
        for (const DaySeries& series : series_) {
            for (const Side side : {Side::low, Side::high, Side::both}) {
                Order order{&series, side, {}, {}};
                for (std::size_t i = 0; i < left_.size(); ++i) {
                    order.places.push_back(i);
                }
                std::stable_sort(order.places.begin(), order.places.end(), [&](std::size_t a, std::size_t b) {
                    return reach(series, side, series.values[left_[a]]) > reach(series, side, series.values[left_[b]]);
                });
                for (std::size_t rank = 1; rank < order.places.size(); ++rank) {
                    if (reach_of(order, rank - 1) > reach_of(order, rank)) { // no bound lies between equals
                        order.bounds.push_back(rank);
                    }
                }
                orders_.push_back(std::move(order));
            }
        }
    }

    /// Twice the logarithm of how much likelier the outcomes are with a share of failures of its own beyond a bound.
    double likelihood_ratio(std::size_t failures, std::size_t passes) const {
        const auto of = [this](std::size_t f, std::size_t p) { return n_log_n_(f) + n_log_n_(p) - n_log_n_(f + p); };
        return 2.0 *
               (of(failures, passes) + of(of_failures_ - failures, of_passes_ - passes) - of(of_failures_, of_passes_));
    }

    Found best(const std::vector<char>& failed) const {
        Found best;
        for (const Order& order : orders_) {
            std::size_t failures = 0;
            std::size_t rank = 0;
            for (const std::size_t bound : order.bounds) {
                for (; rank < bound; ++rank) {
                    failures += failed[order.places[rank]] != 0 ? 1 : 0;
                }
                const std::size_t passes = bound - failures;
                if (failures * of_passes_ <= passes * of_failures_) {
                    continue; // they are not frequenter there
                }
                const double ratio = likelihood_ratio(failures, passes);
                if (ratio > best.ratio + 1e-9) {
                    best = {&order, static_cast<double>(bound), failures, passes, ratio};
                }
            }
        }
        if (best.order != nullptr) {
            const auto beyond = static_cast<std::size_t>(best.bound);
            best.bound = 0.5 * (reach_of(*best.order, beyond - 1) + reach_of(*best.order, beyond));
        }
        return best;
    }

    /// How often outcomes dealt out to the days at random are told as well: a permutation test.
    double chance_of(double ratio, std::vector<char> failed) const {
        constexpr double most_work = 5e7;
        constexpr double most_deals = 999.0;
        constexpr double fewest_deals = 199.0;
        const double each = static_cast<double>(failed.size() * orders_.size());
        const auto deals = static_cast<int>(std::clamp(most_work / each, fewest_deals, most_deals));
        std::mt19937_64 random(failed.size()); // the same days give the same answer
        int as_good = 1;                       // the one at hand
        const int enough = static_cast<int>(0.01 * (deals + 1)) + 1;
        for (int deal = 0; deal < deals && as_good < enough; ++deal) {
            for (std::size_t i = failed.size() - 1; i > 0; --i) {
                std::swap(failed[i], failed[random() % (i + 1)]);
            }
            as_good += best(failed).ratio >= ratio ? 1 : 0;
        }
        return static_cast<double>(as_good) / (deals + 1);
    }

    Cause told(const Found& found, double chance) const {
        const DaySeries& series = *found.order->series;
        const Side side = found.order->side;
        Cause cause;
        cause.quantity = series.name;
        cause.unit = series.unit;
        cause.is_high = side == Side::high;
        cause.both_ways = side == Side::both;
        cause.usual = series.usual;
        cause.bound = side == Side::low ? -found.bound : found.bound;
        cause.failures = found.failures;
        cause.passes = found.passes;
        cause.of_failures = of_failures_;
        cause.of_passes = of_passes_;
        cause.chance = chance;
        cause.words = side == Side::low ? series.lower : series.higher;
        return cause;
    }

    const std::vector<DayOutcome>& days_;
    std::vector<DaySeries> series_;
    LogTable n_log_n_;
    std::vector<std::size_t> left_; ///< days within the bounds so far
    std::vector<Order> orders_;     ///< of those
    std::size_t of_failures_ = 0;
    std::size_t of_passes_ = 0;
};

} // namespace

std::vector<DaySeries> series_of_days(const std::vector<DayOutcome>& days) {
    std::vector<DaySeries> all;
    if (days.empty()) {
        return all;
    }
    const std::vector<DayValue>& first = days.front().values;
    for (std::size_t k = 0; k < first.size(); ++k) {
        const QuantityFacts& facts = facts_of(first[k].what);
        DaySeries one{name_of(first[k]), facts.unit, facts.usual, facts.lower, facts.higher, {}};
        for (const DayOutcome& day : days) {
            one.values.push_back(day.values[k].value);
        }
        all.push_back(std::move(one));
    }
    const auto ratio = [&](Quantity of, Quantity against, const char* name, const char* lower, const char* higher) {
        const std::optional<std::size_t> a = place_of(first, of);
        const std::optional<std::size_t> b = place_of(first, against);
        if (a && b) {
            DaySeries one{name, "", 1.0, lower, higher, {}};
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
