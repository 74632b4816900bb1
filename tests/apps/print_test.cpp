#include "print/print.hpp"

#include <sstream>

#include <doctest/doctest.h>

#include "support/fern_house.hpp"
#include "support/fixtures.hpp"
#include "vast_turn/base/problem.hpp"
#include "vast_turn/base/utf8.hpp"
#include "vast_turn/plan/explain/describe.hpp"

using namespace vast_turn;

namespace {

std::string columns(const std::vector<std::vector<std::string>>& rows,
                    const std::vector<std::size_t>& to_the_right = {}) {
    std::ostringstream out;
    vturn::print_columns(out, rows, to_the_right);
    return out.str();
}

std::string printed(bool colour, const std::string& plan) {
    const fixtures::FernHouse f;
    const Plan other = f.other(plan);
    std::istringstream in;
    std::ostringstream out;
    std::ostringstream err;
    vturn::print_run({in, out, err, colour}, f.scene, other, drive(f.scene, other));
    CHECK(err.str().empty());
    return out.str();
}

} // namespace

TEST_CASE("columns are as wide as their widest cell, counted in characters, without blanks at line ends") {
    CHECK(columns({{"a", "bb", "c"}, {"ä\u00F6", "b", ""}}) == "  a   bb  c\n  ä\u00F6  b\n");
    CHECK(columns({{"1", "x"}, {"200", "y"}}, {0}) == "    1  x\n  200  y\n");
    CHECK(columns({}).empty());
    CHECK(vast_turn::characters_in("\u2192 \u00E4") == 3);
}

TEST_CASE("colours appear only when they are asked for") {
    CHECK(printed(false, "gentle").find('\033') == std::string::npos);
    const std::string coloured = printed(true, "gentle");
    CHECK(coloured.find("\033[31;1moff course\033[0m") != std::string::npos);
    CHECK(printed(true, "left-first").find("\033[32mhalt\033[0m") != std::string::npos);
}

TEST_CASE("a run prints its unanswered looks and the end that no rule decided") {
    const fixtures::FernHouse f;
    const Plan plan = fixtures::compiled(fixtures::plan_text(2, "[#.] mirrored -> wheels(-20, 40)"));
    RunOptions options;
    options.time_limit_s = 0.3;
    std::istringstream in;
    std::ostringstream out;
    std::ostringstream err;
    vturn::print_run({in, out, err, false}, f.scene, plan, drive(f.scene, plan, options));
    CHECK(out.str().find("30 unanswered") != std::string::npos);
    CHECK(out.str().find("no rule; the last motion was kept (saw [..])") != std::string::npos);
    CHECK(out.str().find("time over at 0.30 s") != std::string::npos);
}

TEST_CASE("a look cut short by too many transfers is told with its habit") {
    const fixtures::FernHouse f;
    const Plan plan = fixtures::compiled(
        "plan \"t\"\nsensors 2\nhabit a {\n clock < 1s -> become b\n}\nhabit b {\n clock < 1s -> become a\n}\n");
    RunOptions options;
    options.time_limit_s = 0.01;
    std::istringstream in;
    std::ostringstream out;
    std::ostringstream err;
    vturn::print_run({in, out, err, false}, f.scene, plan, drive(f.scene, plan, options));
    CHECK(out.str().find("more than 16 transfers in one look, in a") != std::string::npos);
}

TEST_CASE("a rule is named by line, whether it is a twin, condition and acts") {
    const Plan plan = fixtures::compiled(fixtures::plan_text(2, "[#.] mirrored -> wheels(1, 2)\nelse -> keep"));
    CHECK(describe_rule(plan, RuleId(0)) == "line 4: [#.] -> wheels(1, 2)");
    CHECK(describe_rule(plan, RuleId(1)) == "line 4 (mirrored): [.#] -> wheels(2, 1)");
    CHECK(describe_rule(plan, RuleId(2)) == "line 5: else -> keep");
}

TEST_CASE("a name that ends like no picture is refused") {
    CHECK(vturn::format_for("x.pdf") == PictureFormat::pdf);
    CHECK_THROWS_AS(vturn::format_for("x.txt"), InputError);
}
