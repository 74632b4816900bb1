#include "trial/plan_additions.hpp"

#include <algorithm>
#include <utility>

#include <fmt/format.h>

#include "trial/plan_counts.hpp"

namespace vast_turn {

namespace {

using lang::Item;
using lang::Rule;
using lang::TokenKind;

class Adder {
public:
    Adder(const PlanText& plan, const Acted& acted) : plan_(plan), acted_(acted) { note_uncalled(); }

    std::vector<PlanChange> all() {
        for (const lang::Block& block : plan_.tree.blocks) {
            note_items(block.items);
        }
        note_powers();
        for (const MissingCount& count : missing_counts(plan_)) {
            put(count.before, true, count.text, count.size);
        }
        for (const std::string& name : uncalled_) {
            take(items_, "do " + name);
            take(items_, "become " + name);
        }
        for (const lang::Block& block : plan_.tree.blocks) {
            if (block.is_errand) {
                beside_items(block.items);
                before_turns(block.items);
            } else if (acted_.blocks.contains(block.name) || has_acted(block)) {
                into_habit(block);
            }
        }
        return std::move(list_);
    }

private:
    static void take(std::vector<std::string>& list, const std::string& text) {
        if (std::find(list.begin(), list.end(), text) == list.end()) {
            list.push_back(text);
        }
    }

    /// Blocks without parameters that no word calls; the first needs none.
    void note_uncalled() {
        for (std::size_t i = 1; i < plan_.tree.blocks.size(); ++i) {
            const lang::Block& block = plan_.tree.blocks[i];
            bool called = false;
            for (std::size_t t = 1; t < plan_.tokens.size(); ++t) {
                called = called || (plan_.tokens[t].text == block.name &&
                                    (plan_.follows(t, "do") || plan_.follows(t, "become") || plan_.follows(t, "as")));
            }
            if (!called && block.params.empty()) {
                uncalled_.push_back(block.name);
            }
        }
    }

    /// What items do, each once; what only tells something changes no way.
    void note_items(const std::vector<Item>& items) {
        using Kind = lang::ActKind;
        for (const Item& item : items) {
            const Kind kind = item.act.kind;
            if (item.kind == Item::Kind::act && kind != Kind::note && kind != Kind::light && kind != Kind::sound &&
                kind != Kind::tell) {
                take(items_, plan_.part(item.span));
            }
            note_items(item.body);
            for (const lang::Branch& branch : item.branches) {
                note_items(branch.items);
            }
        }
    }

    /// What the wheels are given to go straight on.
    void note_powers() {
        for (std::size_t i = 2; i + 1 < plan_.tokens.size(); ++i) {
            if (plan_.tokens[i - 2].text == "ahead" && plan_.tokens[i + 1].text == ")") {
                take(powers_, plan_.tokens[i].text);
            }
        }
    }

    bool is_uncalled(const std::string& name) const {
        return std::find(uncalled_.begin(), uncalled_.end(), name) != uncalled_.end();
    }

    /// A pattern that was seen, answered by going straight on when it leans to no side, else by a turn to its side.
    void answered(const Rule& last, const std::string& seen, const std::string& power) {
        int lean = 0;
        for (std::size_t i = 0; i < seen.size(); ++i) {
            lean += seen[i] == '#' ? static_cast<int>(seen.size()) - 1 - 2 * static_cast<int>(i) : 0;
        }
        if (lean == 0) {
            put_once(last, fmt::format("[{}] -> ahead({})", seen, power), 1.0);
            if (seen.find('#') != std::string::npos) {
                std::string whatever_beside = seen;
                std::replace(whatever_beside.begin(), whatever_beside.end(), '.', '?');
                put_once(last, fmt::format("[{}] -> ahead({})", whatever_beside, power), 1.0);
            }
        } else {
            const std::string to_left = lean > 0 ? seen : std::string(seen.rbegin(), seen.rend());
            put_once(last, fmt::format("[{}] mirrored -> pivot(left, {})", to_left, power), 1.5);
        }
    }

    /// The last but `else` of its habit; a rule and the twin that `mirrored` makes of it are one.
    void put_once(const Rule& last, const std::string& text, double size) {
        if (answers_.insert({last.span.from, text}).second) {
            put(last.span, last.is_else, text, size);
        }
    }

    bool stands_in(const std::set<int>& lines, lang::Span span) const {
        const auto line = lines.lower_bound(plan_.source.line_of(span.from));
        return line != lines.end() && *line <= plan_.source.line_of(std::max(span.from + 1, span.to) - 1);
    }

    bool has_acted(lang::Span span) const { return stands_in(acted_.lines, span); }

    bool has_acted(const lang::Block& block) const {
        return std::any_of(block.rules.begin(), block.rules.end(),
                           [this](const Rule& rule) { return has_acted(rule.span); });
    }

