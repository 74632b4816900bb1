#include "emit/shape.hpp"

#include <algorithm>
#include <cmath>
#include <utility>

#include <fmt/format.h>

#include "plan/check/checked.hpp"

namespace vast_turn::emit {

namespace {

using runtime::LimitKind;
using runtime::Op;

bool limited_by(const ProgramTables& tables, LimitKind kind) {
    return std::any_of(tables.items.begin(), tables.items.end(),
                       [&](const runtime::Item& i) { return i.limit == kind; });
}

} // namespace

Shape::Shape(const Plan& of_plan, const CPieces& with)
    : plan(of_plan), tables(of_plan.tables()), pieces(with), expressions(tables, pieces, form),
      holds(of_plan.reads(Op::hold)), guards(!tables.guards.empty()),
      errands(std::any_of(tables.blocks.begin(), tables.blocks.end(), [](const auto& b) { return b.is_errand; })) {
    transfers = errands || reads(Op::call) || reads(Op::become) || reads(Op::done);
    freshes = !tables.freshes.empty();
    lone = !transfers && !guards && !freshes;
    for (const lang::LaidBlock& block : plan.checked().blocks) {
        // A block that nothing calls has no arguments to be given.
        arguments = transfers ? std::max(arguments, static_cast<int>(block.params.size())) : 0;
    }
    for (std::size_t i = 0; i < tables.blocks.size(); ++i) {
        functions_.push_back((tables.blocks[i].is_errand ? "errand_" : "habit_") + c_name(plan.blocks()[i]));
    }
    functions_ = told_apart(std::move(functions_));
    const auto need = [&](bool needed, const char* name, const char* now) {
        if (needed) {
            marks.push_back({name, now});
        }
    };
    need(reads(Op::elapsed) || limited_by(tables, LimitKind::time) || (holds && (reads(Op::pid) || reads(Op::pid_by))),
         "ms", "in->clock_ms");
    need(reads(Op::looks) || limited_by(tables, LimitKind::looks), "looks", "(@number)(s->look - 1)");
    need(reads(Op::travelled) || limited_by(tables, LimitKind::way), "way_mm", "in->way_mm");
    for (const auto source :
         {runtime::Source::best, runtime::Source::wheels, runtime::Source::gyro, runtime::Source::compass}) {
        const char* const name = turn_fields[static_cast<std::size_t>(source)];
        if (plan.reads_turn_by(source)) {
            marks.push_back({name, std::string("in->") + name});
        }
    }
    const bool wheels = reads(Op::rolled) || limited_by(tables, LimitKind::wheel);
    need(wheels, "left_deg", "in->left_deg");
    need(wheels, "right_deg", "in->right_deg");
    counts_looks = !lone || !marks.empty() || reads(Op::pid) || reads(Op::pid_by);
}

void Shape::make_lean(const std::vector<double>& weights) {
    form = lean_form(tables, lone);
    form.wired = !weights.empty();
    if (form.wired) {
        form.offset_size = 0.0;
        for (const double weight : weights) {
            form.offset_size = std::max(form.offset_size, 1.01 * std::abs(weight));
        }
    }
    if (form.own_pids() && (tables.blocks[0].cells != pid_cells * form.pids.size())) {
        form.pids.clear(); // its block has other memory besides
    }
    counts_looks = counts_looks && (!lone || !marks.empty() || !form.own_pids());
}

std::string Shape::cells_of_frame() const {
    return lone ? fmt::format("s->cell + {}", first_cell()) : std::string("s->cell + f->cells");
}

Where Shape::plan_words() const { return {holds ? "s->raw" : "s->now", "s->plan_began", "s->cell", {}}; }

std::string Shape::told(std::size_t rule) const {
    const RuleInfo& info = plan.rules()[rule];
    if (info.kind == RuleKind::item) {
        return veiled(c_comment(
            fmt::format("line {}: {}{}{}", info.line, info.acts, info.condition.empty() ? "" : " ", info.condition)));
    }
    return veiled(c_comment(fmt::format("{}line {}{}: {} -> {}", info.kind == RuleKind::guard ? "guard, " : "",
                                        info.line, info.is_twin ? ", mirrored" : "", info.condition, info.acts)));
}

} // namespace vast_turn::emit
