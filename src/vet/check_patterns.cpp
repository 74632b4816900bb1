#include <algorithm>
#include <bit>
#include <map>
#include <set>

#include <fmt/format.h>

#include "vet/block_logic.hpp"
#include "vet/collector.hpp"

namespace vast_turn::vetting {

namespace {

/// "[##.], [..#] and 3 more".
std::string listed(const PatternSet& patterns, int sensors) {
    constexpr std::size_t most = 4;
    std::vector<Pattern> list;
    for (std::size_t bits = 0; bits < patterns.size(); ++bits) {
        if (patterns.test(bits)) {
            list.push_back({static_cast<std::uint8_t>(bits), sensors});
        }
    }
    std::stable_sort(list.begin(), list.end(), [](const Pattern& a, const Pattern& b) { return seen(a) < seen(b); });
    std::string text;
    for (std::size_t i = 0; i < std::min(most, list.size()); ++i) {
        const bool last = i + 1 == list.size();
        text += (i == 0 ? "" : last ? " and " : ", ") + ("[" + to_marks(list[i]) + "]");
    }
    return list.size() > most ? fmt::format("{} and {} more", text, list.size() - most) : text;
}

const char* way_of(int turn) { return turn > 0 ? "left" : turn < 0 ? "right" : "straight on"; }

class PatternChecker {
public:
    explicit PatternChecker(Collector& out) : out_(out) {}

    void run() {
        for (std::size_t i = 0; i < out_.text().blocks.size(); ++i) {
            if (!out_.text().blocks[i].is_errand && out_.is_reached(i)) {
                const BlockLogic logic(out_.plan(), i, out_.effort());
                unanswered(logic);
                note_acting(logic);
                order(logic);
                twins(logic);
            }
        }
        never_acting();
        turning_away();
        if (out_.effort().gave_up()) {
            out_.undecided("whether each rule ever acts, and what its order decides: some conditions are too many to "
                           "be told apart within bounds");
        }
    }

private:
    /// A rule as it is written: brought in by `as` it stands in several blocks.
    using Written = std::pair<std::size_t, bool>;

    struct Fate {
        const lang::Rule* rule = nullptr;
        bool may_act = false;
        bool contradicts_itself = true;
        std::set<int> cover; ///< lines
        bool by_its_twin = false;
    };

    int line(const lang::Rule& rule) const { return out_.line_of(rule.span); }

    std::string called(const lang::Rule& rule) const {
        return fmt::format("{}line {}", rule.is_twin ? "the twin of " : "", line(rule));
    }

    void unanswered(const BlockLogic& logic) {
        const BlockLogic::Unanswered open = logic.unanswered();
        const std::string& name = logic.block().name;
        if (open.undecided) {
            out_.undecided(
                fmt::format("whether habit `{}` answers every pattern: its conditions reckon with what hangs "
                            "together",
                            name));
        }
        const PatternSet all = open.always | open.sometimes;
        const PatternSet met = all & met_in(logic);
        if (out_.rehearsal() == nullptr || out_.rehearsal()->drives == 0) {
            tell_open("unanswered", logic, open.always, open.sometimes, "");
            return;
        }
        tell_open("unanswered", logic, open.always & met, open.sometimes & met, where_met(logic, met));
        tell_open("unanswered-unmet", logic, open.always & ~met, open.sometimes & ~met,
                  ", which no trial drive over this course met");
    }

    void tell_open(const char* code, const BlockLogic& logic, const PatternSet& always, const PatternSet& sometimes,
                   const std::string& more) {
        const std::string& name = logic.block().name;
        if (always.any()) {
            out_.add(code, logic.block().name_span,
                     fmt::format("habit `{}` has no rule for {}{}", name, listed(always, out_.plan().sensors()), more),
                     "give each a rule, or end the habit with else -> keep if that is meant");
        } else if (sometimes.any()) {
            out_.add(code, logic.block().name_span,
                     fmt::format("habit `{}` leaves {} unanswered when no other condition of its rules holds{}", name,
                                 listed(sometimes, out_.plan().sensors()), more),
                     "end the habit with a rule that always holds: else -> keep if that is meant");
        }
    }

    std::size_t number_of(const BlockLogic& logic) const { return out_.text().block_number(logic.block().name); }

    /// The patterns that trial drives met in a block without a rule for them.
    PatternSet met_in(const BlockLogic& logic) const {
        PatternSet met;
        if (out_.rehearsal() != nullptr) {
            for (const auto& [key, open] : out_.rehearsal()->unanswered) {
                if (key.first == number_of(logic)) {
                    met.set(key.second);
                }
            }
        }
        return met;
    }

