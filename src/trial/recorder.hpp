#pragma once

/// What had a part in the looks of a run.

#include <cstddef>
#include <cstdint>
#include <utility>
#include <vector>

#include "vast_turn/plan/mind.hpp"
#include "vast_turn/sim/run.hpp"
#include "vast_turn/trial/trip.hpp"

namespace vast_turn {

/// Notes every rule and item that has a part in a look, also those that hand over.
struct Recorder : runtime::Follower {
    Recorder() {
        chosen = &Recorder::choose;
        seen = &Recorder::note;
    }

    static RuleId choose(runtime::Follower& self, const runtime::Machine& /*machine*/, RuleId rule) {
        static_cast<Recorder&>(self).take(rule);
        return rule;
    }

    static void note(runtime::Follower& self, const runtime::Machine& machine, runtime::Stage stage,
                     std::uint16_t number, bool holds) {
        Recorder& recorder = static_cast<Recorder&>(self);
        const RuleId item(machine.program().rule_count + number);
        if (stage == runtime::Stage::item) {
            recorder.take(item);
        } else if (stage == runtime::Stage::limit && holds) {
            recorder.ended.emplace_back(recorder.look, item);
        }
    }

    void take(RuleId rule) { acted.emplace_back(look, rule); }

    std::size_t look = 0;                              ///< to be counted up by whoever drives
    std::vector<std::pair<std::size_t, RuleId>> acted; ///< looks and what acted in them
    std::vector<std::pair<std::size_t, RuleId>> ended; ///< looks and items whose limit was reached in them
};

/// A run of a plan with its looks and all that had a part in them.
struct FollowedRun {
    Run run;
    std::vector<std::pair<std::size_t, RuleId>> acted; ///< as in Recorder
    std::vector<std::pair<std::size_t, RuleId>> ended; ///< likewise
};

/// `options` are those of the trip's run, as for try_trip().
FollowedRun follow_run(const Scene& scene, const Plan& plan, const Trip& trip, const RunOptions& options);

/// Options with what a trip says of its runs in them.
RunOptions options_of(const Trip& trip, const RunOptions& options);

} // namespace vast_turn
