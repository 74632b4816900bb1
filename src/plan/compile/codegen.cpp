#include "plan/compile/codegen.hpp"

#include <algorithm>
#include <optional>
#include <string>
#include <unordered_map>
#include <utility>

#include <fmt/format.h>

#include "plan/check/check_types.hpp"
#include "plan/compile/expression_code.hpp"
#include "plan/compile/memory.hpp"
#include "plan/text/words.hpp"

namespace vast_turn::lang {

namespace {

constexpr std::size_t largest_table = 0xFFF0;

class Generator {
public:
    Generator(CheckedPlan& plan, CompiledTables& out, Problems& problems)
        : plan_(plan), out_(out), tables_(out.tables), problems_(problems), memory_(out.memory) {
        memory_ = give_out_memory(plan, problems);
    }

    void run() {
        tables_.sensors = static_cast<std::uint8_t>(plan_.sensors);
        tables_.own_weights = !plan_.weights.empty();
        expressions_.emplace(tables_.code, tables_.constants, memory_, tables_.own_weights);
        std::copy(plan_.weights.begin(), plan_.weights.end(), tables_.weights);
        for (const LaidVar& var : plan_.vars) {
            tables_.first_vars.push_back(var.first);
        }
        tables_.frames = static_cast<std::uint16_t>(memory_.frames);
        tables_.cells = static_cast<std::uint16_t>(memory_.cells);
        watches();
        first_cell_ = static_cast<int>(plan_.vars.size());
        guards(plan_.guards, 0, memory_.plan, tables_.plan);
        first_cell_ = 0;
        for (std::size_t i = 0; i < plan_.blocks.size(); ++i) {
            block(plan_.blocks[i], memory_.blocks[i]);
        }
        for (const auto& [at, act] : calls_) {
            const std::uint16_t number = call(act);
            tables_.code[at].b = number;
        }
        tables_.counts = !tables_.items.empty() ||
                         std::any_of(tables_.code.begin(), tables_.code.end(), [](const runtime::Instruction& i) {
                             return i.op == Op::elapsed || i.op == Op::looks || i.op == Op::travelled ||
                                    i.op == Op::turned || i.op == Op::rolled;
                         });
        const std::size_t largest = std::max({tables_.code.size(), tables_.constants.size(), out_.texts.size(),
                                              tables_.calls.size(), tables_.rules.size() + tables_.items.size()});
        if (largest > largest_table) {
            problems_.error({0, 0}, "the plan is too large to compile",
                            "use `become` instead of `as` for large habits");
        }
    }

private:
    std::uint16_t here() const { return static_cast<std::uint16_t>(tables_.code.size()); }

    void emit(Op op, std::uint16_t b = 0, std::uint8_t a = 0) { tables_.code.push_back({op, a, b}); }

    void watches() {
        for (const Expr* e : memory_.watches) {
            runtime::Watch watch;
            if (const auto* pattern = e->args[0].as<PatternMarks>()) {
                watch.mask = pattern->mask;
                watch.bits = pattern->bits;
            } else {
                watch.condition = code_of(e->args[0]);
            }
            if (e->is<Fresh>()) {
                watch.kind = runtime::WatchKind::now;
            } else {
                const Expr& limit = e->args[1];
                watch.kind = limit.type.unit.looks != 0 ? runtime::WatchKind::looks : runtime::WatchKind::time;
                watch.limit = written_value(limit).value_or(0.0);
            }
            tables_.watches.push_back(watch);
        }
    }

    /// Code of one expression, closed by `end`.
    std::uint16_t code_of(const Expr& e) {
        const std::uint16_t at = here();
        value_of(e);
        emit(Op::end);
        return at;
    }

    void value_of(Expr e) {
        fold(e);
        if (expressions_->append(e) >= runtime::stack_depth) {
            problems_.error(e.span, "this expression needs too much memory on the robot",
                            "part it: give pieces a name with let, or use fewer brackets");
        }
    }

    void guards(const std::vector<Rule>& rules, std::size_t arguments, const BlockMemory& memory,
                runtime::Block& made) {
        const auto first_guard = static_cast<std::uint16_t>(tables_.guards.size());
        made.first_guard = first_guard;
        made.guards = static_cast<std::uint16_t>(rules.size());
        for (std::size_t i = 0; i < rules.size(); ++i) {
            runtime::Guard guard;
            guard.rule = static_cast<std::uint16_t>(tables_.rules.size());
            guard.stamp_cell = static_cast<std::uint16_t>(first_cell_ + guard_cell(arguments, i));
            const Act& last = rules[i].acts.back();
            guard.callee = last.kind == ActKind::call ? static_cast<std::uint16_t>(plan_.block_number(last.name))
                                                      : runtime::no_block;
            guard.holds = last.kind == ActKind::hold;
            tables_.guards.push_back(guard);
            add_rule(rules[i]);
        }
        made.first_fresh = static_cast<std::uint16_t>(tables_.freshes.size());
        made.freshes = static_cast<std::uint16_t>(memory.freshes.size());
        for (runtime::Fresh fresh : memory.freshes) {
            fresh.guard =
                fresh.guard == runtime::no_code ? fresh.guard : static_cast<std::uint16_t>(first_guard + fresh.guard);
            tables_.freshes.push_back(fresh);
        }
        made.cells = static_cast<std::uint16_t>(memory.cells);
    }