    /// ": met at 410,220 mm, in 6 of 8 drives".
    std::string where_met(const BlockLogic& logic, const PatternSet& patterns) const {
        const UnansweredLook* most = nullptr;
        if (out_.rehearsal() != nullptr) {
            for (const auto& [key, open] : out_.rehearsal()->unanswered) {
                if (key.first == number_of(logic) && patterns.test(key.second) &&
                    (most == nullptr || open.drives > most->drives)) {
                    most = &open;
                }
            }
        }
        return most == nullptr ? std::string{}
                               : fmt::format(": met at {:.0f},{:.0f} mm, in {} of {} drives", most->first_at.x,
                                             most->first_at.y, most->drives, out_.rehearsal()->drives);
    }

    void note_acting(const BlockLogic& logic) {
        for (std::size_t i = 0; i < logic.rules(); ++i) {
            const lang::Rule& rule = logic.block().rules[i];
            Fate& fate = fates_[{rule.span.from, rule.is_twin}];
            fate.rule = &rule;
            const Verdict acts = logic.can_act(i);
            if (acts != Verdict::no) {
                fate.may_act = true;
                continue;
            }
            if (logic.can_hold(i) == Verdict::no) {
                continue;
            }
            fate.contradicts_itself = false;
            for (const std::size_t k : logic.covered_by(i)) {
                fate.cover.insert(line(logic.block().rules[k]));
                fate.by_its_twin = fate.by_its_twin || logic.block().rules[k].span.from == rule.span.from;
            }
        }
    }

    void never_acting() {
        for (const auto& [written, fate] : fates_) {
            if (fate.may_act || (fate.rule->is_twin && fate.by_its_twin)) {
                continue; // the compiler warns of a twin of its own image
            }
            const char* what = fate.rule->is_twin ? "the twin of this rule" : "this rule";
            if (fate.contradicts_itself) {
                out_.add("never-acts", fate.rule->span, fmt::format("the condition of {} can never hold", what),
                         "correct the condition, or remove the rule");
                continue;
            }
            std::vector<std::string> lines;
            for (const int l : fate.cover) {
                lines.push_back(std::to_string(l));
            }
            const bool one = lines.size() == 1;
            out_.add("never-acts", fate.rule->span,
                     fmt::format("{} never acts: line{} {} {} before it and {} whenever it does", what, one ? "" : "s",
                                 fmt::join(lines, ", "), one ? "stands" : "stand", one ? "holds" : "hold"),
                     fmt::format("move it above line {}, or remove it", lines.front()));
        }
    }

    void order(const BlockLogic& logic) {
        for (std::size_t i = 0; i < logic.rules(); ++i) {
            const auto here = constant_wheels(out_.plan(), RuleId(logic.first_rule() + static_cast<int>(i)));
            if (!here || !logic.asks_pattern(i)) {
                continue;
            }
            for (std::size_t k = i + 1; k < logic.rules(); ++k) {
                const auto there = constant_wheels(out_.plan(), RuleId(logic.first_rule() + static_cast<int>(k)));
                if (there && logic.asks_pattern(k) && turn_of(*here) * turn_of(*there) < 0 && !logic.implies(i, k) &&
                    !logic.implies(k, i)) {
                    tell_order(logic, i, k, turn_of(*here));
                }
            }
        }
    }

    void tell_order(const BlockLogic& logic, std::size_t first, std::size_t second, int turn) {
        const PatternSet both = logic.takes_from(first, second);
        const lang::Rule& a = logic.block().rules[first];
        const lang::Rule& b = logic.block().rules[second];
        if (both.none() || !told_order_.insert({line(a), line(b)}).second) {
            return;
        }
        const bool own_twin = a.span.from == b.span.from;
        const std::string why = own_twin ? fmt::format("line {} stands before its twin", line(a))
                                         : fmt::format("{} stands before {}", called(a), called(b));
        out_.add("order-decides", a.span,
                 fmt::format("at {} it goes {} because {}", listed(both, out_.plan().sensors()), way_of(turn), why),
                 fmt::format("{} to go {}, or write a rule for it above both",
                             own_twin ? "write the other side with mirrored" : "swap them", way_of(-turn)));
    }

    void twins(const BlockLogic& logic) {
        const std::vector<lang::Rule>& rules = logic.block().rules;
        for (std::size_t i = 0; i < rules.size(); ++i) {
            if (rules[i].is_else || rules[i].is_twin || rules[i].is_mirrored) {
                continue;
            }
            const lang::Rule image = lang::mirror_image(rules[i], out_.plan().sensors());
            for (std::size_t k = i + 1; k < rules.size(); ++k) {
                const bool twin = !rules[k].is_else && !rules[k].is_twin && !rules[k].is_mirrored &&
                                  lang::same(image.condition, rules[k].condition);
                if (twin) {
                    compare_twins(logic, i, k, image);
                    break;
                }
            }
        }
    }

