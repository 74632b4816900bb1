#pragma once

/// A question to a plan that is being carried out: a condition, or a value, of its language.

#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "vast_turn/base/problem.hpp"
#include "vast_turn/plan/mind.hpp"

namespace vast_turn {

namespace lang {
struct ProbeMaker; ///< makes probes, in src/plan
} // namespace lang

/// Watches a plan from outside, look by look, and changes nothing of it. It knows the plan's lets, vars, markers and
/// all that a guard of the whole plan may ask; `travelled`, `elapsed` and the like count from where the plan began.
/// What lasts or is fresh is counted in the looks that the probe was asked.
///
///     ProbeResult made = make_probe(plan, "travelled > 800mm and [.#.] lasting 3 looks");
///     mind(look, answer);
///     if (made.probe->holds(mind, look)) { ... }
class Probe {
public:
    /// Goes on from where the original stands.
    Probe(const Probe& other);
    Probe(Probe&& other) noexcept;
    Probe& operator=(const Probe& other);
    Probe& operator=(Probe&& other) noexcept;
    ~Probe();

    /// In the one canonical spelling.
    const std::string& text() const;
    /// Whether it is a condition: true or false.
    bool is_condition() const;

    /// Of a number: "mm", "mm/ms"; empty for plain ones, sides and truths.
    std::string unit() const;

    /// Its value at the look that this mind, or a copy, has decided last; a truth is 1 or 0, a side 1 (left) or -1. The
    /// mind must be one of the plan that the probe was made for. Vars are as that look left them.
    double value(const Mind& mind, const Look& look);
    /// Whether a condition holds there.
    bool holds(const Mind& mind, const Look& look) { return value(mind, look) > 0.5; }
    /// That value with its unit: "35mm", "left", "true".
    std::string words(double value) const;

    /// Forgets what it has seen.
    void reset();

private:
    struct Body;
    friend struct lang::ProbeMaker;
    explicit Probe(std::unique_ptr<Body> body);
    std::unique_ptr<Body> body_;
};

/// What came of a text.
struct ProbeResult {
    std::optional<Probe> probe;    ///< none when there was an error
    std::vector<Problem> problems; ///< errors, at their places in the text
};

/// Reads a condition (or a value, with `any_value`) for a plan. Never throws for anything in the text. `file` is what
/// problems call it.
ProbeResult make_probe(const Plan& plan, std::string_view text, std::string_view file = "condition",
                       bool any_value = false);

/// Reads a value that a var of the plan, by its number, may be given: an expression of that var's unit.
ProbeResult make_value_for(const Plan& plan, std::size_t var, std::string_view text, std::string_view file = "value");

} // namespace vast_turn
