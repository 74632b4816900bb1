#include "trial/callers.hpp"

#include "vast_turn/plan/mind.hpp"

namespace vast_turn {

namespace {

using runtime::Stage;

/// A block is in hand once at most, so its number says whose caller it is.
struct CallerNotes : runtime::Follower {
    explicit CallerNotes(std::size_t blocks) : caller_of(blocks) { seen = &CallerNotes::note; }

    static void note(runtime::Follower& self, const runtime::Machine& machine, Stage stage, std::uint16_t number,
                     bool holds) {
        CallerNotes& notes = static_cast<CallerNotes&>(self);
        if (stage == Stage::begun) {
            notes.caller_of[number] = notes.last;
        } else if (stage == Stage::item) {
            notes.last = RuleId(machine.program().rule_count + number);
        } else if ((stage == Stage::rule || stage == Stage::guard) && holds) {
            notes.last = RuleId(number);
        }
    }

    std::vector<RuleId> caller_of;
    RuleId last;
};

} // namespace

std::vector<RuleId> callers_at(const Scene& scene, const Plan& plan, const RunOptions& options, std::size_t look) {
    Mind mind(plan, options.numbers);
    CallerNotes notes(plan.blocks().size());
    mind.follow(&notes);
    std::vector<RuleId> callers;
    std::size_t now = 0;
    const Decide decide([&](const Look& in, Answer& out) {
        mind(in, out);
        if (now++ != look) {
            return;
        }
        const runtime::Machine& machine = mind.machine();
        for (int i = machine.depth() - 1; i > 0; --i) {
            const RuleId caller = notes.caller_of[machine.frame(i).block];
            if (caller != no_rule) {
                callers.push_back(caller);
            }
        }
        out.halted = true; // what comes after is not asked
    });
    RunOptions own = options;
    own.keep_looks = false;
    drive(scene, plan, decide, own);
    return callers;
}

} // namespace vast_turn
