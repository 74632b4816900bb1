#include "plan/checked.hpp"

#include <algorithm>
#include <map>
#include <utility>

#include <fmt/format.h>

#include "plan/check_types.hpp"
#include "plan/words.hpp"
#include "vast_turn/sense/pattern.hpp"

namespace vast_turn::lang {

namespace {

constexpr std::size_t most_rules = 4096; // of the whole plan, with `as` and `mirrored` written out
constexpr int deepest_as = 32;

class Checker {
public:
    Checker(PlanTree tree, CheckedPlan& out, Problems& problems)
        : tree_(std::move(tree)), out_(out), problems_(problems) {}

    void run() {
        out_.name = tree_.name;
        head();
        markers();
        lets();
        collect_habits();
        for (Habit& habit : tree_.habits) {
            for (Rule& rule : habit.rules) {
                check_rule(rule);
            }
        }
        if (!problems_.any_error()) {
            lay_out();
        }
    }

private:
    void head() {
        if (!tree_.sensors_given) {
            problems_.error({0, 0}, "the number of line sensors is missing",
                            "write sensors 2 (or as many as there are) below the plan's name");
        }
        names_.sensors = out_.sensors = tree_.sensors;
        names_.sensors_span = tree_.sensors_span;
        const auto count = static_cast<int>(tree_.weights.size());
        if (count != 0 && tree_.sensors != 0 && count != tree_.sensors) {
            problems_.error(tree_.weights_span,
                            fmt::format("there are {} weights for {} sensors", count, tree_.sensors),
                            "write one weight a sensor, from the left");
        }
        for (const Expr& weight : tree_.weights) {
            if (weight.unit != Unit{}) {
                problems_.error(weight.span, "a weight is a plain number", "leave out the unit");
            }
            out_.weights.push_back(weight.value);
        }
    }

    void markers() {
        constexpr std::size_t most_markers = 16;
        for (const MarkerName& marker : tree_.markers) {
            if (spans_.contains(marker.name)) {
                clash(marker.name, marker.span);
                continue;
            }
            if (names_.markers.size() == most_markers) {
                problems_.error(marker.span, fmt::format("a plan reacts to at most {} markers", most_markers),
                                "leave out those that no rule names");
                return;
            }
            spans_.emplace(marker.name, marker.span);
            names_.markers.push_back(marker.name);
        }
        out_.markers = names_.markers;
    }

    void lets() {
        for (Let& let : tree_.lets) {
            check_types(let.value, names_, out_.source, problems_);
            fold(let.value);
            const bool constant = let.value.kind == ExprKind::constant || let.value.kind == ExprKind::side ||
                                  let.value.kind == ExprKind::truth;
            if (!constant && let.value.type.base != Base::broken) {
                problems_.error(let.value.span, fmt::format("the value of `{}` is not constant", let.name),
                                "a let holds a number, a side or true or false, and lets above it");
                let.value.type.base = Base::broken;
            }
            if (spans_.contains(let.name)) {
                clash(let.name, let.name_span);
            }
            names_.lets.emplace(let.name, let.value);
            spans_.emplace(let.name, let.name_span);
        }
    }

    void clash(const std::string& name, Span span) {
        const auto first = spans_.find(name);
        problems_.error(span, fmt::format("the name `{}` is taken", name),
                        first == spans_.end() ? "choose another name"
                                              : fmt::format("it stands at line {} already; choose another",
                                                            out_.source.line_of(first->second.from)));
    }

    void collect_habits() {
        if (tree_.habits.empty() && !problems_.any_error()) {
            problems_.error({0, 0}, "the plan has no habit, so it never does anything", "write habit follow { ... }");
        }
        for (const Habit& habit : tree_.habits) {
            if (spans_.contains(habit.name)) {
                clash(habit.name, habit.name_span);
            }
            spans_.emplace(habit.name, habit.name_span);
            habits_.emplace(habit.name, &habit);
            if (habit.rules.empty() && !problems_.any_error()) {
                problems_.error(habit.name_span, fmt::format("habit `{}` has no rules", habit.name),
                                "write at least one rule: else -> keep");
            }
        }
    }

    void check_rule(Rule& rule) {
        if (rule.is_as) {
            known_habit(rule.as_habit, rule.span);
            return;
        }
        if (!rule.is_else) {
            check_types(rule.condition, names_, out_.source, problems_);
            const Type type = rule.condition.type;
            if (type.base != Base::truth && type.base != Base::broken) {
                problems_.error(rule.condition.span, fmt::format("expected a condition here, found {}", to_text(type)),
                                "a condition is a pattern like [#.] or a comparison like seen > 0");
            }
        }
        check_acts(rule);
    }

    void known_habit(const std::string& name, Span span) {
        if (habits_.contains(name)) {
            return;
        }
        std::vector<std::string> known;
        for (const auto& [habit, unused] : habits_) {
            known.push_back(habit);
        }
        problems_.error(span, fmt::format("there is no habit `{}`{}", name, did_you_mean(name, known)),
                        fmt::format("habits here are {}", one_of(known)));
    }

