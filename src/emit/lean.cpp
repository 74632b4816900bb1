#include "emit/lean.hpp"

#include <algorithm>
#include <cmath>
#include <set>

#include "vast_turn/runtime/arithmetic.hpp"
#include "vast_turn/runtime/look.hpp"

namespace vast_turn::emit {

namespace {

using runtime::no_code;
using runtime::Op;

/// What one rule's acts do.
struct Acts {
    bool sets_powers = false;
    bool asks_begin = false;
    bool halts = false;
    int said = 0;
    std::vector<std::uint16_t> pids;
};

bool is_motion(Op op) { return op >= Op::wheels && op < Op::keep; }
bool is_said(Op op) { return op >= Op::note && op <= Op::tell; }

Acts acts_of(const ProgramTables& tables, std::size_t at) {
    Acts acts;
    std::size_t once_until = 0;
    for (; tables.code[at].op != Op::end; ++at) {
        const runtime::Instruction& step = tables.code[at];
        if (step.op == Op::once) {
            acts.asks_begin = true;
            once_until = step.b;
        }
        acts.halts = acts.halts || step.op == Op::halt;
        acts.sets_powers = acts.sets_powers || acts.halts || (is_motion(step.op) && at >= once_until);
        acts.said += is_said(step.op) ? 1 : 0;
        if (step.op == Op::pid || step.op == Op::pid_by) {
            acts.pids.push_back(step.b);
            at += step.op == Op::pid_by ? 1 : 0; // behind it stands where its gains are
        }
    }
    return acts;
}

/// The narrowest counter that comes to what every watch asks; empty when one watches time.
std::string watch_type(const ProgramTables& tables) {
    std::uint32_t most = 1;
    for (const runtime::Watch& watch : tables.watches) {
        if (watch.kind == runtime::WatchKind::time) {
            return "";
        }
        most = std::max(most, looks_of_watch(watch));
    }
    return most <= 255 ? "uint8_t" : (most <= 65535 ? "uint16_t" : "uint32_t");
}

/// The PIDs of the one habit, where each is asked for at most once a look: none stands in a condition.
std::vector<std::uint16_t> own_pids(const ProgramTables& tables) {
    std::set<std::uint16_t> cells;
    const runtime::Block& block = tables.blocks[0];
    for (std::size_t i = block.first_rule; i < static_cast<std::size_t>(block.first_rule) + block.rules; ++i) {
        const std::vector<std::uint16_t> pids = acts_of(tables, tables.rules[i].acts).pids;
        if (std::set<std::uint16_t>(pids.begin(), pids.end()).size() != pids.size()) {
            return {};
        }
        cells.insert(pids.begin(), pids.end());
    }
    return {cells.begin(), cells.end()};
}

/// Of a plan whose one habit acts alone.
void leave_out_of_lone(LeanForm& form, const ProgramTables& tables) {
    const runtime::Block& block = tables.blocks[0];
    bool always_set = false;
    form.asks_begin = false;
    form.counts_said = false;
    form.keeps_powers = false;
    for (std::size_t i = block.first_rule; i < static_cast<std::size_t>(block.first_rule) + block.rules; ++i) {
        const runtime::Rule& rule = tables.rules[i];
        const Acts acts = acts_of(tables, rule.acts);
        form.asks_begin = form.asks_begin || (acts.asks_begin && !acts.halts);
        form.counts_said = form.counts_said || acts.said > look_events;
        form.keeps_powers = form.keeps_powers || !acts.sets_powers;
        always_set = always_set || (rule.mask == 0 && rule.watch == no_code && rule.condition == no_code);
    }
    form.keeps_powers = form.keeps_powers || !always_set;
    form.pids = own_pids(tables);
}

} // namespace

std::uint32_t looks_of_watch(const runtime::Watch& watch) {
    const double looks = watch.kind == runtime::WatchKind::now ? 1.0 : watch.limit;
    return static_cast<std::uint32_t>(std::clamp(std::ceil(looks), 1.0, 4294967295.0));
}

bool is_tame_pid(double largest_error, double kp, double kd) {
    // The clock goes on by half a thousandth of a millisecond at least where rounding is worst, and for 2^32 ms at
    // most.
    constexpr double most_rate = 1000.0 / 1e-4;
    const double rate = 2.0 * largest_error * most_rate;
    const double sum = largest_error * 4.4e6;
    const double most = 0.9 * runtime::largest_number;
    return rate < most && sum < most && std::abs(kp) * largest_error + 100.0 + std::abs(kd) * rate < most;
}

bool halts(const ProgramTables& tables, std::uint16_t acts) { return acts_of(tables, acts).halts; }

LeanForm lean_form(const ProgramTables& tables, bool lone) {
    LeanForm form;
    form.lean = true;
    form.numbered = false;
    if (tables.freshes.empty()) {
        form.watch_type = watch_type(tables);
    }
    if (lone) {
        leave_out_of_lone(form, tables);
    }
    return form;
}

} // namespace vast_turn::emit
