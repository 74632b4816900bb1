#pragma once

/// Conditions as formulas over the pattern and free variables, and whether they can hold together.

#include <algorithm>
#include <bitset>
#include <cstdint>
#include <optional>
#include <string>
#include <vector>

namespace vast_turn::vetting {

/// A set of patterns, by their bits.
using PatternSet = std::bitset<256>;

/// One of the values of a variable, as a bit each; at most 64.
using Values = std::uint64_t;

/// Something that a condition asks besides the pattern. A yes-or-no question has the values no (bit 0) and yes (bit 1);
/// a number has the regions between and at the limits that it is compared with.
struct Variable {
    std::string text;   ///< for people
    Values all = 0b11;  ///< that are possible
    bool loose = false; ///< it hangs together with other variables or the pattern in ways that are not known here
};

struct Formula {
    enum class Kind : std::uint8_t { patterns, choice, negation, both, either };
    Kind kind = Kind::patterns;
    PatternSet patterns;
    int variable = 0; ///< of choice: it holds when the variable has one of `values`
    Values values = 0;
    std::vector<Formula> parts;
};

Formula always();
Formula never();
Formula of_patterns(const PatternSet& patterns);
Formula of_choice(int variable, Values values);
Formula negation(Formula f);
Formula both(Formula a, Formula b);
Formula either(Formula a, Formula b);

/// Whether a formula asks any variable, and whether one that is loose.
bool asks_variables(const Formula& f);
bool is_loose(const Formula& f, const std::vector<Variable>& variables);

enum class Verdict : std::uint8_t {
    no,        ///< surely never
    yes,       ///< surely in some case
    undecided, ///< in some case, if that case can be; or too large to tell
};

/// Which values of the variables are still possible.
using Case = std::vector<Values>;

/// What one vetting may cost at most, counted in parts of formulas looked at, so that it is the same on every machine.
/// When it is spent, whatever is asked is undecided.
class Effort {
public:
    /// A new question begins: it may take its own share at most, so that a hard one leaves something for the others.
    void begin() { question_ = std::min(left_, share); }
    void spend(long steps = 1) {
        left_ -= steps;
        question_ -= steps;
    }
    /// Whether the question in hand may take no more; whether nothing more may be asked.
    bool question_spent() const { return question_ <= 0; }
    bool spent() const { return left_ <= 0; }
    /// Notes that a question was given up.
    void give_up() { given_up_ = true; }
    bool gave_up() const { return given_up_; }

private:
    static constexpr long share = 1'500'000;
    long left_ = 300'000'000; // some seconds
    long question_ = share;
    bool given_up_ = false;
};

/// Whether all of some formulas can hold at once for a pattern.
///
/// By trying the values of one variable after another, leaving off as soon as a formula is decided, formulas that hang
/// on one variable alone first (M. Davis, G. Logemann, D. Loveland: A machine program for theorem-proving, Comm. ACM 5,
/// 1962).
class Together {
public:
    Together(const std::vector<Variable>& variables, unsigned pattern, Effort& effort)
        : variables_(variables), pattern_(pattern), effort_(effort) {}

    /// `all` are the formulas that must hold. When they can, `found` says for which values.
    Verdict can_hold(const std::vector<const Formula*>& all, Case* found = nullptr);

private:
    enum class Truth : std::uint8_t { no, yes, open };
    Truth judge(const Formula& f, const Case& state) const;
    /// The first choice of a formula that is open, and how many there are, up to `most`.
    const Formula* open_choice(const Formula& f, const Case& state, int& count, int most) const;
    bool search(const std::vector<const Formula*>& all, Case& state);

    const std::vector<Variable>& variables_;
    unsigned pattern_;
    Effort& effort_;
};

} // namespace vast_turn::vetting
