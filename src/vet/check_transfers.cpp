#include <algorithm>
#include <array>
#include <set>
#include <string_view>
#include <vector>

#include <fmt/format.h>
#include <fmt/ranges.h>

#include "plan/check/check_types.hpp"
#include "plan/compile/expression_code.hpp"
#include "vast_turn/sense/pattern.hpp"
#include "vet/collector.hpp"
#include "vet/reader.hpp"

namespace vast_turn::vetting {

namespace {

using lang::Op;

using lang::Act;
using lang::ActKind;
using lang::Expr;
using lang::LaidBlock;
using lang::Rule;

const Act* transfer_of(const Rule& rule) {
    const auto at =
        std::find_if(rule.acts.begin(), rule.acts.end(), [](const Act& act) { return lang::is_transfer(act.kind); });
    return at == rule.acts.end() ? nullptr : &*at;
}

bool has_news(const Expr& e) {
    return lang::any_part(e, [](const Expr& part) { return part.is<lang::Fresh>(); });
}

/// A rule with a transfer that may go on for ever, and what must hold for it to act.
struct Step {
    const Rule* rule = nullptr;
    const Act* transfer = nullptr;
    std::vector<const Formula*> acting;
};

/// Habits that hand over to one another without end in one look. Blocks in hand are a stack, the innermost last; a look
/// in which a stack comes again is never done.
class CircleFinder {
public:
    explicit CircleFinder(Collector& out) : out_(out), reader_(out.text()), steps_(out.text().blocks.size()) {}

    void run() {
        const std::vector<LaidBlock>& blocks = out_.text().blocks;
        announce_all();
        for (std::size_t i = 0; i < blocks.size(); ++i) {
            if (!blocks[i].is_errand && out_.is_reached(i)) {
                read(i);
            }
        }
        relations_ = reader_.relations(out_.effort());
        for (std::size_t i = 0; i < blocks.size(); ++i) {
            std::vector<const Formula*> all;
            for (const Formula& relation : relations_) {
                all.push_back(&relation);
            }
            for (const Formula& guard : guards_against_) {
                all.push_back(&guard);
            }
            std::vector<std::vector<std::size_t>> stacks{{i}};
            std::vector<const Step*> path;
            follow(stacks, path, all);
        }
    }

private:
    void announce_all() {
        for (const Rule& guard : out_.text().guards) {
            reader_.announce(guard.condition);
        }
        for (const LaidBlock& block : out_.text().blocks) {
            for (const Rule& rule : block.rules) {
                if (!rule.is_else) {
                    reader_.announce(rule.condition);
                }
            }
        }
        for (const Rule& guard : out_.text().guards) {
            guards_against_.push_back(negation(reader_.read(guard.condition)));
        }
    }

    /// The steps of a habit, up to the first rule of which nothing can be claimed.
    void read(std::size_t number) {
        const LaidBlock& block = out_.text().blocks[number];
        formulas_.emplace_back();
        std::vector<Formula>& own = formulas_.back();
        own.reserve(2 * block.rules.size());
        std::vector<const Formula*> before;
        for (const Rule& rule : block.rules) {
            if (!block.params.empty() || (!rule.is_else && lang::any_part(rule.condition, lang::counts_from_block))) {
                return;
            }
            own.push_back(rule.is_else ? always() : reader_.read(rule.condition));
            const Formula* holds = &own.back();
            own.push_back(negation(*holds));
            const bool is_news = !rule.is_else && has_news(rule.condition); // spent when it has acted
            const bool changes = std::any_of(rule.acts.begin(), rule.acts.end(), [](const Act& act) {
                return act.kind == ActKind::set || act.kind == ActKind::track;
            });
            const Act* transfer = transfer_of(rule);
            if (transfer != nullptr && !is_news && !changes) {
                Step step{&rule, transfer, before};
                step.acting.push_back(holds);
                steps_[number].push_back(std::move(step));
            }
            before.push_back(&own.back());
        }
    }

    bool can_be(const std::vector<const Formula*>& all, unsigned& bits) const {
        const PatternSet patterns = reader_.all_patterns();
        for (std::size_t i = 0; i < patterns.size(); ++i) {
            if (patterns.test(i) &&
                Together(reader_.variables(), static_cast<unsigned>(i), out_.effort()).can_hold(all) == Verdict::yes) {
                bits = static_cast<unsigned>(i);
                return true;
            }
        }
        return false;
    }

    /// The stack after a transfer; empty when it goes where nothing is claimed.
    std::vector<std::size_t> after(std::vector<std::size_t> stack, const Act& transfer) const {
        if (transfer.kind == ActKind::done) {
            stack.pop_back();
            return stack;
        }
        if (transfer.kind != ActKind::call && transfer.kind != ActKind::become) {
            return {};
        }
        const std::size_t to = out_.text().block_number(transfer.name);
        const LaidBlock& block = out_.text().blocks[to];
        if (transfer.kind == ActKind::call && ends_at_once(block)) {
            return stack;
        }
        if (block.is_errand || !transfer.args.empty()) {
            return {};
        }
        if (transfer.kind == ActKind::become) {
            stack.pop_back();
        }
        stack.push_back(to);
        return stack;
    }

    /// An errand that takes no look and changes nothing that a condition could ask: it only says something.
    static bool ends_at_once(const LaidBlock& block) {
        return block.is_errand && block.guards.empty() &&
               std::all_of(block.items.begin(), block.items.end(), [](const lang::LaidItem& item) {
                   const ActKind kind = item.act.kind;
                   return item.kind == runtime::ItemKind::act &&
                          (kind == ActKind::note || kind == ActKind::light || kind == ActKind::sound ||
                           kind == ActKind::tell || kind == ActKind::done);
               });
    }

