#include "plan/check/checked.hpp"

#include <algorithm>
#include <map>
#include <set>
#include <string>
#include <utility>

#include <fmt/format.h>

#include "plan/check/check_context.hpp"
#include "plan/check/lay_out.hpp"

namespace vast_turn::lang {

namespace {

class Checker {
public:
    Checker(PlanTree tree, CheckedPlan& out, Problems& problems, const std::set<std::string>& as_vars)
        : tree_(std::move(tree)), out_(out), problems_(problems),
          as_vars_(as_vars), context_{out.source, problems, {}, {}, {}} {}

    void run() {
        out_.name = tree_.name;
        head();
        markers();
        lets();
        lets_as_vars();
        vars();
        collect_blocks();
        check_rules(tree_.guards, nullptr, context_);
        blocks();
        pids_in_conditions();
        out_.heard = names().heard;
        out_.places = names().places;
        if (!problems_.any_error()) {
            lay_out(tree_, out_, problems_);
        }
        if (!problems_.any_error()) {
            check_calls(out_, problems_);
        }
    }

private:
    void head() {
        if (!tree_.sensors_given) {
            problems_.error({0, 0}, "the number of line sensors is missing",
                            "write sensors 2 (or as many as there are) below the plan's name");
        }
        names().sensors = out_.sensors = tree_.sensors;
        names().sensors_span = tree_.sensors_span;
        const auto count = static_cast<int>(tree_.weights.size());
        if (count != 0 && tree_.sensors != 0 && count != tree_.sensors) {
            problems_.error(tree_.weights_span,
                            fmt::format("there are {} weights for {} sensors", count, tree_.sensors),
                            "write one weight a sensor, from the left");
        }
        for (const Expr& weight : tree_.weights) {
            const auto& constant = *weight.as<Constant>(); // so the parser reads them
            if (constant.unit != Unit{}) {
                problems_.error(weight.span, "a weight is a plain number", "leave out the unit");
            }
            out_.weights.push_back(constant.value);
        }
    }

    void markers() {
        constexpr std::size_t most_markers = 16;
        for (const MarkerName& marker : tree_.markers) {
            if (taken(marker.name, marker.span)) {
                continue;
            }
            if (names().markers.size() == most_markers) {
                problems_.error(marker.span, fmt::format("a plan reacts to at most {} markers", most_markers),
                                "leave out those that no rule names");
                return;
            }
            names().markers.push_back(marker.name);
        }
        out_.markers = names().markers;
    }

    void lets() {
        for (Let& let : tree_.lets) {
            constant(let, "let");
            if (!taken(let.name, let.name_span)) {
                names().lets.emplace(let.name, let.value);
            }
        }
    }

    void lets_as_vars() {
        for (const Let& let : tree_.lets) {
            if (as_vars_.contains(let.name) && names().lets.erase(let.name) > 0) {
                add_var(let);
            }
        }
    }

    void constant(Let& let, const char* what) {
        check_types(let.value, names(), Where::constant, out_.source, problems_);
        fold(let.value);
        const bool known = let.value.is<Constant>() || let.value.is<SideWord>() || let.value.is<Truth>();
        if (!known && let.value.type.base != Base::broken) {
            problems_.error(let.value.span, fmt::format("the value of `{}` is not constant", let.name),
                            fmt::format("a {} {} a number, a side or true or false, and lets above it", what,
                                        what == std::string("let") ? "holds" : "begins with"));
            let.value.type.base = Base::broken;
        }
    }

    /// Notes where a name stands; reports it and says true when it is another's already.
    bool taken(const std::string& name, Span span) {
        if (spans_.contains(name)) {
            clash(name, span);
            return true;
        }
        spans_.emplace(name, span);
        return false;
    }

    void clash(const std::string& name, Span span) {
        const auto first = spans_.find(name);
        problems_.error(span, fmt::format("the name `{}` is taken", name),
                        first == spans_.end() ? "choose another name"
                                              : fmt::format("it stands at line {} already; choose another",
                                                            out_.source.line_of(first->second.from)));
    }

    void vars() {
        for (Let& var : tree_.vars) {
            constant(var, "var");
            if (!taken(var.name, var.name_span)) {
                add_var(var);
            }
        }
    }

    void add_var(const Let& var) {
        const Type type = var.value.type;
        names().vars.emplace(var.name, Var{static_cast<int>(out_.vars.size()), type});
        const auto* truth = var.value.as<Truth>();
        const double first = truth != nullptr ? (truth->holds ? 1.0 : 0.0) : written_value(var.value).value_or(0.0);
        out_.vars.push_back({var.name, first, type});
    }

