#include "trial/interventions.hpp"

#include <algorithm>
#include <bit>
#include <utility>

#include <fmt/format.h>

#include "base/parallel.hpp"
#include "trial/part_finder.hpp"
#include "trial/recorder.hpp"
#include "vast_turn/plan/mind.hpp"

namespace vast_turn {

namespace {

using runtime::Stage;

/// How it acts otherwise.
enum class Other : std::uint8_t { rule, mirrored, ends, goes_on };

struct Intervention {
    std::size_t from = 0; ///< look
    std::size_t to = 0;   ///< the last look
    RuleId own;           ///< in whose place
    Other other = Other::rule;
    RuleId rule; ///< that acts
};

/// Is asked in the machine, look by look.
struct Intervener : runtime::Follower {
    explicit Intervener(const Intervention& wanted) : it(wanted) {
        chosen = &Intervener::choose;
        limited = &Intervener::limit;
        seen = &Intervener::note;
    }

    bool is_now() const { return look >= it.from && look <= it.to; }

    static RuleId choose(runtime::Follower& self, const runtime::Machine& machine, RuleId rule) {
        auto& own = static_cast<Intervener&>(self);
        if (!own.is_now() || rule != own.it.own) {
            return rule;
        }
        own.called_at = machine.depth(); // what it calls lies above
        if (own.it.other != Other::rule) {
            return rule;
        }
        return own.it.rule;
    }

    static bool limit(runtime::Follower& self, const runtime::Machine& machine, std::uint16_t item, bool holds) {
        auto& own = static_cast<Intervener&>(self);
        if (!own.is_now() || RuleId(machine.program().rule_count + item) != own.it.own ||
            (own.it.other != Other::ends && own.it.other != Other::goes_on)) {
            return holds;
        }
        return own.it.other == Other::ends;
    }

    static void note(runtime::Follower& self, const runtime::Machine& machine, Stage stage, std::uint16_t number,
                     bool /*holds*/) {
        auto& own = static_cast<Intervener&>(self);
        own.acted = own.acted || (stage == Stage::item && RuleId(machine.program().rule_count + number) == own.it.own);
    }

    /// What it does with the answer of a look.
    void finish(const runtime::Machine& machine, Answer& out) {
        const bool in_its_call = called_at > 0 && machine.depth() > called_at;
        const bool its_own = is_now() && (acted || out.rule == it.own);
        if (it.other == Other::mirrored && (its_own || in_its_call)) {
            std::swap(out.left_pct, out.right_pct);
        }
        called_at = in_its_call || its_own ? called_at : 0;
        acted = false;
        ++look;
    }

    Intervention it;
    std::size_t look = 0;
    int called_at = 0;
    bool acted = false;
};

/// Consecutive looks in which one rule acted.
struct Episode {
    std::size_t first = 0;
    std::size_t last = 0;
    RuleId rule;
};

class Finder {
public:
    Finder(const Scene& scene, const Plan& plan, TripResult& result, const RunOptions& options, int threads)
        : scene_(scene), plan_(plan), result_(result), options_(options), threads_(threads) {}

    void run() {
        std::vector<Intervention> all;
        std::vector<Episode> of;
        for (const Episode& episode : episodes()) {
            for (const Intervention& one : interventions(episode)) {
                all.push_back(one);
                of.push_back(episode);
            }
        }
        constexpr std::size_t most = 1200;
        all.resize(std::min(all.size(), most));
        std::vector<std::size_t> came(all.size());
        for_each_index(all.size(), threads_, [&](std::size_t i) { came[i] = as_expected(all[i], 0); });
        std::vector<std::size_t> helping;
        for (std::size_t i = 0; i < all.size(); ++i) {
            if (came[i] > result_.as_expected) {
                helping.push_back(i);
            }
        }
        std::stable_sort(helping.begin(), helping.end(), [&](std::size_t a, std::size_t b) {
            return std::pair(weight(all[a]), came[b]) < std::pair(weight(all[b]), came[a]);
        });
        for (const std::size_t i : helping) {
            constexpr std::size_t most_told = 24;
            std::vector<Decision>& decisions = result_.parting->decisions;
            const auto same = [&](const Decision& d) {
                return d.rule == all[i].own && d.better == all[i].rule && d.otherwise == words(all[i]);
            };
            if (decisions.size() < most_told && std::none_of(decisions.begin(), decisions.end(), same) &&
                is_no_luck(all[i])) {
                const Intervention last = decisions.empty() ? last_of(of[i], all[i], came[i]) : all[i];
                decisions.push_back({last.from, last.own, last.rule, words(last)});
            }
        }
        if (!result_.parting->decisions.empty()) {
            tell_decision(scene_, plan_, result_, Decision(result_.parting->decisions.front()));
        }
    }

private:
    bool hands_over(RuleId rule) const {
        const std::string& acts = rule == no_rule ? std::string{} : plan_.rule(rule).acts;
        for (const char* word : {"do ", "become ", "done", "halt"}) {
            if (acts.find(word) != std::string::npos) {
                return true;
            }
        }
        return false;
    }

