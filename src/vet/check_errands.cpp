#include <algorithm>

#include <fmt/format.h>

#include "plan/check/check_types.hpp"
#include "vet/collector.hpp"
#include "vet/reader.hpp"

namespace vast_turn::vetting {

namespace {

using lang::Op;

using lang::Expr;
using lang::LaidItem;

/// Whether a condition can hold at all, for any pattern.
bool can_hold(const Collector& out, const Expr& condition, bool wanted = true) {
    ConditionReader reader(out.text());
    reader.announce(condition);
    const Formula read = reader.read(condition);
    const Formula f = wanted ? read : negation(read);
    const std::vector<Formula> relations = reader.relations(out.effort());
    std::vector<const Formula*> all{&f};
    for (const Formula& relation : relations) {
        all.push_back(&relation);
    }
    const PatternSet patterns = reader.all_patterns();
    for (std::size_t bits = 0; bits < patterns.size(); ++bits) {
        if (patterns.test(bits) &&
            Together(reader.variables(), static_cast<unsigned>(bits), out.effort()).can_hold(all) != Verdict::no) {
            return true;
        }
    }
    return false;
}

/// Whether a condition may come true by time, way, turn or from outside, not only by what lies on the floor.
bool ends_by_itself(const Expr& condition) {
    return lang::any_part(condition, [](const Expr& part) {
        const bool floor_only = is_input(part, Op::seen) || is_input(part, Op::offset) || is_input(part, Op::last_side);
        return (part.is<lang::Input>() && !floor_only) || part.is<lang::Heard>() || part.is<lang::Variable>() ||
               part.is<lang::Argument>() || is_call(part, Op::rolled);
    });
}

bool turns_on_the_spot(const lang::Act& act) { return act.motion == Op::rotate || act.motion == Op::pivot; }

class ErrandChecker {
public:
    ErrandChecker(Collector& out, const lang::LaidBlock& errand) : out_(out), errand_(errand) {}

    void run() {
        flow();
        for (const LaidItem& item : errand_.items) {
            endless(item);
            never_gives_up(item);
        }
        endless_search();
    }

private:
    std::size_t target(const LaidItem& item) const { return static_cast<std::size_t>(item.target); }

    /// Where an item may lead; one behind the last is the end.
    std::vector<std::size_t> next_of(std::size_t i) const {
        const LaidItem& item = errand_.items[i];
        switch (item.kind) {
        case LaidItem::Kind::jump:
        case LaidItem::Kind::again: return {target(item)};
        case LaidItem::Kind::round: {
            const LaidItem* loop = loop_of(item);
            const bool counted = loop != nullptr && loop->count.has_value();
            const bool till = item.limit.kind == lang::Limit::Kind::till && can_hold(out_, item.limit.value);
            return counted || till ? std::vector<std::size_t>{i + 1, target(item)} : std::vector<std::size_t>{i + 1};
        }
        case LaidItem::Kind::branch: {
            std::vector<std::size_t> ways;
            if (can_hold(out_, item.condition)) {
                ways.push_back(i + 1);
            }
            if (can_hold(out_, item.condition, false)) {
                ways.push_back(target(item));
            }
            return ways;
        }
        case LaidItem::Kind::act:
            if (lang::is_transfer(item.act.kind) && item.act.kind != lang::ActKind::call) {
                return {};
            }
            break;
        case LaidItem::Kind::move:
        case LaidItem::Kind::call: // one that never ends is told itself
        case LaidItem::Kind::loop: break;
        }
        return {i + 1};
    }

    const LaidItem* loop_of(const LaidItem& round) const {
        const auto at = std::find_if(errand_.items.begin(), errand_.items.end(), [&](const LaidItem& item) {
            return item.kind == LaidItem::Kind::loop && item.loop == round.loop;
        });
        return at == errand_.items.end() ? nullptr : &*at;
    }

    void flow() {
        reached_.assign(errand_.items.size() + 1, false);
        std::vector<std::size_t> open{0};
        while (!open.empty()) {
            const std::size_t i = open.back();
            open.pop_back();
            if (reached_[i]) {
                continue;
            }
            reached_[i] = true;
            if (i < errand_.items.size()) {
                const std::vector<std::size_t> next = next_of(i);
                open.insert(open.end(), next.begin(), next.end());
            }
        }
        bool before = true;
        for (std::size_t i = 0; i < errand_.items.size(); ++i) {
            const LaidItem& item = errand_.items[i];
            const bool written = item.kind != LaidItem::Kind::jump && item.kind != LaidItem::Kind::again;
            if (written && !reached_[i] && before) {
                out_.add("item-unreachable", item.span,
                         fmt::format("errand `{}` never comes to this item", errand_.name),
                         "remove it, or give what stands before it an end");
            }
            before = written ? reached_[i] : before;
        }
    }

    void endless(const LaidItem& item) {
        const bool moves = item.kind == LaidItem::Kind::move || item.kind == LaidItem::Kind::call;
        if (moves && item.limit.kind == lang::Limit::Kind::till && !can_hold(out_, item.limit.value)) {
            out_.add("item-endless", item.limit.span,
                     fmt::format("`till {}` can never hold, so this item never ends", lang::to_text(item.limit.value)),
                     "correct the condition");
        }
    }

    void never_gives_up(const LaidItem& item) {
        if (item.kind == LaidItem::Kind::move && item.limit.kind == lang::Limit::Kind::till &&
            turns_on_the_spot(item.act) && can_hold(out_, item.limit.value) && !ends_by_itself(item.limit.value)) {
            const std::string condition = lang::to_text(item.limit.value);
            out_.add("never-gives-up", item.span,
                     fmt::format("this turns until `{}`, for ever if that never comes", condition),
                     "give it an end that comes for sure, and go on with what to do then",
                     out_.line_with(item.limit.span, fmt::format("till {} or turned > 400deg", condition)));
        }
    }

    /// A loop without an end in an errand that a guard is to leave: when the guard never holds, it goes on for ever.
    void endless_search() {
        const bool waits = std::any_of(errand_.guards.begin(), errand_.guards.end(), [](const lang::Rule& guard) {
            return !guard.acts.empty() && guard.acts.back().kind == lang::ActKind::done &&
                   !ends_by_itself(guard.condition);
        });
        for (std::size_t i = 0; waits && i < errand_.items.size(); ++i) {
            const LaidItem& loop = errand_.items[i];
            if (loop.kind != LaidItem::Kind::loop || loop.count || !reached_[i]) {
                continue;
            }
            const auto inside = [&](const LaidItem& item) {
                return item.loop == loop.loop &&
                       (item.limit.kind == lang::Limit::Kind::till
                            ? item.kind == LaidItem::Kind::round
                            : item.kind == LaidItem::Kind::act && lang::is_transfer(item.act.kind));
            };
            if (std::none_of(errand_.items.begin(), errand_.items.end(), inside)) {
                out_.add("never-gives-up", loop.span,
                         fmt::format("when the guard of `{}` never holds, this loop goes on for ever", errand_.name),
                         "say how often: loop 4 { ... }, and what is done then");
            }
        }
    }

    Collector& out_;
    const lang::LaidBlock& errand_;
    std::vector<bool> reached_;
};

} // namespace

void check_errands(Collector& out) {
    for (std::size_t i = 0; i < out.text().blocks.size(); ++i) {
        if (out.text().blocks[i].is_errand && out.is_reached(i)) {
            ErrandChecker(out, out.text().blocks[i]).run();
        }
    }
}

} // namespace vast_turn::vetting
