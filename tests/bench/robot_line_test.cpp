/// What comes over a serial line: believed when it is whole, counted when it is not.
#include "vast_turn/bench/robot_line.hpp"

#include <random>

#include <doctest/doctest.h>
#include <fmt/format.h>

#include "support/rounds.hpp"
#include "vast_turn/bench/stand_in.hpp"
#include "vast_turn/formats/read/plan_file.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/formats/read/text_file.hpp"
#include "vast_turn/paint/course_file.hpp"

using namespace vast_turn;

namespace {

Robot sprig(int sensors) { return load_robot(fmt::format("data/fern-house/sprig-{}.robot.toml", sensors)); }

std::vector<LoggedLook> looks_in(const std::vector<RobotHeard>& heard) {
    std::vector<LoggedLook> looks;
    for (const RobotHeard& one : heard) {
        if (const auto* look = std::get_if<LoggedLook>(&one)) {
            looks.push_back(*look);
        }
    }
    return looks;
}

bool same_counts(const Look& a, const Look& b, int sensors) {
    return std::equal(a.raw, a.raw + sensors, b.raw) && a.clock_ms == b.clock_ms;
}

} // namespace

TEST_CASE("robot line: a line with its check sum is taken apart again, and no other") {
    const std::string line = checked_line("set,cruise,44");
    CHECK(line == "set,cruise,44,5557\n");
    const std::string bare = line.substr(0, line.size() - 1);
    REQUIRE(words_of_checked(bare));
    CHECK(*words_of_checked(bare) == "set,cruise,44");
    for (std::size_t i = 0; i < bare.size(); ++i) {
        std::string garbled = bare;
        garbled[i] = garbled[i] == '7' ? '8' : '7';
        CHECK_FALSE(words_of_checked(garbled));
        CHECK_FALSE(words_of_checked(bare.substr(0, i)));
    }
    CHECK_FALSE(words_of_checked("set,cruise,44"));
    CHECK_FALSE(words_of_checked(""));
}

TEST_CASE("robot line: ten lines of somebody's own program are enough") {
    RobotEar ear(sprig(2), std::nullopt);
    const auto heard =
        ear.hears("hello from my board\ntime_ms,raw_1,raw_2\r\n0,801,122\r\n\n12,800,130\n!note,so far\n2");
    REQUIRE(heard.size() == 3);
    const auto looks = looks_in(heard);
    REQUIRE(looks.size() == 2);
    CHECK(looks[1].look.clock_ms == 12.0);
    CHECK(looks[1].look.raw[1] == 130.0);
    CHECK_FALSE(looks[1].left_pct);
    CHECK(std::get<RobotSays>(heard[2]).kind == "note");
    CHECK(std::get<RobotSays>(heard[2]).what == "so far");
    CHECK(ear.count().unnamed == 1); // what stood before the names of the columns
    CHECK(ear.count().garbled == 0);
    CHECK_FALSE(ear.count().checked);
    CHECK(ear.tells_counts());
    CHECK(looks_in(ear.hears("4,803,129\n")).size() == 1); // the rest of a row that was begun
}

TEST_CASE("robot line: what cannot be is not believed, with check sums or without") {
    RobotEar ear(sprig(2), std::nullopt);
    ear.hears("time_ms,raw_1,raw_2,left_pct,right_pct\n0,800,122,10,10\n");
    for (const char* row :
         {"12,800\n", "12,800,12x,10,10\n", "12,99999,122,10,10\n", "12,-4,122,10,10\n", "12,800,122,140,10\n",
          "0,800,122,10,10\n", "\x07\x1b[2J\n", "nonsense\n", "12,800,122,10,\n", "12,800,122,10,nan\n"}) {
        CAPTURE(row);
        const auto before = ear.count().garbled;
        CHECK(looks_in(ear.hears(row)).empty());
        CHECK(ear.count().garbled == before + 1);
    }
    // A clock that leaps is believed when the next look goes on from there: the robot began anew.
    CHECK(looks_in(ear.hears("912000,800,122,10,10\n")).empty());
    CHECK(looks_in(ear.hears("12,800,122,10,10\n")).size() == 1);
    CHECK(looks_in(ear.hears("70000,801,122,10,10\n")).empty());
    CHECK(looks_in(ear.hears("70012,801,122,10,10\n")).size() == 1);
    CHECK(ear.count().looks == 3);
}

TEST_CASE("robot line: looks that should have come and did not are counted by the robot's clock") {
    const Robot robot = sprig(2);
    RobotEar ear(robot, std::nullopt);
    ear.hears("time_ms,raw_1,raw_2\n");
    for (const double look : {0.0, 1.0, 2.0, 5.0, 6.0}) {
        ear.hears(fmt::format("{},800,122\n", look * robot.look_ms));
    }
    CHECK(ear.count().missing == 2);
    ear.cut();
    ear.hears(fmt::format("{},800,122\n", 60.0 * robot.look_ms)); // the cable was out meanwhile
    CHECK(ear.count().missing == 2);
}

