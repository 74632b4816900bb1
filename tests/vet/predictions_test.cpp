/// What vet predicts against what happens to other people's plans, robots and courses.
#include <array>
#include <cstdlib>
#include <iostream>
#include <string>

#include <doctest/doctest.h>
#include <fmt/format.h>

#include "base/parallel.hpp"
#include "support/fixtures.hpp"
#include "support/foreign.hpp"
#include "support/rounds.hpp"
#include "vast_turn/vet/vet.hpp"
#include "vet/rehearsal.hpp"

using namespace vast_turn;

namespace {

/// Predicted and happened; predicted and not; not and happened; neither.
struct Tally {
    const char* name;
    int hits = 0;
    int false_alarms = 0;
    int misses = 0;
    int quiet = 0;

    void add(bool predicted, bool happened) {
        ++(predicted ? (happened ? hits : false_alarms) : (happened ? misses : quiet));
    }
    double hit_rate() const { return static_cast<double>(hits) / std::max(1, hits + misses); }
    double false_rate() const { return static_cast<double>(false_alarms) / std::max(1, false_alarms + quiet); }
    std::string text() const {
        return fmt::format(
            "{:<11} {:3} of {:3} that happened were predicted ({:5.1f} %), {:2} false alarms in {:3} that "
            "did not ({:4.1f} %)",
            name, hits, hits + misses, 100.0 * hit_rate(), false_alarms, false_alarms + quiet, 100.0 * false_rate());
    }
};

struct Pair {
    VetReport report;
    foreign::Happened happened;
    double swing_mm = 0.0;
    std::string plan_text;
};

const Finding* found(const VetReport& report, const std::string& code) {
    for (const Finding& finding : report.findings) {
        if (finding.kind->code == code) {
            return &finding;
        }
    }
    return nullptr;
}

std::string lane(const VetReport& report) {
    for (const VetFact& fact : report.facts) {
        if (fact.what == "swing on a straight") {
            return fact.value;
        }
    }
    return "nothing";
}

bool telling(const char* what) {
    const char* asked = std::getenv("VTURN_TELL");
    return asked != nullptr && std::string(asked).find(what) != std::string::npos;
}

} // namespace

TEST_CASE("vet's predictions: bends, swinging, gaps, plates, unanswered looks and starts of others" *
          doctest::skip(fixtures::sanitized())) {
    const unsigned pairs = static_cast<unsigned>(fixtures::rounds(640, 8, 1));
    constexpr double least_swing_mm = 3.0;
    std::array<Tally, 6> tallies{{{"bends"}, {"swinging"}, {"gaps"}, {"plates"}, {"unanswered"}, {"start"}}};
    const std::array<const char*, 6> codes{"bend-too-tight", "oscillates", "gap-too-long",
                                           "plate-missed",   "unanswered", "start-unanswered"};
    std::vector<Pair> all(pairs);
    for_each_index(pairs, 0, [&](std::size_t i) {
        const foreign::World world = foreign::make_world(static_cast<unsigned>(i));
        all[i] = {vet(world.plan, {&world.robot, &world.course, nullptr}), foreign::drive_world(world, 5),
                  foreign::swing_of(world), world.plan_text};
    });
    for (std::size_t i = 0; i < pairs; ++i) {
        const auto& [report, happened, swing, plan_text] = all[i];
        const std::array<int, 6> times{happened.bends, 5, happened.gaps, happened.plates, happened.unanswered,
                                       happened.start};
        const std::array<bool, 6> is{times[0] > 0, swing >= least_swing_mm, times[2] > 0, times[3] > 0, times[4] > 0,
                                     times[5] > 0};
        const std::array<bool, 6> counts{is[0] || happened.past_bends,  swing >= 0.0, is[2] || happened.past_gaps,
                                         is[3] || happened.past_plates, true,         true};
        for (std::size_t k = 0; k < tallies.size(); ++k) {
            if (!counts[k]) {
                continue;
            }
            const Finding* finding = found(report, codes[k]);
            if (finding == nullptr && std::string(tallies[k].name) == "gaps") {
                finding = found(report, "gap-missed");
            }
            tallies[k].add(finding != nullptr, is[k]);
            if (telling(tallies[k].name) && (finding != nullptr) != is[k]) {
                std::cout << fmt::format("pair {}: {} {}\n", i, tallies[k].name,
                                         finding != nullptr ? "false: " + finding->message
                                                            : fmt::format("missed, happened in {} of 5", times[k]))
                          << (k == 1 ? fmt::format("swing {:.2f} vet {}\n", swing, lane(report)) : "") << plan_text
                          << "\n";
            }
        }
    }
    for (const Tally& tally : tallies) {
        if (telling("all")) {
            std::cout << tally.text() << "\n";
        }
        MESSAGE(tally.text());
        CHECK((tally.hits + tally.quiet > 0 || fixtures::sanitized())); // there it is one pair
        if (pairs >= 600) {
            CHECK(tally.hits + tally.misses >= 20);
            CHECK(tally.hit_rate() >= 0.95);
            CHECK(tally.false_rate() < 0.05);
        }
    }
}

TEST_CASE("what vet drives is bounded by looks, and what is left out is said") {
    const foreign::World world = foreign::make_world(7);
    const Scene scene(world.course, world.robot);
    vetting::RehearsalOptions options;
    CHECK_FALSE(vetting::rehearse(scene, world.plan, options).cut_short);
    options.looks = 3000.0;
    const vetting::Rehearsal little = vetting::rehearse(scene, world.plan, options);
    CHECK(little.cut_short);
    CHECK(little.drives >= 1); // a start's first drive is always made
}
