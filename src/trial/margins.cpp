#include "vast_turn/trial/margins.hpp"

#include <algorithm>
#include <cmath>

#include "base/parallel.hpp"
#include "vast_turn/robot/day.hpp"
#include "vast_turn/trial/trip_result.hpp"

namespace vast_turn {

namespace {

class MarginSearch {
public:
    MarginSearch(const TripCase& one, const Pilot& pilot, const RunOptions& options, const std::function<bool()>& stop)
        : one_(one), pilot_(pilot), options_(options), stop_(stop) {
        options_.day = 0;
        options_.keep_looks = false;
    }

    bool stopped() const { return stop_ && stop_(); }

    bool bears(const std::vector<DayValue>& values) const {
        RunOptions own = options_;
        own.set = values;
        constexpr std::uint64_t runs = 20;
        for (std::uint64_t i = 0; i < runs; ++i) {
            own.seed = options_.seed + i;
            if (stopped() || !try_trip(*one_.scene, pilot_, one_.trip, own).passed) {
                return false;
            }
        }
        return true;
    }

    /// How far it goes to one side; none where it holds as far as can be.
    std::optional<double> reach(const DayValue& usual, double limit) const {
        const QuantityFacts& facts = facts_of(usual.what);
        const double way = limit < usual.value ? -1.0 : 1.0;
        const double room = std::abs(limit - usual.value);
        const auto bears_at = [&](double off) {
            DayValue value = usual;
            value.value = usual.value + way * off;
            return bears({value});
        };
        constexpr double first = 4.0; // of what is worth telling
        constexpr double growth = 1.6;
        double good = 0.0;
        double bad = std::min(room, first * facts.step);
        while (bears_at(bad)) {
            if (!(bad < room)) {
                return std::nullopt;
            }
            good = bad;
            bad = std::min(room, growth * bad);
        }
        while (bad - good > 0.1 * facts.step && !stopped()) {
            const double middle = 0.5 * (good + bad);
            (bears_at(middle) ? good : bad) = middle;
        }
        return usual.value + way * good;
    }

private:
    const TripCase& one_;
    const Pilot& pilot_;
    RunOptions options_;
    const std::function<bool()>& stop_;
};

} // namespace

Margins find_margins(const TripCase& one, const Pilot& pilot, const RunOptions& options, int threads,
                     const std::function<bool()>& stop) {
    const MarginSearch search(one, pilot, options, stop);
    Margins found;
    found.holds = search.bears({});
    if (!found.holds) {
        return found;
    }
    const Robot& robot = one.scene->robot();
    const Variation variation = telling_variation(robot);
    for (const QuantityFacts& facts : quantities()) {
        const bool varies = std::any_of(variation.begin(), variation.end(),
                                        [&](const Varied& varied) { return varied.what == facts.quantity; });
        const std::size_t times = !varies ? 0 : facts.quantity == Quantity::sensor ? robot.sensors.size() : 1;
        for (std::size_t k = 0; k < times; ++k) {
            Margin margin{facts.quantity, k, {}, facts.unit, {}, {}, facts.usual};
            margin.quantity = name_of(DayValue{facts.quantity, k, facts.usual});
            found.margins.push_back(std::move(margin));
        }
    }
    for_each_index(2 * found.margins.size(), threads, [&](std::size_t i) {
        Margin& margin = found.margins[i / 2];
        const QuantityFacts& facts = facts_of(margin.what);
        const DayValue usual{margin.what, margin.sensor, facts.usual};
        if (i % 2 == 0 && facts.least < facts.usual) {
            margin.low = search.reach(usual, facts.least);
        } else if (i % 2 == 1) {
            margin.high = search.reach(usual, facts.most);
        }
    });
    return search.stopped() ? Margins{} : found;
}

} // namespace vast_turn
