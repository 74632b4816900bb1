/// Things that come and go, by time and by how near the robot is.
#include <cmath>

#include <doctest/doctest.h>

#include "support/fixtures.hpp"
#include "vast_turn/paint/course_file.hpp"

using namespace vast_turn;

namespace {

constexpr double speed_mm_s = 210.0; // of ideal_robot at 50 %

struct Road {
    Course course = fixtures::board({"M 0,300 H 1000"});
    Robot robot = fixtures::ideal_robot(2);

    Road() {
        robot.range_sensor = RangeSensor{{0.0, 0.0}, 0.0, 900.0};
        course.things.push_back({"can", {700.0, 300.0}, {60.0, 60.0}}); // its near side is 570 mm before the start
    }
    Thing& can() { return course.things.back(); }

    /// Straight ahead at 50 %; the seconds at which the range sensor saw the can first and last.
    struct Seen {
        double first_s = -1.0;
        double last_s = -1.0;
        Ending ending = Ending::time_over;
    };
    Seen drive_on(double limit_s = 3.0) const {
        Seen seen;
        const Scene scene(course, robot);
        RunOptions options;
        options.time_limit_s = limit_s;
        const Run run = drive(scene, Decide([&](const Look& look, Answer& answer) {
                                  answer.left_pct = answer.right_pct = 50.0;
                                  if (look.range_mm < 899.0) {
                                      seen.first_s = seen.first_s < 0.0 ? look.clock_ms / 1000.0 : seen.first_s;
                                      seen.last_s = look.clock_ms / 1000.0;
                                  }
                              }),
                              options);
        seen.ending = run.ending;
        return seen;
    }
};

} // namespace

TEST_CASE("a thing that goes when the robot comes near is there until then, and lets it pass") {
    Road road;
    road.can().goes_mm = 240.0;
    const Road::Seen seen = road.drive_on();
    CHECK(seen.first_s == 0.0);
    CHECK(seen.last_s == doctest::Approx((570.0 - 240.0) / speed_mm_s).epsilon(0.02));
    CHECK(seen.ending == Ending::time_over);
    road.can().goes_mm = 20.0; // too late: the robot's disc of 59 mm touches it before
    CHECK(road.drive_on().ending == Ending::touched);
}

TEST_CASE("it may stay for a while after that, in which it is run into") {
    Road road;
    road.can().goes_mm = 240.0;
    road.can().stays_s = 0.5;
    const Road::Seen seen = road.drive_on();
    CHECK(seen.last_s == doctest::Approx((570.0 - 240.0) / speed_mm_s + 0.5).epsilon(0.02));
    CHECK(seen.ending == Ending::time_over);
    road.can().stays_s = 1.0; // the 181 mm to the touch take 0.86 s
    CHECK(road.drive_on().ending == Ending::touched);
}

TEST_CASE("a thing that appears when the robot comes near is not there before, for ever or for a time") {
    Road road;
    road.can().appears_mm = 300.0;
    const Road::Seen seen = road.drive_on();
    CHECK(seen.first_s == doctest::Approx((570.0 - 300.0) / speed_mm_s).epsilon(0.02));
    CHECK(seen.ending == Ending::touched);
    road.can().stays_s = 0.4;
    const Road::Seen brief = road.drive_on();
    CHECK(brief.last_s - brief.first_s == doctest::Approx(0.4).epsilon(0.05));
    CHECK(brief.ending == Ending::time_over);
    road.can().appears_mm = 300.0;
    road.can().goes_mm = 180.0;
    road.can().stays_s = 0.2;
    const Road::Seen both = road.drive_on();
    CHECK(both.first_s == seen.first_s);
    CHECK(both.last_s == doctest::Approx((570.0 - 180.0) / speed_mm_s + 0.2).epsilon(0.02));
}

TEST_CASE("when a thing is there, in words") {
    Thing thing;
    CHECK(when_there(thing).empty());
    thing.from_s = 2.0;
    thing.until_s = 7.5;
    CHECK(when_there(thing) == "from 2 s, until 7.5 s");
    thing = {};
    thing.appears_mm = 210.0;
    CHECK(when_there(thing) == "appears 210 mm away");
    thing.stays_s = 3.0;
    CHECK(when_there(thing) == "appears 210 mm away, for 3 s");
    thing.goes_mm = 90.0;
    CHECK(when_there(thing) == "appears 210 mm away, goes 3 s after 90 mm away");
    thing.stays_s.reset();
    CHECK(when_there(thing) == "appears 210 mm away, goes 90 mm away");
}

TEST_CASE("times and distances of a thing that contradict one another are refused") {
    const auto fault = [](const std::string& keys) {
        const std::string text =
            "name = \"c\"\nsize_mm = [900, 500]\n[[thing]]\nname = \"can\"\nat_mm = [300, 200]\nsize_mm = [40, 40]\n";
        return fixtures::message_of([&] { parse_course(text + keys, "c"); });
    };
    CHECK(fault("appears_mm = 200\ngoes_mm = 90\nstays_s = 1.5\n").empty());
    CHECK(fault("from_s = 2\nappears_mm = 200\n").find("c:7:10: error: `from_s` and `appears_mm` exclude each other") ==
          0);
    CHECK(fault("until_s = 2\ngoes_mm = 200\n").find("`until_s` and `goes_mm` exclude each other") !=
          std::string::npos);
    CHECK(fault("stays_s = 2\n").find("which nothing here asks for") != std::string::npos);
    CHECK(fault("appears_mm = 90\ngoes_mm = 200\n").find("it would go before it appears") != std::string::npos);
    CHECK(fault("appears_mm = 90\nuntil_s = 4\nstays_s = 2\n").find("exclude each other") != std::string::npos);
}

TEST_CASE("a thing may stand askew: it is met where its sides are, and touched there") {
    Road road;
    road.can().size_mm = {60.0, 60.0};
    road.can().heading_deg = 45.0; // a corner points to the robot
    const double straight = Road().drive_on().last_s;
    const double askew = road.drive_on().last_s;
    CHECK((straight - askew) * speed_mm_s == doctest::Approx(30.0 * (std::sqrt(2.0) - 1.0)).epsilon(0.25));
    CHECK(road.drive_on().ending == Ending::touched);
    road.can().size_mm = {200.0, 4.0}; // a plank beside the way, turned along it
    road.can().at = {700.0, 300.0 + 100.0};
    road.can().heading_deg = 0.0;
    CHECK(road.drive_on().ending == Ending::time_over);
    road.can().heading_deg = 90.0;
    CHECK(road.drive_on().ending == Ending::touched);
    const Course course = parse_course("name = \"c\"\nsize_mm = [900, 600]\n[[thing]]\nname = \"can\"\nat_mm = [400, "
                                       "300]\nsize_mm = [80, 20]\nheading_deg = 30\n",
                                       "c");
    const std::vector<Vec2> corners = corners_of(course.things.at(0));
    CHECK(corners[1].x == doctest::Approx(400.0 + 40.0 * std::cos(pi / 6.0) - 10.0 * std::sin(pi / 6.0)));
    CHECK(corners[1].y == doctest::Approx(300.0 - 40.0 * std::sin(pi / 6.0) - 10.0 * std::cos(pi / 6.0)));
}
