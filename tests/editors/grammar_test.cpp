/// The TextMate grammar: its rules, run as an editor runs them, against the compiler's own words.
#include <algorithm>
#include <filesystem>
#include <map>
#include <memory>

#include <doctest/doctest.h>
#include <nlohmann/json.hpp>
#include <oniguruma.h>

#include "vast_turn/formats/read/text_file.hpp"
#include "vast_turn/plan/text/language.hpp"

using namespace vast_turn;

namespace {

struct Free {
    void operator()(regex_t* expression) const { onig_free(expression); }
};

struct Coloured {
    std::string text;
    std::string scope;
};

/// Flat match rules: of all that match from here on, the first in the line wins, then the first in the grammar.
class Grammar {
public:
    Grammar() {
        OnigEncoding encodings[] = {ONIG_ENCODING_UTF8};
        onig_initialize(encodings, 1);
        const nlohmann::json grammar = nlohmann::json::parse(read_file("editors/plan.tmLanguage.json"));
        for (const nlohmann::json& rule : grammar.at("patterns")) {
            const std::string text = rule.at("match");
            regex_t* expression = nullptr;
            OnigErrorInfo error;
            const auto* begin = reinterpret_cast<const OnigUChar*>(text.data());
            REQUIRE(onig_new(&expression, begin, begin + text.size(), ONIG_OPTION_DEFAULT, ONIG_ENCODING_UTF8,
                             ONIG_SYNTAX_DEFAULT, &error) == ONIG_NORMAL);
            rules_.push_back({std::unique_ptr<regex_t, Free>(expression), rule});
        }
    }

    std::vector<Coloured> colour(const std::string& line) const {
        std::vector<Coloured> found;
        const auto* begin = reinterpret_cast<const OnigUChar*>(line.data());
        const auto* end = begin + line.size();
        const std::unique_ptr<OnigRegion, void (*)(OnigRegion*)> best(onig_region_new(),
                                                                      [](OnigRegion* r) { onig_region_free(r, 1); });
        const std::unique_ptr<OnigRegion, void (*)(OnigRegion*)> region(onig_region_new(),
                                                                        [](OnigRegion* r) { onig_region_free(r, 1); });
        for (const auto* at = begin; at < end;) {
            const nlohmann::json* rule = nullptr;
            for (const Rule& candidate : rules_) {
                const int start = onig_search(candidate.expression.get(), begin, end, at, end, region.get(), 0);
                if (start >= 0 && (rule == nullptr || start < best->beg[0])) {
                    rule = &candidate.json;
                    onig_region_copy(best.get(), region.get());
                }
            }
            if (rule == nullptr) {
                break;
            }
            add(found, line, *rule, *best);
            at = begin + std::max(best->end[0], best->beg[0] + 1);
        }
        return found;
    }

private:
    struct Rule {
        std::unique_ptr<regex_t, Free> expression;
        nlohmann::json json;
    };

    static void add(std::vector<Coloured>& found, const std::string& line, const nlohmann::json& rule,
                    const OnigRegion& region) {
        const auto piece = [&](int i) {
            return line.substr(static_cast<std::size_t>(region.beg[i]),
                               static_cast<std::size_t>(region.end[i] - region.beg[i]));
        };
        if (!rule.contains("captures")) {
            found.push_back({piece(0), rule.at("name")});
            return;
        }
        for (const auto& [number, capture] : rule.at("captures").items()) {
            found.push_back({piece(std::stoi(number)), capture.at("name")});
        }
    }

    std::vector<Rule> rules_;
};

std::string scope_of(const Grammar& grammar, const std::string& line, const std::string& text) {
    for (const Coloured& piece : grammar.colour(line)) {
        if (piece.text == text) {
            return piece.scope;
        }
    }
    return "";
}

} // namespace

TEST_CASE("every word of the language has a colour, and a name of the plan has none") {
    const Grammar grammar;
    for (const std::string& word : language_words()) {
        CHECK_MESSAGE(!scope_of(grammar, "  " + word + "  ", word).empty(), word);
    }
    CHECK(scope_of(grammar, "cruise + 3", "cruise").empty());
    CHECK(scope_of(grammar, "overtake", "over").empty());
    CHECK(scope_of(grammar, "habit follow {", "follow") == "entity.name.function.plan");
    CHECK(scope_of(grammar, "[#.?] -> do take(left) // [##]", "[#.?]") == "constant.other.pattern.plan");
    CHECK(scope_of(grammar, "[#.?] -> do take(left) // [##]", "take") == "entity.name.function.plan");
    CHECK(scope_of(grammar, "[#.?] -> do take(left) // [##]", "// [##]") == "comment.line.double-slash.plan");
    CHECK(scope_of(grammar, "ahead(40) over 1.5s", "1.5s") == "constant.numeric.plan");
    CHECK(scope_of(grammar, "note(\"do it // now\")", "\"do it // now\"") == "string.quoted.double.plan");
}

TEST_CASE("in every model plan all that is no name, bracket or comma is coloured") {
    const Grammar grammar;
    std::map<std::string, int> scopes;
    for (const auto& entry : std::filesystem::directory_iterator("data/fern-house/plans")) {
        std::string text = read_file(entry.path().string());
        for (std::size_t at = 0; at < text.size();) {
            const std::size_t end = std::min(text.find('\n', at), text.size());
            std::string line = text.substr(at, end - at);
            at = end + 1;
            std::size_t from = 0;
            std::string left_over;
            for (const Coloured& piece : grammar.colour(line)) {
                const std::size_t where = line.find(piece.text, from);
                left_over += line.substr(from, where - from) + " ";
                from = where + piece.text.size();
                ++scopes[piece.scope];
            }
            left_over += line.substr(from);
            const bool names_only = std::all_of(left_over.begin(), left_over.end(), [](char c) {
                return (c >= 'a' && c <= 'z') || c == '_' || c == ' ' || c == '(' || c == ')' || c == '{' || c == '}' ||
                       c == ',';
            });
            CHECK_MESSAGE(names_only, line);
        }
    }
    CHECK(scopes.size() >= 14);
    CHECK(scopes["constant.other.pattern.plan"] > 100);
}