    /// A decision that was exchanged explains more than an item that took another time, and that more than steering
    /// otherwise for many looks. Among equals the list has the last first.
    int weight(const Intervention& it) const {
        const bool item = it.own != no_rule && plan_.rule(it.own).kind == RuleKind::item;
        switch (it.other) {
        case Other::rule: return hands_over(it.own) || hands_over(it.rule) ? 0 : 2;
        case Other::mirrored: return hands_over(it.own) ? 0 : item ? 1 : 3;
        case Other::ends:
        case Other::goes_on: return 1;
        }
        return 3;
    }

    /// Whether it helps with other noise too: a robot that is nudged may find its way by chance.
    bool is_no_luck(const Intervention& it) const {
        int helps = 0;
        constexpr std::size_t early = 12; // looks by which the same may come sooner
        Intervention other = it;
        other.from -= hands_over(it.own) ? std::min(other.from, early) : 0;
        for (std::uint64_t again = 1; again <= 3; ++again) {
            helps += as_expected(other, again) > result_.as_expected ? 1 : 0;
        }
        return helps >= 2;
    }

    /// From the last one before it left the way back for about a junction and what announces it.
    std::vector<Episode> episodes() const {
        constexpr double reach_mm = 420.0;
        constexpr double beside_mm = 90.0; // behind a fork at which one line leaves the other without a corner
        const std::vector<LookRecord>& looks = result_.run.looks;
        const std::size_t parted = std::min(result_.parting->left_way, looks.size() - 1);
        std::vector<Episode> list;
        for (const auto& [look, rule] : follow_run(scene_, plan_, result_.trip, options_).acted) {
            const double away_mm = std::abs(looks[parted].way_mm - looks[look].way_mm);
            if (away_mm > (look > parted ? beside_mm : reach_mm)) {
                continue;
            }
            const auto last =
                std::find_if(list.rbegin(), list.rend(), [own = rule](const Episode& e) { return e.rule == own; });
            if (last != list.rend() && last->last + 1 >= look) {
                last->last = look;
            } else {
                list.push_back({look, look, rule});
            }
        }
        std::stable_sort(list.begin(), list.end(), [](const Episode& a, const Episode& b) { return a.last > b.last; });
        return list;
    }

    std::vector<Intervention> interventions(const Episode& episode) const {
        constexpr std::size_t after = 25; // looks
        const std::size_t to = std::max(result_.parting->left_way, episode.last) + after;
        const bool none = episode.rule == no_rule; // no rule held
        const std::string& block =
            none ? plan_.blocks()[result_.run.looks[episode.first].block] : plan_.rule(episode.rule).block;
        std::vector<Intervention> list;
        if (none || plan_.rule(episode.rule).kind == RuleKind::rule) {
            const std::vector<RuleInfo>& rules = plan_.rules();
            for (std::size_t i = 0; i < rules.size(); ++i) {
                if (rules[i].kind == RuleKind::rule && rules[i].block == block && RuleId(i) != episode.rule) {
                    list.push_back({episode.first, to, episode.rule, Other::rule, RuleId(i)});
                }
            }
            const unsigned bits = result_.run.looks[episode.first].line_bits;
            std::stable_sort(list.begin(), list.end(), [&](const Intervention& a, const Intervention& b) {
                return marks_off(a.rule, bits) < marks_off(b.rule, bits);
            });
        } else if (plan_.rule(episode.rule).kind == RuleKind::item) {
            other_limits(episode, list);
        }
        if (!none) {
            list.push_back({episode.first, to, episode.rule, Other::mirrored, no_rule});
        }
        return list;
    }

    /// How many marks of its pattern a look missed: the nearest rule is the likeliest to be meant.
    int marks_off(RuleId rule, unsigned bits) const {
        const runtime::Rule& it = plan_.tables().rules[rule.index()];
        constexpr int unlikely = 3; // its condition is more than a pattern
        return it.mask == 0 ? unlikely : std::popcount((bits & it.mask) ^ static_cast<unsigned>(it.bits));
    }

