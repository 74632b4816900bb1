/// A run that is stopped, gone back in and made to go on otherwise.

#include "vast_turn/sim/stepped_run.hpp"

#include <deque>
#include <functional>
#include <random>

#include <doctest/doctest.h>

#include "support/fern_house.hpp"
#include "support/fixtures.hpp"
#include "support/rounds.hpp"
#include "vast_turn/formats/read/days_file.hpp"
#include "vast_turn/formats/write/trace_csv.hpp"

using namespace vast_turn;

namespace {

/// A plan of the demo on its course; a robot with weight on a day where `day` is not 0.
struct Outing {
    Course course;
    Robot robot;
    Plan plan;
    Scene scene{course, robot};
    RunOptions options;

    Outing(const std::string& course_name, const std::string& robot_name, const std::string& plan_name,
           std::uint64_t day = 0)
        : course(load_course("data/fern-house/" + course_name + ".course.toml")), robot(robot_of(robot_name, day > 0)),
          plan(load_plan("data/fern-house/" + plan_name + ".plan")) {
        options.day = day;
        options.keep_told = true;
        options.time_limit_s = 40.0;
        options.off_course_mm = 900.0; // one course has a stage without tape
    }

    Outing(const Outing&) = delete;
    Outing& operator=(const Outing&) = delete;

private:
    static Robot robot_of(const std::string& name, bool imperfect) {
        Robot made = load_robot("data/fern-house/" + name + ".robot.toml");
        if (imperfect) {
            made.variation = load_days("data/fern-house/ordinary.days.toml");
            made.late_often = 0.03;
            made.lost_often = 0.02;
            made.delay_varies_ms = 4.0;
            made.encoders = {true, 180.0, 0.02};
            made.gyro = {true, 1.01, 0.2, 0.3, 1.5, 400.0};
            for (LineSensor& sensor : made.sensors) {
                sensor.response_ms = 2.0;
                sensor.drift = -0.03;
            }
        }
        return made;
    }
};

std::deque<Outing> outings() {
    std::deque<Outing> list; // scenes keep references to what stands beside them
    list.emplace_back("fern-house", "sprig-2", "left-first");
    list.emplace_back("stages", "sprig-3", "plans/stages");
    list.emplace_back("drain", "sprig-5-weighed", "plans/search", 3);
    list.emplace_back("turns", "sprig-3", "plans/colour-rules", 5);
    return list;
}

std::string trace(const Run& run, const Outing& drive) { return trace_csv(run, drive.robot, &drive.plan); }

/// All that can be told of two runs is the same.
void check_same(const Run& a, const Run& b, const Outing& drive) {
    CHECK(trace(a, drive) == trace(b, drive));
    CHECK(a.ending == b.ending);
    CHECK(a.ended_because == b.ended_because);
    CHECK(a.time_s == b.time_s);
    CHECK(a.end_at == b.end_at);
    CHECK(a.way_mm == b.way_mm);
    CHECK(a.slid_s == b.slid_s);
    CHECK(a.visits.size() == b.visits.size());
    CHECK(a.events.size() == b.events.size());
    CHECK(a.unanswered == b.unanswered);
    CHECK(a.looks_done == b.looks_done);
    CHECK(a.seed == b.seed);
}

} // namespace

TEST_CASE("a stepped run comes to the same end as one that is driven through, however it was gone back in") {
    std::mt19937 random(41);
    for (const Outing& d : outings()) {
        CAPTURE(d.plan.name());
        const Run whole = drive(d.scene, d.plan, d.options);
        CAPTURE(whole.ended_because);
        REQUIRE(whole.looks.size() > 300);
        SteppedRun stepped(d.scene, d.plan, d.options);
        for (int k = 0; k < 60; ++k) {
            const std::size_t to = random() % whole.looks.size();
            if (random() % 3 == 0) {
                CHECK(stepped.to_time(whole.looks[to].t_s + 0.0004));
            } else {
                CHECK(stepped.to_look(to));
            }
            REQUIRE(stepped.at() == to);
            CHECK(stepped.time_s() == whole.looks[to].t_s);
            CHECK(stepped.body().at == whole.looks[to].at);
            CHECK(stepped.look().raw[0] == whole.told[to].raw[0]);
            CHECK(stepped.answer().rule == whole.looks[to].rule);
            if (random() % 4 == 0) {
                stepped.next();
            }
            if (random() % 16 == 0) {
                stepped.to_end();
                CHECK(stepped.is_over());
                CHECK(stepped.at() == whole.looks.size());
            }
        }
        CHECK_FALSE(stepped.to_look(whole.looks.size() + 3));
        check_same(stepped.run(), whole, d);
        CHECK_FALSE(stepped.next());
        CHECK_FALSE(stepped.to_time(1e6));
        CHECK(stepped.to_time(-3.0));
        CHECK(stepped.at() == 0);
    }
}

