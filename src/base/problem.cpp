#include "vast_turn/base/problem.hpp"

#include <algorithm>
#include <array>
#include <cstddef>
#include <tuple>
#include <utility>

#include <fmt/format.h>

#include "vast_turn/base/utf8.hpp"
#include "vast_turn/base/visible.hpp"

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
/// terminal puts the character. Marks for what cannot be shown are as wide as they are.
std::string caret_indent(std::string_view line, int column) {
    std::size_t end = 0;
    for (int at = 1; at < column && end < line.size(); ++at) {
        do {
            ++end;
        } while (end < line.size() && continues_character(line[end]));
    }
    std::string indent;
    for (const char c : visible(line.substr(0, end))) {
        if (!continues_character(c)) {
            indent += c == '\t' ? '\t' : ' ';
        }
    }
    return indent;
}

/// A message shortened in its middle: a name of a thousand letters must not hide what is said of it.
std::string shortened(std::string_view text) {
    constexpr std::size_t most = 700;
    constexpr std::size_t kept = 300;
    if (text.size() <= most) {
        return visible(text);
    }
    std::size_t tail = text.size() - kept;
    while (tail < text.size() && continues_character(text[tail])) {
        ++tail;
    }
    return visible(at_most_bytes(text, kept)) + " ... " + visible(text.substr(tail));
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

Place place_in_line(std::string file, int line, std::string_view text, std::size_t byte, std::size_t bytes) {
    constexpr std::size_t widest = 160; // bytes of a line that are shown
    constexpr std::size_t before = 60;
    byte = std::min(byte, text.size());
    bytes = std::min(bytes, text.size() - byte);
    const auto characters = [&](std::size_t from, std::size_t to) {
        return static_cast<int>(characters_in(text.substr(from, to - from)));
    };
    std::size_t from = text.size() > widest && byte > before ? byte - before : 0;
    while (from > 0 && continues_character(text[from])) {
        --from;
    }
    Place place;
    place.file = std::move(file);
    place.line = line;
    place.column = characters(0, byte) + 1;
    place.source_line = at_most_bytes(text.substr(from), widest);
    place.shown_from = characters(0, from);
    place.length =
        std::max(1, std::min(characters(byte, byte + bytes),
                             static_cast<int>(characters_in(place.source_line)) + place.shown_from - place.column + 1));
    return place;
}

std::string to_text(const Problem& problem) {
    const Place& place = problem.place;
    std::string text =
        fmt::format("{}{}: {}\n", shortened(place_text(place)),
                    problem.severity == Severity::error ? "error" : "warning", shortened(problem.message));
    if (place.line > 0 && place.column > 0) {
        const char* left_out = place.shown_from > 0 ? "... " : "";
        text += fmt::format(
            "  {}{}\n  {}{}{:^<{}}\n", left_out, visible(place.source_line), place.shown_from > 0 ? "    " : "",
            caret_indent(place.source_line, place.column - place.shown_from), "", std::max(place.length, 1));
    }
    if (!problem.cure.empty()) {
        text += fmt::format("  to do: {}\n", shortened(problem.cure));
    }
    return text;
}

std::string to_text(const std::vector<Problem>& problems) {
    constexpr std::size_t screenful = 10; // of up to four lines each
    std::string text;
    for (std::size_t i = 0; i < std::min(screenful, problems.size()); ++i) {
        text += to_text(problems[i]);
    }
    return problems.size() > screenful ? text + "and more; mend these first\n" : text;
}

void ProblemList::add(Problem problem) {
    if (full()) {
        ++left_out_;
    } else {
        list_.push_back(std::move(problem));
    }
}

std::vector<Problem> ProblemList::take(const std::string& file) {
    std::stable_sort(list_.begin(), list_.end(), [](const Problem& a, const Problem& b) {
        return std::tie(a.place.line, a.place.column) < std::tie(b.place.line, b.place.column);
    });
    if (left_out_ > 0) {
        Place whole;
        whole.file = file;
        list_.push_back({Severity::error, std::move(whole), fmt::format("{} more faults not shown", left_out_),
                         "mend these first"});
        left_out_ = 0;
    }
    return std::exchange(list_, {});
}

void ProblemList::finish(const std::string& file) {
    if (!list_.empty()) {
        throw InputError(take(file));
    }
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
        if (distance > 0 && distance < best_distance && distance < candidate.size()) {
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