    void follow(std::vector<std::vector<std::size_t>>& stacks, std::vector<const Step*>& path,
                const std::vector<const Formula*>& all) {
        constexpr int most_tried = 4000;
        for (const Step& step : steps_[stacks.back().back()]) {
            const std::vector<std::size_t> next = after(stacks.back(), *step.transfer);
            if (next.empty() || ++tried_ > most_tried) {
                continue;
            }
            std::vector<const Formula*> more = all;
            more.insert(more.end(), step.acting.begin(), step.acting.end());
            unsigned bits = 0;
            if (!can_be(more, bits)) {
                continue;
            }
            path.push_back(&step);
            const auto again = std::find(stacks.begin(), stacks.end(), next);
            if (again != stacks.end()) {
                tell(std::vector<const Step*>(path.begin() + (again - stacks.begin()), path.end()), bits);
            } else {
                stacks.push_back(next);
                follow(stacks, path, more);
                stacks.pop_back();
            }
            path.pop_back();
        }
    }

    void tell(const std::vector<const Step*>& circle, unsigned bits) {
        std::set<int> lines;
        for (const Step* step : circle) {
            lines.insert(out_.line_of(step->rule->span));
        }
        if (!told_.insert(lines).second) {
            return;
        }
        const auto first = std::min_element(circle.begin(), circle.end(), [](const Step* a, const Step* b) {
            return a->rule->span.from < b->rule->span.from;
        });
        const std::string marks = to_marks({static_cast<std::uint8_t>(bits), out_.plan().sensors()});
        out_.add("hands-in-circle", (*first)->rule->span,
                 lines.size() == 1 ? fmt::format("for [{}] this rule leads back to itself in the same look", marks)
                                   : fmt::format("for [{}] the rules of lines {} hand over to one another without end",
                                                 marks, fmt::join(lines, ", ")),
                 "let one of them act instead, or make their conditions exclude one another");
    }

    Collector& out_;
    ConditionReader reader_;
    std::vector<std::vector<Step>> steps_; // by block
    std::vector<Formula> guards_against_;
    std::vector<Formula> relations_;
    std::vector<std::vector<Formula>> formulas_;
    std::set<std::set<int>> told_;
    int tried_ = 0;
};

/// Habits that somebody does, from which nothing leads back.
class ExitFinder {
public:
    explicit ExitFinder(Collector& out) : out_(out) {}

    void run() {
        for (std::size_t i = 0; i < out_.text().blocks.size(); ++i) {
            const LaidBlock& block = out_.text().blocks[i];
            if (!out_.is_reached(i) || block.is_errand || leaves(block.guards) || leaves(out_.text().guards)) {
                continue;
            }
            for (const Rule& rule : block.rules) {
                const Act* transfer = transfer_of(rule);
                if (transfer == nullptr || transfer->kind != ActKind::call || rule.is_twin) {
                    continue;
                }
                const LaidBlock& to = out_.text().blocks[out_.text().block_number(transfer->name)];
                std::set<std::string> seen;
                if (!to.is_errand && !may_end(to, seen)) {
                    out_.add("no-way-out", rule.span,
                             fmt::format("habit `{}` is done here, but nothing in it leads back", to.name),
                             fmt::format("give `{0}` a rule with done, or write become {0} if that is meant", to.name));
                }
            }
        }
    }

private:
    static bool is_end(const Act& act) {
        return act.kind == ActKind::done || act.kind == ActKind::become || act.kind == ActKind::halt;
    }

    static bool leaves(const std::vector<Rule>& rules) {
        return std::any_of(rules.begin(), rules.end(),
                           [](const Rule& rule) { return std::any_of(rule.acts.begin(), rule.acts.end(), is_end); });
    }

    /// Whether a block can end itself, or somebody that it does halts the plan.
    bool may_end(const LaidBlock& block, std::set<std::string>& seen) const {
        if (!seen.insert(block.name).second) {
            return false;
        }
        if (leaves(block.rules) || leaves(block.guards)) {
            return true;
        }
        const auto halts = [&](const Act& act) {
            return act.kind == ActKind::halt ||
                   (act.kind == ActKind::call &&
                    may_halt(out_.text().blocks[out_.text().block_number(act.name)], seen));
        };
        return any_act(block, halts);
    }

    bool may_halt(const LaidBlock& block, std::set<std::string>& seen) const {
        if (!seen.insert(block.name).second) {
            return false;
        }
        return any_act(block, [&](const Act& act) {
            return act.kind == ActKind::halt ||
                   (act.kind == ActKind::call &&
                    may_halt(out_.text().blocks[out_.text().block_number(act.name)], seen));
        });
    }

    template <class Asked> static bool any_act(const LaidBlock& block, const Asked& asked) {
        const auto in_rules = [&](const std::vector<Rule>& rules) {
            return std::any_of(rules.begin(), rules.end(), [&](const Rule& rule) {
                return std::any_of(rule.acts.begin(), rule.acts.end(), asked);
            });
        };
        return in_rules(block.rules) || in_rules(block.guards) ||
               std::any_of(block.items.begin(), block.items.end(),
                           [&](const lang::LaidItem& item) { return asked(item.act); });
    }

    Collector& out_;
};

} // namespace

void check_transfers(Collector& out) {
    CircleFinder(out).run();
    ExitFinder(out).run();
}

} // namespace vast_turn::vetting
