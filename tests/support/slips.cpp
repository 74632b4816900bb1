#include "support/slips.hpp"

#include <algorithm>
#include <cctype>

#include <fmt/format.h>

namespace fixtures {

namespace {

struct Word {
    std::size_t from = 0;
    std::size_t size = 0;
    int line = 0;
};

/// Words, numbers and patterns outside of comments, texts and the plan's head.
class Text {
public:
    explicit Text(const std::string& text) : text_(text) {
        int number = 1;
        for (std::size_t at = 0; at < text.size(); ++number) {
            const std::size_t end = std::min(text.find('\n', at), text.size());
            std::string line = text.substr(at, end - at);
            const std::size_t comment = line.find("//");
            line.resize(std::min(line.size(), comment));
            const std::size_t first = line.find_first_not_of(' ');
            const bool head = first == std::string::npos || line.compare(first, 4, "plan") == 0 ||
                              line.compare(first, 7, "sensors") == 0 || line.compare(first, 7, "markers") == 0 ||
                              line.compare(first, 7, "weights") == 0;
            if (!head) {
                take(line, at, number);
            } else if (first != std::string::npos && line.compare(first, 7, "markers") == 0) {
                names(line.substr(first + 7));
            }
            rule_line_.push_back(!head && line.find("->") != std::string::npos &&
                                 line.find("guard") == std::string::npos && line.compare(first, 4, "else") != 0);
            lines_.emplace_back(at, std::min(end + 1, text.size()) - at);
            at = end + 1;
        }
    }

    std::string at(const Word& word) const { return text_.substr(word.from, word.size); }

    std::vector<Word> words;
    std::vector<Word> numbers;
    std::vector<Word> patterns;
    std::vector<std::string> markers;

    /// Rule lines that follow on one another.
    std::vector<std::vector<int>> blocks() const {
        std::vector<std::vector<int>> list;
        for (std::size_t i = 0; i < rule_line_.size(); ++i) {
            if (rule_line_[i] && (i == 0 || !rule_line_[i - 1] || list.empty())) {
                list.emplace_back();
            }
            if (rule_line_[i]) {
                list.back().push_back(static_cast<int>(i) + 1);
            }
        }
        return list;
    }
    std::pair<std::size_t, std::size_t> line(int number) const { return lines_[static_cast<std::size_t>(number) - 1]; }

private:
    void names(const std::string& line) {
        std::string name;
        for (const char c : line + ",") {
            if (std::isalnum(static_cast<unsigned char>(c)) != 0) {
                name += c;
            } else if (!name.empty()) {
                markers.push_back(name);
                name.clear();
            }
        }
    }

    void take(const std::string& line, std::size_t base, int number) {
        for (std::size_t i = 0; i < line.size();) {
            const auto c = static_cast<unsigned char>(line[i]);
            std::size_t end = i + 1;
            if (c == '"') {
                end = std::min(line.find('"', i + 1), line.size() - 1) + 1;
            } else if (c == '[') {
                end = std::min(line.find(']', i), line.size() - 1) + 1;
                patterns.push_back({base + i, end - i, number});
            } else if (std::isalpha(c) != 0) {
                while (end < line.size() &&
                       (std::isalnum(static_cast<unsigned char>(line[end])) != 0 || line[end] == '_')) {
                    ++end;
                }
                words.push_back({base + i, end - i, number});
            } else if (std::isdigit(c) != 0) {
                while (end < line.size() &&
                       (std::isdigit(static_cast<unsigned char>(line[end])) != 0 || line[end] == '.')) {
                    ++end;
                }
                const bool is_place = i > 0 && line[i - 1] == '(' && i > 6 && line.compare(i - 7, 6, "sensor") == 0;
                if (!is_place && std::stod(line.substr(i, end - i)) > 0.0) {
                    numbers.push_back({base + i, end - i, number});
                }
            }
            i = end;
        }
    }

