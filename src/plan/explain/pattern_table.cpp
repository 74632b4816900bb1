#include "vast_turn/plan/explain/pattern_table.hpp"

#include <algorithm>
#include <cstdint>

#include <fmt/format.h>

#include "plan/check/check_types.hpp"
#include "plan/check/checked.hpp"
#include "plan/text/words.hpp"
#include "vast_turn/runtime/line_position.hpp"
#include "vast_turn/runtime/machine.hpp"
#include "vast_turn/sense/array_reader.hpp"

namespace vast_turn {

namespace {

using lang::Op;

using lang::Expr;

enum class Sure : std::uint8_t { no, yes, depends };

Sure sure(bool b) { return b ? Sure::yes : Sure::no; }

std::optional<double> known_number(const Expr& e, Pattern pattern) {
    return is_input(e, Op::seen) ? std::optional<double>(seen(pattern)) : written_value(e);
}

Sure compare(const Expr& e, Op op, Pattern pattern) {
    const auto a = known_number(e.args[0], pattern);
    const auto b = known_number(e.args[1], pattern);
    if (!a || !b) {
        return Sure::depends;
    }
    const bool equal = !(*a < *b) && !(*a > *b);
    switch (op) {
    case Op::less: return sure(*a < *b);
    case Op::less_equal: return sure(*a <= *b);
    case Op::greater: return sure(*a > *b);
    case Op::greater_equal: return sure(*a >= *b);
    case Op::equal: return sure(equal);
    default: return sure(!equal);
    }
}

/// Whether a condition holds for a pattern, as far as the pattern alone tells.
Sure judge(const Expr& e, Pattern pattern) {
    if (const auto* truth = e.as<lang::Truth>()) {
        return sure(truth->holds);
    }
    if (const auto* marks = e.as<lang::PatternMarks>()) {
        return sure((pattern.bits & marks->mask) == marks->bits);
    }
    if (e.is<lang::Lasting>() || e.is<lang::Fresh>()) {
        return judge(e.args[0], pattern) == Sure::no ? Sure::no : Sure::depends;
    }
    if (e.is<lang::Unary>()) {
        const Sure inner = judge(e.args[0], pattern);
        return inner == Sure::depends ? Sure::depends : sure(inner == Sure::no);
    }
    const auto* joined = e.as<lang::Binary>();
    if (joined == nullptr) {
        return Sure::depends;
    }
    if (joined->op != Op::both && joined->op != Op::either) {
        return compare(e, joined->op, pattern);
    }
    const Sure a = judge(e.args[0], pattern);
    const Sure b = judge(e.args[1], pattern);
    const Sure decided = joined->op == Op::both ? Sure::no : Sure::yes;
    if (a == decided || b == decided) {
        return decided;
    }
    return a == Sure::depends || b == Sure::depends ? Sure::depends : a;
}

/// What remains to be asked of a condition once the pattern is known, as text. A `lasting` over a
/// condition that the pattern fulfils is worth reading as a time only.
std::string remaining(const Expr& e, Pattern pattern) {
    if (is_binary(e, Op::both) || is_binary(e, Op::either)) {
        const bool left_open = judge(e.args[0], pattern) == Sure::depends;
        const bool right_open = judge(e.args[1], pattern) == Sure::depends;
        if (left_open != right_open) {
            return remaining(e.args[left_open ? 0 : 1], pattern);
        }
        return fmt::format("{} {} {}", remaining(e.args[0], pattern), lang::sign_of(op_of(e)),
                           remaining(e.args[1], pattern));
    }
    if (e.is<lang::Lasting>() && judge(e.args[0], pattern) == Sure::yes) {
        return fmt::format("lasting {}", lang::to_text(e.args[1]));
    }
    return lang::to_text(e);
}

Sure judge(const lang::Rule& rule, Pattern pattern) {
    return rule.is_else ? Sure::yes : judge(rule.condition, pattern);
}

const lang::Act* motion_of(const lang::Rule& rule) {
    const auto at = std::find_if(rule.acts.begin(), rule.acts.end(),
                                 [](const lang::Act& a) { return a.kind == lang::ActKind::motion; });
    return at == rule.acts.end() ? nullptr : &*at;
}

bool ends_plan(const lang::Rule& rule) { return !rule.acts.empty() && rule.acts.back().kind == lang::ActKind::halt; }

/// Whether the look goes on in another block, which gives its own motion.
bool goes_elsewhere(const lang::Rule& rule) {
    return !rule.acts.empty() && lang::is_transfer(rule.acts.back().kind) && !ends_plan(rule);
}

bool looks_nothing_up(const lang::Act& motion) {
    return std::none_of(motion.args.begin(), motion.args.end(), [](const Expr& arg) {
        return lang::any_part(arg, [](const Expr& part) {
            return part.is<lang::Input>() || part.is<lang::Call>() || part.is<lang::Variable>() ||
                   part.is<lang::Argument>();
        });
    });
}

/// Asks the runtime itself: a program of one rule, one look.
Wheels wheels_of(const Plan& plan, RuleId rule, Look look = {}) {
    const ProgramTables& tables = plan.tables();
    runtime::Rule only = tables.rules[rule.index()];
    only.mask = only.bits = 0;
    only.condition = only.watch = runtime::no_code;
    only.fresh_cells = 0;
    runtime::Block block;
    block.rules = 1;
    runtime::Program program = tables.view();
    program.rules = &only;
    program.blocks = &block;
    program.plan = runtime::Block{};
    program.watch_count = 0;
    std::vector<double> cells(program.cell_count);
    runtime::Frame frame;
    runtime::Machine machine(program, {nullptr, &frame, cells.data()});
    look.sensors = tables.sensors;
    Answer answer;
    machine.look(look, answer);
    return {answer.left_pct, answer.right_pct};
}

/// Sensors read exactly 0 or 1.
Look crisp_look(Pattern pattern, const std::vector<double>& weights) {
    Look look;
    look.line_bits = pattern.bits;
    for (int i = 0; i < pattern.count; ++i) {
        look.sensor[i] = (pattern.bits >> i) & 1;
    }
    look.offset = weighted_position(look.sensor, weights.data(), pattern.count, pattern.bits, 0.0);
    return look;
}

/// Whether the powers depend on nothing but readings; `offset` off the line is a memory.
bool reads_sensors_alone(const lang::Act& motion, Pattern pattern) {
    return std::none_of(motion.args.begin(), motion.args.end(), [pattern](const Expr& arg) {
        return lang::any_part(arg, [pattern](const Expr& part) {
            const bool plain = is_input(part, Op::seen) || (is_input(part, Op::offset) && pattern.bits != 0);
            return part.is<lang::Variable>() || part.is<lang::Argument>() || (part.is<lang::Input>() && !plain) ||
                   is_call(part, Op::raw) || is_call(part, Op::rolled) || is_call(part, Op::pid);
        });
    });
}

/// The rule of a habit with this number; null for guards and items.
const lang::Rule* rule_at(const Plan& plan, RuleId id) {
    const std::size_t number = id.index();
    for (std::size_t i = 0; i < plan.checked().blocks.size(); ++i) {
        const lang::LaidBlock& block = plan.checked().blocks[i];
        const std::size_t first = plan.tables().blocks[i].first_rule;
        if (number >= first && number < first + block.rules.size()) {
            return &block.rules[number - first];
        }
    }
    return nullptr;
}

std::optional<Wheels> crisp_wheels(const Plan& plan, const lang::Rule& rule, RuleId number, Pattern pattern,
                                   const std::vector<double>& weights) {
    const lang::Act* motion = motion_of(rule);
    if (motion == nullptr || motion->motion == Op::keep || !reads_sensors_alone(*motion, pattern)) {
        return std::nullopt;
    }
    return wheels_of(plan, number, crisp_look(pattern, weights));
}

/// The powers of a motion of numbers and sides that are written out.
std::optional<Wheels> written_wheels(const lang::Act& motion) {
    std::vector<double> values;
    for (const Expr& arg : motion.args) {
        const std::optional<double> value = written_value(arg);
        if (!value) {
            return std::nullopt;
        }
        values.push_back(*value);
    }
    const auto powers = [](double left, double right) {
        return Wheels{std::clamp(left, -100.0, 100.0), std::clamp(right, -100.0, 100.0)};
    };
    switch (motion.motion) {
    case Op::wheels: return powers(values[0], values[1]);
    case Op::ahead: return powers(values[0], values[0]);
    case Op::bend: return powers(values[1] - values[0], values[1] + values[0]);
    case Op::pivot: return values[0] > 0 ? powers(0.0, values[1]) : powers(values[1], 0.0);
    case Op::rotate: return powers(-values[0] * values[1], values[0] * values[1]);
    case Op::still: return powers(0.0, 0.0);
    default: return std::nullopt;
    }
}

/// What a rule that hands over begins with.
void tell_what_begins(TableEntry& entry, const Plan& plan, const lang::Rule& rule) {
    const lang::Act& act = rule.acts.back();
    const auto& blocks = plan.checked().blocks;
    const auto to =
        std::find_if(blocks.begin(), blocks.end(), [&](const auto& block) { return block.name == act.name; });
    if ((act.kind != lang::ActKind::call && act.kind != lang::ActKind::become) || to == blocks.end()) {
        return;
    }
    entry.goes_to = act.name;
    if (to->is_errand && !to->items.empty()) {
        const lang::LaidItem& first = to->items.front();
        if (first.kind == lang::LaidItem::Kind::move || first.kind == lang::LaidItem::Kind::call) {
            const std::string limit = lang::to_text(first.limit);
            entry.begins_with = lang::to_text(first.act) + (limit.empty() ? "" : " " + limit);
        }
        if (first.kind == lang::LaidItem::Kind::move) {
            entry.begins_wheels = written_wheels(first.act);
        }
    }
}

TableEntry entry_of(const Plan& plan, const lang::Rule& rule, RuleId number, std::string when) {
    TableEntry entry;
    entry.rule = number;
    entry.when = std::move(when);
    entry.does = lang::to_text(rule.acts);
    entry.halts = ends_plan(rule);
    entry.wheels = constant_wheels(plan, number);
    const lang::Act* motion = motion_of(rule);
    if (goes_elsewhere(rule)) {
        tell_what_begins(entry, plan, rule);
    }
    entry.keeps_motion = !ends_plan(rule) && !goes_elsewhere(rule) && (motion == nullptr || motion->motion == Op::keep);
    return entry;
}

TableRow row_of(const Plan& plan, const lang::LaidBlock& block, std::size_t first_rule, Pattern pattern,
                const std::vector<double>& weights) {
    TableRow row{pattern, {}, true};
    for (std::size_t i = 0; i < block.rules.size() && row.may_be_unanswered; ++i) {
        const lang::Rule& rule = block.rules[i];
        const Sure holds = judge(rule, pattern);
        if (holds == Sure::no) {
            continue;
        }
        const RuleId number(first_rule + i);
        row.entries.push_back(
            entry_of(plan, rule, number, holds == Sure::yes ? std::string{} : remaining(rule.condition, pattern)));
        if (!row.entries.back().wheels) {
            row.entries.back().crisp = crisp_wheels(plan, rule, number, pattern, weights);
        }
        row.may_be_unanswered = holds != Sure::yes;
    }
    return row;
}

/// Patterns as people list them: nothing seen first, then by how many see line, from the left.
std::vector<Pattern> all_patterns(int sensors) {
    std::vector<Pattern> list;
    for (int bits = 0; bits < pattern_count(sensors); ++bits) {
        list.push_back({static_cast<std::uint8_t>(bits), sensors});
    }
    std::stable_sort(list.begin(), list.end(), [](const Pattern& a, const Pattern& b) { return seen(a) < seen(b); });
    return list;
}

} // namespace

std::optional<Wheels> constant_wheels(const Plan& plan, RuleId rule) {
    const lang::Rule* written = rule_at(plan, rule);
    if (written == nullptr || goes_elsewhere(*written)) {
        return std::nullopt;
    }
    if (ends_plan(*written)) {
        return Wheels{};
    }
    const lang::Act* motion = motion_of(*written);
    if (motion == nullptr || motion->motion == Op::keep || !looks_nothing_up(*motion)) {
        return std::nullopt;
    }
    return wheels_of(plan, rule);
}

std::vector<HabitTable> pattern_tables(const Plan& plan, const std::vector<double>& given) {
    const std::vector<double> weights = given.empty() ? even_weights(plan.sensors()) : given;
    std::vector<HabitTable> tables;
    for (std::size_t i = 0; i < plan.checked().blocks.size(); ++i) {
        const lang::LaidBlock& block = plan.checked().blocks[i];
        const std::size_t first_rule = plan.tables().blocks[i].first_rule;
        if (block.is_errand) {
            continue; // it does not answer patterns
        }
        HabitTable table{block.name, {}};
        for (const Pattern pattern : all_patterns(plan.sensors())) {
            table.rows.push_back(row_of(plan, block, first_rule, pattern, weights));
        }
        tables.push_back(std::move(table));
    }
    return tables;
}

std::size_t common_cases(const HabitTable& table) {
    const std::vector<TableEntry>& first = table.rows.front().entries;
    std::size_t count = table.rows.size() > 1 ? first.size() : 0;
    for (const TableRow& row : table.rows) {
        std::size_t alike = 0;
        while (alike < std::min(count, row.entries.size()) && row.entries[alike].rule == first[alike].rule &&
               row.entries[alike].when == first[alike].when && !row.entries[alike].when.empty() &&
               row.entries[alike].crisp == first[alike].crisp) {
            ++alike;
        }
        count = alike;
    }
    return count;
}

std::vector<RowGroup> grouped(const HabitTable& table) {
    const auto same_entry = [](const TableEntry& a, const TableEntry& b) {
        return a.rule == b.rule && a.when == b.when && a.crisp == b.crisp;
    };
    std::vector<RowGroup> groups;
    for (const TableRow& row : table.rows) {
        const auto at = std::find_if(groups.begin(), groups.end(), [&](const RowGroup& group) {
            return group.row->may_be_unanswered == row.may_be_unanswered &&
                   std::equal(group.row->entries.begin(), group.row->entries.end(), row.entries.begin(),
                              row.entries.end(), same_entry);
        });
        if (at == groups.end()) {
            groups.push_back({{row.pattern}, &row});
        } else {
            at->patterns.push_back(row.pattern);
        }
    }
    return groups;
}

std::vector<RuleId> also_holding(const Plan& plan, RuleId acting, Pattern pattern) {
    std::vector<RuleId> others;
    if (rule_at(plan, acting) == nullptr) {
        return others;
    }
    for (std::size_t i = acting.index() + 1; i < plan.rules().size(); ++i) {
        const RuleId number(i);
        const lang::Rule* rule = rule_at(plan, number);
        if (rule == nullptr || plan.rule(number).block != plan.rule(acting).block) {
            break;
        }
        if (judge(*rule, pattern) == Sure::yes) {
            others.push_back(number);
        }
    }
    return others;
}

} // namespace vast_turn