    void collect_blocks() {
        if (tree_.blocks.empty() && !problems_.any_error()) {
            problems_.error({0, 0}, "the plan has no habit and no errand, so it never does anything",
                            "write habit follow { ... }");
        }
        for (Block& block : tree_.blocks) {
            const char* what = block.is_errand ? "errand" : "habit";
            if (!taken(block.name, block.name_span)) {
                context_.blocks.emplace(block.name, &block);
            }
            const bool only_ends = std::all_of(block.items.begin(), block.items.end(), [](const Item& item) {
                return item.kind == Item::Kind::act && item.act.kind == ActKind::done;
            });
            if (block.rules.empty() && only_ends && !problems_.any_error()) {
                problems_.error(block.name_span, fmt::format("{} `{}` has nothing to do", what, block.name),
                                block.is_errand ? "write at least one item: ahead(40) over 60mm"
                                                : "write at least one rule: else -> keep");
            }
        }
        for (Block& block : tree_.blocks) {
            for (const Param& param : block.params) {
                const bool twice = std::count_if(block.params.begin(), block.params.end(),
                                                 [&](const Param& p) { return p.name == param.name; }) > 1;
                if (spans_.contains(param.name) || twice) {
                    clash(param.name, param.span);
                }
            }
        }
        if (!tree_.blocks.empty() && !tree_.blocks[0].params.empty()) {
            problems_.error(
                tree_.blocks[0].params[0].span,
                fmt::format("the plan begins with `{}`, so nobody gives it an argument", tree_.blocks[0].name),
                "put another block first, or use a let");
        }
    }

    /// A block is checked once its arguments have types, which its callers give; what nobody calls comes last.
    void blocks() {
        std::vector<Block*> waiting;
        for (Block& block : tree_.blocks) {
            waiting.push_back(&block);
        }
        while (!waiting.empty()) {
            auto next = std::find_if(waiting.begin(), waiting.end(), [](const Block* block) {
                return std::all_of(block->params.begin(), block->params.end(),
                                   [](const Param& p) { return p.type.base != Base::broken; });
            });
            next = next == waiting.end() ? waiting.begin() : next;
            Block& block = **next;
            waiting.erase(next);
            check_rules(block.guards, &block, context_);
            check_rules(block.rules, &block, context_);
            check_items(block.items, block, context_);
        }
    }

    /// An argument that a call gives as a pid is one, so it may not stand in a condition either.
    void pids_in_conditions() {
        for (bool changed = true; changed;) {
            changed = false;
            for (const CallSite& call : context_.calls) {
                for (std::size_t i = 0; i < call.args->size(); ++i) {
                    Param& param = call.callee->params[i];
                    if (!param.has_pid && has_pid((*call.args)[i], call.caller)) {
                        param.has_pid = changed = true;
                    }
                }
            }
        }
        for (const Block& block : tree_.blocks) {
            for (const Rule& rule : block.guards) {
                no_pid(rule.condition, block);
            }
            for (const Rule& rule : block.rules) {
                no_pid(rule.condition, block);
            }
            no_pids(block.items, block);
        }
    }

    static bool has_pid(const Expr& e, const Block* block) {
        return any_part(e, [block](const Expr& part) {
            const auto* argument = part.as<Argument>();
            const bool given = argument != nullptr && block != nullptr &&
                               block->params[static_cast<std::size_t>(argument->number)].has_pid;
            return given || is_call(part, Op::pid);
        });
    }

    void no_pid(const Expr& condition, const Block& block) {
        const bool reported = condition.type.base == Base::broken ||
                              any_part(condition, [](const Expr& part) { return is_call(part, Op::pid); });
        if (!reported && has_pid(condition, &block)) {
            problems_.error(
                condition.span,
                "a call gives a pid for an argument in this condition, and a pid stands in motions and acts only",
                "give the condition a var, or an argument of its own");
        }
    }

    void no_pids(const std::vector<Item>& items, const Block& block) {
        for (const Item& item : items) {
            no_pid(item.limit.value, block);
            no_pids(item.body, block);
            for (const Branch& branch : item.branches) {
                no_pid(branch.condition, block);
                no_pids(branch.items, block);
            }
        }
    }

    Names& names() { return context_.names; }

    PlanTree tree_;
    CheckedPlan& out_;
    Problems& problems_;
    const std::set<std::string>& as_vars_;
    CheckContext context_;
    std::map<std::string, Span> spans_;
};

} // namespace

void check(PlanTree tree, CheckedPlan& out, Problems& problems, const std::set<std::string>& as_vars) {
    Checker(std::move(tree), out, problems, as_vars).run();
}

} // namespace vast_turn::lang
