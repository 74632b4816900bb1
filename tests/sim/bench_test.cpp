/// The simulated bench, and the whole loop: readings, calibration, run.
#include "vast_turn/robot/array.hpp"
#include "vast_turn/sim/bench.hpp"

#include <set>

#include <doctest/doctest.h>

#include "vast_turn/formats/read/bench_file.hpp"
#include "vast_turn/formats/read/plan_file.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/formats/write/bench_csv.hpp"
#include "vast_turn/paint/course_file.hpp"
#include "vast_turn/sense/calibrate.hpp"
#include "vast_turn/sim/run.hpp"

using namespace vast_turn;

namespace {

struct MistLoop {
    Course course = load_course("data/fern-house/mist-loop.course.toml");
    Robot robot = load_robot("data/fern-house/sprig-5.robot.toml");
    Plan plan = load_plan("data/fern-house/five-wide.plan");
    Scene scene{course, robot};

    CalibrationReport report(const std::vector<std::string>& faults = {}, std::uint64_t seed = 1) const {
        BenchOptions options;
        options.seed = seed;
        options.faults = parse_faults(faults, 5);
        return calibrate(simulate_bench(scene, options), array_facts(robot));
    }

    /// Places passed in 14 s, with faults and a calibration.
    std::size_t places(const std::vector<std::string>& faults, const std::optional<Calibration>& calibration) const {
        RunOptions options;
        options.time_limit_s = 14.0;
        options.faults = parse_faults(faults, 5);
        options.calibration = calibration;
        return drive(scene, plan, options).visits.size();
    }
};

bool says(const CalibrationReport& report, VerdictKind kind, const std::vector<int>& sensors) {
    return report.verdicts.size() == 1 && report.verdicts[0].kind == kind && report.verdicts[0].sensors == sensors;
}

} // namespace

TEST_CASE("a sound robot calibrates without complaint, near its own levels, whatever the seed") {
    const MistLoop m;
    for (std::uint64_t seed = 1; seed <= 12; ++seed) {
        CAPTURE(seed);
        const CalibrationReport report = m.report({}, seed);
        CHECK(report.verdicts.empty());
        for (std::size_t i = 0; i < 5; ++i) {
            const SensorLevels& own = m.scene.own_calibration().sensors[i];
            CHECK(report.sensors[i].floor.mean == doctest::Approx(own.floor_counts).epsilon(0.01));
            CHECK(report.sensors[i].line.mean == doctest::Approx(own.line_counts).epsilon(0.03));
        }
        CHECK(report.sweep->came == std::vector<int>{1, 2, 3, 4, 5});
    }
}

TEST_CASE("each fault put into the robot is what the calibration finds") {
    const MistLoop m;
    CHECK(says(m.report({"sensor3=dead"}), VerdictKind::clipped, {3}));
    CHECK(says(m.report({"sensor3=stuck:0.5"}), VerdictKind::dead, {3}));
    CHECK(says(m.report({"sensor5=dim:0.5"}), VerdictKind::unlike, {5}));
    CHECK(says(m.report({"swapped:1,2"}), VerdictKind::wiring, {1, 2}));
}

TEST_CASE("markers are told apart as they are on the course") {
    const MistLoop m;
    const CalibrationReport report = m.report();
    REQUIRE(report.markers.size() == 3);
    for (const MarkerLook& marker : report.markers) {
        CHECK(marker.seen[0].as == (marker.colour == "teal" ? SeenAs::line : SeenAs::floor)); // under red light
    }
    REQUIRE(report.colour_rules.size() == 3);
    const BenchReadings readings = simulate_bench(m.scene);
    for (const MarkerRule& rule : report.colour_rules) {
        CHECK(rule.margin > 3.0);
        for (const BenchLook& look : readings.looks) {
            if (look.colour) {
                CHECK(rule.holds(*look.colour) == (look.under == rule.colour));
            }
        }
    }
}

TEST_CASE("a robot fails with a wrong calibration and holds the line with its own") {
    const MistLoop m;
    const std::vector<std::string> dirty = {"sensor4=dim:0.42"};
    const Calibration of_sound = m.report().calibration();
    const Calibration of_dirty = m.report(dirty).calibration();
    CHECK(m.places({}, of_sound) == 2);
    CHECK(m.places(dirty, of_dirty) == 2);
    CHECK(m.places(dirty, of_sound) < 2); // one sensor sees tape everywhere
    CHECK(m.places({"left_motor=reversed"}, of_sound) < 2);
    CHECK(m.places({"swapped:2,4"}, of_sound) < 2);
}

TEST_CASE("the same seed gives the same readings, another one others") {
    const MistLoop m;
    BenchOptions options;
    const std::string first = bench_csv(simulate_bench(m.scene, options));
    CHECK(first == bench_csv(simulate_bench(m.scene, options)));
    options.seed = 2;
    CHECK(first != bench_csv(simulate_bench(m.scene, options)));
}