TEST_CASE("a copy goes on by itself, and logic of one's own is taken back with its run") {
    const Outing d("fern-house", "sprig-2", "left-first");
    const Scene& scene = d.scene;
    // It counts its looks, and turns off the tape after 200 of them.
    const Decide counting = [n = 0](const Look&, Answer& answer) mutable {
        answer.left_pct = ++n < 200 ? 30.0 : 60.0;
        answer.right_pct = 30.0;
    };
    SteppedRun run(scene, counting, {}, d.options);
    REQUIRE(run.to_look(150));
    SteppedRun copy = run;
    copy.to_end();
    CHECK(run.at() == 150);
    CHECK(run.mind() == nullptr);
    run.to_end();
    check_same(run.run(), copy.run(), d);
    check_same(run.run(), drive(scene, counting, d.options), d);
    REQUIRE(copy.to_look(10));
    copy.to_end();
    check_same(run.run(), copy.run(), d);
}

TEST_CASE("code that goes on from its last answer never learns of one that was given in its place") {
    const Course course = fixtures::board({"M 0,300 H 1000"});
    const Robot robot = fixtures::ideal_robot(2);
    const Scene scene(course, robot);
    const Decide faster = [](const Look&, Answer& answer) { // adds to what it said before
        answer.events = 0;
        answer.left_pct += 1.0;
        answer.right_pct = answer.left_pct;
        answer.add(EventKind::sound, 0);
    };
    SteppedRun run(scene, faster, {});
    REQUIRE(run.to_look(7));
    CHECK(run.answer().left_pct == 8.0);
    run.instead(instead::OtherAnswer{-30.0, 20.0});
    run.instead(instead::OtherAnswer{-31.0, 20.0});
    CHECK(run.answer().left_pct == -31.0);
    CHECK(run.answer().events == 1);
    run.next();
    CHECK(run.answer().left_pct == 9.0);
    REQUIRE(run.to_look(3));
    REQUIRE(run.to_look(9));
    CHECK(run.answer().left_pct == 10.0);
    CHECK(run.run().looks[7].left_pct == -31.0F);
}

TEST_CASE("the same day, the same plan begun at the start, and a thing far away change nothing" *
          doctest::skip(fixtures::sanitized())) {
    for (const Outing& d : outings()) {
        CAPTURE(d.plan.name());
        const Run whole = drive(d.scene, d.plan, d.options);
        Thing far{};
        far.name = "a pot";
        far.at = {d.course.width_mm + 9000.0, -9000.0};
        far.size_mm = {40.0, 40.0};
        SteppedRun same(d.scene, d.plan, d.options);
        same.instead(instead::OtherPlan{d.plan});
        for (const double part : {0.1, 0.35, 0.6, 0.95}) {
            REQUIRE(same.to_look(static_cast<std::size_t>(part * static_cast<double>(whole.looks.size()))));
            same.instead(instead::OtherDay{d.options.day});
            same.next();
            same.instead(instead::MoreThings{far});
        }
        CHECK(same.things().size() == d.course.things.size() + 4);
        same.to_end();
        check_same(same.run(), whole, d);
        same.to_look(3); // and back through all of it
        CHECK(same.things().size() == d.course.things.size());
        same.to_end();
        CHECK(same.things().size() == d.course.things.size() + 4);
        check_same(same.run(), whole, d);
    }
}

