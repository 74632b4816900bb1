/// vet's verdicts on rules against trying everything: each pattern with each value of all else that is asked.
#include <algorithm>
#include <cstdint>
#include <random>
#include <set>
#include <string>
#include <vector>

#include <doctest/doctest.h>
#include <fmt/format.h>

#include "support/fixtures.hpp"
#include "support/rounds.hpp"
#include "vast_turn/plan/mind.hpp"
#include "vast_turn/vet/vet.hpp"

using namespace vast_turn;

namespace {

const int habits = fixtures::rounds(5200, 1200, 120);

struct Written {
    std::string condition;
    int left = 0;
    int right = 0;
};

/// Random conditions over patterns, how many see line, markers, the button and the range.
class HabitMaker {
public:
    HabitMaker(std::uint32_t seed, bool in_time) : random_(seed), in_time_(in_time) {}

    int sensors = 2;
    std::vector<Written> rules;

    std::string text() {
        sensors = below(3) + 2;
        const int count = below(5) + 2;
        std::string lines;
        for (int i = 0; i < count; ++i) {
            Written rule{condition(2), power(), power()};
            lines += fmt::format("    {} -> wheels({}, {})\n", rule.condition, rule.left, rule.right);
            rules.push_back(rule);
        }
        return head() + lines + "}\n";
    }

    /// The habit of one rule alone.
    std::string alone(std::size_t rule) const {
        return head() + fmt::format("    {} -> wheels(1, 2)\n    else -> wheels(3, 4)\n}}\n", rules[rule].condition);
    }

private:
    std::string head() const {
        return fmt::format("plan \"p\"\nsensors {}\nmarkers amber, teal\nhabit f {{\n", sensors);
    }
    int below(int n) { return static_cast<int>(random_() % static_cast<std::uint32_t>(n)); }
    int power() { return below(9) * 10 - 37; }

    std::string condition(int depth) {
        if (depth > 0 && below(3) == 0) {
            const char* join = below(2) == 0 ? "and" : "or";
            return fmt::format("({} {} {})", condition(depth - 1), join, condition(depth - 1));
        }
        if (depth > 0 && below(6) == 0) {
            return fmt::format("not ({})", condition(depth - 1));
        }
        if (in_time_ && depth > 0 && below(4) == 0) {
            return below(3) == 0 ? fmt::format("fresh ({})", condition(0))
                                 : fmt::format("({}) lasting {} looks", condition(0), below(4) + 2);
        }
        switch (below(8)) {
        case 0: return "amber";
        case 1: return below(2) == 0 ? "teal" : "button";
        case 2: return fmt::format("range {} {}mm", comparison(), 70 + 30 * below(3));
        case 3: return fmt::format("seen {} {}", comparison(), below(sensors + 1));
        default: break;
        }
        std::string marks;
        for (int i = 0; i < sensors; ++i) {
            marks += "#.?"[below(3)];
        }
        return "[" + marks + "]";
    }
    const char* comparison() {
        constexpr const char* words[] = {"<", "<=", ">", ">=", "==", "!="};
        return words[below(6)];
    }

    std::mt19937 random_;
    bool in_time_;
};

/// Every state that can be told apart.
std::vector<Look> all_states(int sensors) {
    std::vector<Look> list;
    for (int bits = 0; bits < pattern_count(sensors); ++bits) {
        for (int flags = 0; flags < 8; ++flags) {
            for (const double range : {50.0, 70.0, 85.0, 100.0, 115.0, 130.0, 900.0}) {
                Look look;
                look.sensors = static_cast<std::uint8_t>(sensors);
                look.line_bits = static_cast<std::uint8_t>(bits);
                look.markers = static_cast<std::uint16_t>(flags & 3);
                look.button = (flags & 4) != 0;
                look.range_mm = range;
                list.push_back(look);
            }
        }
    }
    return list;
}

/// In which states each rule's condition holds, asked of the runtime rule by rule.
std::vector<std::vector<bool>> truths(const HabitMaker& maker, const std::vector<Look>& states) {
    std::vector<std::vector<bool>> table;
    for (std::size_t i = 0; i < maker.rules.size(); ++i) {
        Mind mind(fixtures::compiled(maker.alone(i)));
        std::vector<bool> holds;
        for (const Look& state : states) {
            Answer answer;
            mind(state, answer);
            holds.push_back(answer.rule == RuleId(0));
        }
        table.push_back(std::move(holds));
    }
    return table;
}

/// Lines of the findings of a kind; rules stand from line 5 on.
std::set<int> lines_of(const VetReport& report, const std::string& code) {
    std::set<int> lines;
    for (const Finding& finding : report.findings) {
        if (finding.kind->code == code) {
            lines.insert(finding.place.line);
        }
    }
    return lines;
}

bool every(const std::vector<bool>& a, const std::vector<bool>& b) { // a holds only when b does
    for (std::size_t i = 0; i < a.size(); ++i) {
        if (a[i] && !b[i]) {
            return false;
        }
    }
    return true;
}

int turn(const Written& rule) { return rule.right > rule.left + 4 ? 1 : rule.right < rule.left - 4 ? -1 : 0; }

/// What trying everything says.
struct Truth {
    std::set<int> never;
    std::set<int> order; ///< lines of rules that stand before one that turns the other way
    bool always_open = false;
    bool sometimes_open = false;
};

Truth try_everything(const HabitMaker& maker, const std::vector<Look>& states) {
    const std::vector<std::vector<bool>> holds = truths(maker, states);
    const std::size_t rules = holds.size();
    Truth out;
    std::vector<std::vector<bool>> acts(rules, std::vector<bool>(states.size(), false));
    std::vector<int> open(256, 0);
    std::vector<int> of(256, 0);
    for (std::size_t s = 0; s < states.size(); ++s) {
        std::size_t i = 0;
        while (i < rules && !holds[i][s]) {
            ++i;
        }
        ++of[states[s].line_bits];
        open[states[s].line_bits] += i == rules ? 1 : 0;
        if (i < rules) {
            acts[i][s] = true;
        }
    }
    for (std::size_t bits = 0; bits < open.size(); ++bits) {
        out.always_open = out.always_open || (of[bits] > 0 && open[bits] == of[bits]);
        out.sometimes_open = out.sometimes_open || open[bits] > 0;
    }
    for (std::size_t i = 0; i < rules; ++i) {
        if (std::find(acts[i].begin(), acts[i].end(), true) == acts[i].end()) {
            out.never.insert(static_cast<int>(i) + 5);
        }
        for (std::size_t k = i + 1; k < rules; ++k) {
            const auto says_pattern = [&](std::size_t r) { // by its text: a leaf that not every pattern fulfils
                const std::string& c = maker.rules[r].condition;
                return c.find('[') != std::string::npos || c.find("seen") != std::string::npos;
            };
            bool both = false;
            for (std::size_t s = 0; s < states.size(); ++s) {
                both = both || (acts[i][s] && holds[k][s]);
            }
            if (both && says_pattern(i) && says_pattern(k) && turn(maker.rules[i]) * turn(maker.rules[k]) < 0 &&
                !every(holds[i], holds[k]) && !every(holds[k], holds[i])) {
                out.order.insert(static_cast<int>(i) + 5);
            }
        }
    }
    return out;
}

} // namespace

