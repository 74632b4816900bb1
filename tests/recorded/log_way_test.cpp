/// Logs put on their courses: where the robot truly was is known of simulated ones.
#include "vast_turn/recorded/log_comparison.hpp"

#include <doctest/doctest.h>
#include <fmt/format.h>

#include "support/rounds.hpp"
#include "vast_turn/base/noise.hpp"
#include "vast_turn/base/problem.hpp"
#include "vast_turn/formats/read/days_file.hpp"
#include "vast_turn/formats/read/plan_file.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/paint/course_file.hpp"

using namespace vast_turn;

namespace {

/// What of a run a log tells.
enum class Logged { wheels, powers, late_and_few };

struct Floor {
    const char* course;
    const char* robot;
    const char* plan;
};

struct OnFloor {
    Course course;
    Robot robot;
    Plan plan;
    Scene scene;

    explicit OnFloor(const Floor& floor)
        : course(load_course(fmt::format("data/fern-house/{}.course.toml", floor.course))),
          robot(load_robot(fmt::format("data/fern-house/{}.robot.toml", floor.robot))),
          plan(load_plan(fmt::format("data/fern-house/{}.plan", floor.plan))), scene(course, robot) {
        robot.variation = load_days("data/fern-house/ordinary.days.toml");
    }

    Run run(std::uint64_t day, const RunOptions& like = {}) const {
        RunOptions options = like;
        options.day = day;
        options.seed = 911 + day;
        options.keep_told = true;
        return drive(scene, plan, options);
    }
};

/// As a robot logs it: counts from zero where it was switched on, some looks lost, some late.
std::vector<LoggedLook> log_of(const Run& run, Logged how) {
    std::vector<LoggedLook> log;
    for (std::size_t i = 0; i < run.told.size(); ++i) {
        LoggedLook one;
        one.look = run.told[i];
        one.left_pct = static_cast<double>(run.looks[i].left_pct);
        one.right_pct = static_cast<double>(run.looks[i].right_pct);
        if (how == Logged::powers) {
            one.look.left_deg = one.look.right_deg = one.look.way_mm = one.look.heading_by_gyro_deg = 0.0;
        }
        const std::uint64_t bits = random_draw(5, Stream::days, i)[0];
        if (how == Logged::late_and_few && (bits % 3 == 0 || (i / 40) % 9 == 5)) {
            continue; // a third is missing, and now and then forty in a row
        }
        log.push_back(one);
    }
    return log;
}

/// Where the robot was when a look of the log was taken.
Vec2 truly(const Run& run, const LoggedLook& look) {
    const auto at = std::lower_bound(run.told.begin(), run.told.end(), look.look.clock_ms,
                                     [](const Look& one, double ms) { return one.clock_ms < ms; });
    return run.looks[static_cast<std::size_t>(at - run.told.begin())].at;
}

/// Fewer guesses under the sanitizers, where it is memory that is looked at.
LogWayOptions few() {
    LogWayOptions options;
    options.guesses = fixtures::sanitized() ? 200 : options.guesses;
    return options;
}

const Floor floors[] = {{"glass-wing", "sprig-5", "rounds"},
                        {"fern-house", "sprig-2", "left-first"},
                        {"fern-house", "sprig-2", "right-first"},
                        {"drain", "sprig-5", "plans/search"},
                        {"glass-wing", "sprig-5-weighed", "rounds"}};

} // namespace

TEST_CASE("log way: where a robot was is found again, by wheels, by powers alone, without a third of its looks" *
          doctest::skip(fixtures::sanitized())) {
    int ways = 0;
    int lost = 0;
    int far = 0;
    int far_by_powers = 0;
    double squares = 0.0;
    for (const Floor& floor : floors) {
        const OnFloor on(floor);
        const int days = fixtures::rounds(40, 1, 1);
        for (int day = 1; day <= days; ++day) {
            const Run run = on.run(static_cast<std::uint64_t>(day));
            for (const Logged how : {Logged::wheels, Logged::powers, Logged::late_and_few}) {
                const std::vector<LoggedLook> log = log_of(run, how);
                const LogWay way = log_way(on.scene, log);
                REQUIRE(way.poses.size() == log.size());
                ++ways;
                lost += way.lost ? 1 : 0;
                double off = 0.0;
                for (std::size_t i = 0; i < log.size(); ++i) {
                    const Vec2 from = way.poses[i].at - truly(run, log[i]);
                    off += (from.x * from.x + from.y * from.y) / static_cast<double>(log.size());
                }
                squares += way.lost ? 0.0 : off;
                const bool is_far = !way.lost && std::sqrt(off) > 20.0; // it says that it is found, and is not
                far += is_far ? 1 : 0;
                far_by_powers += is_far && how == Logged::powers ? 1 : 0;
                CHECK(way.start == run.start);
            }
        }
    }
    MESSAGE(ways, " ways, ", lost, " lost, ", far, " far off and not said (", far_by_powers, " by powers), ",
            std::sqrt(squares / (ways - lost)), " mm off in the root of the mean square");
    CHECK(20 * lost <= ways);
    CHECK(40 * far <= ways);
    CHECK(std::sqrt(squares / (ways - lost)) < 12.0);
}

