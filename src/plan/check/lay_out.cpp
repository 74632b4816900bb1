#include "plan/check/lay_out.hpp"

#include <algorithm>
#include <map>
#include <utility>

#include <fmt/format.h>

#include "plan/check/check_types.hpp"
#include "plan/text/words.hpp"

namespace vast_turn::lang {

namespace {

constexpr std::size_t most_rules = 4096; // of the whole plan, with `as` and `mirrored` written out; items likewise
constexpr int deepest_as = 32;
constexpr std::size_t most_parts = 200'000; // of expressions that stand for arguments of `as`

/// Lays the items of one errand flat.
class ItemLayer {
public:
    explicit ItemLayer(LaidBlock& block) : block_(block) {}

    void lay(const std::vector<Item>& items) {
        for (const Item& item : items) {
            switch (item.kind) {
            case Item::Kind::act: act(item); break;
            case Item::Kind::loop: loop(item); break;
            case Item::Kind::choice: choice(item); break;
            }
        }
    }

private:
    LaidItem& add(LaidItem::Kind kind, Span span) {
        LaidItem& made = block_.items.emplace_back();
        made.kind = kind;
        made.span = span;
        made.loop = loop_;
        return made;
    }
    int next() const { return static_cast<int>(block_.items.size()); }

    void act(const Item& item) {
        LaidItem& made = add(item.act.kind == ActKind::motion ? LaidItem::Kind::move
                             : item.act.kind == ActKind::call ? LaidItem::Kind::call
                                                              : LaidItem::Kind::act,
                             item.span);
        made.act = item.act;
        made.limit = item.limit;
    }

    void loop(const Item& item) {
        const int outer = loop_;
        loop_ = static_cast<int>(block_.loops.size());
        block_.loops.push_back({outer, no_slot, any_part(item.limit.value, counts_from_block)});
        LaidItem& head = add(LaidItem::Kind::loop, item.span);
        head.count = item.count;
        head.widening = item.widening;
        const int round = next();
        add(LaidItem::Kind::round, item.span).limit = item.limit;
        lay(item.body);
        add(LaidItem::Kind::again, item.span).target = round;
        block_.items[static_cast<std::size_t>(round)].target = next();
        loop_ = outer;
    }

    void choice(const Item& item) {
        std::vector<int> ends;
        for (const Branch& branch : item.branches) {
            int test = no_slot;
            if (!branch.is_else) {
                test = next();
                const Span span = &branch == &item.branches.front() ? item.span : branch.condition.span;
                add(LaidItem::Kind::branch, span).condition = branch.condition;
            }
            lay(branch.items);
            if (&branch != &item.branches.back()) {
                ends.push_back(next());
                add(LaidItem::Kind::jump, item.span);
            }
            if (test != no_slot) {
                block_.items[static_cast<std::size_t>(test)].target = next();
            }
        }
        for (const int end : ends) {
            block_.items[static_cast<std::size_t>(end)].target = next();
        }
    }

    LaidBlock& block_;
    int loop_ = no_slot;
};

class Layer {
public:
    Layer(const PlanTree& tree, CheckedPlan& out, Problems& problems) : tree_(tree), out_(out), problems_(problems) {}

    void run() {
        for (const Block& block : tree_.blocks) {
            blocks_.emplace(block.name, &block);
        }
        add_rules(tree_.guards, {}, {}, out_.guards);
        for (const Block& block : tree_.blocks) {
            LaidBlock made;
            made.name = block.name;
            made.is_errand = block.is_errand;
            made.name_span = block.name_span;
            made.params = block.params;
            add_rules(block.guards, block.name, {}, made.guards);
            append_rules(block, block, {}, made, 0);
            ItemLayer(made).lay(block.items);
            items_ += made.items.size();
            if (items_ > most_rules) {
                problems_.error(block.name_span, fmt::format("the errands have more than {} items", most_rules),
                                "use a loop, or call an errand twice");
                return;
            }
            out_.blocks.push_back(std::move(made));
        }
    }

private:
    /// Values for the parameters of a habit whose rules are brought in; none leaves them as they are.
    using Values = std::vector<Expr>;

    static std::size_t parts_of(const Expr& e) {
        std::size_t count = 1;
        for (const Expr& arg : e.args) {
            count += parts_of(arg);
        }
        return count;
    }

    void put(Expr& e, const Values& values) {
        const auto* argument = e.as<Argument>();
        if (argument != nullptr && !values.empty()) {
            const Expr& value = values[static_cast<std::size_t>(argument->number)];
            parts_ += parts_of(value);
            if (parts_ <= most_parts) { // else it is refused, see append_as
                const Span span = e.span;
                e = value;
                e.span = span;
            }
            return;
        }
        for (Expr& arg : e.args) {
            put(arg, values);
        }
    }