    /// Going on over the crossing before a turn: the array is there, the axle is not yet.
    /// Off the line before a turn that ends over a line.
    void before_turns(const std::vector<Item>& items, bool in_loop = false) {
        for (std::size_t i = 0; i < items.size(); ++i) {
            const Item& item = items[i];
            before_turns(item.body, true);
            for (const lang::Branch& branch : item.branches) {
                before_turns(branch.items, in_loop);
            }
            const bool turns_in_loop = item.kind == Item::Kind::loop && !item.body.empty() && turns(item.body.front());
            const Item& turn = turns_in_loop ? item.body.front() : item;
            const bool is_call = i == 0 && item.kind == Item::Kind::act && item.act.kind == lang::ActKind::call;
            const bool is_met =
                stands_in(acted_.ever, turn.span) || (i > 0 && stands_in(acted_.ever, items[i - 1].span));
            if (!is_met || !(turns(turn) || is_call)) {
                continue;
            }
            if (!in_loop && (i == 0 || !moves(items[i - 1])) && acted_.array_ahead_mm >= 1.0) {
                for (const std::string& power : powers_) {
                    put(item.span, true, fmt::format("ahead({}) over {:.0f}mm", power, acted_.array_ahead_mm), 0.5);
                }
            }
            if (turns(item) && item.limit.kind == lang::Limit::Kind::till && (i == 0 || !turns(items[i - 1]))) {
                put(item.span, true, plan_.part(item.act.span) + " over 45deg", 0.5);
            }
        }
    }

    static bool moves(const Item& item) {
        return item.kind == Item::Kind::act && item.act.kind == lang::ActKind::motion;
    }

    static bool turns(const Item& item) {
        return moves(item) && (item.act.name == "rotate" || item.act.name == "pivot");
    }

    void beside_items(const std::vector<Item>& items) {
        for (std::size_t i = 0; i < items.size(); ++i) {
            const Item& item = items[i];
            beside_items(item.body);
            for (const lang::Branch& branch : item.branches) {
                beside_items(branch.items);
            }
            if (has_acted(item.span) || (i > 0 && has_acted(items[i - 1].span))) {
                put_items(item.span, true);
            }
            if (i + 1 == items.size() && has_acted(item.span)) {
                put_items(item.span, false);
            }
        }
    }

    void put_items(lang::Span span, bool before) {
        for (const std::string& text : items_) {
            put(span, before, text, 1.0);
        }
    }

    /// Whether it begins its line and nothing but a comment stands behind it.
    bool stands_alone(lang::Span span) const {
        const std::size_t begin = plan_.text.rfind('\n', span.from) + 1; // npos + 1 is the beginning
        const std::size_t behind = plan_.text.find_first_not_of(' ', span.to);
        return plan_.text.find_first_not_of(' ', begin) == span.from &&
               (behind == std::string::npos || plan_.text[behind] == '\n' || plan_.text.compare(behind, 2, "//") == 0);
    }

    /// Puts an item or rule in on a line of its own, or before a comma where several stand on one.
    void put(lang::Span span, bool before, const std::string& text, double size) {
        if (list_.size() >= plan_.most_changes()) {
            return;
        }
        std::string changed = plan_.text;
        int line = plan_.source.line_of(before ? span.from : span.to - 1);
        if (stands_alone(span)) {
            const std::size_t begin = plan_.text.rfind('\n', span.from) + 1;
            const std::string indent(span.from - begin, ' ');
            const std::size_t end = std::min(plan_.text.find('\n', span.to), plan_.text.size());
            if (before) {
                changed.insert(begin, indent + text + "\n");
            } else {
                changed.insert(end, "\n" + indent + text);
                ++line;
            }
        } else {
            changed.insert(before ? span.from : span.to, before ? text + ", " : ", " + text);
        }
        list_.push_back(
            {fmt::format("line {} added: {}", line, text), std::move(changed), CureKind::added, line, size, 0, 1.0});
    }

    void into_habit(const lang::Block& block) {
        if (block.rules.empty()) {
            return;
        }
        const lang::Span top = block.rules.front().span;
        const Rule& last = block.rules.back();
        for (const lang::Block& other : plan_.tree.blocks) {
            if (!other.is_errand && other.params.empty() && &other != &block) {
                put(last.span, last.is_else, "as " + other.name, is_uncalled(other.name) ? 0.0 : 0.5);
            }
        }
        for (const std::string& name : uncalled_) {
            for (int least = std::max(2, plan_.tree.sensors - 2); least <= plan_.tree.sensors; ++least) {
                put(top, true, fmt::format("seen >= {} -> do {}", least, name), 0.5);
                put(top, true, fmt::format("fresh (seen >= {}) -> do {}", least, name), 0.5);
                for (const std::string& count : never_counted(plan_)) {
                    put(top, true, fmt::format("fresh (seen >= {}) -> {}, do {}", least, count, name), 0.5);
                }
            }
        }
        for (const std::string& seen : acted_.patterns) {
            for (const std::string& name : uncalled_) {
                put(top, true, fmt::format("[{}] -> do {}", seen, name), 1.0);
                put(top, true, fmt::format("[{}] -> become {}", seen, name), 1.0);
            }
            for (const std::string& power : powers_) {
                answered(last, seen, power);
            }
        }
        for (const lang::Block& other : plan_.tree.blocks) {
            for (const Rule& rule : other.rules) {
                if (&other != &block && !rule.is_as) {
                    put(rule.is_else ? last.span : top, !rule.is_else || last.is_else, plan_.part(rule.span), 1.0);
                }
            }
        }
        for (const Rule& rule : block.rules) {
            copied(rule);
            for_other_markers(rule, block);
            if (has_acted(rule.span)) {
                other_acts(rule, block.rules);
            }
        }
        if (acted_.should_halt && !acted_.patterns.empty()) {
            const std::string none(acted_.patterns.front().size(), '.');
            put(top, true, fmt::format("[{}] lasting 25 looks -> halt", none), 0.5);
        }
    }

