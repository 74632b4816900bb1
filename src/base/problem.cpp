#include "vast_turn/base/problem.hpp"

#include <algorithm>
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

bool continues_character(char c) { return (static_cast<unsigned char>(c) & 0xC0U) == 0x80U; }

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

std::size_t edit_distance(std::string_view a, std::string_view b) {
    std::vector<std::vector<std::size_t>> d(a.size() + 1, std::vector<std::size_t>(b.size() + 1));
    for (std::size_t i = 0; i <= a.size(); ++i) {
        for (std::size_t j = 0; j <= b.size(); ++j) {
            if (i == 0 || j == 0) {
                d[i][j] = i + j;
                continue;
            }
            const std::size_t change = a[i - 1] == b[j - 1] ? 0 : 1;
            d[i][j] = std::min({d[i - 1][j] + 1, d[i][j - 1] + 1, d[i - 1][j - 1] + change});
            if (i > 1 && j > 1 && a[i - 1] == b[j - 2] && a[i - 2] == b[j - 1]) {
                d[i][j] = std::min(d[i][j], d[i - 2][j - 2] + 1);
            }
        }
    }
    return d[a.size()][b.size()];
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
    constexpr std::size_t longest_word = 64; // longer ones are no typing slips of a name
    if (word.size() > longest_word) {
        return {};
    }
    std::string best;
    std::size_t best_distance = std::max<std::size_t>(1, word.size() / 3) + 1;
    for (const std::string& candidate : candidates) {
        const std::size_t distance = edit_distance(word, candidate);
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