TEST_CASE("what is done otherwise at a look is done again when its run is gone back before it, until it is changed") {
    const fixtures::FernHouse f;
    SteppedRun run(f.scene, f.plan);
    REQUIRE(run.to_time(1.5));
    const std::size_t here = run.at();
    const Answer usual = run.answer();
    run.instead(instead::OtherAnswer{-61.0, 47.0});
    CHECK(run.answer().left_pct == -61.0);
    run.next();
    CHECK(run.run().looks.back().left_pct == -61.0F);
    CHECK(run.run().looks.back().rule == usual.rule);
    CHECK(run.answer().left_pct != -61.0);
    run.to_end();
    const Run other = run.run();
    CHECK(other.looks[here + 40].at != drive(f.scene, f.plan).looks[here + 40].at);
    REQUIRE(run.to_look(here - 3));
    run.to_end();
    CHECK(trace_csv(run.run(), f.robot, &f.plan) == trace_csv(other, f.robot, &f.plan));
    REQUIRE(run.to_look(here - 3));
    run.instead(instead::OtherAnswer{usual.left_pct, usual.right_pct}); // forgets what is ahead
    REQUIRE(run.to_look(here));
    CHECK(run.answer().left_pct == usual.left_pct);
}

TEST_CASE("another reading, another look and a var are told to the plan, bits and offset with them") {
    const Course course = fixtures::board({"M 0,300 H 1000"});
    Robot robot = fixtures::ideal_robot(3);
    robot.range_sensor = RangeSensor{{60.0, 0.0}};
    const Scene scene(course, robot);
    const Plan plan = fixtures::compiled("plan \"told\"\nsensors 3\nvar laps = 0\n"
                                         "habit main {\n  laps > 1 -> halt\n"
                                         "  range < 90mm -> still\n  [..#] -> wheels(40, 20)\n"
                                         "  else -> wheels(30, 30)\n}\n");
    SteppedRun run(scene, plan);
    REQUIRE(run.to_look(4));
    CHECK(run.answer().left_pct == 30.0);
    run.instead(instead::OtherReading{1, 0.0});
    run.instead(instead::OtherReading{2, 0.91});
    CHECK(run.look().line_bits == 4);
    CHECK(run.look().sensor[2] == doctest::Approx(0.91).epsilon(0.002));
    CHECK(run.look().last_side == -1.0);
    CHECK(run.answer().left_pct == 40.0);
    run.instead(instead::OtherLook{[](Look& look) { look.range_mm = 55.0; }});
    CHECK(run.answer().left_pct == 0.0);
    run.next();
    CHECK(run.answer().left_pct == 30.0);
    CHECK(run.run().looks[4].line_bits == 4);
    CHECK(run.look().last_side == -1.0);
    run.instead(instead::OtherVar{0, 2.0});
    CHECK(run.answer().halted);
    CHECK_FALSE(run.next());
    CHECK(run.run().ending == Ending::halted);
    REQUIRE(run.to_look(5));
    CHECK(run.mind_before()->machine().storage().cells[0] == 2.0);
    REQUIRE(run.to_look(4));
    CHECK(run.mind_before()->machine().storage().cells[0] == 0.0);
    CHECK(fixtures::message_of([&] {
              run.instead(instead::OtherVar{3, 1.0});
          }).find("no such var") != std::string::npos);
    CHECK(fixtures::message_of([&] {
              run.instead(instead::OtherReading{3, 1.0});
          }).find("there is no sensor 4") != std::string::npos);
}