TEST_CASE("vet's verdicts agree with trying everything, on random habits") {
    int never = 0;
    int open = 0;
    int order = 0;
    for (int seed = 0; seed < habits; ++seed) {
        HabitMaker maker(static_cast<std::uint32_t>(seed), false);
        const std::string text = maker.text();
        CAPTURE(text);
        const VetReport report = vet(fixtures::compiled(text));
        const Truth truth = try_everything(maker, all_states(maker.sensors));
        REQUIRE(lines_of(report, "never-acts") == truth.never);
        const std::set<int> told = lines_of(report, "order-decides");
        REQUIRE(std::includes(truth.order.begin(), truth.order.end(), told.begin(), told.end()));
        for (const int line : truth.order) { // a leaf such as [??] or seen >= 0 says nothing, though its text does
            const std::string& condition = maker.rules[static_cast<std::size_t>(line - 5)].condition;
            const bool plain = condition.front() == '[' && condition.find_first_of("#.") != std::string::npos;
            if (plain && told.count(line) == 0) {
                // its partner further down may be the one that says nothing
                const bool partner_plain =
                    std::any_of(maker.rules.begin() + (line - 4), maker.rules.end(), [](const Written& r) {
                        return r.condition.find("??") != std::string::npos ||
                               r.condition.find("seen") != std::string::npos;
                    });
                REQUIRE(partner_plain);
            }
        }
        bool says_always = false;
        bool says_some = false;
        for (const Finding& finding : report.findings) {
            says_always = says_always || finding.message.find("has no rule for") != std::string::npos;
            says_some = says_some || finding.kind->code == std::string("unanswered");
        }
        REQUIRE(says_always == truth.always_open);
        REQUIRE(says_some == truth.sometimes_open);
        CHECK(report.undecided.empty());
        never += static_cast<int>(truth.never.size());
        open += truth.sometimes_open ? 1 : 0;
        order += static_cast<int>(told.size());
    }
    MESSAGE(habits << " habits: " << never << " rules that never act, " << open << " habits with gaps, " << order
                   << " orders that decide");
    CHECK(never > habits / 10);
    CHECK(open > habits / 10);
    CHECK(open < habits);
    CHECK(order > habits / 20);
}

TEST_CASE("what vet says for sure holds in random rows of looks, with fresh and lasting too") {
    int claims = 0;
    for (int seed = 0; seed < habits / 5; ++seed) {
        HabitMaker maker(static_cast<std::uint32_t>(seed + 100'000), true);
        const std::string text = maker.text();
        CAPTURE(text);
        const Plan plan = fixtures::compiled(text);
        const VetReport report = vet(plan);
        const std::set<int> never = lines_of(report, "never-acts");
        const bool may_be_open = !lines_of(report, "unanswered").empty() || !report.undecided.empty();
        claims += static_cast<int>(never.size()) + (may_be_open ? 0 : 1);
        const std::vector<Look> states = all_states(maker.sensors);
        std::mt19937 random(static_cast<std::uint32_t>(seed));
        Mind mind(plan);
        Look look = states.front();
        for (int i = 0; i < 400; ++i) {
            if (random() % 3 == 0) { // stays for a few looks, so that what lasts does
                look = states[random() % states.size()];
            }
            look.clock_ms = 10.0 * i;
            Answer answer;
            mind(look, answer);
            if (answer.rule == no_rule) {
                REQUIRE(may_be_open);
            } else {
                REQUIRE(never.count(plan.rule(answer.rule).line) == 0);
            }
        }
    }
    CHECK(claims > habits / 20);
}