    void block(const LaidBlock& block, const BlockMemory& memory) {
        runtime::Block made;
        made.is_errand = block.is_errand;
        guards(block.guards, block.params.size(), memory, made);
        made.first_rule = static_cast<std::uint16_t>(tables_.rules.size());
        made.rules = static_cast<std::uint16_t>(block.rules.size());
        for (const lang::Rule& rule : block.rules) {
            add_rule(rule);
        }
        made.first_item = static_cast<std::uint16_t>(tables_.items.size());
        made.items = static_cast<std::uint16_t>(block.items.size());
        std::size_t fresh = made.first_fresh;
        while (fresh < tables_.freshes.size() && tables_.freshes[fresh].guard != runtime::no_code) {
            ++fresh; // those of the guards come first; an errand has no rules
        }
        for (const LaidItem& item : block.items) {
            add_item(block, item, fresh);
        }
        tables_.blocks.push_back(made);
    }

    void add_rule(const lang::Rule& rule) {
        runtime::Rule made;
        if (!rule.is_else) {
            if (const auto* pattern = rule.condition.as<PatternMarks>()) {
                made.mask = pattern->mask;
                made.bits = pattern->bits;
            } else if (rule.condition.is<Lasting>()) {
                made.watch = static_cast<std::uint16_t>(memory_.watch(rule.condition));
                if (const auto* lasting = rule.condition.args[0].as<PatternMarks>()) { // most looks need not ask it
                    made.mask = lasting->mask;
                    made.bits = lasting->bits;
                }
            } else {
                made.condition = code_of(rule.condition);
            }
            std::vector<const Expr*> fresh;
            list_parts<Fresh>(rule.condition, fresh);
            made.fresh_cell = fresh.empty() ? std::uint16_t{0} : static_cast<std::uint16_t>(memory_.cell(*fresh[0]));
            made.fresh_cells = static_cast<std::uint16_t>(fresh.size());
        }
        made.acts = here();
        acts(rule.acts);
        tables_.rules.push_back(made);
    }

    void add_item(const LaidBlock& block, const LaidItem& item, std::size_t& fresh) {
        const auto loop_cell = [&](int loop) {
            return static_cast<std::uint16_t>(block.loops[static_cast<std::size_t>(loop)].cell);
        };
        runtime::Item made;
        made.kind = item.kind;
        made.target = static_cast<std::uint16_t>(std::max(item.target, 0));
        std::vector<const Expr*> in_it;
        list_parts<Fresh>(item.limit.value, in_it);
        list_parts<Fresh>(item.condition, in_it);
        made.first_fresh = static_cast<std::uint16_t>(fresh);
        made.freshes = static_cast<std::uint16_t>(in_it.size());
        fresh += in_it.size();
        limit(item, made);
        const bool loop_item = item.kind == LaidItem::Kind::loop || item.kind == LaidItem::Kind::round ||
                               item.kind == LaidItem::Kind::again;
        int scale_of = item.loop;
        if (loop_item) {
            const LaidLoop& loop = block.loops[static_cast<std::size_t>(item.loop)];
            made.cell = loop_cell(item.loop);
            made.keeps_marks = loop.keeps_marks;
            scale_of = loop.outer;
        }
        if (scale_of != no_slot) {
            made.scale_cell = static_cast<std::uint16_t>(loop_cell(scale_of) + runtime::loop_scale);
        }
        switch (item.kind) {
        case LaidItem::Kind::move:
        case LaidItem::Kind::act:
            made.code = here();
            acts({item.act});
            made.target = is_transfer(item.act.kind) ? 0 : 1; // how far to go on
            break;
        case LaidItem::Kind::call: made.target = call(item.act); break;
        case LaidItem::Kind::loop:
            made.code = item.count ? code_of(*item.count) : runtime::no_code;
            made.other_code = item.widening ? code_of(*item.widening) : runtime::no_code;
            // What is fresh in the till of the round, the next item, must be false first once the loop begins.
            made.freshes = fresh_in_round(block, item);
            break;
        case LaidItem::Kind::branch: made.code = code_of(item.condition); break;
        default: break;
        }
        tables_.items.push_back(made);
    }

    static std::uint16_t fresh_in_round(const LaidBlock& block, const LaidItem& loop) {
        const auto at = static_cast<std::size_t>(&loop - block.items.data());
        std::vector<const Expr*> fresh;
        list_parts<Fresh>(block.items[at + 1].limit.value, fresh);
        return static_cast<std::uint16_t>(fresh.size());
    }

