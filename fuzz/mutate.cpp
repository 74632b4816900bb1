// Changes a text where its tokens begin and end, so that what comes out is nearly right: the depths of a reader are
// reached by texts that get through its first line. Half of the changes are left to the fuzzer's own, which know bytes.

#include <algorithm>
#include <cctype>
#include <cstddef>
#include <cstdint>
#include <cstring>
#include <random>
#include <string>
#include <string_view>
#include <vector>

/// The words of what a target reads, for the mutator to put in; each target has them.
std::vector<std::string_view> fuzz_words();

extern "C" std::size_t LLVMFuzzerMutate(std::uint8_t* data, std::size_t size, std::size_t most);
extern "C" std::size_t LLVMFuzzerCustomMutator(std::uint8_t* data, std::size_t size, std::size_t most, unsigned seed);

namespace {

/// Views into the text, or words that live for ever.
using Tokens = std::vector<std::string_view>;
using Random = std::minstd_rand;

/// What most of the languages have.
constexpr std::string_view marks[] = {"=", "[", "]", "{", "}", "\"", ",", ".", "#", "\n", "true"};

/// Numbers at which something may change.
constexpr std::string_view edges[] = {"0",     "-1",    "1",     "2",          "8",   "9",    "16",
                                      "17",    "255",   "256",   "0.0",        "0.5", "1e-9", "1e-300",
                                      "1e300", "65535", "65536", "2147483648", "nan", "inf"};

std::size_t below(Random& random, std::size_t limit) {
    return std::uniform_int_distribution<std::size_t>(0, limit - 1)(random);
}

/// A word, a number, blanks, the end of a line or one other character.
Tokens tokens_of(std::string_view text) {
    Tokens out;
    const auto kind = [](char c) {
        const auto b = static_cast<unsigned char>(c);
        return std::isalnum(b) != 0 || c == '_' || c == '.' || b >= 0x80 ? 1 : c == ' ' || c == '\t' ? 2 : 0;
    };
    for (std::size_t at = 0; at < text.size();) {
        std::size_t end = at + 1;
        while (kind(text[at]) != 0 && end < text.size() && kind(text[end]) == kind(text[at])) {
            ++end;
        }
        out.push_back(text.substr(at, end - at));
        at = end;
    }
    return out;
}

/// Some tokens on end: a few, or a line.
struct Stretch {
    std::size_t from;
    std::size_t to;
};

Stretch some(const Tokens& tokens, Random& random) {
    std::size_t from = below(random, tokens.size());
    if (below(random, 2) == 0) {
        return {from, std::min(tokens.size(), from + 1 + below(random, 6))};
    }
    while (from > 0 && tokens[from - 1] != "\n") {
        --from;
    }
    std::size_t to = from;
    while (to < tokens.size() && tokens[to] != "\n") {
        ++to;
    }
    return {from, std::min(tokens.size(), to + 1)};
}

std::string_view any_word(Random& random) {
    static const std::vector<std::string_view> words = fuzz_words();
    switch (below(random, 6)) {
    case 0: return edges[below(random, std::size(edges))];
    case 1: return marks[below(random, std::size(marks))];
    default: return words[below(random, words.size())];
    }
}

void change(Tokens& tokens, Random& random) {
    const Stretch part = some(tokens, random);
    const auto at = [&](std::size_t i) { return tokens.begin() + static_cast<std::ptrdiff_t>(i); };
    const Tokens copy(at(part.from), at(part.to));
    const std::size_t elsewhere = below(random, tokens.size() + 1);
    switch (below(random, 7)) {
    case 0: tokens.erase(at(part.from), at(part.to)); break;
    case 1: tokens.insert(at(elsewhere), copy.begin(), copy.end()); break;
    case 2: { // many times over: long inputs, deep nesting
        Tokens often;
        const std::size_t most = 1 + 20'000 / copy.size();
        for (std::size_t n = std::min(most, std::size_t{1} << below(random, 12)); n > 0; --n) {
            often.insert(often.end(), copy.begin(), copy.end());
        }
        tokens.insert(at(part.from), often.begin(), often.end());
        break;
    }
    case 3: tokens[part.from] = any_word(random); break;
    case 4: tokens.insert(at(part.from), {any_word(random), " "}); break;
    case 5: std::swap(tokens[part.from], tokens[below(random, tokens.size())]); break;
    default: // a number becomes another
        for (std::size_t i = part.from; i < tokens.size(); ++i) {
            if (std::isdigit(static_cast<unsigned char>(tokens[i].front())) != 0) {
                tokens[i] = edges[below(random, std::size(edges))];
                break;
            }
        }
    }
}

} // namespace

extern "C" std::size_t LLVMFuzzerCustomMutator(std::uint8_t* data, std::size_t size, std::size_t most, unsigned seed) {
    Random random(seed);
    if (size == 0 || below(random, 2) == 0) {
        return LLVMFuzzerMutate(data, size, most);
    }
    const std::string text(reinterpret_cast<const char*>(data), size);
    Tokens tokens = tokens_of(text);
    for (std::size_t n = 1 + below(random, 3); n > 0 && !tokens.empty(); --n) {
        change(tokens, random);
    }
    std::size_t at = 0;
    for (const std::string_view token : tokens) {
        const std::size_t bytes = std::min(token.size(), most - at);
        std::memcpy(data + at, token.data(), bytes);
        at += bytes;
    }
    return at;
}
