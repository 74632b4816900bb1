#include <fmt/format.h>

#include "vast_turn/base/problem.hpp"
#include "vast_turn/wire/other_mind.hpp"

namespace vast_turn {

std::vector<std::string> words_of_call(std::string_view call) {
    std::vector<std::string> words;
    std::string word;
    bool begun = false;
    char quote = 0;
    for (const char c : call) {
        const bool is_blank = c == ' ' || c == '\t';
        if (quote != 0) {
            quote = c == quote ? 0 : quote;
            word += quote != 0 ? std::string(1, c) : "";
        } else if (c == '\'' || c == '"') {
            quote = c;
            begun = true;
        } else if (!is_blank) {
            word += c;
            begun = true;
        } else if (begun) {
            words.push_back(std::move(word));
            word.clear();
            begun = false;
        }
    }
    if (quote != 0) {
        throw InputError("", fmt::format("a quote {} is not closed in the call of the program: {}", quote, call),
                         "close it, or leave it out");
    }
    if (begun) {
        words.push_back(std::move(word));
    }
    if (words.empty() || words.front().empty()) {
        throw InputError("", "the call of the program has no word in it", "give a program and its arguments");
    }
    return words;
}

} // namespace vast_turn
