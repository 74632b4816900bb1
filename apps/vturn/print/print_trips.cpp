#include "print/print_trips.hpp"

#include <algorithm>
#include <chrono>
#include <mutex>
#include <optional>

#include <fmt/format.h>
#include <fmt/ranges.h>

#include "commands/interrupt.hpp"

#include "print/print.hpp"

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

void print_interrupted(const Streams& streams, const std::vector<PlanTrips>& all) {
    streams.err << "interrupted; done so far:\n";
    for (const PlanTrips& one : all) {
        for (std::size_t t = 0; t < one.results.size(); ++t) {
            streams.err << fmt::format("  {}, {}: {}\n", one.plan.name(), one.results[t].trip.name, cell(one, t));
        }
    }
}

} // namespace

std::vector<PlanTrips> take_all(const Streams& streams, const std::vector<Plan>& plans, const TripsWork& work) {
    const Interrupt interrupt;
    TakeTripsOptions options = work.options;
    Progress progress(streams, runs_of(work.cases, plans.size(), options));
    options.done = [&progress] { progress.step(); };
    options.stop = [&interrupt] { return interrupt.asked(); };
    std::vector<std::vector<std::optional<CaseRuns>>> runs = take_trips(work.cases, plans, options);
    std::vector<PlanTrips> all;
    for (std::size_t p = 0; p < plans.size(); ++p) {
        PlanTrips one{plans[p], {}, {}, {}, {}, work.cures};
        for (std::size_t t = 0; t < work.cases.size(); ++t) {
            if (!runs[p][t]) {
                continue; // interrupted before
            }
            one.runs.push_back(runs[p][t]->runs);
            one.passes.push_back(runs[p][t]->passed);
            one.results.push_back(std::move(runs[p][t]->result));
            one.cures.emplace_back();
            const TripResult& result = one.results.back();
            if (!result.passed && work.cures && !interrupt.asked()) {
                RunOptions own = options.run;
                own.seed = result.run.seed;
                one.cures.back() = find_cures(*work.cases[t].scene, plans[p], result, work.cases, own, options.threads);
            }
        }
        all.push_back(std::move(one));
    }
    if (!interrupt.asked()) {
        return all;
    }
    print_interrupted(streams, all);
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
