#include "print/print_trips.hpp"

#include <algorithm>

#include <fmt/format.h>
#include <fmt/ranges.h>

#include "print/print.hpp"

namespace vturn {

using namespace vast_turn;

namespace {

std::string cell(const CaseReport& made) {
    const std::string word = made.result.passed ? "pass" : "FAIL";
    return made.runs == 1 ? fmt::format("{}  {:.2f} s", word, made.result.run.time_s)
                          : fmt::format("{}  {}/{}", word, made.passed, made.runs);
}

/// Those that pass first; the rest only when none does.
void print_cures(const Streams& streams, const std::vector<Cure>& cures) {
    constexpr std::size_t most = 5;
    const auto passing = static_cast<std::size_t>(
        std::count_if(cures.begin(), cures.end(), [](const Cure& cure) { return cure.passes; }));
    const std::size_t told = passing > 0 ? passing : cures.size();
    const std::string_view words = cures.empty() ? "" : promise_of(cures.front()); // the first is one of the best
    for (std::size_t i = 0; i < std::min(most, told); ++i) {
        streams.out << fmt::format("    {:{}} {}{}\n", i == 0 ? words : "or with", words.size(), cures[i].change,
                                   reserve_of(cures[i]));
    }
    if (told > most) {
        streams.out << fmt::format("    and {} changes more\n", told - most);
    }
}

void print_failure(const Streams& streams, const Pilot& pilot, const CaseReport& made, bool cures_sought) {
    const Paint paint(streams.colour);
    const TripResult& result = made.result;
    streams.out << "\n"
                << paint.bad("FAIL")
                << fmt::format("  trip \"{}\" with plan \"{}\" ({})\n", result.trip.name, pilot.name(), pilot.file());
    for (const std::string& failure : result.failures) {
        streams.out << "  " << failure << "\n";
    }
    if (result.parting) {
        for (const std::string& line : explain(pilot, *result.parting)) {
            streams.out << "    " << line << "\n";
        }
        const auto rows = [&](const char* title, const std::vector<std::string>& looks) {
            for (std::size_t i = 0; i < looks.size(); ++i) {
                streams.out << (i == 0 ? title : "           ") << looks[i] << "\n";
            }
        };
        rows("    colour ", result.parting->misread);
        rows("    looks  ", looks_before(pilot, result.run, *result.parting));
        rows("    then   ", looks_after(pilot, result.run, *result.parting));
    }
    const bool none_passes =
        std::none_of(made.cures.begin(), made.cures.end(), [](const Cure& cure) { return cure.passes; });
    if (cures_sought && none_passes) {
        streams.out << fmt::format("    none of {} changes of its rules and numbers lets it pass\n",
                                   made.changes_tried);
    }
    print_cures(streams, made.cures);
}

} // namespace

void print_interrupted(const Streams& streams, const TripReport& report) {
    streams.err << "interrupted; done so far:\n";
    for (const PilotReport& one : report.pilots) {
        for (const CaseReport& made : one.cases) {
            if (made.runs > 0) {
                streams.err << fmt::format("  {}, {}: {}\n", one.pilot.name(), made.result.trip.name, cell(made));
            }
        }
    }
}

int print_trips(const Streams& streams, const TripReport& report) {
    const Paint paint(streams.colour);
    const Scene& scene = *report.cases.front().scene;
    streams.out << paint.strong(
                       fmt::format("{}: {}, {} trips", scene.course().name, scene.robot().name, report.cases.size()))
                << "\n";
    std::vector<std::vector<std::string>> rows;
    rows.push_back({"trip"});
    std::vector<std::pair<std::string, std::string>> plans;
    for (const PilotReport& one : report.pilots) {
        plans.emplace_back(one.pilot.name(), one.pilot.file());
    }
    const std::vector<std::string> names = names_apart(plans);
    rows[0].insert(rows[0].end(), names.begin(), names.end());
    for (std::size_t i = 0; i < report.cases.size(); ++i) {
        rows.push_back({report.cases[i].trip.name});
        for (const PilotReport& one : report.pilots) {
            rows.back().push_back(cell(one.cases[i]));
        }
    }
    print_columns(streams.out, rows);
    for (const PilotReport& one : report.pilots) {
        for (const CaseReport& made : one.cases) {
            if (!made.all_passed()) {
                print_failure(streams, one.pilot, made, report.cures_sought);
            }
        }
    }
    const int failed = report.taken() - report.passed();
    const std::string total = fmt::format("{} passed, {} failed", report.passed(), failed);
    streams.out << "\n" << (failed == 0 ? paint.good(total) : paint.bad(total)) << "\n";
    return failed == 0 ? passed : answer_no;
}

} // namespace vturn
