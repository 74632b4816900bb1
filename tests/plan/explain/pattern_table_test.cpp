#include "vast_turn/plan/explain/pattern_table.hpp"

#include <set>

#include <doctest/doctest.h>
#include <fmt/format.h>

#include "support/fixtures.hpp"

using namespace vast_turn;
using fixtures::compiled;
using fixtures::plan_text;

namespace {

/// One line a row: pattern, then for each entry rule number, condition and wheels.
std::string table_of(const std::string& rules, int sensors = 2) {
    std::string text;
    const Plan plan = compiled(plan_text(sensors, rules));
    const std::vector<HabitTable> tables = pattern_tables(plan);
    for (const TableRow& row : tables.front().rows) {
        text += to_marks(row.pattern);
        for (const TableEntry& entry : row.entries) {
            text += fmt::format(" {}", entry.rule.index());
            text += entry.when.empty() ? "" : fmt::format("({})", entry.when);
            text += entry.wheels ? fmt::format("={:g},{:g}", entry.wheels->left_pct, entry.wheels->right_pct)
                                 : (entry.keeps_motion ? "=keep" : "=~");
        }
        text += row.may_be_unanswered ? " unanswered;" : ";";
    }
    return text;
}

} // namespace

TEST_CASE("each pattern shows the first rule that answers it") {
    CHECK(table_of("[#.] mirrored -> wheels(20, 40)\nelse -> ahead(50)") ==
          ".. 2=50,50;#. 0=20,40;.# 1=40,20;## 2=50,50;");
}

TEST_CASE("a rule that needs more than the pattern shows what, and what happens otherwise") {
    CHECK(
        table_of("[##] lasting 3 looks -> halt\n[?#] and elapsed > 20ms -> ahead(1)\nelse -> keep") ==
        ".. 2=keep;#. 2=keep;.# 1(elapsed > 20ms)=1,1 2=keep;## 0(lasting 3 looks)=0,0 1(elapsed > 20ms)=1,1 2=keep;");
}

TEST_CASE("patterns that no rule is sure to answer stand out") {
    CHECK(table_of("[#.] -> ahead(1)\n[.#] and offset > 0.2 -> ahead(2)") ==
          ".. unanswered;#. 0=1,1;.# 1(offset > 0.2)=2,2 unanswered;## unanswered;");
}

TEST_CASE("the pattern decides what it can: seen, not, and, or, constants") {
    CHECK(table_of("seen == 2 and not [..] -> ahead(1)\nseen > 0 or elapsed > 1s -> ahead(2)\nfalse -> ahead(4)\nelse "
                   "-> ahead(3)") == ".. 1(elapsed > 1s)=2,2 3=3,3;#. 1=2,2;.# 1=2,2;## 0=1,1;");
}

TEST_CASE("measured powers are marked, not guessed") {
    CHECK(table_of("else -> bend(30 * offset, 40)", 1) == ". 0=~;# 0=~;");
}

TEST_CASE("tables have every pattern once, for one to eight sensors") {
    for (int sensors = 1; sensors <= 8; ++sensors) {
        const auto tables = pattern_tables(compiled(plan_text(sensors, "else -> keep")));
        std::set<int> bits;
        for (const TableRow& row : tables.front().rows) {
            bits.insert(row.pattern.bits);
        }
        CHECK(static_cast<int>(bits.size()) == pattern_count(sensors));
    }
}

TEST_CASE("the table agrees with the runtime for every pattern of plans that only patterns decide") {
    const Plan plan =
        compiled(plan_text(5, "[##???] -> ahead(1)\n[..#..] mirrored -> wheels(2, 3)\n[???##] and not [#????] -> "
                              "rotate(left, 4)\nseen > 3 -> pivot(right, 5)\nelse -> bend(6, 7)"));
    const std::vector<HabitTable> tables = pattern_tables(plan);
    for (const TableRow& row : tables.front().rows) {
        CAPTURE(to_marks(row.pattern));
        Mind mind(plan);
        Answer answer;
        mind(fixtures::look(to_marks(row.pattern)), answer);
        REQUIRE(row.entries.size() == 1);
        CHECK(answer.rule == row.entries[0].rule);
        CHECK(row.entries[0].wheels == Wheels{answer.left_pct, answer.right_pct});
    }
}