    /// The item ends before its time or goes on behind it, by several parts of what it took.
    static void other_limits(const Episode& episode, std::vector<Intervention>& list) {
        const std::size_t took = episode.last - episode.first + 1;
        for (const double part : {0.8, 0.65, 0.5, 0.35, 0.2}) {
            const std::size_t from = episode.first + static_cast<std::size_t>(part * static_cast<double>(took));
            list.push_back({from, from, episode.rule, Other::ends, no_rule});
        }
        for (const double part : {0.3, 0.7, 1.2, 2.0, 4.0}) {
            const std::size_t to = episode.last + 1 + static_cast<std::size_t>(part * static_cast<double>(took));
            list.push_back({episode.last, to, episode.rule, Other::goes_on, no_rule});
        }
    }

    /// How far it goes as expected.
    std::size_t as_expected(const Intervention& intervention, std::uint64_t again) const {
        Mind mind(plan_, options_.numbers);
        Intervener intervener(intervention);
        mind.follow(&intervener);
        const Decide decide([&](const Look& in, Answer& out) {
            mind(in, out);
            intervener.finish(mind.machine(), out);
        });
        RunOptions own = options_;
        own.again = again;
        const TripResult judged = judge(scene_, result_.trip, drive(scene_, plan_, decide, own));
        // Who stops where the ways have not parted yet has chosen neither.
        constexpr double parted_mm = 180.0;
        const std::vector<LookRecord>& looks = result_.run.looks;
        const double left_way_mm = looks[std::min(result_.parting->left_way, looks.size() - 1)].way_mm;
        const bool stops_there = !result_.trip.choices.empty() && judged.run.ending == Ending::halted &&
                                 judged.run.way_mm < left_way_mm + parted_mm;
        return stops_there ? 0 : judged.as_expected;
    }

    /// The same intervention as late as it still helps.
    Intervention last_of(const Episode& episode, Intervention works, std::size_t came) const {
        if (works.other == Other::ends || works.other == Other::goes_on) {
            return works; // its moment is its own
        }
        std::size_t low = episode.first;
        // Too late; and where it stays from some look on, that one tells more than the last that would still have
        // helped.
        std::size_t high = std::max(low, std::min(episode.last, stays_from(result_.run))) + 1;
        while (high - low > 1) {
            const std::size_t middle = low + (high - low) / 2;
            Intervention later = works;
            later.from = middle;
            if (as_expected(later, 0) >= came) {
                low = middle;
                works = later;
            } else {
                high = middle;
            }
        }
        return works;
    }

    std::string words(const Intervention& it) const {
        switch (it.other) {
        case Other::rule: return fmt::format("line {} acting in its place", plan_.rule(it.rule).line);
        case Other::mirrored: return "left and right exchanged in what it does";
        case Other::ends: return "this item ended there";
        case Other::goes_on: return "this item going on";
        }
        return "";
    }

    const Scene& scene_;
    const Plan& plan_;
    TripResult& result_;
    const RunOptions& options_;
    int threads_;
};

} // namespace

std::size_t stays_from(const Run& run) {
    if (run.looks.empty() || (run.ending != Ending::time_over && run.ending != Ending::lost)) {
        return run.looks.size();
    }
    constexpr double at_least_s = 1.0;
    constexpr double moved_mm = 3.0; // more than a robot that is held in its place wanders
    const LookRecord& last = run.looks.back();
    std::size_t first = run.looks.size() - 1;
    while (first > 0 && length(run.looks[first - 1].at - last.at) < moved_mm) {
        --first;
    }
    return last.t_s - run.looks[first].t_s < at_least_s ? run.looks.size() : first;
}

void tell_decision(const Scene& scene, const Plan& plan, TripResult& result, const Decision& decision) {
    Parting& parting = *result.parting;
    const LookRecord& look = result.run.looks[decision.look];
    parting.look = decision.look;
    parting.t_s = look.t_s;
    parting.at = look.at;
    parting.rule = decision.rule;
    parting.better = decision.better;
    parting.otherwise = decision.otherwise;
    parting.pattern = {look.line_bits, static_cast<int>(scene.robot().sensors.size())};
    parting.held_too = rivals_at(scene, plan, look);
}

void find_deciding_look(const Scene& scene, const Plan& plan, TripResult& result, const RunOptions& options,
                        int threads) {
    if (result.parting && !result.run.looks.empty()) {
        Finder(scene, plan, result, options, threads).run();
    }
}

} // namespace vast_turn
