#include "vast_turn/trial/comparison.hpp"

#include <algorithm>
#include <cmath>

#include "base/parallel.hpp"

namespace vast_turn {

Spread spread_of(const std::vector<double>& values) {
    Spread spread;
    const auto n = static_cast<double>(values.size());
    for (const double value : values) {
        spread.mean += value / n;
    }
    double squares = 0.0;
    for (const double value : values) {
        squares += (value - spread.mean) * (value - spread.mean);
    }
    spread.deviation = values.size() > 1 ? std::sqrt(squares / (n - 1.0)) : 0.0;
    return spread;
}

namespace {

Spread spread_over(const std::vector<RunFigures>& all, double RunFigures::*figure) {
    std::vector<double> values;
    values.reserve(all.size());
    for (const RunFigures& one : all) {
        values.push_back(one.*figure);
    }
    return spread_of(values);
}

double fastest(const Run& run) {
    constexpr std::size_t window = 10;
    double top = 0.0;
    for (std::size_t i = window; i < run.looks.size(); ++i) {
        const LookRecord& before = run.looks[i - window];
        const double seconds = run.looks[i].t_s - before.t_s;
        top = std::max(top, seconds > 0.0 ? static_cast<double>(run.looks[i].way_mm - before.way_mm) / seconds : 0.0);
    }
    return top;
}

/// So many runs from `own` on against those of the first pilot from `its` on.
Against against_first(const std::vector<char>& passed, std::size_t own, std::size_t its, std::size_t runs) {
    Against against;
    for (std::size_t i = 0; i < runs; ++i) {
        against.gained += passed[own + i] > passed[its + i] ? 1 : 0;
        against.lost += passed[own + i] < passed[its + i] ? 1 : 0;
    }
    against.better = difference_of_shares(static_cast<std::uint64_t>(against.gained),
                                          static_cast<std::uint64_t>(against.lost), runs);
    return against;
}

} // namespace

double steering_change_pct(const Run& run) {
    const auto steering = [](const LookRecord& l) { return 0.5 * static_cast<double>(l.right_pct - l.left_pct); };
    double changes = 0.0;
    for (std::size_t i = 1; i < run.looks.size(); ++i) {
        const double change = steering(run.looks[i]) - steering(run.looks[i - 1]);
        changes += change * change;
    }
    return std::sqrt(changes / std::max(1.0, static_cast<double>(run.looks.size())));
}

RunFigures figures_of(const Scene& scene, const Run& run) {
    RunFigures out;
    out.time_s = run.time_s;
    out.mean_mm_s = run.mean_speed_mm_s();
    out.top_mm_s = fastest(run);
    out.unanswered = run.unanswered;
    TapeFinder::Hint hint;
    double asides = 0.0;
    for (std::size_t i = 0; i < run.looks.size(); ++i) {
        const LookRecord& look = run.looks[i];
        const Vec2 array = from_robot(look.at, direction(static_cast<double>(look.heading_deg)), scene.array_middle());
        const double aside = scene.tape().distance(array, hint);
        asides += aside * aside;
        out.farthest_mm = std::max(out.farthest_mm, aside);
    }
    out.losses = static_cast<double>(losses_of(scene, run).size());
    const double n = std::max(1.0, static_cast<double>(run.looks.size()));
    out.steering_change_pct = steering_change_pct(run);
    out.aside_mm = std::sqrt(asides / n);
    return out;
}

std::vector<LineLoss> losses_of(const Scene& scene, const Run& run) {
    constexpr std::size_t least = 3; // looks on end
    std::vector<LineLoss> losses;
    TapeFinder::Hint hint;
    std::size_t off = 0;
    for (std::size_t i = 0; i < run.looks.size(); ++i) {
        const LookRecord& look = run.looks[i];
        const Vec2 array = from_robot(look.at, direction(static_cast<double>(look.heading_deg)), scene.array_middle());
        off = scene.tape().beyond_edge(array, hint) > scene.array_outermost_mm() ? off + 1 : 0;
        if (off == least) {
            losses.push_back({i + 1 - least, least});
        } else if (off > least) {
            losses.back().looks = off;
        }
    }
    return losses;
}

std::vector<LineOffset> offsets_of(const Scene& scene, const Run& run) {
    std::vector<LineOffset> list;
    double way = 0.0;
    for (std::size_t i = 0; i < run.looks.size() && !scene.course().tapes.empty(); ++i) {
        const LookRecord& look = run.looks[i];
        way += i > 0 ? length(look.at - run.looks[i - 1].at) : 0.0;
        const Vec2 ahead = direction(static_cast<double>(look.heading_deg));
        const Vec2 array = from_robot(look.at, ahead, scene.array_middle());
        const Vec2 off = array - scene.tape().nearest(array);
        const Vec2 left{ahead.y, -ahead.x};
        list.push_back({way, dot(off, left) >= 0.0 ? length(off) : -length(off)});
    }
    return list;
}

std::vector<PilotFigures> compare(const std::vector<TripCase>& cases, const std::vector<Pilot>& pilots, int repeats,
                                  const RunOptions& options, int threads) {
    const auto seeds = static_cast<std::size_t>(std::max(1, repeats));
    const std::size_t each = cases.size() * seeds;
    std::vector<RunFigures> figures(pilots.size() * each);
    std::vector<char> passed(figures.size(), 0);
    std::vector<Run> first(pilots.size() * cases.size());
    for_each_index(figures.size(), threads, [&](std::size_t i) {
        const RunOptions own = nth_run(options, i % seeds);
        const TripCase& one = cases[i % each / seeds];
        TripResult result = try_trip(*one.scene, pilots[i / each], one.trip, own);
        figures[i] = figures_of(*one.scene, result.run);
        passed[i] = result.passed ? 1 : 0;
        if (i % seeds == 0) {
            first[i / seeds] = std::move(result.run);
        }
    });
    std::vector<PilotFigures> all;
    for (std::size_t p = 0; p < pilots.size(); ++p) {
        PilotFigures one{pilots[p], 0, 0, {}, {}};
        for (std::size_t t = 0; t < cases.size(); ++t) {
            const std::size_t from = p * each + t * seeds;
            const auto begin = figures.begin() + static_cast<std::ptrdiff_t>(from);
            const std::vector<RunFigures> own(begin, begin + static_cast<std::ptrdiff_t>(seeds));
            const auto ok = passed.begin() + static_cast<std::ptrdiff_t>(from);
            one.cases.push_back(
                {static_cast<int>(seeds), static_cast<int>(std::count(ok, ok + static_cast<std::ptrdiff_t>(seeds), 1)),
                 spread_over(own, &RunFigures::time_s), spread_over(own, &RunFigures::mean_mm_s),
                 spread_over(own, &RunFigures::top_mm_s), spread_over(own, &RunFigures::steering_change_pct),
                 spread_over(own, &RunFigures::aside_mm), spread_over(own, &RunFigures::farthest_mm),
                 spread_over(own, &RunFigures::unanswered), spread_over(own, &RunFigures::losses),
                 against_first(passed, from, t * seeds, seeds), std::move(first[p * cases.size() + t])});
            one.runs += one.cases.back().runs;
            one.passed += one.cases.back().passed;
        }
        one.against = against_first(passed, p * each, 0, each);
        all.push_back(std::move(one));
    }
    return all;
}

} // namespace vast_turn
