#include "vast_turn/plan/plan.hpp"

#include <algorithm>
#include <utility>

#include "plan/codegen.hpp"
#include "plan/parser.hpp"
#include "vast_turn/plan/runtime/machine.hpp"

namespace vast_turn {

struct Plan::Body {
    lang::CheckedPlan checked;
    lang::CompiledTables compiled;
    std::vector<RuleInfo> rules;
    std::vector<std::string> blocks;
};

namespace {

constexpr std::size_t largest_text = std::size_t{1} << 20U;

RuleInfo info_of(const lang::Rule& rule, const std::string& block, const lang::Source& source) {
    RuleInfo info;
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

} // namespace

/// Makes plans; the only friend that may fill one.
class PlanBuilder {
public:
    static Plan build(lang::CheckedPlan checked, lang::CompiledTables compiled) {
        Plan::Body body{std::move(checked), std::move(compiled), {}, {}};
        for (const lang::LaidBlock& block : body.checked.blocks) {
            body.blocks.push_back(block.name);
            for (const lang::Rule& rule : block.rules) {
                body.rules.push_back(info_of(rule, block.name, body.checked.source));
            }
        }
        Plan plan;
        plan.body_ = std::make_shared<const Plan::Body>(std::move(body));
        return plan;
    }
};

runtime::Program ProgramTables::view() const {
    runtime::Program program;
    program.code = code.data();
    program.constants = constants.data();
    program.rules = rules.data();
    program.blocks = blocks.data();
    program.watches = watches.data();
    program.watch_count = static_cast<std::uint16_t>(watches.size());
    program.sensors = sensors;
    program.own_weights = own_weights;
    std::copy(std::begin(weights), std::end(weights), std::begin(program.weights));
    return program;
}

const std::string& Plan::name() const { return body_->checked.name; }
const std::string& Plan::file() const { return body_->checked.source.file(); }
int Plan::sensors() const { return body_->checked.sensors; }
const std::vector<RuleInfo>& Plan::rules() const { return body_->rules; }
const std::vector<std::string>& Plan::blocks() const { return body_->blocks; }
const std::vector<std::string>& Plan::texts() const { return body_->compiled.texts; }
const std::vector<std::string>& Plan::markers() const { return body_->checked.markers; }

bool Plan::reads(runtime::Op op) const {
    const std::vector<runtime::Instruction>& code = tables().code;
    return std::any_of(code.begin(), code.end(), [op](const runtime::Instruction& i) { return i.op == op; });
}

const ProgramTables& Plan::tables() const { return body_->compiled.tables; }
const lang::CheckedPlan& Plan::checked() const { return body_->checked; }

std::size_t Plan::memory_bytes() const { return sizeof(runtime::Machine) + runtime::memory_bytes(tables().view()); }

std::size_t Plan::table_bytes() const {
    const ProgramTables& t = tables();
    return t.code.size() * sizeof(runtime::Instruction) + t.constants.size() * sizeof(double) +
           t.rules.size() * sizeof(runtime::Rule) + t.blocks.size() * sizeof(runtime::Block) +
           t.watches.size() * sizeof(runtime::Watch);
}

Compiled compile_plan(std::string_view text, std::string_view file) {
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
    lang::check(std::move(tree), checked, problems);
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
