#include "trial/plan_words.hpp"

#include <algorithm>
#include <array>
#include <string>
#include <utility>

#include <fmt/format.h>

namespace vast_turn {

namespace {

using lang::Token;
using lang::TokenKind;

class WordChanger {
public:
    explicit WordChanger(const PlanText& plan) : plan_(plan) {
        for (const lang::Block& block : plan.tree.blocks) {
            blocks_.push_back(block.name);
        }
        for (const lang::Let& let : plan.tree.lets) {
            lets_.push_back(let.name);
        }
        for (const lang::Let& var : plan.tree.vars) {
            vars_.push_back(var.name);
            if (var.value.is<lang::SideWord>()) {
                sides_.push_back(var.name);
            }
        }
    }

    std::vector<PlanChange> all() {
        for (std::size_t i = 0; i < plan_.tokens.size(); ++i) {
            joining(i);
            comparison(i);
            sensor(i);
            name(i);
            sign(i);
            news(i);
        }
        for (const lang::Rule& guard : plan_.tree.guards) {
            more_news(guard);
        }
        for (const lang::Block& block : plan_.tree.blocks) {
            for (const auto* rules : {&block.guards, &block.rules}) {
                for (const lang::Rule& rule : *rules) {
                    more_news(rule);
                }
            }
        }
        return std::move(list_);
    }

private:
    void becomes(const Token& token, const std::string& now, bool unlikely = false, const std::string& before = {},
                 const std::string& behind = {}) {
        const int line = plan_.line_of(token);
        add({fmt::format("line {}: {}{}{} becomes {}{}{}", line, before, token.text, behind, before, now, behind),
             plan_.with(token.span, now), CureKind::word, line, 0.0, 0, 1.0, unlikely});
    }

    void add(PlanChange change) {
        if (list_.size() < plan_.most_changes()) {
            list_.push_back(std::move(change));
        }
    }

    void joining(std::size_t i) {
        const Token& token = plan_.tokens[i];
        if (token.kind == TokenKind::word && (token.text == "and" || token.text == "or")) {
            becomes(token, token.text == "and" ? "or" : "and");
        }
    }

    void comparison(std::size_t i) {
        const Token& token = plan_.tokens[i];
        if (token.kind != TokenKind::symbol) {
            return;
        }
        static constexpr std::array<std::pair<const char*, const char*>, 6> turned{
            {{"<", ">"}, {">", "<"}, {"<=", ">="}, {">=", "<="}, {"==", "!="}, {"!=", "=="}}};
        static constexpr std::array<std::pair<const char*, const char*>, 4> next{
            {{"<", "<="}, {"<=", "<"}, {">", ">="}, {">=", ">"}}}; // one too few or too many of what is counted
        for (const auto& [sign, other] : next) {
            if (token.text == sign) {
                becomes(token, other);
            }
        }
        for (const auto& [sign, other] : turned) {
            if (token.text == sign) {
                becomes(token, other, token.text == "==");
            }
        }
    }

    /// sensor(1) and raw(1) of every other sensor.
    void sensor(std::size_t i) {
        const Token& token = plan_.tokens[i];
        if (token.kind != TokenKind::number || i < 2 || !plan_.follows(i, "(") ||
            (plan_.tokens[i - 2].text != "sensor" && plan_.tokens[i - 2].text != "raw")) {
            return;
        }
        for (int k = 1; k <= plan_.tree.sensors; ++k) {
            if (k != static_cast<int>(token.value)) {
                becomes(token, fmt::to_string(k), false, plan_.tokens[i - 2].text + "(", ")");
            }
        }
    }

    /// What is done or become, and what a let or var stands for.
    void name(std::size_t i) {
        const Token& token = plan_.tokens[i];
        if (token.kind != TokenKind::word) {
            return;
        }
        if (plan_.follows(i, "do") || plan_.follows(i, "become") || plan_.follows(i, "as")) {
            others_of(token, blocks_, false);
            of_other_needs(i);
        } else if (!plan_.follows(i, "let") && !plan_.follows(i, "var")) {
            others_of(token, lets_, true);
            others_of(token, vars_, true);
        }
    }

    void others_of(const Token& token, const std::vector<std::string>& names, bool unlikely) {
        if (std::find(names.begin(), names.end(), token.text) == names.end()) {
            return;
        }
        for (const std::string& other : names) {
            if (other != token.text) {
                becomes(token, other, unlikely);
            }
        }
    }

