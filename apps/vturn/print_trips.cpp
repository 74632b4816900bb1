#include "print_trips.hpp"

#include <algorithm>
#include <chrono>
#include <mutex>
#include <optional>

#include <fmt/format.h>
#include <fmt/ranges.h>
#include <tbb/parallel_for.h>
#include <tbb/task_arena.h>

#include "interrupt.hpp"

#include "print.hpp"

namespace vturn {

using namespace vast_turn;

namespace {

std::string cell(const PlanTrips& one, std::size_t trip) {
    const TripResult& result = one.results[trip];
    const std::string word = result.passed ? "pass" : "FAIL";
    return one.runs[trip] == 1 ? fmt::format("{}  {:.2f} s", word, result.run.time_s)
                               : fmt::format("{}  {}/{}", word, one.passes[trip], one.runs[trip]);
}

/// What becomes of the other trips with a change.
std::string then(const Cure& cure) {
    std::string text =
        cure.breaks.empty() ? "" : fmt::format("; but then \"{}\" fails", fmt::join(cure.breaks, "\", \""));
    text += cure.mends.empty() ? "" : fmt::format("; \"{}\" passes too", fmt::join(cure.mends, "\", \""));
    return text;
}

/// Those that pass first; the rest only when none does.
void print_cures(const Streams& streams, const std::vector<Cure>& cures) {
    constexpr std::size_t most = 5;
    const auto passing = static_cast<std::size_t>(
        std::count_if(cures.begin(), cures.end(), [](const Cure& cure) { return cure.passes; }));
    const std::size_t told = passing > 0 ? passing : cures.size();
    const char* words = passing > 0 ? "would pass with" : "goes right from there, but not from the start, with";
    for (std::size_t i = 0; i < std::min(most, told); ++i) {
        streams.out << fmt::format("    {:{}} {}{}\n", i == 0 ? words : "or with", std::string_view(words).size(),
                                   cures[i].change, then(cures[i]));
    }
    if (told > most) {
        streams.out << fmt::format("    and {} changes more\n", told - most);
    }
}

void print_failure(const Streams& streams, const PlanTrips& one, std::size_t trip) {
    const Paint paint(streams.colour);
    const Plan& plan = one.plan;
    const TripResult& result = one.results[trip];
    streams.out << "\n"
                << paint.bad("FAIL")
                << fmt::format("  trip \"{}\" with plan \"{}\" ({})\n", result.trip.name, plan.name(), plan.file());
    for (const std::string& failure : result.failures) {
        streams.out << "  " << failure << "\n";
    }
    if (result.parting) {
        for (const std::string& line : explain(plan, *result.parting)) {
            streams.out << "    " << line << "\n";
        }
    }
    const std::vector<std::string> before = looks_before(plan, result);
    for (std::size_t i = 0; i < before.size(); ++i) {
        streams.out << (i == 0 ? "    looks  " : "           ") << before[i] << "\n";
    }
    print_cures(streams, one.cures[trip]);
    if (one.cures_sought && one.cures[trip].empty()) {
        streams.out << "    no change of one of its rules or numbers lets it pass\n";
    }
}

/// Tells how far work is, once a second from the first second on.
class Progress {
public:
    Progress(const Streams& streams, std::size_t all) : streams_(streams), all_(all) {}

