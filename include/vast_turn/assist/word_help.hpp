#pragma once

/// What each word of the plan language means, with an example, for editors and whoever looks one up.

#include <string_view>
#include <vector>

namespace vast_turn {

/// One word. All texts live as long as the program.
struct WordHelp {
    /// Where in a plan the example may stand.
    enum class Where { plan, rule, item };

    std::string_view word;
    std::string_view usage;   ///< how it is written, with what belongs to it: "bend(turn, power)"
    std::string_view meaning; ///< a sentence or two
    std::string_view example; ///< one line that compiles
    Where where = Where::rule;
};

/// Every word of the language that has a meaning of its own (all of language_words()), sorted by word.
const std::vector<WordHelp>& word_helps();

/// Help for a word, or null.
const WordHelp* find_word_help(std::string_view word);

} // namespace vast_turn
