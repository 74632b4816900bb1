#include "trial/plan_changes.hpp"

#include <algorithm>
#include <cmath>
#include <iterator>
#include <set>
#include <utility>

#include <fmt/format.h>

#include "trial/plan_additions.hpp"
#include "trial/plan_numbers.hpp"
#include "trial/plan_words.hpp"

namespace vast_turn {

namespace {

using lang::Token;
using lang::TokenKind;

/// A rule or item as lines of the text, from 1.
struct Lines {
    int first = 0;
    int last = 0;
};

} // namespace

struct PlanChanger::Body {
    Body(const Plan& plan, Acted before) : acted(std::move(before)), plan_text(plan), numbers(plan_text) {
        for (std::size_t at = 0; at < text.size(); at = std::min(text.find('\n', at), text.size() - 1) + 1) {
            line_starts.push_back(at);
        }
        line_starts.push_back(text.size());
    }

    // --- places in the text ---

    int line_of(const Token& token) const { return plan_text.line_of(token); }
    std::string word(const Token& token) const { return plan_text.word(token); }
    Lines lines_of(lang::Span span) const {
        return {source.line_of(span.from), source.line_of(std::max(span.from + 1, span.to) - 1)};
    }
    std::size_t start_of(int line) const { return line_starts[static_cast<std::size_t>(line) - 1]; }
    std::size_t end_of(int line) const { return line_starts[static_cast<std::size_t>(line)]; }
    std::string text_of(Lines lines) const {
        std::string part = text.substr(start_of(lines.first), end_of(lines.last) - start_of(lines.first));
        return part.ends_with('\n') ? part : part + "\n";
    }

    void add(std::string what, std::string changed, CureKind kind, int line, double size = 0.0, bool unlikely = false) {
        if (changed != text && list.size() < plan_text.most_changes()) {
            list.push_back({std::move(what), std::move(changed), kind, line, size, 0, 1.0, unlikely});
        }
    }

    // --- order of rules ---

    void orders(const std::vector<lang::Rule>& rules) {
        constexpr std::size_t most_over = 24;
        for (std::size_t i = 0; i < rules.size(); ++i) {
            for (std::size_t k = 0; k < rules.size(); ++k) {
                const std::size_t over = i > k ? i - k : k - i;
                const bool is_full = list.size() >= plan_text.most_changes() / 2; // the rest is for other sorts
                if (is_full || over == 0 || over > most_over || rules[i].is_else || rules[k].is_else ||
                    (over == 1 && i < k)) {
                    continue; // one down is the next one up
                }
                move(lines_of(rules[i].span), lines_of(rules[k].span), i > k, static_cast<double>(over));
            }
        }
    }

    void move(Lines from, Lines to, bool up, double over) {
        if (from.first <= to.last && to.first <= from.last) {
            return; // of one line
        }
        std::string changed = text;
        const std::string moved = text_of(from);
        const std::size_t size = end_of(from.last) - start_of(from.first);
        if (up) {
            changed.erase(start_of(from.first), size);
            changed.insert(start_of(to.first), moved);
        } else {
            changed.insert(end_of(to.last), moved);
            changed.erase(start_of(from.first), size);
        }
        add(fmt::format("line {} moved {} line {}", from.first, up ? "above" : "below", up ? to.first : to.last),
            std::move(changed), CureKind::order, from.first, over);
    }

    // --- single rules ---

    void take_out(lang::Span span) {
        const Lines lines = lines_of(span);
        std::string without = text;
        without.erase(start_of(lines.first), end_of(lines.last) - start_of(lines.first));
        add(fmt::format("line {} taken out", lines.first), std::move(without), CureKind::taken_out, lines.first, 0.0,
            true);
    }

    /// Whether there is anything in it that a twin would have otherwise.
    bool has_sides(lang::Span span) const {
        return std::any_of(tokens.begin(), tokens.end(), [&](const Token& token) {
            return token.span.from >= span.from && token.span.to <= span.to &&
                   (token.kind == TokenKind::pattern ||
                    (token.kind == TokenKind::word && (token.text == "left" || token.text == "right" ||
                                                       token.text == "sensor" || token.text == "offset")));
        });
    }

