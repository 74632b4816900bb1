#include "vast_turn/base/problem.hpp"

#include "vast_turn/base/utf8.hpp"

#include <algorithm>
#include <array>
#include <cstddef>
#include <utility>

#include <fmt/format.h>

namespace vast_turn {

namespace {

std::string place_text(const Place& place) {
    std::string text = place.file;
    if (place.line > 0) {
        text += fmt::format(":{}", place.line);
        if (place.column > 0) {
            text += fmt::format(":{}", place.column);
        }
    }
    return text.empty() ? text : text + ": ";
}

/// Blanks below the line up to the column: a tab stays a tab, so that the caret stands where the
/// terminal puts the character.
std::string caret_indent(const std::string& line, int column) {
    std::string indent;
    int at = 1;
    for (const char c : line) {
        if (at >= column) {
            break;
        }
        if (continues_character(c)) {
            continue;
        }
        indent += c == '\t' ? '\t' : ' ';
        ++at;
    }
    return indent;
}

constexpr std::size_t longest_word = 64; // longer ones are no typing slips of a name

/// Insertions, deletions, changes and exchanges of neighbours that make `b` of `a`; `bound` when there are as many or
/// more.
std::size_t edit_distance(std::string_view a, std::string_view b, std::size_t bound) {
    const std::size_t differ = a.size() > b.size() ? a.size() - b.size() : b.size() - a.size();
    if (differ >= bound || a.size() > longest_word) {
        return bound;
    }
    using Row = std::array<std::size_t, 2 * longest_word + 1>;
    Row rows[3]; // of i, i - 1 and i - 2 by turns
    for (std::size_t j = 0; j <= b.size(); ++j) {
        rows[0][j] = j;
    }
    std::size_t least_before = 0;
    for (std::size_t i = 1; i <= a.size(); ++i) {
        Row& row = rows[i % 3];
        const Row& above = rows[(i + 2) % 3];
        const Row& higher = rows[(i + 1) % 3];
        std::size_t least = row[0] = i;
        for (std::size_t j = 1; j <= b.size(); ++j) {
            row[j] = std::min({above[j] + 1, row[j - 1] + 1, above[j - 1] + (a[i - 1] == b[j - 1] ? 0 : 1)});
            if (i > 1 && j > 1 && a[i - 1] == b[j - 2] && a[i - 2] == b[j - 1]) {
                row[j] = std::min(row[j], higher[j - 2] + 1);
            }
            least = std::min(least, row[j]);
        }
        if (std::min(least, least_before) >= bound) {
            return bound;
        }
        least_before = least;
    }
    return rows[a.size() % 3][b.size()];
}

} // namespace

std::string to_text(const Problem& problem) {
    const Place& place = problem.place;
    std::string text = fmt::format("{}{}: {}\n", place_text(place),
                                   problem.severity == Severity::error ? "error" : "warning", problem.message);
    if (place.line > 0 && place.column > 0) {
        text += fmt::format("  {}\n  {}{:^<{}}\n", place.source_line, caret_indent(place.source_line, place.column), "",
                            std::max(place.length, 1));
    }
    if (!problem.cure.empty()) {
        text += fmt::format("  to do: {}\n", problem.cure);
    }
    return text;
}

std::string to_text(const std::vector<Problem>& problems) {
    std::string text;
    for (const Problem& problem : problems) {
        text += to_text(problem);
    }
    return text;
}

InputError::InputError(std::vector<Problem> problems)
    : std::runtime_error(to_text(problems)), problems_(std::move(problems)) {}

InputError::InputError(std::string file, std::string message, std::string cure)
    : InputError(std::vector<Problem>{
          Problem{Severity::error, Place{std::move(file), 0, 0, 1, {}}, std::move(message), std::move(cure)}}) {}

bool has_errors(const std::vector<Problem>& problems) {
    return std::any_of(problems.begin(), problems.end(),
                       [](const Problem& p) { return p.severity == Severity::error; });
}

std::string nearest(std::string_view word, const std::vector<std::string>& candidates) {
    if (word.size() > longest_word) {
        return {};
    }
    std::string best;
    std::size_t best_distance = std::max<std::size_t>(1, word.size() / 3) + 1;
    for (const std::string& candidate : candidates) {
        const std::size_t distance = edit_distance(word, candidate, best_distance);
        if (distance < best_distance && distance < candidate.size()) {
            best = candidate;
            best_distance = distance;
        }
    }
    return best;
}

std::string did_you_mean(std::string_view word, const std::vector<std::string>& candidates) {
    const std::string name = nearest(word, candidates);
    return name.empty() ? std::string{} : fmt::format(" (did you mean `{}`?)", name);
}

std::string one_of(const std::vector<std::string>& names) {
    std::string text;
    for (std::size_t i = 0; i < names.size(); ++i) {
        if (i > 0) {
            text += i + 1 == names.size() ? " or " : ", ";
        }
        text += names[i];
    }
    return text;
}

} // namespace vast_turn
