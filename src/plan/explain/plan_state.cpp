#include "vast_turn/plan/explain/plan_state.hpp"

#include <set>

#include <fmt/format.h>

#include "plan/check/checked.hpp"
#include "plan/compile/expression_code.hpp"
#include "plan/explain/explain_condition.hpp"

namespace vast_turn {

namespace {

BlockState block_state(const Mind& mind, int number, const Look& look) {
    const runtime::Machine& machine = mind.machine();
    const runtime::Frame& frame = machine.frame(number);
    const runtime::Block& block = machine.program().blocks[frame.block];
    const lang::LaidBlock& written = mind.plan().checked().blocks[frame.block];
    BlockState out;
    out.block = written.name;
    for (std::size_t i = 0; i < written.params.size(); ++i) {
        out.arguments.emplace_back(written.params[i].name,
                                   lang::with_unit(machine.storage().cells[frame.cells + i], written.params[i].type));
    }
    const runtime::Marks come = machine.come_in(number, look);
    out.ms = come.ms;
    out.way_mm = come.way_mm;
    out.turned_deg = come.heading_deg[0];
    if (block.is_errand && frame.item < block.items) {
        out.item = RuleId(machine.program().rule_count + block.first_item + frame.item);
        const lang::LaidItem& item = written.items[frame.item];
        if (item.limit.kind == lang::Limit::Kind::over && frame.item_begun) {
            const lang::Type& type = item.limit.value.type;
            out.progress = fmt::format("{} of {}", lang::with_unit(machine.item_progress(number), type),
                                       lang::with_unit(frame.item_limit, type));
        }
    }
    return out;
}

/// Those of a block that keep their memory in its frame.
void add_pids(const Mind& mind, int number, std::vector<PidState>& out) {
    const runtime::Frame& frame = mind.machine().frame(number);
    const lang::CheckedPlan& plan = mind.plan().checked();
    const lang::LaidBlock& written = plan.blocks[frame.block];
    std::vector<const lang::Expr*> calls;
    const auto look_in = [&calls](const std::vector<lang::Expr>& args) {
        for (const lang::Expr& arg : args) {
            lang::list_parts<lang::Call>(arg, calls);
        }
    };
    for (const lang::Rule& rule : written.rules) {
        for (const lang::Act& act : rule.acts) {
            look_in(act.args);
        }
    }
    for (const lang::LaidItem& item : written.items) {
        look_in(item.act.args);
    }
    std::set<int> told;
    for (const lang::Expr* call : calls) {
        if (!lang::is_call(*call, lang::Op::pid) || !told.insert(mind.plan().memory().cell(*call)).second) {
            continue;
        }
        const double* cells = mind.machine().storage().cells + frame.cells + mind.plan().memory().cell(*call);
        if (cells[runtime::pid_look] > 0.0) {
            out.push_back({lang::to_text(*call), plan.source.line_of(call->span.from), cells[runtime::pid_error],
                           cells[runtime::pid_integral], cells[runtime::pid_value]});
        }
    }
}

} // namespace

PlanState state_of(const Mind& mind, const Look& look) {
    PlanState out;
    const runtime::Machine& machine = mind.machine();
    for (int i = 0; i < machine.depth(); ++i) {
        out.blocks.push_back(block_state(mind, i, look));
        add_pids(mind, i, out.pids);
    }
    const std::vector<lang::LaidVar>& vars = mind.plan().checked().vars;
    for (std::size_t i = 0; i < vars.size(); ++i) {
        out.vars.emplace_back(vars[i].name, lang::with_unit(machine.storage().cells[i], vars[i].type));
    }
    return out;
}

} // namespace vast_turn