    void step() {
        const std::lock_guard<std::mutex> guard(lock_);
        ++done_;
        const auto now = std::chrono::steady_clock::now();
        if (now - told_ >= std::chrono::seconds(1)) {
            told_ = now;
            streams_.err << fmt::format("{} of {} runs done\n", done_, all_) << std::flush;
        }
    }

private:
    const Streams& streams_;
    std::size_t all_;
    std::size_t done_ = 0;
    std::mutex lock_;
    std::chrono::steady_clock::time_point told_ = std::chrono::steady_clock::now();
};

} // namespace

namespace {

/// One run of one case with one plan.
struct Job {
    std::size_t plan;
    std::size_t trip;
    std::uint64_t seed;
};

/// What the runs of one case came to; nothing when some were not made.
void settle(PlanTrips& one, const std::vector<std::optional<TripResult>>& runs, std::size_t first, std::size_t count) {
    const auto begin = runs.begin() + static_cast<std::ptrdiff_t>(first);
    const auto end = begin + static_cast<std::ptrdiff_t>(count);
    const auto failed = std::find_if(begin, end, [](const std::optional<TripResult>& r) { return !r->passed; });
    one.runs.push_back(static_cast<int>(count));
    one.passes.push_back(
        static_cast<int>(std::count_if(begin, end, [](const std::optional<TripResult>& r) { return r->passed; })));
    one.results.push_back(failed == end ? **begin : **failed);
    one.cures.emplace_back();
}

} // namespace

std::vector<PlanTrips> take_all(const Streams& streams, const std::vector<Plan>& plans, const TripsWork& work) {
    const Interrupt interrupt;
    std::vector<Job> jobs;
    const auto runs_of = [&](const TripCase& one) {
        return static_cast<std::size_t>(work.repeats > 0 ? work.repeats : one.trip.repeats);
    };
    for (std::size_t p = 0; p < plans.size(); ++p) {
        for (std::size_t t = 0; t < work.cases.size(); ++t) {
            for (std::size_t k = 0; k < runs_of(work.cases[t]); ++k) {
                jobs.push_back({p, t, work.run.seed + k});
            }
        }
    }
    std::vector<std::optional<TripResult>> runs(jobs.size());
    Progress progress(streams, runs.size());
    tbb::task_arena arena(work.jobs > 0 ? work.jobs : tbb::task_arena::automatic);
    arena.execute([&] {
        tbb::parallel_for(std::size_t{0}, runs.size(), [&](std::size_t i) {
            if (interrupt.asked()) {
                return;
            }
            const TripCase& one = work.cases[jobs[i].trip];
            RunOptions own = work.run;
            own.seed = jobs[i].seed;
            runs[i] = take_trip(*one.scene, plans[jobs[i].plan], one.trip, own);
            if (runs_of(one) > 1 && runs[i]->passed) {
                runs[i]->run.looks.clear(); // nobody asks for them
            }
            progress.step();
        });
    });
    std::vector<PlanTrips> all;
    std::size_t at = 0;
    for (const Plan& plan : plans) {
        PlanTrips one{plan, {}, {}, {}, {}, work.cures};
        for (const TripCase& trip : work.cases) {
            const std::size_t count = runs_of(trip);
            const auto first = runs.begin() + static_cast<std::ptrdiff_t>(at);
            const bool whole = std::all_of(first, first + static_cast<std::ptrdiff_t>(count),
                                           [](const std::optional<TripResult>& r) { return r.has_value(); });
            if (whole) { // else it was interrupted before
                settle(one, runs, at, count);
                const TripResult& result = one.results.back();
                if (!result.passed && work.cures && !interrupt.asked()) {
                    RunOptions own = work.run;
                    own.seed = result.run.seed;
                    one.cures.back() = find_cures(*trip.scene, plan, result, work.cases, own, work.jobs);
                }
            }
            at += count;
        }
        all.push_back(std::move(one));
    }
    if (!interrupt.asked()) {
        return all;
    }
    streams.err << "interrupted; done so far:\n";
    for (const PlanTrips& one : all) {
        for (std::size_t t = 0; t < one.results.size(); ++t) {
            streams.err << fmt::format("  {}, {}: {}\n", one.plan.name(), one.results[t].trip.name, cell(one, t));
        }
    }
    return {};
}

int print_trips(const Streams& streams, const std::vector<TripCase>& cases, const std::vector<PlanTrips>& all) {
    const Paint paint(streams.colour);
    const Scene& scene = *cases.front().scene;
    streams.out << paint.strong(fmt::format("{}: {}, {} trips", scene.course().name, scene.robot().name,
                                            all.front().results.size()))
                << "\n";
    std::vector<std::vector<std::string>> rows;
    rows.push_back({"trip"});
    for (const PlanTrips& one : all) {
        rows[0].push_back(one.plan.name());
    }
    int taken = 0;
    int good = 0;
    for (std::size_t i = 0; i < all.front().results.size(); ++i) {
        rows.push_back({all.front().results[i].trip.name});
        for (const PlanTrips& one : all) {
            rows.back().push_back(cell(one, i));
            ++taken;
            good += one.results[i].passed ? 1 : 0;
        }
    }
    print_columns(streams.out, rows);
    for (const PlanTrips& one : all) {
        for (std::size_t i = 0; i < one.results.size(); ++i) {
            if (!one.results[i].passed) {
                print_failure(streams, one, i);
            }
        }
    }
    const std::string total = fmt::format("{} passed, {} failed", good, taken - good);
    streams.out << "\n" << (good == taken ? paint.good(total) : paint.bad(total)) << "\n";
    return good == taken ? passed : answer_no;
}

} // namespace vturn
