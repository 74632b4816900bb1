/// The reference page: every plan on it compiles, answers as it says, and together they have every word.
#include <set>
#include <sstream>

#include <doctest/doctest.h>
#include <fmt/format.h>

#include "support/fixtures.hpp"
#include "vast_turn/formats/read/looks_file.hpp"
#include "vast_turn/formats/read/text_file.hpp"
#include "vast_turn/plan/text/language.hpp"

using namespace vast_turn;

namespace {

struct Example {
    std::string text;
    std::vector<std::pair<std::string, std::string>> asked; ///< looks, expected powers
};

std::vector<Example> examples() {
    std::vector<Example> list;
    std::istringstream page(read_file("docs/plan-language.md"));
    bool inside = false;
    for (std::string line; std::getline(page, line);) {
        if (line.starts_with("```")) {
            inside = line == "```plan";
            if (inside) {
                list.emplace_back();
            }
        } else if (inside && line.starts_with("//> ")) {
            const std::size_t colon = line.rfind(" : ");
            REQUIRE(colon != std::string::npos);
            list.back().asked.emplace_back(line.substr(4, colon - 4), line.substr(colon + 3));
        } else if (inside) {
            list.back().text += line + "\n";
        }
    }
    return list;
}

} // namespace

TEST_CASE("every plan of the reference page answers as the page says") {
    const std::vector<Example> all = examples();
    CHECK(all.size() >= 10);
    for (const Example& example : all) {
        CAPTURE(example.text);
        CHECK_FALSE(example.asked.empty());
        const Plan plan = fixtures::compiled(example.text);
        std::string script;
        for (const auto& [looks, expected] : example.asked) {
            script += looks + "\n";
        }
        LookScript reader(plan, ArrayReader(plan.sensors()), false, 10.0);
        const std::vector<LoggedLook> looks = reader.parse(script, "page");
        Mind mind(plan);
        Answer answer;
        std::size_t next = 0;
        for (const auto& asked : example.asked) {
            const auto& words = asked.first;
            const auto& expected = asked.second;
            const std::size_t times = words.find(" x");
            const int repeats = times == std::string::npos ? 1 : std::stoi(words.substr(times + 2));
            for (int i = 0; i < repeats; ++i) {
                mind(looks.at(next++).look, answer);
            }
            CAPTURE(words);
            CHECK(fmt::format("{:g} {:g}", answer.left_pct + 0.0, answer.right_pct + 0.0) == expected);
        }
    }
}

TEST_CASE("every word of the language occurs in a plan of the reference page") {
    std::set<std::string> words;
    for (const Example& example : examples()) {
        std::string word;
        for (const char c : example.text + " ") {
            if ((c >= 'a' && c <= 'z') || c == '_') {
                word += c;
            } else {
                words.insert(word);
                word.clear();
            }
        }
    }
    for (const std::string& word : language_words()) {
        CHECK_MESSAGE(words.contains(word), "the reference page has no example of ", word);
    }
}
