#include "vast_turn/plan/plan.hpp"

#include <algorithm>
#include <utility>

#include <fmt/format.h>

#include "plan/compile/codegen.hpp"
#include "plan/lets_as_vars.hpp"
#include "plan/text/parser.hpp"
#include "vast_turn/runtime/machine.hpp"

namespace vast_turn {

struct Plan::Body {
    lang::CheckedPlan checked;
    lang::CompiledTables compiled;
    std::vector<RuleInfo> rules;
    std::vector<std::string> blocks;
    std::vector<std::string> vars;
};

namespace {

constexpr std::size_t largest_text = std::size_t{1} << 20U;

RuleInfo info_of(const lang::Rule& rule, const std::string& block, const lang::Source& source) {
    RuleInfo info;
    info.kind = rule.is_guard ? RuleKind::guard : RuleKind::rule;
    info.block = block;
    info.written_in = rule.written_in;
    const Place place = source.place(rule.span);
    info.line = place.line;
    info.column = place.column;
    info.is_twin = rule.is_twin;
    if (rule.is_else) {
        info.condition = "else";
    } else if (rule.is_twin) {
        info.condition = lang::to_text(rule.condition);
    } else {
        info.condition = source.text(rule.condition.span);
    }
    info.acts = lang::to_text(rule.acts);
    return info;
}

RuleInfo info_of(const lang::LaidItem& item, const std::string& block, const lang::Source& source) {
    RuleInfo info;
    info.kind = RuleKind::item;
    info.block = info.written_in = block;
    const Place place = source.place(item.span);
    info.line = place.line;
    info.column = place.column;
    info.condition = lang::to_text(item.limit);
    switch (item.kind) {
    case lang::LaidItem::Kind::move:
    case lang::LaidItem::Kind::call:
    case lang::LaidItem::Kind::act: info.acts = lang::to_text(item.act); break;
    case lang::LaidItem::Kind::branch: info.acts = fmt::format("if {}", source.text(item.condition.span)); break;
    default: info.acts = source.text(item.span); break;
    }
    return info;
}

} // namespace

/// Makes plans; the only friend that may fill one.
class PlanBuilder {
public:
    static Plan build(lang::CheckedPlan checked, lang::CompiledTables compiled) {
        Plan::Body body{std::move(checked), std::move(compiled), {}, {}, {}};
        const lang::CheckedPlan& plan_text = body.checked;
        const auto add = [&](const auto& list, const std::string& block) {
            for (const auto& entry : list) {
                body.rules.push_back(info_of(entry, block, plan_text.source));
            }
        };
        add(plan_text.guards, "");
        for (const lang::LaidBlock& block : plan_text.blocks) {
            body.blocks.push_back(block.name);
            add(block.guards, block.name);
            add(block.rules, block.name);
        }
        for (const lang::LaidBlock& block : plan_text.blocks) {
            add(block.items, block.name);
        }
        for (const lang::LaidVar& var : plan_text.vars) {
            body.vars.push_back(var.name);
        }
        Plan plan;
        plan.body_ = std::make_shared<const Plan::Body>(std::move(body));
        return plan;
    }
};

const std::string& Plan::name() const { return body_->checked.name; }
const std::string& Plan::file() const { return body_->checked.source.file(); }
int Plan::sensors() const { return body_->checked.sensors; }
const std::vector<RuleInfo>& Plan::rules() const { return body_->rules; }
const std::vector<std::string>& Plan::blocks() const { return body_->blocks; }
const std::vector<std::string>& Plan::texts() const { return body_->compiled.texts; }
const std::vector<std::string>& Plan::heard() const { return body_->checked.heard; }
const std::vector<std::string>& Plan::places() const { return body_->checked.places; }
const std::vector<std::string>& Plan::vars() const { return body_->vars; }
const std::vector<std::string>& Plan::markers() const { return body_->checked.markers; }

bool Plan::reads(runtime::Op op) const {
    const std::vector<runtime::Instruction>& code = tables().code;
    return std::any_of(code.begin(), code.end(), [op](const runtime::Instruction& i) { return i.op == op; });
}

bool Plan::reads_turn_by(runtime::Source source) const {
    const ProgramTables& t = tables();
    return std::any_of(t.code.begin(), t.code.end(),
                       [&](const auto& i) {
                           return i.op == runtime::Op::turned && i.a == static_cast<std::uint8_t>(source);
                       }) ||
           std::any_of(t.items.begin(), t.items.end(), [&](const runtime::Item& item) {
               return item.limit == runtime::LimitKind::angle && item.source == source;
           });
}

bool Plan::reads_way() const {
    const std::vector<runtime::Item>& items = tables().items;
    return reads(runtime::Op::travelled) || reads(runtime::Op::rolled) ||
           std::any_of(items.begin(), items.end(), [](const runtime::Item& item) {
               return item.limit == runtime::LimitKind::way || item.limit == runtime::LimitKind::wheel;
           });
}

const ProgramTables& Plan::tables() const { return body_->compiled.tables; }
const lang::CheckedPlan& Plan::checked() const { return body_->checked; }
const lang::MemoryMap& Plan::memory() const { return body_->compiled.memory; }

std::size_t Plan::memory_bytes() const { return sizeof(runtime::Machine) + runtime::memory_bytes(tables().view()); }

std::size_t Plan::table_bytes() const {
    const ProgramTables& t = tables();
    const auto bytes = [](const auto&... table) { return (... + (table.size() * sizeof(table[0]))); };
    return bytes(t.code, t.constants, t.first_vars, t.rules, t.guards, t.freshes, t.calls, t.items, t.blocks,
                 t.watches);
}

Compiled compile_plan(std::string_view text, std::string_view file) { return lang::compile_plan(text, file, {}); }

Compiled lang::compile_plan(std::string_view text, std::string_view file, const std::set<std::string>& as_vars) {
    Compiled out;
    if (text.size() > largest_text) {
        out.problems.push_back({Severity::error,
                                {std::string(file), 0, 0, 1, {}},
                                "the text is larger than 1 MiB",
                                "a plan is a short text; check that this is the right file"});
        return out;
    }
    const lang::Source source(text, file);
    lang::Problems problems(source);
    lang::CheckedPlan checked(source);
    lang::CompiledTables compiled;
    lang::PlanTree tree = lang::parse(source, problems);
    lang::check(std::move(tree), checked, problems, as_vars);
    if (!problems.any_error()) {
        lang::generate(checked, compiled, problems);
    }
    if (!problems.any_error()) {
        out.plan = PlanBuilder::build(std::move(checked), std::move(compiled));
    }
    out.problems = problems.take();
    return out;
}

} // namespace vast_turn