    void check_acts(Rule& rule) {
        int motions = 0;
        for (std::size_t i = 0; i < rule.acts.size(); ++i) {
            Act& act = rule.acts[i];
            const bool transfer = act.kind == ActKind::become || act.kind == ActKind::halt;
            if (transfer && i + 1 != rule.acts.size()) {
                problems_.error(act.span, fmt::format("nothing is done after `{}`", to_text(act)),
                                "put it last in the rule");
            }
            if (act.kind == ActKind::become) {
                known_habit(act.name, act.span);
            }
            if (act.kind == ActKind::motion) {
                if (++motions == 2) {
                    problems_.error(act.span, "a rule gives one motion, this is the second",
                                    "keep one, or make two rules");
                }
                check_motion(act);
            }
        }
    }

    void check_motion(Act& act) {
        const MotionWord& motion = *find_motion(act.name);
        if (act.args.size() != motion.args.size()) {
            problems_.error(act.span,
                            fmt::format("`{}` takes {} argument{}, found {}", act.name, motion.args.size(),
                                        motion.args.size() == 1 ? "" : "s", act.args.size()),
                            fmt::format("write {}", motion.usage));
            return;
        }
        for (std::size_t i = 0; i < act.args.size(); ++i) {
            Expr& arg = act.args[i];
            check_types(arg, names_, out_.source, problems_);
            const Type side{Base::side, {}};
            const Type plain{Base::number, {}};
            const bool fits =
                arg.type.base == Base::broken ||
                (motion.args[i] == Wants::side ? arg.type == side : (arg.type == plain || arg.type == side));
            if (!fits) {
                problems_.error(arg.span,
                                fmt::format("`{}` wants {} here, found {}", act.name,
                                            motion.args[i] == Wants::side ? "a side, left or right"
                                                                          : "a power in percent, a plain number",
                                            to_text(arg.type)),
                                fmt::format("write {}", motion.usage));
            }
        }
    }

    void lay_out() {
        for (const Habit& habit : tree_.habits) {
            LaidBlock block;
            block.name = habit.name;
            append_rules(habit, habit, block, 0);
            out_.blocks.push_back(std::move(block));
        }
    }

    /// Appends the rules of a habit to a block, those of `as` habits in their place.
    void append_rules(const Habit& habit, const Habit& into, LaidBlock& block, int depth) {
        for (const Rule& rule : habit.rules) {
            if (problems_.any_error()) {
                return;
            }
            if (rule.is_as) {
                append_as(rule, into, block, depth);
                continue;
            }
            add(rule, habit.name, block);
            if (rule.is_mirrored) {
                Rule twin = mirror_image(rule, out_.sensors);
                warn_if_same(rule, twin);
                add(std::move(twin), habit.name, block);
            }
        }
    }

    void append_as(const Rule& rule, const Habit& into, LaidBlock& block, int depth) {
        if (rule.as_habit == into.name || depth >= deepest_as) {
            problems_.error(rule.span, fmt::format("the rules of `{}` would stand in themselves here", rule.as_habit),
                            "a habit cannot contain its own rules, also not through others");
            return;
        }
        append_rules(*habits_.at(rule.as_habit), into, block, depth + 1);
    }

    void add(Rule rule, const std::string& written_in, LaidBlock& block) {
        if (++rules_ > most_rules) {
            problems_.error(
                rule.span,
                fmt::format("the plan has more than {} rules, counting those brought in by `as`", most_rules),
                "use `become` instead of `as` for large habits");
            return;
        }
        rule.written_in = written_in;
        block.rules.push_back(std::move(rule));
    }

    void warn_if_same(const Rule& rule, const Rule& twin) {
        const bool condition = rule.is_else || same(rule.condition, twin.condition);
        const bool acts = std::equal(rule.acts.begin(), rule.acts.end(), twin.acts.begin(), twin.acts.end(),
                                     [](const Act& a, const Act& b) { return same(a, b); });
        if (condition && acts) {
            problems_.warning(rule.span, "this rule is its own mirror image, so `mirrored` adds nothing",
                              "remove `mirrored`");
        } else if (condition) {
            problems_.warning(rule.span, "the condition of this rule is its own mirror image, so its twin never acts",
                              "remove `mirrored`, or make the condition one-sided");
        }
    }

    PlanTree tree_;
    CheckedPlan& out_;
    Problems& problems_;
    Names names_;
    std::map<std::string, Span> spans_;
    std::map<std::string, const Habit*> habits_;
    std::size_t rules_ = 0;
};

} // namespace

void check(PlanTree tree, CheckedPlan& out, Problems& problems) { Checker(std::move(tree), out, problems).run(); }

} // namespace vast_turn::lang
