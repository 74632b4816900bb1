#include "vet/reader.hpp"

#include <algorithm>
#include <bit>
#include <cmath>

#include <fmt/format.h>

#include "plan/check/check_types.hpp"

namespace vast_turn::vetting {

namespace {

using lang::Expr;
using lang::Op;

constexpr Values no_value = 0b01;
constexpr Values yes_value = 0b10;
constexpr std::size_t most_limits = 31; // of one quantity: 63 regions

/// The comparison with its two sides exchanged.
Op turned_round(Op op) {
    switch (op) {
    case Op::less: return Op::greater;
    case Op::less_equal: return Op::greater_equal;
    case Op::greater: return Op::less;
    case Op::greater_equal: return Op::less_equal;
    default: return op;
    }
}

bool holds(double value, Op op, double limit) {
    switch (op) {
    case Op::less: return value < limit;
    case Op::less_equal: return value <= limit;
    case Op::greater: return value > limit;
    case Op::greater_equal: return value >= limit;
    case Op::equal: return !(value < limit) && !(value > limit);
    default: return value < limit || value > limit;
    }
}

/// Between which bounds an input lies, and whether it is whole.
struct Bounds {
    double least = -HUGE_VAL;
    double most = HUGE_VAL;
    bool whole = false;
};

Bounds bounds_of(const std::string& quantity, bool own_weights) {
    const auto begins = [&](const char* word) { return quantity.rfind(word, 0) == 0; };
    if (quantity == "looks") {
        return {0.0, HUGE_VAL, true};
    }
    if (quantity == "elapsed" || quantity == "travelled" || quantity == "clock" || quantity == "range" ||
        begins("turned") || begins("rolled(") || begins("raw(")) {
        return {0.0, HUGE_VAL, false};
    }
    if (begins("sensor(")) {
        return {0.0, 1.0, false};
    }
    if (quantity == "offset" && !own_weights) {
        return {-1.0, 1.0, false};
    }
    return {};
}

/// What the pattern says something about too.
bool hangs_on_pattern(const std::string& quantity) {
    return quantity.find("sensor(") != std::string::npos || quantity.find("raw(") != std::string::npos ||
           quantity.find("offset") != std::string::npos;
}

} // namespace

PatternSet ConditionReader::all_patterns() const {
    PatternSet set;
    for (std::size_t bits = 0; bits < (std::size_t{1} << static_cast<unsigned>(plan_.sensors)); ++bits) {
        set.set(bits);
    }
    return set;
}

ConditionReader::Comparison ConditionReader::comparison_of(const Expr& e) const {
    const Expr& a = e.args[0];
    const Expr& b = e.args[1];
    const auto plain = [](const Expr& q) {
        return q.is<lang::Input>() || q.is<lang::Variable>() || q.is<lang::Argument>() || is_reading(q) ||
               is_call(q, Op::rolled);
    };
    const bool is_side = a.type.base == lang::Base::side || b.type.base == lang::Base::side;
    const Op op = op_of(e);
    if (const auto limit = written_value(b)) {
        return {lang::to_text(a), *limit, op, plain(a), is_side};
    }
    if (const auto limit = written_value(a)) {
        return {lang::to_text(b), *limit, turned_round(op), plain(b), is_side};
    }
    return {lang::to_text(a) + " - (" + lang::to_text(b) + ")", 0.0, op, false, is_side};
}

void ConditionReader::announce(const Expr& e) {
    if (lang::is_comparison(op_of(e)) && e.args[0].type.base != lang::Base::truth) {
        const Comparison c = comparison_of(e);
        std::vector<double>& limits = quantities_[c.quantity].limits;
        const auto at = std::lower_bound(limits.begin(), limits.end(), c.limit);
        if ((at == limits.end() || *at > c.limit) && limits.size() < most_limits) {
            limits.insert(at, c.limit);
        }
        return;
    }
    for (const Expr& arg : e.args) {
        announce(arg);
    }
}

int ConditionReader::question(const std::string& text, bool loose) {
    const auto known = questions_.find(text);
    if (known != questions_.end()) {
        return known->second;
    }
    const int number = static_cast<int>(variables_.size());
    variables_.push_back({text, no_value | yes_value, loose});
    questions_.emplace(text, number);
    return number;
}

/// Region 2i lies below limit i, region 2i+1 is limit i itself, the last lies above them all.
int ConditionReader::regions_of(const Comparison& c) {
    Quantity& quantity = quantities_[c.quantity];
    if (quantity.variable >= 0) {
        return quantity.variable;
    }
    quantity.variable = static_cast<int>(variables_.size());
    const std::vector<double>& limits = quantity.limits;
    const Bounds bounds = bounds_of(c.quantity, !plan_.weights.empty());
    Values all = 0;
    for (std::size_t i = 0; i <= limits.size(); ++i) {
        const double from = i == 0 ? -HUGE_VAL : limits[i - 1];
        const double to = i == limits.size() ? HUGE_VAL : limits[i];
        const double low = std::max(from, bounds.least);
        const double high = std::min(to, bounds.most);
        const double first_whole = std::max(std::floor(from) + 1.0, bounds.least);
        const bool open = low < high && (!bounds.whole || first_whole < to);
        all |= open ? Values{1} << (2 * i) : 0;
        if (i < limits.size()) {
            const bool there = limits[i] >= bounds.least && limits[i] <= bounds.most &&
                               (!bounds.whole || std::floor(limits[i]) >= limits[i]);
            all |= there ? Values{1} << (2 * i + 1) : 0;
        }
    }
    if (c.is_side) { // only left (+1) and right (-1)
        all = 0;
        for (std::size_t i = 0; i <= limits.size(); ++i) {
            const double from = i == 0 ? -HUGE_VAL : limits[i - 1];
            const double to = i == limits.size() ? HUGE_VAL : limits[i];
            const bool inside = (from < 1.0 && 1.0 < to) || (from < -1.0 && -1.0 < to);
            all |= inside ? Values{1} << (2 * i) : 0;
            const bool at = i < limits.size() && std::abs(std::abs(limits[i]) - 1.0) <= 0.0;
            all |= at ? Values{1} << (2 * i + 1) : 0;
        }
    }
    variables_.push_back({c.quantity, all, !c.plain || hangs_on_pattern(c.quantity)});
    return quantity.variable;
}

PatternSet ConditionReader::patterns_seen(Op op, double limit) const {
    PatternSet set;
    const PatternSet all = all_patterns();
    for (std::size_t bits = 0; bits < all.size(); ++bits) {
        set.set(bits, all.test(bits) && holds(std::popcount(bits), op, limit));
    }
    return set;
}

Formula ConditionReader::compare(const Expr& e) {
    if (e.args[0].type.base == lang::Base::truth) {
        Formula a = read(e.args[0]);
        Formula b = read(e.args[1]);
        Formula same = either(both(a, b), both(negation(a), negation(b)));
        return is_binary(e, Op::equal) ? same : negation(std::move(same));
    }
    const auto left = written_value(e.args[0]);
    const auto right = written_value(e.args[1]);
    if (left && right) {
        return holds(*left, op_of(e), *right) ? always() : never();
    }
    const Comparison c = comparison_of(e);
    if (c.quantity == "seen") {
        return of_patterns(patterns_seen(c.op, c.limit));
    }
    const int variable = regions_of(c);
    const std::vector<double>& limits = quantities_[c.quantity].limits;
    const auto at = std::find_if(limits.begin(), limits.end(), [&](double l) { return !(l < c.limit); });
    if (at == limits.end() || *at > c.limit) { // more limits than there is room for
        return of_choice(question(fmt::format("{} {} {}", c.quantity, lang::sign_of(c.op), c.limit), true), yes_value);
    }
    const auto i = static_cast<std::size_t>(at - limits.begin());
    const Values equal = Values{1} << (2 * i + 1);
    const Values below = equal - 1;
    const Values above = ~(below | equal);
    const auto values = [&]() -> Values {
        switch (c.op) {
        case Op::less: return below;
        case Op::less_equal: return below | equal;
        case Op::greater: return above;
        case Op::greater_equal: return above | equal;
        case Op::equal: return equal;
        default: return ~equal;
        }
    };
    return of_choice(variable, values());
}

Formula ConditionReader::lasting(const Expr& e) {
    Formula what = read(e.args[0]);
    const Expr& limit = e.args[1];
    const double least = written_value(limit).value_or(0.0);
    if (least <= 0.0 || (limit.type.unit.looks != 0 && least <= 1.0)) {
        return what;
    }
    const std::string text = lang::to_text(e.args[0]) + " lasting " + lang::to_text(limit);
    Formula whole = both(what, of_choice(question(text), yes_value));
    stays_.push_back({std::move(what), limit.type.unit, least, whole});
    return whole;
}

Formula ConditionReader::read(const Expr& e) {
    if (const auto* truth = e.as<lang::Truth>()) {
        return truth->holds ? always() : never();
    }
    if (const auto* marks = e.as<lang::PatternMarks>()) {
        PatternSet set;
        const PatternSet all = all_patterns();
        for (std::size_t bits = 0; bits < all.size(); ++bits) {
            set.set(bits, all.test(bits) && (bits & marks->mask) == marks->bits);
        }
        return of_patterns(set);
    }
    if (e.is<lang::Lasting>()) {
        return lasting(e);
    }
    if (e.is<lang::Fresh>()) { // each has a memory of its own
        return both(read(e.args[0]),
                    of_choice(question(fmt::format("{} (news {})", lang::to_text(e), ++fresh_count_)), yes_value));
    }
    if (e.is<lang::Unary>()) {
        return negation(read(e.args[0]));
    }
    if (!e.is<lang::Binary>()) {
        const int variable = question(lang::to_text(e));
        const auto* marker = e.as<lang::MarkerSeen>();
        if (marker != nullptr && !marker->at.empty()) {
            markers_at_.emplace_back(variable, question(marker->text));
        }
        return of_choice(variable, yes_value);
    }
    if (is_binary(e, Op::both)) {
        return both(read(e.args[0]), read(e.args[1]));
    }
    if (is_binary(e, Op::either)) {
        return either(read(e.args[0]), read(e.args[1]));
    }
    return compare(e);
}

std::vector<Formula> ConditionReader::relations(Effort& effort) const {
    std::vector<Formula> list;
    for (const auto& [at, any] : markers_at_) {
        list.push_back(either(of_choice(at, no_value), of_choice(any, yes_value)));
    }
    const PatternSet all = all_patterns();
    for (const Stay& longer : stays_) {
        for (const Stay& other : stays_) {
            if (&longer == &other || longer.unit != other.unit || longer.limit < other.limit) {
                continue;
            }
            const Formula against = negation(other.what);
            bool follows = true; // what the longer asks is never there without what the other asks
            for (std::size_t bits = 0; bits < all.size() && follows; ++bits) {
                follows =
                    !all.test(bits) ||
                    Together(variables_, static_cast<unsigned>(bits), effort).can_hold({&longer.what, &against}) ==
                        Verdict::no;
            }
            if (follows) {
                list.push_back(either(negation(longer.whole), other.whole));
            }
        }
    }
    return list;
}

} // namespace vast_turn::vetting
