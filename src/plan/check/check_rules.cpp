/// Rules, guards and acts: names, types, and what may stand together.

#include <algorithm>
#include <cmath>
#include <optional>

#include <fmt/format.h>

#include "plan/check/check_context.hpp"
#include "plan/text/words.hpp"

namespace vast_turn::lang {

namespace {

class ActChecker {
public:
    ActChecker(const Block* block, Where where, CheckContext& context)
        : block_(block), where_(where), context_(context) {}

    void check(Act& act) {
        switch (act.kind) {
        case ActKind::motion: return motion(act);
        case ActKind::tell: return tell(act);
        case ActKind::set:
        case ActKind::track: return assignment(act);
        case ActKind::call:
        case ActKind::become: call(act.name, act.name_span, act.args); return;
        default: return;
        }
    }

    void as_rules(Rule& rule) {
        Block* callee = call(rule.as_habit, rule.span, rule.as_args);
        if (callee == nullptr) {
            return;
        }
        if (callee->is_errand) {
            context_.problems.error(
                rule.span, fmt::format("`{}` is an errand, it has no rules", callee->name),
                fmt::format("`as` brings in the rules of a habit; write a rule with do {}", callee->name));
        } else if (!callee->guards.empty()) {
            context_.problems.error(
                rule.span, fmt::format("habit `{}` has guards, so its rules cannot stand here", callee->name),
                fmt::format("write else -> become {} or do {}, or move the rules into a habit without guards",
                            callee->name, callee->name));
        }
    }

private:
    void types(Expr& e) { check_types(e, context_.names, where_, context_.source, context_.problems); }

    void motion(Act& act) {
        const MotionWord& motion = *find_motion(act.name);
        if (act.args.size() != motion.args.size()) {
            context_.problems.error(act.span,
                                    fmt::format("`{}` takes {} argument{}, found {}", act.name, motion.args.size(),
                                                motion.args.size() == 1 ? "" : "s", act.args.size()),
                                    fmt::format("write {}", motion.usage));
            return;
        }
        for (std::size_t i = 0; i < act.args.size(); ++i) {
            Expr& arg = act.args[i];
            types(arg);
            const Type side{Base::side, {}};
            const Type plain{Base::number, {}};
            const bool fits =
                arg.type.base == Base::broken ||
                (motion.args[i] == Wants::side ? arg.type == side : (arg.type == plain || arg.type == side));
            if (!fits) {
                context_.problems.error(arg.span,
                                        fmt::format("`{}` wants {} here, found {}", act.name,
                                                    motion.args[i] == Wants::side
                                                        ? "a side, left or right"
                                                        : "a power in percent, a plain number",
                                                    to_text(arg.type)),
                                        fmt::format("write {}", motion.usage));
            }
            if (motion.args[i] == Wants::plain) {
                within_power(act, i);
            }
        }
    }

    /// Once a plan: whoever writes 300 means another scale, and will see it at the first.
    void within_power(const Act& act, std::size_t at) {
        constexpr double full = 100.0;
        const double most = act.motion == Op::bend && at == 0 ? 2.0 * full : full;
        const Expr& arg = act.args[at];
        const bool is_negative = is_unary(arg, Op::negate);
        std::optional<double> power = written_value(is_negative ? arg.args[0] : arg);
        if (power && is_negative) {
            power = -*power;
        }
        if (power && std::abs(*power) > most && !context_.clipping_told) {
            context_.clipping_told = true;
            context_.problems.warning(
                act.args[at].span,
                fmt::format("powers are percent, {:g} is clipped to {:g}", *power, *power > 0.0 ? full : -full),
                "write -100 to 100");
        }
    }

    void tell(Act& act) {
        types(act.args[0]);
        const Type type = act.args[0].type;
        if (type.base == Base::truth) {
            context_.problems.error(act.args[0].span, fmt::format("`tell` sends a number, found {}", to_text(type)),
                                    "write two rules, one for each case");
        }
    }

    void assignment(Act& act) {
        types(act.args[0]);
        const auto var = context_.names.vars.find(act.name);
        if (var == context_.names.vars.end()) {
            std::vector<std::string> known;
            for (const auto& [name, unused] : context_.names.vars) {
                known.push_back(name);
            }
            const bool is_let = context_.names.lets.contains(act.name);
            context_.problems.error(
                act.name_span,
                is_let ? fmt::format("`{}` is a let, which never changes", act.name)
                       : fmt::format("there is no var `{}`{}", act.name, did_you_mean(act.name, known)),
                fmt::format("write var {} = ... at the top of the plan", act.name));
            return;
        }
        const Type type = act.args[0].type;
        const Type wanted = var->second.type;
        const bool side_as_number = wanted == Type{Base::number, {}} && type.base == Base::side;
        if (type.base != Base::broken && wanted.base != Base::broken && type != wanted && !side_as_number) {
            context_.problems.error(act.args[0].span,
                                    fmt::format("var `{}` is {}, this is {}", act.name, to_text(wanted), to_text(type)),
                                    "a var keeps the kind and unit of its first value");
        }
    }

