#include "trial/plan_oddness.hpp"

#include <algorithm>
#include <cmath>
#include <map>
#include <optional>
#include <set>
#include <utility>
#include <vector>

#include "plan/check/checked.hpp"
#include "plan/text/token.hpp"
#include "vast_turn/plan/explain/pattern_table.hpp"

namespace vast_turn {

namespace {

std::optional<Wheels> wheels_of(const TableEntry& entry) { return entry.wheels ? entry.wheels : entry.crisp; }

/// Positive when more line is seen to the left of the middle.
int lean(Pattern pattern) {
    int sum = 0;
    for (int i = 0; i < pattern.count; ++i) {
        sum += ((pattern.bits >> i) & 1) != 0 ? pattern.count - 1 - 2 * i : 0;
    }
    return sum;
}

bool steers_away(const TableRow& row) {
    const std::optional<Wheels> wheels = row.entries.empty() ? std::nullopt : wheels_of(row.entries.back());
    return wheels && lean(row.pattern) * (wheels->right_pct - wheels->left_pct) < 0.0;
}

/// Whether some entry of a row turns otherwise than every entry of its mirror image, mirrored.
bool is_lopsided(const TableRow& row, const TableRow& twin) {
    return std::any_of(row.entries.begin(), row.entries.end(), [&](const TableEntry& entry) {
        const std::optional<Wheels> own = wheels_of(entry);
        constexpr double alike_pct = 0.5;
        return own && std::none_of(twin.entries.begin(), twin.entries.end(), [&](const TableEntry& other) {
                   const std::optional<Wheels> its = wheels_of(other);
                   return its && std::abs(its->left_pct - own->right_pct) < alike_pct &&
                          std::abs(its->right_pct - own->left_pct) < alike_pct;
               });
    });
}

int oddness_of(const HabitTable& table, std::set<RuleId>& reached) {
    int odd = 0;
    for (const TableRow& row : table.rows) {
        odd += row.may_be_unanswered ? 1 : 0;
        odd += steers_away(row) ? 1 : 0;
        const auto twin = std::find_if(table.rows.begin(), table.rows.end(),
                                       [&](const TableRow& r) { return r.pattern == mirrored(row.pattern); });
        odd += twin != table.rows.end() && is_lopsided(row, *twin) ? 1 : 0;
        for (const TableEntry& entry : row.entries) {
            reached.insert(entry.rule);
        }
    }
    return odd;
}

int written_minuses(const std::vector<lang::Token>& tokens) {
    int count = 0;
    for (std::size_t i = 1; i + 1 < tokens.size(); ++i) {
        const std::string& before = tokens[i - 1].text;
        count += tokens[i].text == "-" && tokens[i + 1].kind == lang::TokenKind::number &&
                         (before == "(" || before == "," || before == "=")
                     ? 1
                     : 0;
    }
    return count;
}

/// Items that end while something that grows from nothing is less than so much: at once.
int ended_at_once(const std::vector<lang::Token>& tokens) {
    bool in_till = false;
    int count = 0;
    for (std::size_t i = 0; i < tokens.size(); ++i) {
        const std::string& text = tokens[i].text;
        in_till = tokens[i].kind != lang::TokenKind::line_end && (in_till || text == "till");
        if (!in_till || (text != "<" && text != "<=")) {
            continue;
        }
        // turned < 60deg, turned by gyro < 60deg
        const std::size_t what = i >= 3 && tokens[i - 2].text == "by" ? i - 3 : i - 1;
        count +=
            tokens[what].text == "turned" || tokens[what].text == "travelled" || tokens[what].text == "elapsed" ? 1 : 0;
    }
    return count;
}

/// Weights that do not mirror one another.
int lopsided_weights(const Plan& plan) {
    const std::vector<double>& weights = plan.checked().weights;
    int odd = 0;
    for (std::size_t i = 0; i < weights.size() / 2; ++i) {
        odd += weights[i] + weights[weights.size() - 1 - i] != 0.0 ? 1 : 0;
    }
    return odd;
}

/// Whether a word stands behind another somewhere.
bool stands_behind(const std::vector<lang::Token>& tokens, const char* before, const std::string& word) {
    for (std::size_t i = 1; i < tokens.size(); ++i) {
        if (tokens[i].text == word && tokens[i - 1].text == before) {
            return true;
        }
    }
    return false;
}

/// Vars that are never set.
int constant_vars(const Plan& plan, const std::vector<lang::Token>& tokens) {
    const std::vector<lang::LaidVar>& vars = plan.checked().vars;
    return static_cast<int>(std::count_if(
        vars.begin(), vars.end(), [&](const lang::LaidVar& var) { return !stands_behind(tokens, "set", var.name); }));
}

/// Ifs that ask what an earlier one of their errand asks.
int asked_twice(const Plan& plan) {
    int count = 0;
    for (const lang::LaidBlock& block : plan.checked().blocks) {
        std::set<std::string> asked;
        for (const lang::LaidItem& item : block.items) {
            count += item.kind == lang::LaidItem::Kind::branch && !asked.insert(lang::to_text(item.condition)).second;
        }
    }
    return count;
}

} // namespace

int oddness(const Plan& plan) {
    std::set<RuleId> reached;
    std::set<std::string> habits;
    lang::Problems unheard(plan.checked().source);
    const std::vector<lang::Token> tokens = lang::tokenize(plan.checked().source, unheard);
    int odd = written_minuses(tokens) + ended_at_once(tokens) + lopsided_weights(plan) + constant_vars(plan, tokens) +
              asked_twice(plan);
    for (const HabitTable& table : pattern_tables(plan)) {
        odd += oddness_of(table, reached);
        habits.insert(table.habit);
    }
    for (std::size_t i = 0; i < plan.rules().size(); ++i) {
        const bool unreached = plan.rules()[i].kind == RuleKind::rule && habits.contains(plan.rules()[i].block) &&
                               !reached.contains(RuleId(i));
        odd += unreached ? 1 : 0;
    }
    return odd;
}

int irregularity(const Plan& plan) {
    lang::Problems unheard(plan.checked().source);
    std::map<std::string, int> numbers;
    std::vector<int> words;
    for (const lang::Token& token : lang::tokenize(plan.checked().source, unheard)) {
        const bool is_side = token.text == "left" || token.text == "right";
        const bool is_marker =
            std::find(plan.markers().begin(), plan.markers().end(), token.text) != plan.markers().end();
        std::string word = is_side ? "left" : is_marker ? "marker" : token.text + token.unit;
        word += token.kind == lang::TokenKind::pattern ? "]" : token.kind == lang::TokenKind::line_end ? "\n" : "";
        words.push_back(numbers.try_emplace(std::move(word), static_cast<int>(numbers.size())).first->second);
    }
    int parts = 0;
    for (std::size_t from = 0; from < words.size(); ++parts) {
        std::size_t longest = 0;
        for (std::size_t earlier = 0; earlier < from; ++earlier) {
            std::size_t alike = 0;
            while (from + alike < words.size() && words[earlier + alike] == words[from + alike]) {
                ++alike;
            }
            longest = std::max(longest, alike);
        }
        from += longest + 1;
    }
    return parts;
}

} // namespace vast_turn
