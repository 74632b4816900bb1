#include "vast_turn/trial/layouts_report.hpp"

#include <algorithm>
#include <map>
#include <set>
#include <string>
#include <utility>

#include <fmt/format.h>

#include "base/parallel.hpp"
#include "trial/counted_work.hpp"
#include "trial/prefer_decision.hpp"
#include "vast_turn/plan/plan.hpp"

namespace vast_turn {

namespace {

class LayoutsReporter {
public:
    LayoutsReporter(int layouts, const MakeLayout& make, const std::vector<Pilot>& pilots,
                    const TripReportOptions& options, const std::function<bool(const TripCase&)>& takes)
        : make_(make), options_(options), takes_(takes), work_("layouts", options.progress, options.stop) {
        report_.layouts = layouts;
        for (const Pilot& pilot : pilots) {
            report_.pilots.push_back({pilot, {}});
        }
    }

    LayoutsReport run() {
        drive_all(report_.pilots);
        report_.stopped = work_.stopped();
        if (report_.taken() == 0 && !report_.stopped) {
            throw InputError(report_.file, "no trip is taken", "name another filter");
        }
        look_into_failures();
        for (std::size_t p = 0; report_.looked_into && !report_.stopped && p < report_.pilots.size(); ++p) {
            hold_cures_to_all(report_.pilots[p], report_.looked_into->pilots[p]);
        }
        return std::move(report_);
    }

private:
    using Outcomes = std::vector<std::vector<LayoutOutcome>>; ///< by pilot

    void drive_all(std::vector<PilotLayouts>& pilots) {
        std::vector<Outcomes> by_layout(static_cast<std::size_t>(report_.layouts));
        work_.expect(by_layout.size());
        for_each_index(by_layout.size(), options_.threads, [&](std::size_t i) {
            if (work_.goes_on()) {
                by_layout[i] = drive_one(static_cast<int>(i) + 1, pilots);
                work_.done_one();
            }
        });
        for (Outcomes& outcomes : by_layout) {
            for (std::size_t p = 0; p < outcomes.size(); ++p) {
                std::vector<LayoutOutcome>& list = pilots[p].outcomes;
                std::move(outcomes[p].begin(), outcomes[p].end(), std::back_inserter(list));
            }
        }
    }

    std::vector<TripCase> cases_of_ground(const TripGround& ground) const {
        std::vector<TripCase> cases;
        for (const TripCase& one : ground.cases()) {
            if (!takes_ || takes_(one)) {
                cases.push_back(one);
            }
        }
        return cases;
    }

    Outcomes drive_one(int number, const std::vector<PilotLayouts>& pilots) {
        const TripGround ground = make_(number);
        if (number == 1 && report_.file.empty()) { // by one thread alone
            report_.course = ground.course().name;
            report_.robot = ground.scene().robot().name;
            report_.file = ground.course().file;
        }
        Outcomes outcomes;
        for (const PilotLayouts& one : pilots) {
            std::vector<LayoutOutcome>& list = outcomes.emplace_back();
            for (const TripCase& trip : cases_of_ground(ground)) {
                list.push_back(outcome_of(number, trip, one.pilot));
            }
        }
        return outcomes;
    }

    /// Over layouts runs are counted; how sure a trip is over days is asked of one layout.
    void refuse_sure(const TripCase& one) const {
        if (options_.days.sure || one.trip.sure) {
            throw InputError(
                one.trip.file,
                fmt::format("how sure trip \"{}\" is cannot be asked of all layouts at once", one.trip.name),
                "take one of them, a variant called \"layout 1\", or so many days of each");
        }
    }

    LayoutOutcome outcome_of(int number, const TripCase& one, const Pilot& pilot) const {
        refuse_sure(one);
        LayoutOutcome outcome;
        outcome.layout = number;
        outcome.trip = one.trip.name;
        outcome.line = one.trip.line;
        const int repeats = options_.days.days > 0 ? static_cast<int>(options_.days.days)
                            : options_.repeats > 0 ? options_.repeats
                                                   : std::max(1, one.trip.repeats);
        for (int i = 0; i < repeats; ++i) {
            TripResult result =
                try_trip(*one.scene, pilot, one.trip, nth_run(options_.run, static_cast<std::uint64_t>(i)));
            const bool is_told = outcome.runs == 0 || (!result.passed && outcome.failures.empty());
            ++outcome.runs;
            outcome.passed += result.passed ? 1 : 0;
            if (is_told) {
                outcome.time_s = result.run.time_s;
                outcome.failures = std::move(result.failures);
            }
        }
        return outcome;
    }

