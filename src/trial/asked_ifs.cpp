#include "trial/asked_ifs.hpp"

#include <algorithm>

#include "plan/check/checked.hpp"
#include "plan/explain/explain_condition.hpp"
#include "plan/explain/numbered_part.hpp"
#include "vast_turn/plan/mind.hpp"

namespace vast_turn {

namespace {

struct IfNotes : runtime::Follower {
    explicit IfNotes(const Plan& followed) : plan(followed) { seen = &IfNotes::note; }

    static void note(runtime::Follower& self, const runtime::Machine& machine, runtime::Stage stage,
                     std::uint16_t number, bool holds) {
        IfNotes& notes = static_cast<IfNotes&>(self);
        if (stage != runtime::Stage::branch || notes.now < notes.from) {
            return;
        }
        const RuleId item(machine.program().rule_count + number);
        const bool again = !notes.list.empty() && notes.list.back().item == item && notes.list.back().holds == holds;
        if (again) {
            return;
        }
        AskedIf asked{notes.now, 0.0, item, holds, {}};
        const NumberedPart part = numbered_part(notes.plan.checked(), item.index());
        if (!holds && part.item != nullptr) {
            asked.because =
                lang::ConditionReader(machine, notes.plan.memory(), *notes.look).why_not(part.item->condition);
        }
        notes.list.push_back(std::move(asked));
        constexpr std::size_t most = 400; // a robot that stands may ask for minutes
        if (notes.list.size() > most) {
            notes.list.erase(notes.list.begin(), notes.list.begin() + most / 2);
        }
    }

    const Plan& plan;
    const Look* look = nullptr;
    std::size_t now = 0;
    std::size_t from = 0;
    std::vector<AskedIf> list;
};

} // namespace

std::vector<AskedIf> asked_ifs(const Scene& scene, const Plan& plan, const RunOptions& options, std::size_t from,
                               std::size_t until) {
    const std::vector<lang::LaidBlock>& blocks = plan.checked().blocks;
    const bool has_ifs = std::any_of(blocks.begin(), blocks.end(), [](const lang::LaidBlock& block) {
        return std::any_of(block.items.begin(), block.items.end(),
                           [](const lang::LaidItem& item) { return item.kind == lang::LaidItem::Kind::branch; });
    });
    if (!has_ifs) {
        return {};
    }
    IfNotes notes(plan);
    notes.from = from;
    Mind mind(plan, options.numbers);
    mind.follow(&notes);
    const Decide decide([&](const Look& in, Answer& out) {
        notes.look = &in;
        mind(in, out);
        out.halted = out.halted || notes.now++ >= until; // what comes after is not asked
    });
    RunOptions own = options;
    own.keep_looks = false;
    drive(scene, plan, decide, own);
    return std::move(notes.list);
}

} // namespace vast_turn
