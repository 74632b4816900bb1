#include "tune/margins.hpp"

#include <algorithm>
#include <utility>

namespace vast_turn {

namespace {

constexpr std::uint64_t margin_days = 20;

/// One number, one way.
struct Probe {
    std::size_t number = 0;
    double sign = 1.0;
    double holds = 0.0; ///< so far from the winner, as a part of the range
    double step = 0.01;
    double fails = -1.0;
    bool at_end = false;
    bool done = false;
};

} // namespace

std::vector<TuneMargin> margins_of(TuneField& field, CandidateNumber winner, const TuneAsk& ask) {
    const std::vector<double> middle = field.place_of(winner);
    std::vector<Probe> probes;
    for (std::size_t k = 0; k < middle.size(); ++k) {
        probes.push_back({k, -1.0});
        probes.push_back({k, 1.0});
    }
    const auto room = [&](const Probe& p) { return p.sign < 0.0 ? middle[p.number] : 1.0 - middle[p.number]; };
    const auto place = [&](const Probe& p, double off) {
        std::vector<double> at = middle;
        at[p.number] += p.sign * off;
        return field.values_at(at);
    };
    while (true) {
        std::vector<TuneBatch> batches;
        std::vector<std::pair<Probe*, double>> asked;
        for (Probe& p : probes) {
            if (p.done || (room(p) <= 0.0 && (p.done = p.at_end = true))) {
                continue;
            }
            const double off = p.fails < 0.0 ? std::min(p.step, room(p)) : 0.5 * (p.holds + p.fails);
            batches.push_back({place(p, off), ask.first_day, margin_days});
            asked.emplace_back(&p, off);
        }
        const auto runs = field.drive_besides(batches);
        if (runs.empty()) {
            break;
        }
        for (std::size_t i = 0; i < asked.size(); ++i) {
            auto& [p, off] = asked[i];
            const bool holds = !runs[i].empty() && counted(runs[i], ask.trips).failed == 0;
            p->done = p->fails >= 0.0; // it was the way back
            if (holds) {
                p->holds = off;
                p->at_end = !(off < room(*p));
                p->done = p->done || p->at_end;
                p->step = 2.0 * off;
            } else {
                p->fails = off;
            }
        }
    }
    std::vector<TuneMargin> list(middle.size());
    for (const Probe& p : probes) {
        TuneMargin& margin = list[p.number];
        (p.sign < 0.0 ? margin.low : margin.high) = place(p, p.holds)[p.number];
        (p.sign < 0.0 ? margin.low_is_end : margin.high_is_end) = p.at_end;
    }
    return list;
}

} // namespace vast_turn