    void put(Rule& rule, const Values& values) {
        put(rule.condition, values);
        for (Act& act : rule.acts) {
            for (Expr& arg : act.args) {
                put(arg, values);
            }
        }
    }

    void add_rules(const std::vector<Rule>& rules, const std::string& written_in, const Values& values,
                   std::vector<Rule>& list) {
        for (const Rule& rule : rules) {
            add_with_twin(rule, written_in, values, list);
        }
    }

    void add_with_twin(const Rule& rule, const std::string& written_in, const Values& values, std::vector<Rule>& list) {
        add(rule, written_in, values, list);
        if (rule.is_mirrored) {
            Rule twin = mirror_image(rule, out_.sensors);
            warn_if_same(rule, twin);
            find_places(twin);
            add(std::move(twin), written_in, values, list);
        }
    }

    /// Appends the rules of a habit to a block, those of `as` habits in their place.
    void append_rules(const Block& habit, const Block& into, const Values& values, LaidBlock& block, int depth) {
        for (const Rule& rule : habit.rules) {
            if (problems_.any_error()) {
                return;
            }
            if (rule.is_as) {
                append_as(rule, into, values, block, depth);
            } else {
                add_with_twin(rule, habit.name, values, block.rules);
            }
        }
    }

    void append_as(const Rule& rule, const Block& into, const Values& values, LaidBlock& block, int depth) {
        if (rule.as_habit == into.name || depth >= deepest_as) {
            problems_.error(rule.span, fmt::format("the rules of `{}` would stand in themselves here", rule.as_habit),
                            "a habit cannot contain its own rules, also not through others");
            return;
        }
        Values given = rule.as_args;
        for (Expr& value : given) {
            put(value, values);
            share_pids(value);
        }
        if (parts_ > most_parts) {
            problems_.error(rule.span, "the arguments of `as` grow too large here",
                            "keep the value in a var, or do the habit instead of bringing in its rules");
            return;
        }
        append_rules(*blocks_.at(rule.as_habit), into, given, block, depth + 1);
    }

    /// A pid that is handed over is one pid, however often the argument occurs.
    void share_pids(Expr& e) {
        if (is_call(e, Op::pid) && e.number == no_slot) {
            e.number = out_.parts++;
        }
        for (Expr& arg : e.args) {
            share_pids(arg);
        }
    }

    void add(Rule rule, const std::string& written_in, const Values& values, std::vector<Rule>& list) {
        if (++rules_ > most_rules) {
            problems_.error(
                rule.span,
                fmt::format("the plan has more than {} rules, counting those brought in by `as`", most_rules),
                "use `become` instead of `as` for large habits");
            return;
        }
        put(rule, values);
        if (parts_ > most_parts) {
            problems_.error(rule.span, "the arguments of `as` grow too large here",
                            "keep the value in a var, or do the habit instead of bringing in its rules");
            return;
        }
        rule.written_in = written_in;
        list.push_back(std::move(rule));
    }

    /// The colour sensors that a twin asks.
    void find_places(Rule& twin) const {
        find_place(twin.condition);
        for (Act& act : twin.acts) {
            for (Expr& arg : act.args) {
                find_place(arg);
            }
        }
    }

    void find_place(Expr& e) const {
        auto* marker = e.as<MarkerSeen>();
        if (marker != nullptr && !marker->at.empty()) {
            const auto place = std::find(out_.places.begin(), out_.places.end(), marker->at);
            marker->place = static_cast<int>(place - out_.places.begin());
        }
        for (Expr& arg : e.args) {
            find_place(arg);
        }
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

    const PlanTree& tree_;
    CheckedPlan& out_;
    Problems& problems_;
    std::map<std::string, const Block*> blocks_;
    std::size_t rules_ = 0;
    std::size_t items_ = 0;
    std::size_t parts_ = 0;
};

/// Gives those parts their numbers that have memory of their own, inner ones first.
void number_parts(Expr& e, int& next) {
    for (Expr& arg : e.args) {
        number_parts(arg, next);
    }
    const bool remembers = e.is<Lasting>() || e.is<Fresh>() || is_call(e, Op::pid);
    if (remembers && e.number == no_slot) {
        e.number = next++;
    }
}

} // namespace

std::size_t CheckedPlan::block_number(const std::string& block) const {
    const auto at = std::find_if(blocks.begin(), blocks.end(), [&](const LaidBlock& b) { return b.name == block; });
    return static_cast<std::size_t>(at - blocks.begin());
}

void lay_out(const PlanTree& tree, CheckedPlan& out, Problems& problems) {
    Layer(tree, out, problems).run();
    for_each_expression(out, [&](Expr& whole) { number_parts(whole, out.parts); });
}

} // namespace vast_turn::lang