    /// Whether a condition asks the same of both sides, so that a twin would ask for the same as the rule.
    bool is_even(lang::Span condition) const {
        std::multiset<std::string> words;
        std::multiset<std::string> mirrored;
        for (const Token& token : tokens) {
            if (token.span.from < condition.from || token.span.to > condition.to) {
                continue;
            }
            const bool is_side = token.kind == TokenKind::word && (token.text == "left" || token.text == "right");
            words.insert(token.text);
            mirrored.insert(token.kind == TokenKind::pattern ? std::string(token.text.rbegin(), token.text.rend())
                            : is_side                        ? (token.text == "left" ? "right" : "left")
                                                             : token.text);
            if (token.text == "sensor" || token.text == "raw" || token.text == "offset") {
                return false;
            }
        }
        return words == mirrored;
    }

    void mirror(const lang::Rule& rule) {
        if (rule.is_as || rule.is_else) {
            return;
        }
        for (std::size_t i = 0; i < tokens.size(); ++i) {
            const Token& token = tokens[i];
            if (token.span.from < rule.span.from || token.span.to > rule.span.to || token.text != "->" ||
                token.kind != TokenKind::symbol) {
                continue;
            }
            std::string changed = text;
            const int line = line_of(token);
            if (rule.is_mirrored) {
                const Token& before = tokens[i - 1];
                changed.erase(before.span.from, token.span.from - before.span.from);
                add(fmt::format("line {} without mirrored", line), std::move(changed), CureKind::mirrored, line);
            } else if (has_sides(rule.span) && !is_even(rule.condition.span)) {
                changed.insert(token.span.from, "mirrored ");
                add(fmt::format("line {} mirrored", line), std::move(changed), CureKind::mirrored, line);
            }
            return;
        }
    }

    void rules(const std::vector<lang::Rule>& all) {
        orders(all);
        for (const lang::Rule& rule : all) {
            take_out(rule.span);
            mirror(rule);
        }
    }

    void items(const std::vector<lang::Item>& all) {
        for (const lang::Item& item : all) {
            if (item.kind == lang::Item::Kind::act) {
                take_out(item.span);
            }
            items(item.body);
            for (const lang::Branch& branch : item.branches) {
                items(branch.items);
            }
        }
    }

    // --- words of a line ---

    void sides() {
        const auto other = [](const std::string& side) { return std::string(side == "left" ? "right" : "left"); };
        std::set<int> lines;
        for (const Token& token : tokens) {
            const std::string side = word(token);
            if (token.kind != TokenKind::word || (side != "left" && side != "right")) {
                continue;
            }
            std::string changed = text;
            changed.replace(token.span.from, side.size(), other(side));
            const int line = line_of(token);
            const bool alone = sides_in(line) == 1;
            add(fmt::format("line {}: {} becomes {}", line, side, other(side)), std::move(changed), CureKind::side,
                line, alone ? 0.0 : 1.0);
            if (!alone && lines.insert(line).second) {
                all_sides(line);
            }
        }
    }

    int sides_in(int line) const {
        return static_cast<int>(std::count_if(tokens.begin(), tokens.end(), [&](const Token& token) {
            return token.kind == TokenKind::word && line_of(token) == line &&
                   (token.text == "left" || token.text == "right");
        }));
    }

    void all_sides(int line) {
        std::string changed = text;
        std::string told;
        for (auto token = tokens.rbegin(); token != tokens.rend(); ++token) {
            const std::string side = word(*token);
            if (token->kind == TokenKind::word && line_of(*token) == line && (side == "left" || side == "right")) {
                const std::string now = side == "left" ? "right" : "left";
                changed.replace(token->span.from, side.size(), now);
                told = fmt::format("{} becomes {}{}{}", side, now, told.empty() ? "" : ", ", told);
            }
        }
        add(fmt::format("line {}: {}", line, told), std::move(changed), CureKind::side, line, 0.5);
    }

    /// wheels(a, b) with the two exchanged.
    void wheels() {
        for (std::size_t i = 0; i + 1 < tokens.size(); ++i) {
            if (tokens[i].text != "wheels" || tokens[i + 1].text != "(") {
                continue;
            }
            int depth = 0;
            std::size_t comma = 0;
            std::size_t end = 0;
            for (std::size_t k = i + 1; k < tokens.size() && end == 0; ++k) {
                depth += tokens[k].text == "(" ? 1 : tokens[k].text == ")" ? -1 : 0;
                comma = depth == 1 && tokens[k].text == "," ? k : comma;
                end = depth == 0 ? k : 0;
            }
            if (comma == 0 || end == 0) {
                continue;
            }
            const std::size_t from = tokens[i + 1].span.to;
            const std::string first = text.substr(from, tokens[comma].span.from - from);
            const std::size_t behind = text.find_first_not_of(' ', tokens[comma].span.to);
            const std::string second = text.substr(behind, tokens[end].span.from - behind);
            std::string changed = text;
            changed.replace(from, tokens[end].span.from - from, fmt::format("{}, {}", second, first));
            const int line = line_of(tokens[i]);
            add(fmt::format("line {}: wheels exchanged, wheels({}, {})", line, second, first), std::move(changed),
                CureKind::side, line);
        }
    }

