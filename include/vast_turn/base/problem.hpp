#pragma once

/// What is wrong with an input, where, and what to do about it.
///
/// Everything that is read (plans, courses, robots, command lines) reports its faults as values of
/// type Problem. Readers that cannot go on throw InputError, which carries all of them; nothing is
/// half read. Mistakes of the calling program are assertions, not problems.

#include <stdexcept>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

namespace vast_turn {

/// A stretch of one line of a text file.
struct Place {
    std::string file;        ///< as the user named it; empty when there is none
    int line = 0;            ///< from 1; 0 when the fault belongs to the whole file
    int column = 0;          ///< from 1, counted in characters; 0 when there is none
    int length = 1;          ///< characters that the caret underlines
    std::string source_line; ///< the text of that line, without its end; of a long one the part around the column
    int shown_from = 0;      ///< how many characters of the line stand before source_line
};

/// A place in a line of a file: `byte` and `bytes` of `text` are meant, `text` being the whole line without its end.
/// Of a line that is longer than a screen is wide the place has a window.
Place place_in_line(std::string file, int line, std::string_view text, std::size_t byte, std::size_t bytes);

/// How much a problem matters.
enum class Severity { error, warning };

/// One fault of an input.
struct Problem {
    /// Errors keep an input from being used; warnings do not.
    Severity severity = Severity::error;
    Place place;         ///< where; of a whole file or call without a line
    std::string message; ///< what was seen and what was expected, one sentence, no full stop
    std::string cure;    ///< what to do; may be empty
};

/// The problem as a person reads it: place, message, the line with carets, the cure.
/// Ends with a line break. However long its parts are it is a few lines; what a terminal would obey is shown as marks,
/// see visible().
std::string to_text(const Problem& problem);

/// One after another, as many as a screen takes; how many more there are is told at the end.
std::string to_text(const std::vector<Problem>& problems);

/// Input that cannot be used. `what()` is the text of all problems.
class InputError : public std::runtime_error {
public:
    explicit InputError(std::vector<Problem> problems);

    /// A single fault of a whole file or of a call.
    InputError(std::string file, std::string message, std::string cure);

    /// In the order of their places; never empty. Good as long as the error.
    const std::vector<Problem>& problems() const noexcept { return problems_; }

private:
    std::vector<Problem> problems_;
};

/// The problems of one input while it is read. It keeps the first twenty and counts the rest, so that a reader of a
/// broken file needs no memory for what nobody would read.
class ProblemList {
public:
    /// How many are kept.
    static constexpr std::size_t most = 20;

    /// Keeps a problem, or counts it.
    void add(Problem problem);
    /// The same for an error whose place is worked out only when it is kept: a call that gives a Place.
    template <class MakePlace> void add_error(const MakePlace& place, std::string message, std::string cure) {
        if (full()) {
            ++left_out_;
        } else {
            list_.push_back({Severity::error, place(), std::move(message), std::move(cure)});
        }
    }

    /// Whether there was none.
    bool empty() const { return list_.empty(); }
    /// Whether the next would only be counted: a reader may stop.
    bool full() const { return list_.size() >= most; }

    /// In the order of their lines and columns, with one behind them that tells how many more there were.
    std::vector<Problem> take(const std::string& file);
    /// Throws InputError with them when there are any.
    void finish(const std::string& file);

private:
    std::vector<Problem> list_;
    std::size_t left_out_ = 0;
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
