#pragma once

/// Where a debugged run stops: break points as an editor sets them.

#include <optional>
#include <string>
#include <vector>

#include "vast_turn/step/stop.hpp"

namespace vturn {

/// How often a break point must be come to before it stops: "5" from the fifth time on, ">= 5", "> 5", "< 5", "== 5",
/// "% 5" each fifth time.
class HitRule {
public:
    /// Throws InputError for what is none.
    explicit HitRule(const std::string& text);
    bool stops_at(unsigned hits) const;

private:
    enum class Kind { from, above, below, only, each };
    Kind kind_ = Kind::from;
    unsigned number_ = 1;
};

/// One of them.
struct BreakPoint {
    int id = 0;
    std::string reason; ///< as a stopped event tells it: "breakpoint", "function breakpoint", "data breakpoint"
    vast_turn::Stop stop;
    std::optional<vast_turn::Probe> condition{}; ///< must hold too
    std::optional<HitRule> hits{};
    std::string log{}; ///< is told in place of stopping; {x} stands for the value of x
    unsigned come = 0; ///< how often it was come to in this drive

    /// Whether the run stops here with the look at which it stands; to be asked once a look.
    bool stops(const vast_turn::SteppedRun& run);
};

/// A var of the plan gets another value. Throws InputError when there is none of that name.
vast_turn::Stop stop_on_change(const vast_turn::Plan& plan, const std::string& var);

/// The first problem in a line: "left.plan:3: what is wrong; what to do".
std::string words_of(const vast_turn::InputError& error);

/// A log point's text with the values in it. What cannot be asked stays as it is.
std::string log_text(const std::string& text, const vast_turn::SteppedRun& run);

} // namespace vturn
