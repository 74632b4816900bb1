/// The page of words: whatever outputs call a kind of thing stands on it, and it is a list from A to Z.
#include <algorithm>
#include <cctype>
#include <sstream>
#include <string>
#include <vector>

#include <doctest/doctest.h>

#include "vast_turn/course/graph/route_graph.hpp"
#include "vast_turn/formats/read/text_file.hpp"
#include "vast_turn/sense/calibrate.hpp"
#include "vast_turn/sim/ending.hpp"
#include "vast_turn/trial/cures.hpp"
#include "vast_turn/vet/finding.hpp"

using namespace vast_turn;

namespace {

/// The names of all values of an enumeration that has no gaps, by its name_of().
template <class Kind> void add_names(Kind last, std::vector<std::string>& names) {
    for (int i = 0; i <= static_cast<int>(last); ++i) {
        names.emplace_back(name_of(static_cast<Kind>(i)));
    }
}

bool has_word(const std::string& page, const std::string& word) {
    const auto is_letter = [](char c) { return std::isalpha(static_cast<unsigned char>(c)) != 0; };
    for (std::size_t at = page.find(word); at != std::string::npos; at = page.find(word, at + 1)) {
        const std::size_t end = at + word.size();
        if ((at == 0 || !is_letter(page[at - 1])) && (end == page.size() || !is_letter(page[end]))) {
            return true;
        }
    }
    return false;
}

} // namespace

TEST_CASE("words: every kind of thing that outputs name stands on the page, from A to Z") {
    const std::string page = read_file("docs/words.md");
    std::vector<std::string> names;
    add_names(Ending::time_over, names);
    add_names(NodeKind::star, names);
    add_names(NotLineKind::mark, names);
    add_names(Grade::hint, names);
    add_names(VerdictKind::few_looks, names);
    add_names(CureKind::power, names);
    REQUIRE(names.size() == 42);
    for (const std::string& name : names) {
        CAPTURE(name);
        CHECK_FALSE(name.empty());
        CHECK(has_word(page, name));
    }
    std::vector<std::string> entries;
    std::istringstream lines(page);
    for (std::string line; std::getline(lines, line);) {
        if (line.starts_with("**")) {
            entries.push_back(line.substr(2, line.find("**", 2) - 2));
        }
    }
    CHECK(entries.size() > 70);
    CHECK(std::is_sorted(entries.begin(), entries.end()));
}
