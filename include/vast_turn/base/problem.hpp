#pragma once

/// What is wrong with an input, where, and what to do about it.
///
/// Everything that is read (plans, courses, robots, command lines) reports its faults as values of
/// type Problem. Readers that cannot go on throw InputError, which carries all of them; nothing is
/// half read. Mistakes of the calling program are assertions, not problems.

#include <stdexcept>
#include <string>
#include <string_view>
#include <vector>

namespace vast_turn {

/// A stretch of one line of a text file.
struct Place {
    std::string file;        ///< as the user named it; empty when there is none
    int line = 0;            ///< from 1; 0 when the fault belongs to the whole file
    int column = 0;          ///< from 1, counted in characters; 0 when there is none
    int length = 1;          ///< characters that the caret underlines
    std::string source_line; ///< the text of that line, without its end
};

enum class Severity { error, warning };

/// One fault of an input.
struct Problem {
    /// Errors keep an input from being used; warnings do not.
    Severity severity = Severity::error;
    Place place;
    std::string message; ///< what was seen and what was expected, one sentence, no full stop
    std::string cure;    ///< what to do; may be empty
};

/// The problem as a person reads it: place, message, the line with carets, the cure.
/// Ends with a line break.
std::string to_text(const Problem& problem);

/// All of them, one after another.
std::string to_text(const std::vector<Problem>& problems);

/// Input that cannot be used. `what()` is the text of all problems.
class InputError : public std::runtime_error {
public:
    explicit InputError(std::vector<Problem> problems);

    /// A single fault of a whole file or of a call.
    InputError(std::string file, std::string message, std::string cure);

    const std::vector<Problem>& problems() const noexcept { return problems_; }

private:
    std::vector<Problem> problems_;
};

/// Whether any of them is an error rather than a warning.
bool has_errors(const std::vector<Problem>& problems);

/// The candidate that `word` was most likely meant to be, or empty when none is near: at most a
/// third of its letters differ (counting insertions, deletions, changes and swapped neighbours;
/// optimal string alignment distance). The first of equals wins.
std::string nearest(std::string_view word, const std::vector<std::string>& candidates);

/// " (did you mean `x`?)" for the nearest candidate, or empty.
std::string did_you_mean(std::string_view word, const std::vector<std::string>& candidates);

/// "a, b or c" for listing what was expected.
std::string one_of(const std::vector<std::string>& names);

} // namespace vast_turn