TEST_CASE("rules that hold too are found behind the acting one, in the same habit only") {
    const Plan plan = compiled("plan \"t\"\nsensors 2\nhabit a {\n [#?] -> ahead(1)\n [?#] -> ahead(2)\n [##] lasting "
                               "2 looks -> ahead(3)\n else -> ahead(4)\n}\nhabit b {\n [##] -> ahead(5)\n}\n");
    CHECK(also_holding(plan, RuleId(0), {3, 2}) == std::vector{RuleId(1), RuleId(3)});
    CHECK(also_holding(plan, RuleId(1), {2, 2}) == std::vector{RuleId(3)});
    CHECK(also_holding(plan, RuleId(4), {3, 2}).empty());
}

TEST_CASE("powers that follow from readings of exactly 0 and 1 are given beside what is constant") {
    const Plan plan = compiled(plan_text(3, "[...] -> bend(9 * offset, 40)\nraw(1) > 5 -> ahead(raw(2))\n"
                                            "seen == 3 -> ahead(10 * seen)\nelse -> bend(30 * offset, 40)"));
    const std::vector<HabitTable> tables = pattern_tables(plan);
    const auto crisp = [&](const char* marks) {
        for (const TableRow& row : tables.front().rows) {
            if (to_marks(row.pattern) == marks) {
                return row.entries.back().crisp;
            }
        }
        return std::optional<Wheels>{};
    };
    CHECK_FALSE(crisp("...").has_value()); // off the line the offset is a memory
    CHECK(crisp("#..") == Wheels{10.0, 70.0});
    CHECK(crisp("##.") == Wheels{25.0, 55.0});
    CHECK(crisp("###") == Wheels{30.0, 30.0});
    for (const TableRow& row : tables.front().rows) {
        for (const TableEntry& entry : row.entries) {
            CHECK_FALSE((entry.rule == RuleId(1) && entry.crisp)); // counts are not known
        }
    }
}

TEST_CASE("the robot's own weights decide the crisp powers, and the runtime agrees") {
    const Plan plan = compiled(plan_text(3, "[...] -> still\nelse -> bend(30 * offset, 40)"));
    const std::vector<double> weights = {1.0, 0.25, -0.75};
    const std::vector<HabitTable> tables = pattern_tables(plan, weights);
    for (const TableRow& row : tables.front().rows) {
        Look look = fixtures::look(to_marks(row.pattern));
        double sum = 0.0;
        double weighted = 0.0;
        for (std::size_t i = 0; i < 3; ++i) {
            look.sensor[i] = (row.pattern.bits >> i) & 1;
            sum += look.sensor[i];
            weighted += weights[i] * look.sensor[i];
        }
        look.offset = sum > 0.0 ? weighted / sum : 0.0;
        Mind mind(plan);
        Answer answer;
        mind(look, answer);
        const TableEntry& entry = row.entries.front();
        CHECK((entry.wheels ? entry.wheels : entry.crisp) == Wheels{answer.left_pct, answer.right_pct});
    }
}

TEST_CASE("rows in which the same happens are one group; every pattern is in one") {
    const auto tables =
        pattern_tables(compiled(plan_text(5, "[#????] mirrored -> ahead(1)\nseen > 1 -> bend(9 * offset, 20)\n"
                                             "[..#..] lasting 2 looks -> ahead(3)\nelse -> keep")));
    const std::vector<RowGroup> groups = grouped(tables.front());
    std::set<int> bits;
    for (const RowGroup& group : groups) {
        for (const Pattern& pattern : group.patterns) {
            CHECK(bits.insert(pattern.bits).second);
        }
    }
    CHECK(bits.size() == 32);
    CHECK(groups.size() < 12);
    // ..... and .#... both keep; ..#.. has a case more
    CHECK(groups.front().patterns.size() == 3);
    // .##.. bends one way, ..##. the other, so they stand apart
    const auto of = [&](std::uint8_t wanted) {
        for (std::size_t i = 0; i < groups.size(); ++i) {
            for (const Pattern& pattern : groups[i].patterns) {
                if (pattern.bits == wanted) {
                    return i;
                }
            }
        }
        return groups.size();
    };
    CHECK(of(0b00110) != of(0b01100));
    CHECK(of(0b00001) == of(0b00111));
}
