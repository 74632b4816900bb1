#include "vast_turn/formats/read/bench_file.hpp"

#include <doctest/doctest.h>

#include "support/fixtures.hpp"
#include "support/golden.hpp"
#include "vast_turn/base/problem.hpp"
#include "vast_turn/formats/write/bench_csv.hpp"
#include "vast_turn/formats/write/text_file.hpp"

using namespace vast_turn;

namespace {

std::string bench_message(const std::string& text) {
    return fixtures::message_of([&] { parse_bench(text, "bench"); });
}

} // namespace

TEST_CASE("every bad file of readings gets its message") {
    golden::check_catalogue("tests/formats/read/bad-bench.txt", bench_message);
}

TEST_CASE("readings: comments, blank lines, quoted cells, a byte order mark, either separator") {
    const BenchReadings a =
        parse_bench("\xEF\xBB\xBF# a log\n\nunder,A0,\"A1\"\r\nline, 120,118.5\r\nfloor,861,\"855\"\n", "a");
    CHECK(a.channels == std::vector<std::string>{"A0", "A1"});
    REQUIRE(a.looks.size() == 2);
    CHECK(a.looks[0].under == "line");
    CHECK(a.looks[0].counts[1] == 118.5);
    const BenchReadings b = parse_bench("under;A0;A1\nline;120;118,5\nfloor;861;855\n", "b");
    CHECK(b.looks[0].counts[1] == 118.5);
    CHECK(bench_csv(a) == bench_csv(b));
    CHECK(bench_csv(parse_bench(bench_csv(a), "c")) == bench_csv(a));
}

TEST_CASE("colour columns become colour counts") {
    const BenchReadings r = parse_bench("under,A0,red,green,blue,clear\nteal,300,61,520,514,1100\n", "a");
    CHECK(r.channels == std::vector<std::string>{"A0"});
    REQUIRE(r.looks[0].colour);
    CHECK((*r.looks[0].colour)[3] == 1100.0);
}

TEST_CASE("several files, each over one surface, are one recording") {
    const fixtures::Folder folder;
    write_file(folder.file("a.csv"), "A0,A1\n120,118\n");
    write_file(folder.file("b.csv"), "A0,A1\n861,855\n");
    write_file(folder.file("c.csv"), "A0,A2\n861,855\n");
    const BenchReadings all = load_bench({"line=" + folder.file("a.csv"), "floor=" + folder.file("b.csv")});
    REQUIRE(all.looks.size() == 2);
    CHECK(all.looks[0].under == "line");
    CHECK(all.looks[1].under == "floor");
    CHECK_THROWS_AS(load_bench({"line=" + folder.file("a.csv"), "floor=" + folder.file("c.csv")}), InputError);
    CHECK_THROWS_AS(load_bench({folder.file("a.csv")}), InputError);
}

TEST_CASE("columns are put into the order of the robot's sensors by their channels") {
    Robot robot = fixtures::ideal_robot(2);
    robot.sensors[0].channel = "P7";
    robot.sensors[1].channel = "P2";
    const BenchReadings given = parse_bench("under,P2,P7\nline,2,7\n", "a");
    const BenchReadings moved = arranged_for(robot, given);
    CHECK(moved.channels == std::vector<std::string>{"P7", "P2"});
    CHECK(moved.looks[0].counts[0] == 7.0);
    CHECK(arranged_for(robot, parse_bench("under,sensor_2,sensor_1\nline,2,7\n", "a")).looks[0].counts[0] == 7.0);
    CHECK_THROWS_AS(arranged_for(robot, parse_bench("under,P2,P8\nline,2,7\n", "a")), InputError);
    CHECK_THROWS_AS(arranged_for(robot, parse_bench("under,P2,P7,P8\nline,2,7,8\n", "a")), InputError);
}
