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

/// Runs against those of the first pilot, one by one. So many on end are `alike`, on one and the same layout: in the
/// worst case they say no more than one of them.
Against against_first(const std::vector<char>& passed, const std::vector<char>& firsts, std::size_t alike) {
    Against against;
    for (std::size_t i = 0; i < passed.size(); ++i) {
        against.gained += passed[i] > firsts[i] ? 1 : 0;
        against.lost += passed[i] < firsts[i] ? 1 : 0;
    }
    against.better =
        difference_of_shares(static_cast<std::uint64_t>(against.gained), static_cast<std::uint64_t>(against.lost),
                             passed.size(), deviations_of_95 * std::sqrt(static_cast<double>(alike)));
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

namespace {

/// Runs of one pilot over one case.
struct CaseRuns {
    std::vector<RunFigures> figures;
    std::vector<char> passed;
    Run first;
};

/// By pilot, then by case.
using AllRuns = std::vector<std::vector<CaseRuns>>;

AllRuns driven(const std::vector<TripCase>& cases, const std::vector<Pilot>& pilots, std::size_t seeds,
               const RunOptions& options, int threads) {
    const CaseRuns none{std::vector<RunFigures>(seeds), std::vector<char>(seeds, 0), {}};
    AllRuns all(pilots.size(), std::vector<CaseRuns>(cases.size(), none));
    for_each_index(pilots.size() * cases.size() * seeds, threads, [&](std::size_t i) {
        const std::size_t seed = i % seeds;
        const std::size_t number = i / seeds % cases.size();
        const std::size_t pilot = i / seeds / cases.size();
        const TripCase& one = cases[number];
        TripResult result = try_trip(*one.scene, pilots[pilot], one.trip, nth_run(options, seed));
        CaseRuns& runs = all[pilot][number];
        runs.figures[seed] = figures_of(*one.scene, result.run);
        runs.passed[seed] = result.passed ? 1 : 0;
        if (seed == 0) {
            runs.first = std::move(result.run);
        }
    });
    return all;
}

CaseFigures case_figures(CaseRuns& runs, const std::vector<char>& firsts_passed, std::size_t alike) {
    const std::vector<RunFigures>& own = runs.figures;
    return {static_cast<int>(own.size()),
            static_cast<int>(std::count(runs.passed.begin(), runs.passed.end(), 1)),
            spread_over(own, &RunFigures::time_s),
            spread_over(own, &RunFigures::mean_mm_s),
            spread_over(own, &RunFigures::top_mm_s),
            spread_over(own, &RunFigures::steering_change_pct),
            spread_over(own, &RunFigures::aside_mm),
            spread_over(own, &RunFigures::farthest_mm),
            spread_over(own, &RunFigures::unanswered),
            spread_over(own, &RunFigures::losses),
            against_first(runs.passed, firsts_passed, alike),
            std::move(runs.first)};
}

std::vector<PilotFigures> figures_of_all(const std::vector<Pilot>& pilots, AllRuns& runs, std::size_t alike) {
    std::vector<PilotFigures> all;
    std::vector<char> firsts;
    for (std::size_t p = 0; p < pilots.size(); ++p) {
        PilotFigures one{pilots[p], 0, 0, {}, {}};
        std::vector<char> passed;
        for (std::size_t t = 0; t < runs[p].size(); ++t) {
            one.cases.push_back(case_figures(runs[p][t], runs.front()[t].passed, alike));
            one.runs += one.cases.back().runs;
            one.passed += one.cases.back().passed;
            passed.insert(passed.end(), runs[p][t].passed.begin(), runs[p][t].passed.end());
        }
        firsts = p == 0 ? passed : firsts;
        one.against = against_first(passed, firsts, alike);
        all.push_back(std::move(one));
    }
    return all;
}

/// The same trip from the same start, whatever the layout.
bool same_trip(const TripCase& a, const TripCase& b) {
    return a.trip.name == b.trip.name && a.trip.from == b.trip.from;
}

} // namespace

std::vector<PilotFigures> compare(const std::vector<TripCase>& cases, const std::vector<Pilot>& pilots, int repeats,
                                  const RunOptions& options, int threads) {
    AllRuns runs = driven(cases, pilots, static_cast<std::size_t>(std::max(1, repeats)), options, threads);
    return figures_of_all(pilots, runs, 1);
}

std::vector<PilotFigures> compare_layouts(const std::vector<TripCase>& cases, int layouts, const MakeLayout& make,
                                          const std::vector<Pilot>& pilots, int repeats, const RunOptions& options,
                                          int threads) {
    const auto seeds = static_cast<std::size_t>(std::max(1, repeats));
    struct Layout {
        std::vector<std::size_t> rows; ///< which of `cases` each of its cases is
        AllRuns runs;
    };
    std::vector<Layout> by_layout(static_cast<std::size_t>(std::max(0, layouts)));
    for_each_index(by_layout.size(), threads, [&](std::size_t i) {
        const TripGround ground = make(static_cast<int>(i) + 1);
        std::vector<TripCase> own;
        for (const TripCase& one : ground.cases()) {
            const auto found =
                std::find_if(cases.begin(), cases.end(), [&one](const TripCase& row) { return same_trip(row, one); });
            if (found != cases.end()) {
                own.push_back(one);
                by_layout[i].rows.push_back(static_cast<std::size_t>(found - cases.begin()));
            }
        }
        by_layout[i].runs = driven(own, pilots, seeds, options, 1);
        if (i > 0) {
            for (std::vector<CaseRuns>& pilot : by_layout[i].runs) {
                for (CaseRuns& runs : pilot) {
                    runs.first = {}; // its looks are not kept of every layout
                }
            }
        }
    });
    AllRuns all(pilots.size(), std::vector<CaseRuns>(cases.size()));
    for (Layout& layout : by_layout) {
        for (std::size_t p = 0; p < pilots.size(); ++p) {
            for (std::size_t t = 0; t < layout.rows.size(); ++t) {
                CaseRuns& runs = all[p][layout.rows[t]];
                CaseRuns& more = layout.runs[p][t];
                runs.figures.insert(runs.figures.end(), more.figures.begin(), more.figures.end());
                runs.passed.insert(runs.passed.end(), more.passed.begin(), more.passed.end());
                if (&layout == &by_layout.front()) {
                    runs.first = std::move(more.first);
                }
            }
        }
    }
    return figures_of_all(pilots, all, seeds);
}

} // namespace vast_turn