    void markers() {
        std::vector<std::string> names;
        for (const lang::MarkerName& marker : tree.markers) {
            names.push_back(marker.name);
        }
        const int declared = tree.markers.empty() ? 0 : source.line_of(tree.markers.front().span.from);
        for (const Token& token : tokens) {
            if (token.kind != TokenKind::word || line_of(token) == declared ||
                std::find(names.begin(), names.end(), token.text) == names.end()) {
                continue;
            }
            for (const std::string& name : names) {
                std::string changed = text;
                changed.replace(token.span.from, token.text.size(), name);
                add(fmt::format("line {}: {} becomes {}", line_of(token), token.text, name), std::move(changed),
                    CureKind::marker, line_of(token));
            }
        }
        for (std::size_t a = 0; a < names.size(); ++a) {
            for (std::size_t b = a + 1; b < names.size(); ++b) {
                exchange_markers(names[a], names[b], declared);
            }
        }
    }

    void exchange_markers(const std::string& one, const std::string& other, int declared) {
        std::string changed = text;
        int first = 0;
        for (auto token = tokens.rbegin(); token != tokens.rend(); ++token) {
            if (token->kind == TokenKind::word && line_of(*token) != declared &&
                (token->text == one || token->text == other)) {
                changed.replace(token->span.from, token->text.size(), token->text == one ? other : one);
                first = line_of(*token);
            }
        }
        add(fmt::format("{} and {} exchanged", one, other), std::move(changed), CureKind::marker, first, 1.0);
    }

    void patterns() {
        for (const Token& token : tokens) {
            if (token.kind != TokenKind::pattern) {
                continue;
            }
            const auto becomes = [&](const std::string& now, double size) {
                std::string changed = text;
                changed.replace(token.span.from, token.span.to - token.span.from, "[" + now + "]");
                add(fmt::format("line {}: [{}] becomes [{}]", line_of(token), token.text, now), std::move(changed),
                    CureKind::pattern, line_of(token), size);
            };
            becomes({token.text.rbegin(), token.text.rend()}, 0.5);
            for (std::size_t i = 0; i < token.text.size(); ++i) {
                for (const char mark : {'#', '.', '?'}) {
                    std::string now = token.text;
                    if (now[i] != ' ' && now[i] != mark) {
                        now[i] = mark;
                        becomes(now, 1.0);
                    }
                }
            }
        }
    }

    void take(std::vector<PlanChange> more) { std::move(more.begin(), more.end(), std::back_inserter(list)); }

    std::vector<PlanChange> all() {
        list.clear();
        rules(tree.guards);
        for (const lang::Block& block : tree.blocks) {
            rules(block.guards);
            rules(block.rules);
            items(block.items);
        }
        sides();
        wheels();
        markers();
        patterns();
        take(changed_words(plan_text));
        take(numbers.all(acted.lines));
        take(added_lines(plan_text, acted));
        std::set<std::string> told; // two ways to one text
        std::erase_if(list, [&](const PlanChange& change) { return !told.insert(change.text).second; });
        return std::move(list);
    }

    Acted acted;
    PlanText plan_text;
    PlanNumbers numbers;
    const lang::Source& source = plan_text.source;
    const std::string& text = plan_text.text;
    const lang::PlanTree& tree = plan_text.tree;
    const std::vector<Token>& tokens = plan_text.tokens;
    std::vector<std::size_t> line_starts;
    std::vector<PlanChange> list;
};

PlanChanger::PlanChanger(const Plan& plan) : body_(std::make_unique<Body>(plan, Acted{})) {}

PlanChanger::PlanChanger(const Plan& plan, const Scene& scene, const TripResult& failed, const RunOptions& options)
    : body_(std::make_unique<Body>(plan, acted_before(plan, scene, failed, options))) {}

PlanChanger::~PlanChanger() = default;

std::vector<PlanChange> PlanChanger::all() const { return body_->all(); }

PlanChange PlanChanger::number(std::size_t knob, double factor, bool rounded) const {
    return body_->numbers.number(knob, factor, rounded);
}

} // namespace vast_turn
