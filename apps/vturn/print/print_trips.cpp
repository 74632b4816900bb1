#include "print/print_trips.hpp"

#include <algorithm>
#include <cmath>
#include <utility>

#include <fmt/format.h>
#include <fmt/ranges.h>

#include "print/print.hpp"

namespace vturn {

using namespace vast_turn;

namespace {

/// "97.3 to 99.6 %", no more digits than the days give.
std::string share_text(const ShareBounds& share) {
    return fmt::format("{:.3g} to {:.3g} %", 100.0 * share.low, 100.0 * share.high);
}

/// "pass  97.3 to 99.6 %, 198/200 days".
std::string days_cell(const CaseReport& made) {
    const DaysTaken& days = *made.days;
    const char* word = made.holds() ? "pass" : days.sure && !days.decided ? "open" : "FAIL";
    return fmt::format("{}  {}, {}/{} days", word, share_text(days.share), made.passed, made.runs);
}

std::string cell(const CaseReport& made) {
    if (made.days) {
        return days_cell(made);
    }
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
        streams.out << fmt::format("    and {} change{} more\n", told - most, told - most == 1 ? "" : "s");
    }
}

/// A bound of a margin, or that there is none.
std::string margin_text(const std::optional<double>& bound, const Margin& margin) {
    const double step = facts_of(margin.what).step;
    return bound ? fmt::format("{:.4g}", std::round(*bound / step) * step) : "-";
}

/// What breaks it, and how much it bears.
void print_days(const Streams& streams, const CaseReport& made) {
    const DaysTaken& days = *made.days;
    if (!days.failed.empty()) {
        constexpr std::size_t told = 12;
        const std::size_t shown = std::min(told, days.failed.size());
        const std::vector<std::uint64_t> first(days.failed.begin(),
                                               days.failed.begin() + static_cast<std::ptrdiff_t>(shown));
        const std::size_t failed = static_cast<std::size_t>(made.runs - made.passed);
        streams.out << fmt::format("    failed on day{} {}{}\n", failed == 1 ? "" : "s", fmt::join(first, ", "),
                                   failed > shown ? fmt::format(" and {} more", failed - shown) : std::string{});
    }
    for (const Cause& cause : days.causes) {
        streams.out << fmt::format("    what breaks it  {}\n", describe(cause));
    }
    if (days.margins && !days.margins->holds) {
        streams.out << "    it bears nothing: it fails on ideal days\n";
    } else if (days.margins) {
        streams.out << "    how far each may go alone before one run in twenty fails (- as far as can be)\n";
        std::vector<std::vector<std::string>> rows;
        for (const Margin& margin : days.margins->margins) {
            rows.push_back({"      " + margin.quantity + (margin.unit.empty() ? "" : ", " + margin.unit),
                            margin_text(margin.low, margin) + " to " + margin_text(margin.high, margin)});
        }
        print_columns(streams.out, rows);
    }
}

void print_failure(const Streams& streams, const Pilot& pilot, const CaseReport& made, bool cures_sought) {
    const Paint paint(streams.colour);
    const TripResult& result = made.result;
    streams.out << "\n"
                << (made.holds() ? paint.good("pass") : paint.bad("FAIL"))
                << fmt::format("  trip \"{}\" with {} \"{}\"{}\n", result.trip.name,
                               pilot.plan() != nullptr ? "plan" : "program", pilot.name(),
                               pilot.file().empty() ? "" : " (" + pilot.file() + ")");
    if (made.days) {
        print_days(streams, made);
    }
    if (made.holds()) {
        return;
    }
    std::string when = made.days ? fmt::format("on day {}: ", result.run.day) : "";
    for (const std::string& failure : result.failures) {
        streams.out << "  " << std::exchange(when, "") << failure << "\n";
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
        rows("    looks  ", looks_before(pilot, result.run, *result.parting));
        rows("    then   ", looks_after(pilot, result.run, *result.parting));
    }
    const bool none_passes =
        std::none_of(made.cures.begin(), made.cures.end(), [](const Cure& cure) { return cure.passes; });
    if (cures_sought && none_passes && pilot.plan() != nullptr) {
        streams.out << fmt::format("    none of {} changes of its rules and numbers lets it pass\n",
                                   made.changes_tried);
    }
    print_cures(streams, made.cures);
}

/// One trip of one plan over all layouts.
struct Tally {
    int taken = 0;
    int passed = 0;
    std::vector<int> failed; ///< layouts
};

Tally tally_of(const PilotLayouts& pilot, const std::string& trip) {
    Tally tally;
    for (const LayoutOutcome& outcome : pilot.outcomes) {
        if (outcome.trip == trip) {
            ++tally.taken;
            tally.passed += outcome.all_passed() ? 1 : 0;
            if (!outcome.all_passed()) {
                tally.failed.push_back(outcome.layout);
            }
        }
    }
    return tally;
}

/// "3, 17, 20 and 9 more".
std::string numbers(const std::vector<int>& list) {
    constexpr std::size_t most = 20;
    const std::vector<int> told(list.begin(), list.begin() + static_cast<std::ptrdiff_t>(std::min(most, list.size())));
    return fmt::format("{}{}", fmt::join(told, ", "),
                       list.size() > most ? fmt::format(" and {} more", list.size() - most) : std::string{});
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

void print_layouts(const Streams& streams, const LayoutsReport& report, const std::string& course_file) {
    const Paint paint(streams.colour);
    streams.out << paint.strong(fmt::format("{}: {}, {} layouts", report.course, report.robot, report.layouts)) << "\n";
    std::vector<std::string> trips;
    for (const LayoutOutcome& outcome : report.pilots.front().outcomes) {
        if (std::find(trips.begin(), trips.end(), outcome.trip) == trips.end()) {
            trips.push_back(outcome.trip);
        }
    }
    std::vector<std::pair<std::string, std::string>> plans;
    for (const PilotLayouts& one : report.pilots) {
        plans.emplace_back(one.pilot.name(), one.pilot.file());
    }
    const std::vector<std::string> names = names_apart(plans);
    std::vector<std::vector<std::string>> rows{{"trip"}};
    rows[0].insert(rows[0].end(), names.begin(), names.end());
    for (const std::string& trip : trips) {
        rows.push_back({trip});
        for (const PilotLayouts& one : report.pilots) {
            const Tally tally = tally_of(one, trip);
            rows.back().push_back(fmt::format("{} of {}", tally.passed, tally.taken));
        }
    }
    print_columns(streams.out, rows);
    int failed_layout = 0;
    for (std::size_t p = 0; p < report.pilots.size(); ++p) {
        for (const std::string& trip : trips) {
            const Tally tally = tally_of(report.pilots[p], trip);
            failed_layout = failed_layout == 0 && !tally.failed.empty() ? tally.failed.front() : failed_layout;
            if (!tally.failed.empty()) {
                streams.out << fmt::format("  {}, \"{}\": failed on layout{} {}\n", names[p], trip,
                                           tally.failed.size() == 1 ? "" : "s", numbers(tally.failed));
            }
        }
    }
    if (report.looked_into) {
        for (const PilotReport& one : report.looked_into->pilots) {
            for (const CaseReport& made : one.cases) {
                if (made.runs > 0 && !made.holds()) {
                    print_failure(streams, one.pilot, made, report.looked_into->cures_sought);
                }
            }
        }
    }
    if (failed_layout > 0) {
        streams.out << fmt::format("\nalone: the same call with --variant \"layout {}\"; its map, and kept as a course "
                                   "file: vturn map {} --variant \"layout {}\" --keep FILE\n",
                                   failed_layout, course_file, failed_layout);
    }
    const int failed = report.taken() - report.passed();
    const std::string total = fmt::format("{} passed, {} failed{}", report.passed(), failed,
                                          report.stopped ? "; interrupted, so some are missing" : "");
    streams.out << "\n" << (failed == 0 && !report.stopped ? paint.good(total) : paint.bad(total)) << "\n";
}

int print_trips(const Streams& streams, const TripReport& report) {
    const Paint paint(streams.colour);
    const Scene& scene = *report.cases.front().scene;
    streams.out << paint.strong(fmt::format("{}: {}, {} {}", scene.course().name, scene.robot().name,
                                            report.cases.size(), report.cases.size() == 1 ? "trip" : "trips"))
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
            if (!made.holds() || (made.days && (made.passed < made.runs || made.days->margins))) {
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