    const std::string& text_;
    std::vector<bool> rule_line_;
    std::vector<std::pair<std::size_t, std::size_t>> lines_;
};

template <class Item> const Item* any_of(const std::vector<Item>& list, std::mt19937& random) {
    return list.empty() ? nullptr : &list[random() % list.size()];
}

Slip replaced(const std::string& kind, const std::string& text, const Word& word, const std::string& now) {
    Slip slip{kind, "", text, text, {word.line}, word.from, now.size()};
    slip.after.replace(word.from, word.size, now);
    slip.what = fmt::format("line {}: {} became {}", word.line, text.substr(word.from, word.size), now);
    return slip;
}

std::optional<Slip> side(const Text& text, const std::string& whole, std::mt19937& random) {
    std::vector<Word> sides;
    for (const Word& word : text.words) {
        if (text.at(word) == "left" || text.at(word) == "right") {
            sides.push_back(word);
        }
    }
    const Word* word = any_of(sides, random);
    return word == nullptr ? std::nullopt
                           : std::optional{replaced("side", whole, *word, text.at(*word) == "left" ? "right" : "left")};
}

std::optional<Slip> marker(const Text& text, const std::string& whole, std::mt19937& random) {
    std::vector<Word> seen;
    for (const Word& word : text.words) {
        if (std::find(text.markers.begin(), text.markers.end(), text.at(word)) != text.markers.end()) {
            seen.push_back(word);
        }
    }
    const Word* word = any_of(seen, random);
    const std::string* other = any_of(text.markers, random);
    return word == nullptr || *other == text.at(*word) ? std::nullopt
                                                       : std::optional{replaced("marker", whole, *word, *other)};
}

std::optional<Slip> mirrored(const Text& text, const std::string& whole, std::mt19937& random) {
    std::vector<Word> twins;
    for (const Word& word : text.words) {
        if (text.at(word) == "mirrored") {
            twins.push_back(word);
        }
    }
    const Word* word = any_of(twins, random);
    if (word != nullptr) {
        return replaced("mirrored", whole, *word, "");
    }
    return std::nullopt;
}

std::optional<Slip> pattern(const Text& text, const std::string& whole, std::mt19937& random) {
    const Word* word = any_of(text.patterns, random);
    if (word == nullptr) {
        return std::nullopt;
    }
    std::string now = text.at(*word);
    const std::size_t at = 1 + random() % (now.size() - 2);
    const char marks[] = {'#', '.', '?'};
    const char mark = marks[random() % 3];
    if (now[at] == ' ' || now[at] == mark) {
        return std::nullopt;
    }
    now[at] = mark;
    return replaced("pattern", whole, *word, now);
}

std::optional<Slip> number(const Text& text, const std::string& whole, std::mt19937& random) {
    const Word* word = any_of(text.numbers, random);
    if (word == nullptr) {
        return std::nullopt;
    }
    const double factors[] = {0.3, 0.5, 0.65, 1.5, 2.0, 3.0};
    const double value = std::stod(text.at(*word)) * factors[random() % 6];
    std::string kind = "number";
    const std::string before = whole.substr(word->from > 9 ? word->from - 9 : 0, std::min<std::size_t>(9, word->from));
    kind = before.find("lasting") != std::string::npos                                      ? "lasting"
           : before.find("over") != std::string::npos                                       ? "limit"
           : before.find('>') != std::string::npos || before.find('<') != std::string::npos ? "threshold"
                                                                                            : "number";
    return replaced(kind, whole, *word, value > 5.0 ? fmt::format("{:.0f}", value) : fmt::format("{:.2g}", value));
}

std::optional<Slip> sign(const Text& text, const std::string& whole, std::mt19937& random) {
    const Word* word = any_of(text.numbers, random);
    if (word == nullptr || word->from == 0 ||
        std::isalpha(static_cast<unsigned char>(whole[word->from + word->size])) != 0) {
        return std::nullopt; // a way or a time of less than nothing is no slip that anybody makes
    }
    if (whole[word->from - 1] == '-') {
        return replaced("sign", whole, {word->from - 1, word->size + 1, word->line}, text.at(*word));
    }
    if (std::string("(,= ").find(whole[word->from - 1]) == std::string::npos) {
        return std::nullopt;
    }
    return replaced("sign", whole, *word, "-" + text.at(*word));
}

std::optional<Slip> order(const Text& text, const std::string& whole, std::mt19937& random) {
    const auto blocks = text.blocks();
    const std::vector<int>* block = any_of(blocks, random);
    if (block == nullptr || block->size() < 2) {
        return std::nullopt;
    }
    const std::size_t from = random() % block->size();
    const std::size_t to = random() % block->size();
    if (from == to) {
        return std::nullopt;
    }
    std::vector<int> now = *block;
    const int moved = now[from];
    now.erase(now.begin() + static_cast<std::ptrdiff_t>(from));
    now.insert(now.begin() + static_cast<std::ptrdiff_t>(to), moved);
    std::string lines;
    for (const int one : now) {
        const auto [at, size] = text.line(one);
        lines += whole.substr(at, size);
    }
    const std::size_t begin = text.line(block->front()).first;
    const std::size_t end = text.line(block->back()).first + text.line(block->back()).second;
    Slip slip{"order", fmt::format("line {} moved to line {}", moved, (*block)[to]), whole, whole, {}, 0, 0};
    slip.after.replace(begin, end - begin, lines);
    for (std::size_t i = std::min(from, to); i <= std::max(from, to); ++i) {
        slip.lines.push_back((*block)[i]); // any of those that it stands before or behind now
    }
    return slip;
}

} // namespace

namespace {

std::optional<Slip> some_slip(const std::string& text, std::mt19937& random) {
    const Text words(text);
    switch (random() % 9) {
    case 0: return side(words, text, random);
    case 1: return marker(words, text, random);
    case 2: return mirrored(words, text, random);
    case 3: return pattern(words, text, random);
    case 4: return sign(words, text, random);
    case 5: return order(words, text, random);
    default: return number(words, text, random);
    }
}

/// A spoilt let is spoilt wherever its name stands.
void add_uses(Slip& slip) {
    const Text words(slip.after);
    const auto line = words.line(slip.lines.front());
    const std::string begins = slip.after.substr(line.first, 4);
    if (begins != "let " && begins != "var ") {
        return;
    }
    const std::string name =
        slip.after.substr(line.first + 4, slip.after.find_first_of(" =", line.first + 4) - line.first - 4);
    for (const Word& word : words.words) {
        if (words.at(word) == name) {
            slip.lines.push_back(word.line);
        }
    }
}

} // namespace

std::optional<Slip> plant_slip(const std::string& text, std::mt19937& random) {
    std::optional<Slip> slip = some_slip(text, random);
    if (slip) {
        add_uses(*slip);
    }
    return slip;
}

namespace {

/// With one blank for any number of them: where a word was taken out there are two.
std::string with_single_blanks(const std::string& text) {
    std::string out;
    for (const char c : text) {
        if (c != ' ' || out.empty() || out.back() != ' ') {
            out += c;
        }
    }
    return out;
}

} // namespace

bool same_word(const std::string& changed, const Slip& slip) {
    if (with_single_blanks(changed) == with_single_blanks(slip.before)) {
        return true;
    }
    if (slip.kind == "order") {
        return false;
    }
    const std::size_t behind = slip.after.size() - slip.from - slip.size;
    return changed.size() >= slip.from + behind && changed.compare(0, slip.from, slip.after, 0, slip.from) == 0 &&
           changed.compare(changed.size() - behind, behind, slip.after, slip.after.size() - behind, behind) == 0;
}

} // namespace fixtures
