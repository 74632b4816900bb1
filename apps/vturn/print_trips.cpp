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
    return one.repeats == 1 ? fmt::format("{}  {:.2f} s", word, result.run.time_s)
                            : fmt::format("{}  {}/{}", word, one.passes[trip], one.repeats);
}

void print_cures(const Streams& streams, const std::vector<Cure>& cures) {
    constexpr std::size_t most = 5;
    for (std::size_t i = 0; i < std::min(most, cures.size()); ++i) {
        const Cure& cure = cures[i];
        std::string then =
            cure.breaks.empty() ? "" : fmt::format("; but then \"{}\" fails", fmt::join(cure.breaks, "\", \""));
        then += cure.mends.empty() ? "" : fmt::format("; \"{}\" passes too", fmt::join(cure.mends, "\", \""));
        streams.out << (i == 0 ? "    would pass with " : "    or with         ") << cure.change << then << "\n";
    }
    if (cures.size() > most) {
        streams.out << fmt::format("    and {} changes more\n", cures.size() - most);
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

std::vector<PlanTrips> take_all(const Streams& streams, const Scene& scene, const std::vector<Plan>& plans,
                                const TripsWork& work) {
    const Interrupt interrupt;
    const auto repeats = static_cast<std::size_t>(work.repeats);
    const std::size_t each = work.trips.size() * repeats;
    std::vector<std::optional<TripResult>> runs(plans.size() * each);
    Progress progress(streams, runs.size());
    tbb::task_arena arena(work.jobs > 0 ? work.jobs : tbb::task_arena::automatic);
    arena.execute([&] {
        tbb::parallel_for(std::size_t{0}, runs.size(), [&](std::size_t i) {
            if (interrupt.asked()) {
                return;
            }
            RunOptions own = work.run;
            own.seed += i % repeats;
            runs[i] = take_trip(scene, plans[i / each], work.trips[i % each / repeats], own);
            if (repeats > 1 && runs[i]->passed) {
                runs[i]->run.looks.clear(); // nobody asks for them
            }
            progress.step();
        });
    });
    std::vector<PlanTrips> all;
    for (std::size_t p = 0; p < plans.size(); ++p) {
        PlanTrips one{plans[p], {}, {}, work.repeats, {}, work.cures};
        for (std::size_t t = 0; t < work.trips.size(); ++t) {
            const auto first = runs.begin() + static_cast<std::ptrdiff_t>(p * each + t * repeats);
            const auto last = first + work.repeats;
            if (std::any_of(first, last, [](const std::optional<TripResult>& r) { return !r; })) {
                continue; // interrupted before
            }
            const auto failed =
                std::find_if(first, last, [](const std::optional<TripResult>& r) { return !r->passed; });
            one.passes.push_back(static_cast<int>(
                std::count_if(first, last, [](const std::optional<TripResult>& r) { return r->passed; })));
            one.results.push_back(failed == last ? **first : **failed);
            one.cures.emplace_back();
            if (failed != last && work.cures && !interrupt.asked()) {
                RunOptions own = work.run;
                own.seed = one.results.back().run.seed;
                one.cures.back() = find_cures(scene, plans[p], one.results.back(), own, work.jobs);
            }
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

int print_trips(const Streams& streams, const Scene& scene, const std::vector<PlanTrips>& all) {
    const Paint paint(streams.colour);
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