    /// A block that wants another number of values than the one that is called, none or a side.
    void of_other_needs(std::size_t i) {
        const Token& token = plan_.tokens[i];
        const std::vector<lang::Block>& all = plan_.tree.blocks;
        const auto named = [&](const lang::Block& block) { return block.name == token.text; };
        const auto called = std::find_if(all.begin(), all.end(), named);
        if (called == all.end()) {
            return;
        }
        lang::Span span = token.span;
        if (!called->params.empty() && i + 1 < plan_.tokens.size() && plan_.tokens[i + 1].text == "(") {
            std::size_t k = i + 1;
            for (int depth = 0; k < plan_.tokens.size(); ++k) {
                depth += plan_.tokens[k].text == "(" ? 1 : plan_.tokens[k].text == ")" ? -1 : 0;
                if (depth == 0) {
                    break;
                }
            }
            span.to = plan_.tokens[std::min(k, plan_.tokens.size() - 1)].span.to;
        }
        const int line = plan_.line_of(token);
        for (const lang::Block& other : all) {
            if (other.params.size() == called->params.size() || other.params.size() > 1) {
                continue;
            }
            const std::vector<std::string> values =
                other.params.empty() ? std::vector<std::string>{""} : std::vector<std::string>{"(left)", "(right)"};
            for (const std::string& value : values) {
                add({fmt::format("line {}: {} becomes {}{}", line, plan_.part(span), other.name, value),
                     plan_.with(span, other.name + value), CureKind::word, line, 0.0, 0, 1.0, true});
            }
        }
    }

    /// A minus less, before whatever it stands; one more before a side that has a name.
    void sign(std::size_t i) {
        const Token& token = plan_.tokens[i];
        const int line = plan_.line_of(token);
        const bool begins = plan_.follows(i, "(") || plan_.follows(i, ",") || plan_.follows(i, "*") ||
                            plan_.follows(i, "loop") || plan_.follows(i, "over") || plan_.follows(i, "lasting") ||
                            plan_.follows(i, "=") ||
                            (i > 0 && lang::is_comparison(lang::operator_of(plan_.tokens[i - 1].text)));
        if (!begins) {
            return;
        }
        if (token.kind == TokenKind::symbol && token.text == "-") {
            const Token& behind = plan_.tokens[i + 1];
            add({fmt::format("line {}: -{} becomes {}", line, plan_.word(behind), plan_.word(behind)),
                 plan_.with(token.span, ""), CureKind::side, line, 0.0, 0, 1.0});
        } else if (token.kind == TokenKind::word && is_side(token.text)) {
            add({fmt::format("line {}: {} becomes -{}", line, token.text, token.text),
                 plan_.with(token.span, "-" + token.text), CureKind::side, line, 0.0, 0, 1.0});
        }
    }

    /// Whether a name may stand for a side: as such, as a var, as what a block is given.
    bool is_side(const std::string& name) const {
        const auto has = [&](const lang::Param& param) { return param.name == name; };
        return name == "last_side" || std::find(sides_.begin(), sides_.end(), name) != sides_.end() ||
               std::any_of(plan_.tree.blocks.begin(), plan_.tree.blocks.end(), [&](const lang::Block& block) {
                   return std::any_of(block.params.begin(), block.params.end(), has);
               });
    }

    void news(std::size_t i) {
        const Token& token = plan_.tokens[i];
        if (token.kind == TokenKind::word && token.text == "fresh") {
            const int line = plan_.line_of(token);
            add({fmt::format("line {} without fresh", line),
                 plan_.with({token.span.from, plan_.tokens[i + 1].span.from}, ""), CureKind::word, line, 0.5, 0, 1.0});
        } else if (token.kind == TokenKind::word && token.text == "till") {
            put_fresh(plan_.line_of(token), plan_.tokens[i + 1].span.from, 1.0);
        }
    }

    void more_news(const lang::Rule& rule) {
        if (!rule.is_else && !rule.is_as && !rule.condition.is<lang::Fresh>()) {
            const bool is_word = rule.condition.is<lang::PatternMarks>() || rule.condition.is<lang::Name>();
            const lang::Span span = rule.condition.span;
            const std::string was = plan_.part(span);
            const std::string now = is_word ? "fresh " + was : "fresh (" + was + ")";
            const int line = plan_.source.line_of(span.from);
            add({fmt::format("line {}: {} becomes {}", line, was, now), plan_.with(span, now), CureKind::word, line,
                 0.5, 0, 1.0, true});
        }
    }

    void put_fresh(int line, std::size_t at, double size) {
        add({fmt::format("line {}: till becomes till fresh", line), plan_.with({at, at}, "fresh "), CureKind::word,
             line, size, 0, 1.0, true});
    }

    const PlanText& plan_;
    std::vector<std::string> blocks_;
    std::vector<std::string> lets_;
    std::vector<std::string> vars_;
    std::vector<std::string> sides_; ///< vars that hold one
    std::vector<PlanChange> list_;
};

} // namespace

std::vector<PlanChange> changed_words(const PlanText& plan) { return WordChanger(plan).all(); }

} // namespace vast_turn