    void limit(const LaidItem& item, runtime::Item& made) {
        const Limit& limit = item.limit;
        if (limit.kind == Limit::Kind::none) {
            return;
        }
        made.limit_code = code_of(limit.value);
        if (limit.kind == Limit::Kind::till) {
            made.limit = runtime::LimitKind::till;
            return;
        }
        const Unit unit = limit.value.type.unit;
        made.limit = limit.of_wheel  ? runtime::LimitKind::wheel
                     : unit.mm != 0  ? runtime::LimitKind::way
                     : unit.deg != 0 ? runtime::LimitKind::angle
                     : unit.ms != 0  ? runtime::LimitKind::time
                                     : runtime::LimitKind::looks;
        made.source = find_source(limit.by).value_or(runtime::Source::best);
        if (limit.of_wheel) {
            made.other_code = code_of(limit.wheel);
        }
    }

    /// Whether an act happens only when its rule begins to act.
    static bool is_once(const Act& act) {
        return act.kind != ActKind::motion && act.kind != ActKind::track && !is_transfer(act.kind);
    }

    /// Acts as they are written; those that happen once are jumped over while the rule goes on acting.
    void acts(const std::vector<Act>& list) {
        for (std::size_t i = 0; i < list.size();) {
            if (!is_once(list[i])) {
                act(list[i++]);
                continue;
            }
            const std::size_t jump = tables_.code.size();
            emit(Op::once);
            for (; i < list.size() && is_once(list[i]); ++i) {
                act(list[i]);
            }
            tables_.code[jump].b = here();
        }
        emit(Op::end);
    }

    void act(const Act& act) {
        switch (act.kind) {
        case ActKind::motion: return motion(act);
        case ActKind::note: return emit(Op::note, text(act.name));
        case ActKind::light: return emit(Op::light, text(act.name));
        case ActKind::sound: return emit(Op::sound, text(act.name));
        case ActKind::tell: value_of(act.args[0]); return emit(Op::tell, text(act.name));
        case ActKind::set:
        case ActKind::track: {
            value_of(act.args[0]);
            const auto var = std::find_if(plan_.vars.begin(), plan_.vars.end(),
                                          [&](const LaidVar& v) { return v.name == act.name; });
            return emit(Op::set, static_cast<std::uint16_t>(var - plan_.vars.begin()));
        }
        case ActKind::call: calls_.emplace_back(tables_.code.size(), act); return emit(Op::call);
        case ActKind::become: calls_.emplace_back(tables_.code.size(), act); return emit(Op::become);
        case ActKind::done: return emit(Op::done);
        case ActKind::halt: return emit(Op::halt);
        case ActKind::hold: return emit(Op::hold);
        }
    }

    /// A constant last number, as most powers are, stands in the motion itself.
    void motion(const Act& act) {
        for (const Expr& arg : act.args) {
            value_of(arg);
        }
        const Op op = act.motion;
        if (act.args.empty() || tables_.code.back().op != Op::constant) {
            return emit(op);
        }
        const std::uint16_t power = tables_.code.back().b;
        tables_.code.pop_back();
        emit(op, power, 1);
    }

    std::uint16_t text(const std::string& note) {
        const auto [known, is_new] = text_numbers_.emplace(note, out_.texts.size());
        if (is_new) {
            out_.texts.push_back(note);
        }
        return static_cast<std::uint16_t>(known->second);
    }

    /// The call of a block: the code of its arguments stands on its own.
    std::uint16_t call(const Act& act) {
        runtime::Call made;
        made.block = static_cast<std::uint16_t>(plan_.block_number(act.name));
        const std::vector<Param>& params = plan_.blocks[made.block].params;
        for (const bool with_pid : {false, true}) {
            const std::uint16_t at = here();
            for (std::size_t i = 0; i < act.args.size(); ++i) {
                if (params[i].has_pid == with_pid) {
                    value_of(act.args[i]);
                    emit(Op::give, static_cast<std::uint16_t>(i));
                }
            }
            if (here() != at) {
                emit(Op::end);
                (with_pid ? made.pid_args : made.args) = at;
            }
        }
        tables_.calls.push_back(made);
        return static_cast<std::uint16_t>(tables_.calls.size() - 1);
    }

    CheckedPlan& plan_;
    std::unordered_map<std::string, std::size_t> text_numbers_;
    CompiledTables& out_;
    ProgramTables& tables_;
    std::optional<ExpressionCode> expressions_; ///< all into one code, with one list of constants
    Problems& problems_;
    MemoryMap& memory_;
    int first_cell_ = 0;
    std::vector<std::pair<std::size_t, Act>> calls_; // instructions that wait for their call's number
};

} // namespace

void generate(CheckedPlan& plan, CompiledTables& out, Problems& problems) { Generator(plan, out, problems).run(); }

} // namespace vast_turn::lang
