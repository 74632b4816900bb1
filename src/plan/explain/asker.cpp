#include "vast_turn/plan/explain/asker.hpp"

#include <algorithm>
#include <cassert>

#include <fmt/format.h>

#include "plan/check/checked.hpp"
#include "plan/compile/expression_code.hpp"
#include "plan/explain/explain_condition.hpp"
#include "plan/explain/numbered_part.hpp"

namespace vast_turn {

namespace {

using lang::Expr;
using runtime::Stage;

/// How far an `over` has come.
std::string so_far(const runtime::Machine& machine, const lang::LaidItem& item, int number) {
    for (int i = machine.depth() - 1; i >= 0; --i) {
        const runtime::Frame& frame = machine.frame(i);
        const bool has_it = machine.program().blocks[frame.block].first_item + frame.item == number;
        if (has_it && frame.item_begun) {
            return fmt::format("{} has come {} of {}", lang::to_text(item.act),
                               lang::with_unit(machine.item_progress(i), item.limit.value.type),
                               lang::with_unit(frame.item_limit, item.limit.value.type));
        }
    }
    return "";
}

/// Writes down what a look comes to, with the reasons as they are at that moment.
struct Writer : runtime::Follower {
    const Plan* plan = nullptr;
    const Look* look = nullptr;
    Reply* reply = nullptr;

    static void write(runtime::Follower& self, const runtime::Machine& machine, Stage stage, std::uint16_t number,
                      bool holds) {
        const Writer& writer = static_cast<const Writer&>(self);
        AskedStep step{stage, {}, 0, holds, {}};
        const bool of_item = stage == Stage::limit || stage == Stage::item || stage == Stage::branch;
        if (stage == Stage::begun || stage == Stage::ended) {
            step.block = number;
        } else {
            step.rule = RuleId(of_item ? number + machine.program().rule_count : number);
        }
        if (!holds) {
            step.because = writer.why_not(machine, step);
        }
        writer.reply->steps.push_back(std::move(step));
    }

    std::string why_not(const runtime::Machine& machine, const AskedStep& step) const {
        const NumberedPart it = numbered_part(plan->checked(), step.rule.index());
        const lang::ConditionReader reader(machine, plan->memory(), *look);
        if (it.rule != nullptr) {
            assert(!reader.holds(it.rule->condition)); // the runtime passed it by
            return reader.why_not(it.rule->condition);
        }
        if (step.stage == Stage::branch) {
            return reader.why_not(it.item->condition);
        }
        return it.item->limit.kind == lang::Limit::Kind::till
                   ? reader.why_not(it.item->limit.value)
                   : so_far(machine, *it.item, static_cast<int>(step.rule.index()) - machine.program().rule_count);
    }
};

void blocks_changed(const Plan& plan, const runtime::Machine& before, const runtime::Machine& after,
                    std::vector<std::string>& changes) {
    if (before.depth() == 0 || after.depth() == 0) {
        return;
    }
    const std::string& then = plan.blocks()[before.block()];
    const std::string& now = plan.blocks()[after.block()];
    if (then != now) {
        changes.push_back(fmt::format("the block in hand was {}, now it is {}", then, now));
    }
}

void vars_changed(const Plan& plan, const runtime::Machine& before, const runtime::Machine& after,
                  std::vector<std::string>& changes) {
    const std::vector<lang::LaidVar>& vars = plan.checked().vars;
    for (std::size_t i = 0; i < vars.size(); ++i) {
        const double then = before.storage().cells[i];
        const double now = after.storage().cells[i];
        if (then < now || then > now) {
            changes.push_back(fmt::format("{} was {}, now it is {}", vars[i].name, lang::with_unit(then, vars[i].type),
                                          lang::with_unit(now, vars[i].type)));
        }
    }
}

void watch_changed(const Expr& e, const runtime::WatchState& then, const runtime::WatchState& now, double clock_ms,
                   std::vector<std::string>& changes) {
    if (!e.is<lang::Lasting>() || (then.looks == now.looks && then.holds == now.holds)) {
        return;
    }
    const std::string limit = lang::to_text(e.args[1]);
    const std::string what = fmt::format("`{}`", lang::to_text(e.args[0]));
    if (now.looks == 0) {
        changes.push_back(fmt::format("{} is over after {} looks", what, then.looks));
    } else if (!now.holds) {
        changes.push_back(fmt::format("{} has held for {} look{}, {:.4g}ms; {} are wanted", what, now.looks,
                                      now.looks == 1 ? "" : "s", clock_ms - now.since_ms, limit));
    } else if (!then.holds) {
        changes.push_back(fmt::format("{} has now lasted {}", what, limit));
    }
}

std::vector<InHand> in_hand(const runtime::Machine& machine) {
    std::vector<InHand> list;
    for (int i = 0; i < machine.depth(); ++i) {
        const runtime::Frame& frame = machine.frame(i);
        const runtime::Block& block = machine.program().blocks[frame.block];
        const bool has_item = block.is_errand && frame.item < block.items;
        const int item = machine.program().rule_count + block.first_item + frame.item;
        list.push_back({frame.block, has_item ? RuleId(item) : no_rule});
    }
    return list;
}

} // namespace

Asker::Asker(const Plan& plan) : mind_(plan) {}

Reply Asker::ask(const Look& look) {
    const Mind before = mind_;
    Reply reply;
    reply.look = look;
    Writer writer;
    writer.seen = &Writer::write;
    writer.plan = &plan();
    writer.look = &look;
    writer.reply = &reply;
    mind_.follow(&writer);
    mind_(look, reply.answer);
    mind_.follow(nullptr);
    const runtime::Machine& then = before.machine();
    const runtime::Machine& now = mind_.machine();
    reply.in_hand = in_hand(now);
    reply.held = now.held();
    reply.unanswered = std::any_of(reply.answer.event, reply.answer.event + reply.answer.events,
                                   [](const Event& event) { return event.kind == EventKind::unanswered; });
    blocks_changed(plan(), then, now, reply.memory);
    vars_changed(plan(), then, now, reply.memory);
    const std::vector<const Expr*>& watches = plan().memory().watches;
    for (std::size_t i = 0; i < watches.size(); ++i) {
        watch_changed(*watches[i], then.storage().watches[i], now.storage().watches[i], look.clock_ms, reply.memory);
    }
    return reply;
}

} // namespace vast_turn