    /// A rule that does what another of its habit does.
    void other_acts(const Rule& rule, const std::vector<Rule>& others) {
        if (rule.acts.empty()) {
            return;
        }
        const lang::Span own{rule.acts.front().span.from, rule.acts.back().span.to};
        const int line = plan_.source.line_of(own.from);
        for (const Rule& other : others) {
            if (!other.acts.empty() && list_.size() < plan_.most_changes()) {
                const std::string now = plan_.part({other.acts.front().span.from, other.acts.back().span.to});
                list_.push_back({fmt::format("line {}: {} becomes {}", line, plan_.part(own), now),
                                 plan_.with(own, now), CureKind::word, line, 1.0, 0, 1.0, true});
            }
        }
    }

    /// A rule that asks for one pattern, once more for each other that was seen.
    void copied(const Rule& rule) {
        std::vector<lang::Span> patterns;
        for (const lang::Token& token : plan_.tokens) {
            if (token.kind == TokenKind::pattern && token.span.from >= rule.span.from &&
                token.span.to <= rule.span.to) {
                patterns.push_back(token.span);
            }
        }
        if (patterns.size() != 1) {
            return;
        }
        for (const std::string& seen : acted_.patterns) {
            std::string text = plan_.part(rule.span);
            text.replace(patterns.front().from - rule.span.from, patterns.front().to - patterns.front().from,
                         fmt::format("[{}]", seen));
            put(rule.span, true, text, 0.5);
        }
    }

    std::vector<const lang::Token*> tokens_in(lang::Span span) const {
        std::vector<const lang::Token*> list;
        for (const lang::Token& token : plan_.tokens) {
            if (token.kind == TokenKind::word && token.span.from >= span.from && token.span.to <= span.to) {
                list.push_back(&token);
            }
        }
        return list;
    }

    /// A rule that asks for a marker, once more for each that no rule of its block asks for: as it is, and to the other
    /// side.
    void for_other_markers(const Rule& rule, const lang::Block& block) {
        const std::vector<lang::MarkerName>& markers = plan_.tree.markers;
        const std::vector<const lang::Token*> words = tokens_in(rule.span);
        const auto asks_for = [](const std::vector<const lang::Token*>& in, const std::string& name) {
            return std::any_of(in.begin(), in.end(), [&name](const lang::Token* word) { return word->text == name; });
        };
        const auto own = std::find_if(markers.begin(), markers.end(),
                                      [&](const lang::MarkerName& it) { return asks_for(words, it.name); });
        if (own == markers.end() || rule.is_as || rule.is_else) {
            return;
        }
        for (const lang::MarkerName& other : markers) {
            if (std::any_of(block.rules.begin(), block.rules.end(),
                            [&](const Rule& it) { return asks_for(tokens_in(it.span), other.name); })) {
                continue;
            }
            for (const bool other_side : {false, true}) {
                std::string text = plan_.part(rule.span);
                for (auto word = words.rbegin(); word != words.rend(); ++word) {
                    const std::string& was = (*word)->text;
                    const std::string now = was == own->name               ? other.name
                                            : other_side && was == "left"  ? "right"
                                            : other_side && was == "right" ? "left"
                                                                           : was;
                    text.replace((*word)->span.from - rule.span.from, was.size(), now);
                }
                put(rule.span, false, text, 0.5);
            }
        }
    }

    const PlanText& plan_;
    const Acted& acted_;
    std::vector<std::string> uncalled_;
    std::vector<std::string> items_;
    std::vector<std::string> powers_;
    std::vector<std::string> counts_;                       ///< of vars that are never set
    std::set<std::pair<std::size_t, std::string>> answers_; ///< put in, with the place
    std::vector<PlanChange> list_;
};

} // namespace

std::vector<PlanChange> added_lines(const PlanText& plan, const Acted& acted) { return Adder(plan, acted).all(); }

} // namespace vast_turn
