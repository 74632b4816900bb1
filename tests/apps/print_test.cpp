#include "print/print.hpp"
#include "print/shown.hpp"

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
    {
        vturn::ShownBuffer buffer(out);
        std::ostream shown(&buffer);
        vturn::print_run({in, shown, err, colour}, f.scene, other, drive(f.scene, other));
    }
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

TEST_CASE("what is printed for people shows what it cannot obey, in one piece or byte by byte") {
    const std::string text =
        "a\x1b[31mb\x07\u202Ec\xff \u00E4\t\n" + vturn::own_code("1") + "d" + vturn::own_code("0") + "\x1b";
    const std::string expected = "a\u241B[31mb\u2407<U+202E>c<FF> \u00E4\t\n\x1b[1md\x1b[0m\u241B";
    for (const std::size_t piece : {text.size(), std::size_t{1}, std::size_t{3}}) {
        std::ostringstream out;
        {
            vturn::ShownBuffer buffer(out);
            std::ostream shown(&buffer);
            for (std::size_t at = 0; at < text.size(); at += piece) {
                shown << text.substr(at, piece);
            }
        }
        CHECK(out.str() == expected);
    }
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