TEST_CASE("log way: of the starts of a course the right one is found, and the wrong course is noticed" *
          doctest::skip(fixtures::sanitized())) {
    const OnFloor on(floors[0]);
    REQUIRE(on.course.starts.size() > 1);
    RunOptions options;
    options.start = on.course.starts[1].name;
    const Run run = on.run(2, options);
    const LogWay way = log_way(on.scene, log_of(run, Logged::wheels));
    CHECK(way.start == options.start);
    CHECK_FALSE(way.lost);
    CHECK(way.alike > 0.97);
    LogWayOptions wrong;
    wrong.start = on.course.starts[0].name;
    CHECK(log_way(on.scene, log_of(run, Logged::wheels), wrong).lost);
    wrong.start = "west dore";
    CHECK_THROWS_WITH(log_way(on.scene, log_of(run, Logged::wheels), wrong),
                      doctest::Contains("did you mean west door?"));
    const OnFloor other({"drain", "sprig-5", "plans/search"});
    CHECK(log_way(other.scene, log_of(run, Logged::wheels)).lost);
    CHECK_THROWS_WITH(log_way(on.scene, {}), doctest::Contains("no look"));
    std::vector<LoggedLook> nothing(30);
    CHECK_THROWS_WITH(log_way(on.scene, nothing), doctest::Contains("neither of wheels nor of powers"));
}

TEST_CASE("log way: the same log gives the same way, and one that stands stays where it was set down" *
          doctest::skip(fixtures::sanitized())) {
    const OnFloor on(floors[1]);
    const std::vector<LoggedLook> log = log_of(on.run(3), Logged::wheels);
    const LogWay one = log_way(on.scene, log);
    const LogWay other = log_way(on.scene, log);
    CHECK(std::equal(one.poses.begin(), one.poses.end(), other.poses.begin(), [](const Pose& a, const Pose& b) {
        return a.at.x == b.at.x && a.at.y == b.at.y && a.heading_deg == b.heading_deg;
    }));
    std::vector<LoggedLook> stands(4000, log.front()); // longer than all guesses are kept
    for (std::size_t i = 0; i < stands.size(); ++i) {
        stands[i].look.clock_ms = 10.0 * static_cast<double>(i);
        stands[i].look.left_deg = stands[i].look.right_deg = i > 10 ? 0.5 : 0.0;
    }
    const LogWay standing = log_way(on.scene, stands);
    CHECK_FALSE(standing.lost);
    CHECK(standing.poses.size() == stands.size());
    CHECK(length(standing.poses.back().at - standing.poses.front().at) < 30.0);
}

TEST_CASE("log comparison: days of the robot are told as such, and slower and faster ones are not" *
          doctest::skip(fixtures::sanitized())) {
    int own = 0;
    int own_so = 0;
    int others = 0;
    int others_so = 0;
    for (const Floor& floor : {floors[0], floors[1]}) {
        const OnFloor on(floor);
        const int days = fixtures::rounds(40, 1, 1);
        for (int day = 101; day < 101 + days; ++day) {
            const Run run = on.run(static_cast<std::uint64_t>(day));
            const LogComparison found = compare_log(on.scene, on.plan, log_of(run, Logged::wheels), {}, {}, 40);
            ++own;
            own_so += found.is_of_the_days() && !found.way.lost ? 1 : 0;
            for (const double speed : {0.72, 1.25}) {
                Robot robot = on.robot;
                robot.top_speed_mm_s *= speed;
                RunOptions options;
                options.keep_told = true;
                options.time_limit_s = 90.0;
                const Run other = drive(on.scene.driven_by(robot), on.plan, options);
                ++others;
                others_so += compare_log(on.scene, on.plan, log_of(other, Logged::wheels), {}, {}, 40).is_of_the_days();
            }
        }
    }
    MESSAGE(own_so, " of ", own, " days told as days, ", others_so, " of ", others, " other robots taken for it");
    CHECK(own_so >= own - 1 - own / 6);
    CHECK(20 * others_so <= others);
}

TEST_CASE("log comparison: where a run parts from the map's, and by which look") {
    // The log is of the other plan: it did otherwise than this one says, at the fork.
    const OnFloor left(floors[1]);
    const OnFloor right(floors[2]);
    const LogComparison other = compare_log(left.scene, left.plan, log_of(right.run(0), Logged::wheels), few(), {}, 0);
    REQUIRE(other.parting);
    CHECK(other.parting->did_otherwise);
    REQUIRE(other.parting->look);
    const Vec2 at = other.recorded.looks[*other.parting->look].at;
    const CoursePlace& fork = *std::find_if(left.course.places.begin(), left.course.places.end(),
                                            [](const CoursePlace& place) { return place.name == "fork"; });
    CHECK(length(at - fork.at) < 140.0);
    // The same plan, but a sensor was blind on the floor: it saw otherwise.
    RunOptions blind;
    blind.faults = parse_faults({"sensor1=stuck:0.9"}, 2);
    const LogComparison saw =
        compare_log(left.scene, left.plan, log_of(left.run(0, blind), Logged::wheels), few(), {}, 0);
    REQUIRE((saw.parting || saw.way.lost));
    if (saw.parting && saw.parting->look) {
        CHECK_FALSE(saw.parting->did_otherwise);
        const LookRecord& own = saw.recorded.looks[*saw.parting->look];
        const LookRecord& map = saw.ideal.looks[saw.parting->ideal_look];
        CHECK(own.line_bits != map.line_bits);
    }
    // Its own: nothing parts.
    const LogComparison same = compare_log(left.scene, left.plan, log_of(left.run(0), Logged::wheels), few(), {}, 0);
    CHECK_FALSE(same.parting);
    CHECK(same.recorded.visits.size() == same.ideal.visits.size());
    CHECK(std::abs(same.recorded.time_s - same.ideal.time_s) < 0.3);
}