TEST_CASE("robot line: of a bad cable no garbled look is believed, and most whole ones are" *
          doctest::description("both forms, faults of bytes from rare to frequent")) {
    const Robot robot = sprig(5);
    const Plan plan = load_plan("data/fern-house/rounds.plan");
    const Course course = load_course("data/fern-house/fern-house.course.toml");
    const Scene scene(course, robot);
    for (const bool in_frames : {false, true}) {
        for (const double often : {0.0002, 0.003, 0.02}) {
            CAPTURE(in_frames);
            CAPTURE(often);
            StandInOptions options;
            options.plan = plan;
            options.in_frames = in_frames;
            options.run.numbers = runtime::NumberKind::binary32;
            StandIn stand_in(scene, options);
            RobotEar whole(robot, plan);
            RobotEar ear(robot, plan);
            BadCable cable({often, often, often, 0.1 * often}, 7);
            std::map<double, Look> sent;
            std::size_t believed = 0;
            const int looks = fixtures::rounds(40000, 4000, 600);
            for (int i = 0; i < looks; ++i) {
                stand_in.hold({i % 200 < 100 ? HeldOver::What::floor : HeldOver::What::line});
                const std::string bytes = stand_in.look();
                for (const LoggedLook& look : looks_in(whole.hears(bytes))) {
                    sent[look.look.clock_ms] = look.look;
                }
                for (const LoggedLook& look : looks_in(ear.hears(cable.through(bytes)))) {
                    const auto found = sent.find(look.look.clock_ms);
                    CAPTURE(look.look.clock_ms);
                    CAPTURE(look.look.raw[0]);
                    CAPTURE(i);
                    REQUIRE(found != sent.end());
                    REQUIRE(same_counts(found->second, look.look, 5));
                    ++believed;
                }
            }
            CHECK(sent.size() == static_cast<std::size_t>(looks));
            CHECK(whole.count().garbled == 0);
            CHECK(ear.count().garbled > 0);
            if (often > 0.01 || looks < 2000) {
                continue; // hardly a line of columns comes whole, or it comes late by chance
            }
            // A row of some fifty bytes stays whole with this chance.
            const double chance = std::pow(1.0 - 3.1 * often, in_frames ? 45.0 : 60.0);
            CHECK(static_cast<double>(believed) > 0.7 * chance * looks);
        }
    }
}

TEST_CASE("robot line: whatever comes, it neither throws nor keeps it for ever") {
    const Robot robot = sprig(3);
    const Plan plan = load_plan("data/fern-house/plans/three-table.plan");
    std::mt19937 random(411);
    const std::string alphabet = "0123456789,.!=?#\n\r\xA7TESH\x00\xff tim_srawcheck";
    for (int round = 0; round < fixtures::rounds(4000, 400, 60); ++round) {
        RobotEar ear(robot, round % 2 == 0 ? std::optional(plan) : std::nullopt);
        ear.hears(round % 3 == 0 ? checked_header("time_ms,raw_1,raw_2,raw_3") : "time_s,pattern\n");
        for (int part = 0; part < 40; ++part) {
            std::string bytes;
            for (std::size_t i = random() % 300; i > 0; --i) {
                bytes += round % 4 == 0 ? static_cast<char>(random()) : alphabet[random() % alphabet.size()];
            }
            ear.hears(bytes);
        }
    }
    RobotEar ear(robot, std::nullopt);
    for (int i = 0; i < 300; ++i) {
        ear.hears(std::string(1000, 'x'));
    }
    CHECK(ear.count().garbled > 50);
    CHECK(ear.count().looks == 0);
    ear.hears("\ntime_ms,raw_1,raw_2,raw_3\n0,1,2,3\n");
    CHECK(ear.count().looks == 1);
}

TEST_CASE("robot line: a line of columns that came garbled names nothing") {
    RobotEar ear(sprig(2), std::nullopt);
    std::string header = checked_header("time_ms,raw_1,raw_2");
    header[9] = '3'; // raw_1 became another
    ear.hears(header);
    CHECK(ear.count().garbled == 1);
    ear.hears(checked_line("0,800,122"));
    CHECK(ear.count().unnamed == 1);
    ear.hears(checked_header("time_ms,raw_1,raw_2"));
    ear.hears(checked_line("12,800,122"));
    CHECK(ear.count().looks == 1);
    RobotEar other(sprig(2), std::nullopt);
    other.hears("time_ms,raw_1,raw_2,chack_" + header.substr(header.size() - 5)); // as if rows had no check sums
    other.hears(checked_line("0,800,122"));
    CHECK(other.count().looks == 0);
    CHECK(other.count().garbled == 1);
    other.hears(checked_header("time_ms,raw_1,raw_2") + checked_line("12,800,122"));
    CHECK(other.count().looks == 1);
    RobotEar own(sprig(2), std::nullopt);
    own.hears("time_ms,raw_1,raw_2,mood\n"); // a column of somebody's own
    for (int i = 0; i < 20; ++i) {
        own.hears(fmt::format("{},800,122,7\n", 12 * i));
    }
    CHECK(own.count().looks == 12);
    ear.hears("24,800,122\n"); // rows of a checked line want their check sum
    CHECK(ear.count().looks == 1);
    CHECK(ear.count().garbled == 2);
}

TEST_CASE("robot line: the lines that its page shows bear their own check sums") {
    const std::string page = read_file("docs/serial-line.md");
    int whole = 0;
    for (std::size_t from = page.find("| `"); from != std::string::npos; from = page.find("| `", from + 1)) {
        const std::string line = page.substr(from + 3, page.find('`', from + 3) - from - 3);
        const std::size_t comma = line.rfind(',');
        const std::string last = comma == std::string::npos ? "" : line.substr(comma + 1);
        const std::string sum = last.starts_with("check_") ? last.substr(6) : last;
        if (sum.size() == 4 && sum.find_first_not_of("0123456789ABCDEF") == std::string::npos) {
            CAPTURE(line);
            CHECK((words_of_checked(line) || columns_of_checked(line)));
            ++whole;
        }
    }
    CHECK(whole == 6);
}