    Block* call(const std::string& name, Span span, std::vector<Expr>& args) {
        for (Expr& arg : args) {
            types(arg);
        }
        const auto found = context_.blocks.find(name);
        if (found == context_.blocks.end()) {
            std::vector<std::string> known;
            for (const auto& [block, unused] : context_.blocks) {
                known.push_back(block);
            }
            context_.problems.error(span,
                                    fmt::format("there is no habit or errand `{}`{}", name, did_you_mean(name, known)),
                                    fmt::format("blocks here are {}", one_of(known)));
            return nullptr;
        }
        Block& callee = *found->second;
        if (callee.params.size() != args.size()) {
            context_.problems.error(
                span,
                fmt::format("`{}` takes {} argument{}, found {}", name, callee.params.size(),
                            callee.params.size() == 1 ? "" : "s", args.size()),
                fmt::format("it stands at line {}", context_.source.line_of(callee.name_span.from)));
            return nullptr;
        }
        for (std::size_t i = 0; i < args.size(); ++i) {
            argument(callee, i, args[i]);
        }
        context_.calls.push_back({block_, &callee, &args});
        return &callee;
    }

    void argument(Block& callee, std::size_t i, const Expr& arg) {
        Param& param = callee.params[i];
        if (arg.type.base == Base::broken) {
            return;
        }
        if (param.type.base == Base::broken) {
            param.type = arg.type;
        } else if (param.type != arg.type) {
            context_.problems.error(arg.span,
                                    fmt::format("`{}` of `{}` is {} here, {} in another call", param.name, callee.name,
                                                to_text(arg.type), to_text(param.type)),
                                    "give every call the same kind of value");
        }
    }

    const Block* block_;
    Where where_;
    CheckContext& context_;
};

void together(const Rule& rule, Problems& problems) {
    int motions = 0;
    bool holds = false;
    for (const Act& act : rule.acts) {
        if (act.kind == ActKind::motion && ++motions == 2) {
            problems.error(act.span, "a rule gives one motion, this is the second", "keep one, or make two rules");
        }
        holds = holds || act.kind == ActKind::hold;
        if (act.kind == ActKind::hold && !rule.is_guard) {
            problems.error(act.span, "`hold` is for guards: it stops the clocks of what they interrupt",
                           "write guard CONDITION -> hold, or still in a rule");
        }
    }
    if (holds && motions > 0) {
        problems.error(rule.acts.back().span, "`hold` stands still, so it takes no motion", "leave out one of the two");
    }
    nothing_behind(
        rule.acts, [](const Act& act) { return is_transfer(act.kind) ? &act : nullptr; }, problems);
}

} // namespace

namespace {

/// A side that is written out and counts as a number, or null.
const Expr* side_in_sum(const Expr& e) {
    if (e.is<SideWord>()) {
        return &e;
    }
    if (is_call(e, Op::rolled)) {
        return nullptr;
    }
    for (const Expr& arg : e.args) {
        if (const Expr* side = side_in_sum(arg)) {
            return side;
        }
    }
    return nullptr;
}

/// A number that a twin keeps, sends or gives is the same for both, which whoever writes a side into it does not mean.
void no_side_in_kept_sums(const Rule& rule, Problems& problems) {
    for (const Act& act : rule.acts) {
        if (act.kind == ActKind::motion) {
            continue; // mirrored as a whole
        }
        for (const Expr& arg : act.args) {
            const Expr* side = arg.type.base == Base::number ? side_in_sum(arg) : nullptr;
            if (side != nullptr) {
                problems.error(
                    side->span,
                    fmt::format("in a sum `{}` is the number {}, for both twins of a mirrored rule", to_text(*side),
                                side->as<SideWord>()->value > 0.0 ? "1" : "-1"),
                    "keep the side itself (a var or an argument may hold one) and multiply where it is used, "
                    "or write two rules without mirrored");
            }
        }
    }
}

} // namespace

void check_act(Act& act, Where where, const Block* block, CheckContext& context) {
    ActChecker(block, where, context).check(act);
}

void check_rules(std::vector<Rule>& rules, const Block* block, CheckContext& context) {
    context.names.params = block == nullptr ? nullptr : &block->params;
    for (Rule& rule : rules) {
        context.names.mirrored = rule.is_mirrored;
        if (rule.is_as) {
            ActChecker(block, Where::value, context).as_rules(rule);
            continue;
        }
        if (!rule.is_else) {
            check_condition(rule.condition, context.names, context.source, context.problems);
        }
        together(rule, context.problems);
        for (Act& act : rule.acts) {
            check_act(act, Where::value, block, context);
        }
        if (rule.is_mirrored) {
            no_side_in_kept_sums(rule, context.problems);
        }
    }
    context.names.mirrored = false;
}

} // namespace vast_turn::lang