TEST_CASE("another plan goes on with colours by its own numbers, another day and a thing from where the robot stands") {
    const Outing d("turns", "sprig-3", "plans/colour-rules");
    SteppedRun run(d.scene, d.plan, d.options);
    const std::vector<std::string>& names = d.plan.markers();
    REQUIRE(names.size() > 1);
    while (run.next() && run.look().markers == 0) {
    }
    REQUIRE_FALSE(run.is_over());
    std::string seen;
    for (std::size_t k = 0; k < names.size(); ++k) {
        seen = ((run.look().markers >> k) & 1U) != 0 ? names[k] : seen;
    }
    const std::string other = seen == names[0] ? names[1] : names[0];
    const Plan by_other_numbers =
        fixtures::compiled("plan \"other\"\nsensors 3\nmarkers " + other + ", " + seen + "\nhabit main {\n  " + seen +
                           " -> wheels(7, 7)\n  else -> still\n}\n");
    SteppedRun changed = run;
    changed.instead(instead::OtherPlan{by_other_numbers});
    CHECK(changed.look().markers == 2);
    CHECK(changed.answer().left_pct == 7.0);
    CHECK(changed.mind()->plan().name() == "other");

    SteppedRun blocked = run;
    Thing crate{};
    crate.name = "a crate";
    crate.at = run.body().at + 130.0 * run.body().ahead;
    crate.size_mm = {60.0, 60.0};
    blocked.instead(instead::MoreThings{crate});
    blocked.instead(instead::OtherAnswer{50.0, 50.0});
    blocked.to_end();
    CHECK(blocked.run().ended_because == "it touched \"a crate\"");

    const Plan five = fixtures::compiled(fixtures::plan_text(5, "else -> still"));
    CHECK_FALSE(fixtures::message_of([&] { run.instead(instead::OtherPlan{five}); }).empty());
    run.to_end();
    check_same(run.run(), drive(d.scene, d.plan, d.options), d);
}

TEST_CASE("another day goes on with its robot from where this one stands") {
    const Outing d("drain", "sprig-5-weighed", "plans/search", 3);
    const Run whole = drive(d.scene, d.plan, d.options);
    SteppedRun run(d.scene, d.plan, d.options);
    REQUIRE(run.to_time(1.2));
    const Body here = run.body();
    run.instead(instead::OtherDay{8});
    CHECK(run.body().at == here.at);
    CHECK(run.options().day == 8);
    run.to_end();
    const std::vector<LookRecord>& looks = run.run().looks;
    REQUIRE(looks.size() > 200);
    CHECK(looks[100].at == whole.looks[100].at);
    CHECK(looks.back().at != whole.looks.back().at);
    for (std::size_t i = 1; i < looks.size(); ++i) {
        REQUIRE(length(looks[i].at - looks[i - 1].at) < 0.05 * d.robot.top_speed_mm_s * 1.2); // no leap
    }
}

TEST_CASE("what was recorded ahead is there again when the run goes on, until something is done otherwise") {
    const Outing d("fern-house", "sprig-2", "left-first", 2);
    const Run whole = drive(d.scene, d.plan, d.options);
    SteppedRun run(d.scene, d.plan, d.options);
    run.to_end();
    REQUIRE(run.at() > 750);
    REQUIRE(run.to_look(20));
    CHECK(run.run().looks.size() == 20);
    REQUIRE(run.to_look(run.at() + 700)); // over a state that was kept
    for (std::size_t i = 0; i < run.at(); i += 13) {
        REQUIRE(run.run().looks[i].at == whole.looks[i].at);
    }
    CHECK(run.run().told.size() == run.at());
    CHECK(run.body().at == whole.looks[720].at);
    REQUIRE(run.to_look(600));
    run.instead(instead::OtherAnswer{-80.0, 80.0});
    run.to_end();
    const std::size_t other = run.at();
    REQUIRE(run.to_look(10));
    run.to_end();
    CHECK(run.at() == other);
    CHECK(run.run().looks[599].at == whole.looks[599].at);
    CHECK(run.run().looks[602].at != whole.looks[602].at);
}

TEST_CASE("states to go back to are bounded in number and memory") {
    const Course course = fixtures::board({"M 0,300 H 1000"});
    Robot robot = fixtures::ideal_robot(2);
    robot.look_ms = 1.0;
    const Scene scene(course, robot);
    const Plan plan = fixtures::compiled(fixtures::plan_text(2, "else -> still"));
    SteppedRun run(scene, plan, {.time_limit_s = 200.0});
    run.to_end();
    CHECK(run.at() == 200'000);
    CHECK(run.states_kept() <= 128);
    CHECK(run.states_kept() >= 64);
    CHECK(run.memory_bytes() < 200'000 * 2 * sizeof(LookRecord) + 128 * 40'000);
    CHECK(fixtures::message_of([&] {
              const SteppedRun longer(scene, plan, {.time_limit_s = 4000.1});
          }).find("shorter time limit") != std::string::npos);
    REQUIRE(run.to_look(123'457));
    CHECK(run.at() == 123'457);
    CHECK(run.look().clock_ms == doctest::Approx(123'457.0));
}
