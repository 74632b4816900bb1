#include "trial/plan_changes.hpp"

#include <algorithm>
#include <cmath>
#include <set>
#include <utility>

#include <fmt/format.h>

#include "plan/check/checked.hpp"
#include "plan/text/parser.hpp"
#include "plan/text/token.hpp"

namespace vast_turn {

namespace {

/// Changes of a text line by line and word by word.
class ChangeMaker {
public:
    ChangeMaker(const Plan& plan, const std::vector<RuleId>& rules)
        : plan_(plan), source_(plan.checked().source), text_(source_.text()), rules_(rules) {
        lang::Problems unheard(source_);
        tree_ = lang::parse(source_, unheard);
        tokens_ = lang::tokenize(source_, unheard);
    }

    std::vector<PlanChange> run() {
        std::set<int> lines; // twins share one
        for (const RuleId rule : rules_) {
            if (lines.insert(info(rule).line).second) {
                exchange_sides(info(rule).line);
                move_others_above(info(rule));
                take_out(info(rule).line);
            }
        }
        for (const lang::Token& token : tokens_) {
            const int line = source_.line_of(token.span.from);
            const std::string let = let_at(token.span.from);
            const bool asked = lines.count(line) > 0 || !let.empty();
            if (asked && token.kind == lang::TokenKind::number && std::abs(token.value) > 0.0) {
                change_number(token, line, let);
            }
        }
        return std::move(list_);
    }

private:
    struct LineSpan {
        std::size_t from;
        std::size_t to; ///< behind the line's end
    };

    LineSpan line_span(int line) const {
        std::size_t from = 0;
        for (int i = 1; i < line; ++i) {
            from = text_.find('\n', from) + 1;
        }
        const std::size_t end = text_.find('\n', from);
        return {from, end == std::string::npos ? text_.size() : end + 1};
    }

    const RuleInfo& info(RuleId rule) const { return plan_.rule(rule); }

    void move_others_above(const RuleInfo& deciding) {
        if (deciding.kind != RuleKind::rule) {
            return;
        }
        std::set<int> told;
        const LineSpan to = line_span(deciding.line);
        for (const RuleInfo& other : plan_.rules()) {
            // The rules that stand below in the same block of the text.
            if (other.kind != RuleKind::rule || other.written_in != deciding.written_in ||
                other.line <= deciding.line || other.condition == "else" || !told.insert(other.line).second) {
                continue;
            }
            const LineSpan from = line_span(other.line);
            std::string line = text_.substr(from.from, from.to - from.from);
            if (line.empty() || line.back() != '\n') {
                line += '\n';
            }
            std::string changed = text_;
            changed.erase(from.from, from.to - from.from);
            changed.insert(to.from, line);
            list_.push_back(
                {fmt::format("line {} moved above line {}", other.line, deciding.line), std::move(changed)});
        }
    }

    void take_out(int line) {
        const LineSpan span = line_span(line);
        std::string without = text_;
        without.erase(span.from, span.to - span.from);
        list_.push_back({fmt::format("line {} taken out", line), std::move(without)});
    }

    /// The one who wrote the rule for the other side from this one forgot to exchange left and right.
    void exchange_sides(int line) {
        std::string changed = text_;
        std::vector<std::string> told;
        for (auto token = tokens_.rbegin(); token != tokens_.rend(); ++token) {
            const std::string word = text_.substr(token->span.from, token->span.to - token->span.from);
            if (source_.line_of(token->span.from) == line && (word == "left" || word == "right")) {
                const std::string other = word == "left" ? "right" : "left";
                changed.replace(token->span.from, word.size(), other);
                told.push_back(fmt::format("{} becomes {}", word, other));
            }
        }
        if (!told.empty()) {
            std::reverse(told.begin(), told.end());
            std::string words = told.front();
            for (std::size_t i = 1; i < told.size(); ++i) {
                words += ", " + told[i];
            }
            list_.push_back({fmt::format("line {}: {}", line, words), std::move(changed)});
        }
    }

    /// The name of the let that a position lies in, when it does.
    std::string let_at(std::size_t at) const {
        for (const lang::Let& let : tree_.lets) {
            if (at >= let.value.span.from && at < let.value.span.to) {
                return let.name;
            }
        }
        return {};
    }

    void change_number(const lang::Token& token, int line, const std::string& let) {
        const std::string before(text_.substr(token.span.from, token.span.to - token.span.from));
        for (const double factor : {0.6, 0.8, 1.25, 1.6, -1.0}) {
            const bool whole = token.unit == "look" || token.unit == "looks";
            const double value = whole ? std::round(factor * token.value) : factor * token.value;
            if (whole && (value < 1.0 || std::abs(value - token.value) < 0.5)) {
                continue;
            }
            const bool minus = token.span.from > 0 && text_[token.span.from - 1] == '-';
            const std::string number =
                fmt::format("{:.4g}", std::abs(value)) +
                (token.unit.empty() ? "" : (before.find(' ') != std::string::npos ? " " : "") + token.unit);
            std::string changed = text_;
            std::size_t from = token.span.from;
            std::size_t size = token.span.to - token.span.from;
            std::string after = number;
            if (factor < 0.0 && minus) {
                --from;
                ++size;
            } else if (factor < 0.0) {
                after = "-" + number;
            }
            changed.replace(from, size, after);
            const std::string was = text_.substr(from, size);
            list_.push_back({fmt::format("line {}: {}{} becomes {}", line, let.empty() ? "" : let + " = ", was, after),
                             std::move(changed)});
        }
    }

    const Plan& plan_;
    const lang::Source& source_;
    std::string text_;
    std::vector<RuleId> rules_;
    lang::PlanTree tree_;
    std::vector<lang::Token> tokens_;
    std::vector<PlanChange> list_;
};

} // namespace

std::vector<PlanChange> changes_of(const Plan& plan, const std::vector<RuleId>& rules) {
    return ChangeMaker(plan, rules).run();
}

} // namespace vast_turn
