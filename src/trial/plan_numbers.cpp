#include "trial/plan_numbers.hpp"

#include <algorithm>
#include <cmath>
#include <iterator>
#include <tuple>
#include <utility>

#include <fmt/format.h>

namespace vast_turn {

using lang::Token;
using lang::TokenKind;

namespace {

/// "line 9", "lines 9 and 10", "lines 9, 10 and 11".
std::string lines_text(std::vector<int> lines) {
    lines.erase(std::unique(lines.begin(), lines.end()), lines.end());
    if (lines.size() == 1) {
        return fmt::format("line {}", lines.front());
    }
    const int last = lines.back();
    lines.pop_back();
    return fmt::format("lines {} and {}", fmt::join(lines, ", "), last);
}

bool is_compared(const std::string& sign) { return lang::is_comparison(lang::operator_of(sign)); }

} // namespace

/// What a number is for is told by the words before it on its line.
void PlanNumbers::find_knobs() {
    enum class Part { condition, acts, limit };
    Part part = Part::condition;
    std::string let;
    bool is_first = true; // of its line
    bool in_head = false; // plan, sensors, markers, weights
    for (std::size_t i = 0; i < plan_.tokens.size(); ++i) {
        const Token& token = plan_.tokens[i];
        if (token.kind == TokenKind::line_end) {
            is_first = true;
            continue;
        }
        if (is_first) {
            const std::string& begins = token.text;
            let = (begins == "let" || begins == "var") && i + 1 < plan_.tokens.size() ? plan_.tokens[i + 1].text : "";
            in_head = begins == "plan" || begins == "sensors" || begins == "markers" || begins == "weights";
            part = stands_in_errand(token.span.from) && begins != "guard" && begins != "if" && begins != "loop"
                       ? Part::acts
                       : Part::condition;
            part = begins == "loop" ? Part::limit : part;
            is_first = false;
        }
        part = token.text == "->"     ? Part::acts
               : token.text == "over" ? Part::limit
               : token.text == "till" ? Part::condition
                                      : part;
        const bool lasting = i > 0 && plan_.tokens[i - 1].text == "lasting";
        if (token.kind == TokenKind::number && !in_head &&
            !(i > 1 && (plan_.tokens[i - 2].text == "sensor" || plan_.tokens[i - 2].text == "raw"))) {
            const CureKind kind = lasting                   ? CureKind::lasting
                                  : part == Part::limit     ? CureKind::limit
                                  : part == Part::condition ? CureKind::threshold
                                                            : CureKind::power;
            knobs_.push_back({i, let.empty() ? kind : kind_of_let(let), let});
        }
    }
}

std::string PlanNumbers::unit_of(std::size_t token) const {
    const std::string& own = plan_.tokens[token].unit;
    const bool looks = own.empty() && token + 1 < plan_.tokens.size() &&
                       (plan_.tokens[token + 1].text == "look" || plan_.tokens[token + 1].text == "looks");
    return looks ? plan_.tokens[token + 1].text : own;
}

std::size_t PlanNumbers::block_of(std::size_t at) const {
    const std::vector<lang::Block>& blocks = plan_.tree.blocks;
    std::size_t block = blocks.size();
    for (std::size_t i = 0; i < blocks.size() && blocks[i].name_span.from <= at; ++i) {
        block = i;
    }
    return block;
}

void PlanNumbers::join_copies() {
    std::vector<Knob> copied;
    std::vector<bool> seen(knobs_.size(), false);
    for (std::size_t i = 0; i < knobs_.size(); ++i) {
        const CureKind kind = knobs_[i].kind;
        const bool is_rule = kind == CureKind::lasting || kind == CureKind::limit || kind == CureKind::threshold;
        if (seen[i] || !is_rule || !knobs_[i].let.empty() || knobs_[i].token == 0) {
            continue;
        }
        const auto reads = [this](std::size_t knob) {
            const std::size_t at = knobs_[knob].token;
            return std::tuple{block_of(plan_.tokens[at].span.from), plan_.tokens[at].value, unit_of(at),
                              plan_.tokens[at - 1].text};
        };
        Knob all = knobs_[i];
        for (std::size_t k = i + 1; k < knobs_.size(); ++k) {
            if (knobs_[k].kind == kind && knobs_[k].let.empty() && reads(k) == reads(i)) {
                seen[k] = true;
                all.also.push_back(knobs_[k].token);
            }
        }
        if (!all.also.empty()) {
            copied.push_back(std::move(all));
        }
    }
    std::move(copied.begin(), copied.end(), std::back_inserter(knobs_));
}

bool PlanNumbers::stands_in_errand(std::size_t at) const {
    return std::any_of(plan_.tree.blocks.begin(), plan_.tree.blocks.end(), [&](const lang::Block& block) {
        return block.is_errand && !block.items.empty() && at >= block.items.front().span.from &&
               at <= block.items.back().span.to;
    });
}

/// By where its name is used first.
CureKind PlanNumbers::kind_of_let(const std::string& name) const {
    for (std::size_t i = 1; i < plan_.tokens.size(); ++i) {
        const Token& token = plan_.tokens[i];
        if (token.kind != TokenKind::word || token.text != name || plan_.tokens[i - 1].text == "let" ||
            plan_.tokens[i - 1].text == "var") {
            continue;
        }
        const std::string& before = plan_.tokens[i - 1].text;
        if (before == "lasting") {
            return CureKind::lasting;
        }
        if (before == "over") {
            return CureKind::limit;
        }
        if (before == "<" || before == ">" || before == "<=" || before == ">=") {
            return CureKind::threshold;
        }
    }
    return CureKind::power;
}

namespace {

/// To two digits that count, three behind a leading one: 75.82 is 76, 0.1309 is 0.131.
double as_people_write(double value) {
    if (value <= 0.0) {
        return value;
    }
    const double size = std::pow(10.0, std::floor(std::log10(value)));
    const double step = value < 2.0 * size ? 0.01 * size : 0.1 * size;
    return std::round(value / step) * step;
}

} // namespace

PlanChange PlanNumbers::number(std::size_t knob, double factor, bool rounded) const {
    const Knob& it = knobs_[knob - 1];
    const Token& token = plan_.tokens[it.token];
    const std::string unit = unit_of(it.token);
    const bool whole = unit == "look" || unit == "looks";
    const double value = whole ? std::max(1.0, std::round(std::abs(factor * token.value))) : factor * token.value;
    const bool minus = token.span.from > 0 && plan_.text[token.span.from - 1] == '-';
    const std::string before = plan_.word(token);
    const std::string size =
        (rounded ? fmt::format("{:.6g}", as_people_write(std::abs(value))) : fmt::format("{:.4g}", std::abs(value))) +
        (token.unit.empty() ? "" : (before.find(' ') != std::string::npos ? " " : "") + token.unit);
    std::size_t from = token.span.from;
    std::string now = size;
    if (factor < 0.0 && minus) {
        --from; // minus and minus
    } else if (factor < 0.0) {
        now = "-" + size;
    }
    std::string changed = plan_.text;
    const std::string was = plan_.text.substr(from, token.span.to - from);
    std::vector<int> lines{plan_.line_of(token)};
    for (auto also = it.also.rbegin(); also != it.also.rend(); ++also) {
        const Token& copy = plan_.tokens[*also];
        changed.replace(copy.span.from, copy.span.to - copy.span.from, now);
        lines.insert(lines.begin() + 1, plan_.line_of(copy));
    }
    changed.replace(from, was.size(), now);
    const CureKind kind = factor < 0.0 ? CureKind::side : it.kind;
    const int line = lines.front();
    return {fmt::format("{}: {}{} becomes {}", lines_text(lines), it.let.empty() ? "" : it.let + " = ", was, now),
            std::move(changed),
            kind,
            line,
            std::abs(std::log(std::abs(factor))) + (factor < 0.0 ? 1.0 : 0.0),
            knob,
            factor};
}

/// Whether it is compared with what is always whole: how many sensors see line, a var that begins as a whole number.
bool PlanNumbers::counts(std::size_t knob) const {
    const std::size_t at = knobs_[knob - 1].token;
    if (at < 2 || !plan_.tokens[at].unit.empty()) {
        return false;
    }
    const std::string& sign = plan_.tokens[at - 1].text;
    const std::string& with = plan_.tokens[at - 2].text;
    return is_compared(sign) &&
           (with == "seen" || std::any_of(plan_.tree.vars.begin(), plan_.tree.vars.end(), [&](const lang::Let& var) {
                const auto* begins = var.value.as<lang::Constant>();
                return var.name == with && begins != nullptr && begins->value == std::round(begins->value);
            }));
}

/// What counts is off by one rather than by a factor.
void PlanNumbers::add_counts(std::size_t knob, std::vector<PlanChange>& list) const {
    const Token& token = plan_.tokens[knobs_[knob - 1].token];
    constexpr double most = 12.0;
    const std::string before = knobs_[knob - 1].token == 0 ? "" : plan_.tokens[knobs_[knob - 1].token - 1].text;
    const bool may_count = is_compared(before) || before == "+" || before == "-" || before == "loop" || before == "=";
    if (!may_count || !token.unit.empty() || token.value > most) {
        return;
    }
    const int line = plan_.line_of(token);
    const std::string& let = knobs_[knob - 1].let;
    const int counted = static_cast<int>(std::round(token.value));
    const int from = counts(knob) ? 0 : std::max(0, counted - 2);
    const int to = counts(knob) ? static_cast<int>(most) : counted + 2;
    // People count from none, by ones.
    const bool is_step = (before == "+" || before == "-") && counted == 1;
    const bool is_first = !let.empty() && counted == 0;
    for (int value = from; value <= to; ++value) { // between two counts there is nothing to bisect: no knob
        if (value != token.value) {
            const std::string now = fmt::to_string(value);
            list.push_back(
                {fmt::format("line {}: {}{} becomes {}", line, let.empty() ? "" : let + " = ", plan_.word(token), now),
                 plan_.with(token.span, now), CureKind::count, line, std::abs(value - token.value) - 1.0, 0, 1.0,
                 is_step || is_first});
        }
    }
}

namespace {

/// A tenth and ten times: a digit too many, a digit left out.
const std::vector<double> coarse_factors{0.1, 0.25, 0.4, 0.6, 0.8, 0.9, 1.1, 1.25, 1.6, 2.2, 3.2, 4.5, 10.0};

std::vector<double> fine_factors() {
    constexpr int steps = 20; // each way
    std::vector<double> factors;
    for (int i = 1; i <= steps; ++i) {
        factors.push_back(std::pow(10.0, static_cast<double>(i) / steps));
        factors.push_back(std::pow(10.0, -static_cast<double>(i) / steps));
    }
    return factors;
}

} // namespace

std::vector<PlanChange> PlanNumbers::all(const std::set<int>& acted) const {
    std::vector<PlanChange> list;
    for (std::size_t knob = 1; knob <= knobs_.size() && list.size() < plan_.most_changes(); ++knob) {
        const CureKind kind = knobs_[knob - 1].kind;
        const bool finely = (kind == CureKind::limit || kind == CureKind::threshold) &&
                            acted.contains(plan_.line_of(plan_.tokens[knobs_[knob - 1].token]));
        for (const double factor : finely ? fine_factors() : coarse_factors) {
            PlanChange change = number(knob, factor);
            if (change.text != plan_.text && !counts(knob)) {
                list.push_back(std::move(change));
            }
        }
        if (knobs_[knob - 1].also.empty()) {
            add_counts(knob, list);
        }
        if (kind == CureKind::power && plan_.tokens[knobs_[knob - 1].token].value > 0.0 &&
            plan_.tokens[knobs_[knob - 1].token].unit.empty()) {
            list.push_back(number(knob, -1.0)); // a way or a time of less than nothing means nothing
        }
    }
    return list;
}

} // namespace vast_turn