    void compare_twins(const BlockLogic& logic, std::size_t first, std::size_t second, const lang::Rule& image) {
        const auto here = constant_wheels(out_.plan(), RuleId(logic.first_rule() + static_cast<int>(first)));
        const auto there = constant_wheels(out_.plan(), RuleId(logic.first_rule() + static_cast<int>(second)));
        const lang::Rule& rule = logic.block().rules[second];
        if (!here || !there || *there == Wheels{here->right_pct, here->left_pct} ||
            !told_twins_.insert(rule.span.from).second) {
            return;
        }
        const lang::Act* motion = motion_among(rule.acts);
        const lang::Act* wanted = motion_among(image.acts);
        std::string changed;
        if (motion != nullptr && wanted != nullptr) {
            changed = out_.line_with(motion->span, lang::to_text(*wanted));
        }
        out_.add(
            "twin-differs", rule.span,
            fmt::format("this answers the mirror image of line {} with {:g} {:g}, its mirror image would be {:g} {:g}",
                        line(logic.block().rules[first]), there->left_pct, there->right_pct, here->right_pct,
                        here->left_pct),
            fmt::format("write both as one rule: mirrored behind the condition of line {}",
                        line(logic.block().rules[first])),
            std::move(changed));
    }

    /// Where the line is: 1 when sensors left of the middle see it and none right of it, -1 the other way, else 0.
    static int side_of(Pattern pattern) {
        bool left = false;
        bool right = false;
        for (int i = 0; i < pattern.count; ++i) {
            const bool sees = ((pattern.bits >> i) & 1) != 0;
            left = left || (sees && 2 * i + 1 < pattern.count);
            right = right || (sees && 2 * i + 1 > pattern.count);
        }
        return (left ? 1 : 0) - (right ? 1 : 0);
    }

    void turning_away() {
        struct Seen {
            bool away = true;
            int side = 0;
            Pattern pattern;
        };
        std::map<RuleId, Seen> rules;
        for (const HabitTable& table : pattern_tables(out_.plan())) {
            for (const TableRow& row : table.rows) {
                for (const TableEntry& entry : row.entries) {
                    const std::optional<Wheels> wheels = entry.wheels ? entry.wheels : entry.crisp;
                    if (!wheels || seen(row.pattern) == 0) {
                        continue;
                    }
                    Seen& rule = rules[entry.rule];
                    const int side = side_of(row.pattern);
                    rule.away = rule.away && side != 0 && turn_of(*wheels) == -side;
                    rule.side = side;
                    rule.pattern = row.pattern;
                }
            }
        }
        for (const auto& [number, rule] : rules) {
            if (rule.away) {
                tell_away(number, rule.pattern, rule.side);
            }
        }
    }

    void tell_away(RuleId id, Pattern pattern, int side) {
        for (std::size_t i = 0; i < out_.text().blocks.size(); ++i) {
            const lang::LaidBlock& block = out_.text().blocks[i];
            const std::size_t first = out_.plan().tables().blocks[i].first_rule;
            if (!out_.is_reached(i) || id.index() < first || id.index() >= first + block.rules.size()) {
                continue;
            }
            const lang::Rule& rule = block.rules[id.index() - first];
            if (!told_away_.insert(rule.span.from).second) {
                return;
            }
            const lang::Act* motion = motion_among(rule.acts);
            std::string changed;
            if (motion != nullptr && !rule.is_twin) {
                const lang::Rule image = lang::mirror_image(rule, out_.plan().sensors());
                changed = out_.line_with(motion->span, lang::to_text(*motion_among(image.acts)));
            }
            out_.add("turns-away", rule.span,
                     fmt::format("{} sees the line on the {} [{}] and turns {}",
                                 rule.is_twin ? "the twin of this rule" : "this rule", way_of(side), to_marks(pattern),
                                 way_of(-side)),
                     "exchange the wheels, unless the line is to be left", std::move(changed));
        }
    }

    Collector& out_;
    std::map<Written, Fate> fates_;
    std::set<std::pair<int, int>> told_order_;
    std::set<std::size_t> told_twins_;
    std::set<std::size_t> told_away_;
};

} // namespace

void check_patterns(Collector& out) { PatternChecker(out).run(); }

} // namespace vast_turn::vetting
