/// Places, and the ways in which a run ends.
#include <doctest/doctest.h>

#include "support/fixtures.hpp"
#include "vast_turn/trial/trip_result.hpp"

using namespace vast_turn;

namespace {

/// Drives with constant powers.
Run driven(const Course& course, double left_pct, double right_pct, RunOptions options = {}) {
    const Robot robot = fixtures::ideal_robot(2);
    const Scene scene(course, robot);
    return drive(scene, Decide([=](const Look&, Answer& answer) {
                     answer.left_pct = left_pct;
                     answer.right_pct = right_pct;
                 }),
                 options);
}

Course straight() { return fixtures::board({"M 0,300 H 1000"}); }

} // namespace

TEST_CASE("a place is visited when the midpoint comes within its radius, to within the 10 ms of a look at it") {
    Course course = straight();
    course.places = {{"near", {300.0, 310.0}, 20.0}, {"beside", {500.0, 340.0}, 20.0}, {"far", {700.0, 300.0}, 20.0}};
    const Run run = driven(course, 50.0, 50.0); // 210 mm/s
    CHECK(route_of(course, run) == std::vector<std::string>{"near", "far"});
    CHECK(run.visits[1].t_s == doctest::Approx((680.0 - 100.0) / 210.0).epsilon(0.004));
}

TEST_CASE("a place that holds the start counts only when the robot has left it and comes back") {
    Course course = straight();
    course.places = {{"home", {100.0, 300.0}, 30.0}};
    const Robot robot = fixtures::ideal_robot(2);
    const Scene scene(course, robot);
    RunOptions options;
    options.time_limit_s = 3.0;
    const Run run = drive(scene, Decide([](const Look& look, Answer& answer) {
                              answer.left_pct = answer.right_pct = look.clock_ms < 1000.0 ? 40.0 : -40.0;
                          }),
                          options);
    CHECK(route_of(course, run) == std::vector<std::string>{"home"});
    CHECK(run.visits[0].t_s > 1.0);
}

TEST_CASE("a place counts again only after the robot was 10 mm outside") {
    Course course = straight();
    course.places = {{"spot", {200.0, 300.0}, 30.0}};
    const auto visits = [&](double beyond_mm) {
        const Robot robot = fixtures::ideal_robot(2);
        const Scene scene(course, robot);
        RunOptions options;
        options.time_limit_s = 6.0;
        double sign = 1.0;
        return drive(scene, Decide([&](const Look& look, Answer& answer) {
                         const double x = 100.0 + look.way_mm;
                         sign = x > 230.0 + beyond_mm ? -1.0 : (x < 200.0 ? 1.0 : sign);
                         answer.left_pct = answer.right_pct = 30.0 * sign;
                     }),
                     options)
            .visits.size();
    };
    CHECK(visits(4.0) == 1);
    CHECK(visits(16.0) > 1);
}

TEST_CASE("driving off the board ends the run at the edge") {
    const Run run = driven(straight(), 50.0, 50.0);
    CHECK(run.ending == Ending::off_course);
    CHECK(run.ended_because == "it drove off the board");
    CHECK(run.end_at.x == doctest::Approx(1000.0).epsilon(0.003));
}

TEST_CASE("too far from any tape ends the run at that distance") {
    Course course = fixtures::board({"M 0,300 H 1000"});
    course.starts[0].pose.heading_deg = 90.0;
    RunOptions options;
    options.off_course_mm = 120.0;
    const Run run = driven(course, 50.0, 50.0, options);
    CHECK(run.ending == Ending::off_course);
    CHECK(300.0 - run.end_at.y == doctest::Approx(120.0).epsilon(0.02));
}

TEST_CASE("gaps count as tape: a robot that crosses one is neither lost nor off course") {
    Course course = fixtures::board({"M 0,300 H 1000"});
    course.tapes[0].gaps = {{200.0, 600.0}};
    RunOptions options;
    options.lost_after_s = 0.2;
    options.off_course_mm = 30.0;
    CHECK(driven(course, 50.0, 50.0, options).end_at.x > 990.0);
}

TEST_CASE("a run is lost once the tape was nowhere under the array for longer than the limit") {
    Course course = fixtures::board({"M 0,300 H 400"});
    RunOptions options;
    options.lost_after_s = 0.5;
    const Run run = driven(course, 50.0, 50.0, options);
    CHECK(run.ending == Ending::lost);
    // The array's middle leads by 50 mm, reaches 7 + 3 mm to the side and the tape is 19 mm wide.
    const double off_at_s = (400.0 + 10.0 + 9.5 - 150.0) / 210.0;
    CHECK(run.time_s == doctest::Approx(off_at_s + 0.5).epsilon(0.02));
}

TEST_CASE("how far the array reaches is the matter of the line that it is on, not of a wide pad elsewhere") {
    Course course = fixtures::board({"M 0,300 H 400", "M 900,500 H 960"});
    RunOptions options;
    options.lost_after_s = 0.5;
    const Run alone = driven(fixtures::board({"M 0,300 H 400"}), 50.0, 50.0, options);
    course.tapes[1].width_mm = 80.0;
    const Run run = driven(course, 50.0, 50.0, options);
    CHECK(run.ending == Ending::lost);
    CHECK(run.time_s == doctest::Approx(alone.time_s));
    CHECK(run.ended_because.find("lost_after_s") != std::string::npos);
    // Over the pad its own width counts.
    const TapeFinder tape(course);
    CHECK(tape.beyond_edge({930.0, 545.0}) == doctest::Approx(5.0));
    CHECK(tape.beyond_edge({200.0, 305.0}) == doctest::Approx(5.0 - 9.5));
}

TEST_CASE("what has not found the line yet is not lost") {
    const Course course = fixtures::board({"M 500,300 H 900"});
    RunOptions options;
    options.lost_after_s = 0.5;
    options.off_course_mm = 900.0;
    const Run run = driven(course, 50.0, 50.0, options);
    CHECK(run.ending == Ending::lost);
    CHECK(run.end_at.x > 900.0); // it came to the line, and lost it behind its end
}

TEST_CASE("the board without tape has no such limits") {
    RunOptions options;
    options.time_limit_s = 1.0;
    options.lost_after_s = 0.1;
    CHECK(driven(fixtures::board({}), 50.0, 50.0, options).ending == Ending::time_over);
}

TEST_CASE("touching a thing or a wall ends the run; a thing that is gone does not") {
    Course course = straight();
    course.things = {{"watering can", {400.0, 300.0}, {60.0, 40.0}, 0.0, {}}};
    const Run run = driven(course, 50.0, 50.0);
    CHECK(run.ending == Ending::touched);
    CHECK(run.ended_because == "it touched \"watering can\"");
    CHECK(run.end_at.x == doctest::Approx(400.0 - 30.0 - 59.0).epsilon(0.01));
    course.things[0].until_s = 0.5;
    CHECK(driven(course, 50.0, 50.0).ending == Ending::off_course);
    course.walls = {{{700.0, 200.0}, {700.0, 400.0}}};
    CHECK(driven(course, 50.0, 50.0).ended_because == "it touched a wall");
}