    /// The first that failed with any pilot, and the first with none.
    void look_into_failures() {
        constexpr std::size_t most_failed = 4;
        constexpr std::size_t most_passed = 4;
        std::set<int> failed;
        std::set<int> passed;
        for (const PilotLayouts& one : report_.pilots) {
            for (const LayoutOutcome& outcome : one.outcomes) {
                (outcome.all_passed() ? passed : failed).insert(outcome.layout);
            }
        }
        if (failed.empty() || work_.stopped()) {
            return;
        }
        std::vector<int> chosen(failed.begin(), std::next(failed.begin(), static_cast<std::ptrdiff_t>(
                                                                              std::min(most_failed, failed.size()))));
        std::size_t passing = 0;
        for (const int number : passed) {
            if (failed.count(number) == 0 && passing++ < most_passed) {
                chosen.push_back(number);
            }
        }
        std::sort(chosen.begin(), chosen.end());
        std::vector<TripCase> cases;
        std::vector<Pilot> pilots;
        for (const int number : chosen) {
            const auto& ground = report_.grounds.emplace_back(std::make_shared<TripGround>(make_(number)));
            for (TripCase one : cases_of_ground(*ground)) {
                one.trip.name += fmt::format(", layout {}", number);
                cases.push_back(std::move(one));
            }
        }
        for (const PilotLayouts& one : report_.pilots) {
            pilots.push_back(one.pilot);
        }
        report_.looked_into = report_trips(cases, pilots, options_);
        report_.stopped = report_.looked_into->stopped;
    }

    /// The layouts on which every trip is as it says.
    static int layouts_held(const PilotLayouts& one) {
        std::set<int> failed;
        std::set<int> all;
        for (const LayoutOutcome& outcome : one.outcomes) {
            all.insert(outcome.layout);
            if (!outcome.all_passed()) {
                failed.insert(outcome.layout);
            }
        }
        return static_cast<int>(all.size() - failed.size());
    }

    /// What mends a few layouts may break others: the first cures of each failed trip are driven over all of them, and
    /// those come first that hold on most.
    void hold_cures_to_all(const PilotLayouts& without, PilotReport& looked) {
        constexpr std::size_t of_each = 5;
        constexpr std::size_t most = 24;
        std::vector<PilotLayouts> changed;
        std::map<std::string, std::size_t> by_text;
        for (std::size_t nth = 0; nth < of_each; ++nth) {
            for (const CaseReport& one : looked.cases) {
                if (nth < one.cures.size() && one.cures[nth].passes && changed.size() < most &&
                    by_text.try_emplace(one.cures[nth].text, changed.size()).second) {
                    const Compiled plan = compile_plan(one.cures[nth].text, without.pilot.file());
                    changed.push_back({Pilot(plan.plan.value()), {}});
                }
            }
        }
        if (changed.empty()) {
            return;
        }
        drive_all(changed);
        report_.stopped = work_.stopped();
        if (report_.stopped) {
            return;
        }
        const int before = layouts_held(without);
        for (std::size_t c = 0; c < looked.cases.size(); ++c) {
            std::vector<Cure>& cures = looked.cases[c].cures;
            const std::string first = cures.empty() ? std::string{} : cures.front().text;
            for (Cure& cure : cures) {
                if (const auto found = by_text.find(cure.text); found != by_text.end() && cure.passes) {
                    cure.layouts = {layouts_held(changed[found->second]), before, report_.layouts};
                }
            }
            std::stable_sort(cures.begin(), cures.end(),
                             [](const Cure& a, const Cure& b) { return a.layouts.held > b.layouts.held; });
            if (!cures.empty() && cures.front().text != first) {
                const TripCase& one = report_.looked_into->cases[c];
                prefer_decision(*one.scene, *without.pilot.plan(), looked.cases[c].result, cures.front(),
                                options_like(options_.run, looked.cases[c].result.run));
            }
        }
    }

    const MakeLayout& make_;
    const TripReportOptions& options_;
    const std::function<bool(const TripCase&)>& takes_;
    CountedWork work_;
    LayoutsReport report_;
};

} // namespace

int PilotLayouts::passed() const {
    return static_cast<int>(
        std::count_if(outcomes.begin(), outcomes.end(), [](const LayoutOutcome& one) { return one.all_passed(); }));
}

int LayoutsReport::passed() const {
    int sum = 0;
    for (const PilotLayouts& one : pilots) {
        sum += one.passed();
    }
    return sum;
}

int LayoutsReport::taken() const {
    int sum = 0;
    for (const PilotLayouts& one : pilots) {
        sum += static_cast<int>(one.outcomes.size());
    }
    return sum;
}

std::vector<TripGround> make_layouts(int from, int to, const MakeLayout& make, int threads) {
    std::vector<std::optional<TripGround>> made(static_cast<std::size_t>(std::max(0, to - from + 1)));
    for_each_index(made.size(), threads, [&](std::size_t i) { made[i] = make(from + static_cast<int>(i)); });
    std::vector<TripGround> out;
    for (std::optional<TripGround>& one : made) {
        out.push_back(std::move(*one));
    }
    return out;
}

LayoutsReport report_layouts(int layouts, const MakeLayout& make, const std::vector<Pilot>& pilots,
                             const TripReportOptions& options, const std::function<bool(const TripCase&)>& takes) {
    return LayoutsReporter(layouts, make, pilots, options, takes).run();
}

} // namespace vast_turn
