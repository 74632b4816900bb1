#include "support/planted_tuning.hpp"

#include <algorithm>
#include <cmath>
#include <random>

namespace fixtures {

using vast_turn::TuneBatch;
using vast_turn::TuneRun;
using vast_turn::TuneValues;

namespace {

double normal(std::uint64_t a, std::uint64_t b, std::uint64_t c) {
    std::seed_seq seeds{a, a >> 32U, b, b >> 32U, c};
    std::mt19937_64 random(seeds);
    return std::normal_distribution<double>()(random);
}

double square(double x) { return x * x; }

/// The least time of values that hold on 99 of 100 days, sought on a grid and then on finer ones around the best.
double best_of(const PlantedTuning& it) {
    const std::size_t n = it.numbers.size();
    const int steps = n == 1 ? 4000 : n == 2 ? 160 : n == 3 ? 36 : 16;
    std::vector<double> low(n, 0.0);
    std::vector<double> high(n, 1.0);
    double best = HUGE_VAL;
    for (int round = 0; round < 7; ++round) {
        std::vector<int> at(n, 0);
        std::vector<double> best_place(n, 0.5);
        for (bool more = true; more;) {
            TuneValues values(n);
            std::vector<double> place(n);
            for (std::size_t k = 0; k < n; ++k) {
                place[k] = low[k] + (high[k] - low[k]) * at[k] / steps;
                values[k] = it.numbers[k].least + place[k] * (it.numbers[k].greatest - it.numbers[k].least);
            }
            bool holds = true;
            for (std::size_t trip = 0; trip < it.trips; ++trip) {
                holds = holds && it.room(values, trip) >= it.sure_room;
            }
            if (holds && it.time_s(values) <= best) {
                best = it.time_s(values);
                best_place = place;
            }
            more = false;
            for (std::size_t k = 0; k < n && !more; ++k) {
                more = ++at[k] <= steps;
                at[k] = more ? at[k] : 0;
            }
        }
        for (std::size_t k = 0; k < n; ++k) {
            const double reach = 2.0 * (high[k] - low[k]) / steps;
            low[k] = std::max(0.0, best_place[k] - reach);
            high[k] = std::min(1.0, best_place[k] + reach);
        }
    }
    return best;
}

} // namespace

vast_turn::TuneDrive PlantedTuning::drive(std::uint64_t world) const {
    return [this, world](const std::vector<TuneBatch>& batches) {
        std::vector<std::vector<TuneRun>> out;
        for (const TuneBatch& batch : batches) {
            std::vector<TuneRun>& runs = out.emplace_back();
            for (std::uint64_t day = batch.first_day; day < batch.first_day + batch.days; ++day) {
                for (std::size_t trip = 0; trip < trips; ++trip) {
                    const double luck = normal(world, day, 100 + trip);
                    const double pace = 1.0 + 0.03 * normal(world, day, 1);
                    const auto own = static_cast<std::uint64_t>(std::llround(1e6 * batch.at[0]));
                    const double time = time_s(batch.at) / static_cast<double>(trips);
                    runs.push_back({room(batch.at, trip) > luck, time * pace * (1.0 + 0.01 * normal(own, day, trip))});
                }
            }
        }
        return out;
    };
}

double PlantedTuning::holds(const TuneValues& at) const {
    double least = 1.0;
    for (std::size_t trip = 0; trip < trips; ++trip) {
        least = std::min(least, 0.5 * std::erfc(-room(at, trip) / std::sqrt(2.0)));
    }
    return least;
}

namespace {

std::vector<PlantedTuning> with_best(std::vector<PlantedTuning> list) {
    for (PlantedTuning& it : list) {
        it.best_s = best_of(it);
    }
    return list;
}

} // namespace

std::vector<PlantedTuning> planted_tunings() {
    std::vector<PlantedTuning> list;
    const double always = 9.0;
    { // faster and faster up to where it slips
        PlantedTuning& it = list.emplace_back();
        it.name = "speed and gain";
        it.numbers = {{"cruise", 31.0, 97.0}, {"gain", 0.15, 3.4}};
        it.start = {38.0, 0.9};
        it.time_s = [](const TuneValues& at) { return 520.0 / at[0] + 0.35 * square(at[1] - 1.6); };
        it.room = [](const TuneValues& at, std::size_t) { return (74.0 - at[0] - 9.0 * square(at[1] - 2.1)) / 0.8; };
    }
    { // a bowl aslant in three numbers that holds nearly everywhere
        PlantedTuning& it = list.emplace_back();
        it.name = "a slanted bowl";
        it.numbers = {{"a", -13.0, 29.0}, {"b", 0.0, 640.0}, {"c", 2.2, 7.1}};
        it.start = {-9.0, 600.0, 2.5};
        it.time_s = [](const TuneValues& at) {
            const double x = (at[0] - 11.0) / 42.0;
            const double y = (at[1] - 410.0) / 640.0;
            const double z = (at[2] - 3.4) / 4.9;
            return 7.3 * (1.0 + 1.9 * square(x + 0.7 * y) + 0.8 * square(y - 0.4 * z) + 0.9 * square(z + 0.3 * x));
        };
        it.room = [](const TuneValues& at, std::size_t) { return (29.4 - at[0]) / 0.8; };
    }
    { // steps: nothing changes for a while, then all at once
        PlantedTuning& it = list.emplace_back();
        it.name = "steps";
        it.numbers = {{"looks", 1.0, 41.0}, {"near", 35.0, 260.0}};
        it.start = {39.0, 70.0};
        it.time_s = [](const TuneValues& at) {
            return 8.8 + 0.55 * std::floor(std::abs(at[0] - 13.0) / 5.0) +
                   0.4 * std::floor(std::abs(at[1] - 171.0) / 30.0);
        };
        it.room = [always](const TuneValues& at, std::size_t) { return at[0] < 3.0 ? -always : always; };
    }
    { // fails all over but in a small region, where it is as fast everywhere
        PlantedTuning& it = list.emplace_back();
        it.name = "an island on a plain";
        it.numbers = {{"a", 0.0, 17.0}, {"b", -60.0, 75.0}};
        it.start = {8.4, 20.0};
        it.time_s = [](const TuneValues& at) {
            return 6.1 + (at[0] > 9.0 ? 0.0 : 0.9) + 0.04 * std::abs(at[1] - 31.0) / 10.0;
        };
        it.room = [](const TuneValues& at, std::size_t) {
            return (1.0 - square((at[0] - 10.1) / 3.1) - square((at[1] - 28.0) / 26.0)) * 9.0;
        };
    }
    { // fastest right before it never holds any more, aslant to both numbers
        PlantedTuning& it = list.emplace_back();
        it.name = "a slanted cliff";
        it.numbers = {{"cruise", 24.0, 99.0}, {"slow", 5.0, 60.0}};
        it.start = {35.0, 24.0};
        it.time_s = [](const TuneValues& at) { return 330.0 / at[0] + 140.0 / at[1]; };
        it.room = [always](const TuneValues& at, std::size_t) {
            return std::clamp((118.0 - at[0] - 1.3 * at[1]) * 4.0, -always, always);
        };
    }
    { // the cliff is straight across one number, and two others have their own best
        PlantedTuning& it = list.emplace_back();
        it.name = "a straight cliff";
        it.numbers = {{"cruise", 30.0, 90.0}, {"gain", 0.2, 4.7}, {"near", 40.0, 310.0}};
        it.start = {41.0, 3.9, 90.0};
        it.time_s = [](const TuneValues& at) {
            return 490.0 / at[0] + 0.5 * square((at[1] - 1.9) / 2.0) + 0.4 * square((at[2] - 205.0) / 90.0);
        };
        it.room = [always](const TuneValues& at, std::size_t) { return at[0] < 71.3 ? always : -always; };
    }
    return with_best(std::move(list));
}

std::vector<PlantedTuning> harder_tunings() {
    const double always = 9.0;
    std::vector<PlantedTuning> list;
    list.push_back(planted_tunings().front());
    list.back().name = "a gentle edge"; // what holds for sure is far behind what mostly holds
    list.back().room = [](const TuneValues& at, std::size_t) {
        return (74.0 - at[0] - 9.0 * square(at[1] - 2.1)) / 2.4;
    };
    { // three numbers, two trips that each slip at another edge
        PlantedTuning& it = list.emplace_back();
        it.name = "two trips between two cliffs";
        it.numbers = {{"cruise", 30.0, 90.0}, {"bend", 12.0, 66.0}, {"brake", 20.0, 230.0}};
        it.start = {40.0, 22.0, 130.0};
        it.trips = 2;
        it.time_s = [](const TuneValues& at) { return 410.0 / at[0] + 190.0 / at[1] + 0.004 * at[2]; };
        it.room = [always](const TuneValues& at, std::size_t trip) {
            const double brakes = 0.22 * at[2];
            return trip == 0 ? std::clamp((52.0 + brakes - at[0]) * 1.5, -always, always)
                             : std::clamp((47.0 - at[1] - 0.08 * (at[0] - 50.0)) * 2.0, -always, always);
        };
    }
    return with_best(std::move(list));
}

} // namespace fixtures
