/// What vet predicts against what simulated robots do: swinging, bends, plates.
#include <cmath>
#include <cstdint>
#include <string>

#include <doctest/doctest.h>
#include <fmt/format.h>

#include "support/fixtures.hpp"
#include "support/rounds.hpp"
#include "vast_turn/base/noise.hpp"
#include "vast_turn/paint/course_file.hpp"
#include "vast_turn/plan/mind.hpp"
#include "vast_turn/robot/array.hpp"
#include "vast_turn/vet/vet.hpp"

using namespace vast_turn;

namespace {

const int pairs_of_a_kind = fixtures::rounds(100, 60, 8);

/// Numbers that depend on the pair and on what they are for alone.
class Dice {
public:
    explicit Dice(std::uint64_t seed) : seed_(seed) {}
    double between(double low, double high) {
        return low + (high - low) * random_draw(seed_, Stream::bench_hand, count_++)[0] / 65536.0;
    }
    int whole(int low, int high) { return low + static_cast<int>(between(0.0, high - low + 0.999)); }

private:
    std::uint64_t seed_;
    std::uint64_t count_ = 0;
};

Robot any_robot(Dice& dice, int sensors) {
    Robot robot;
    robot.name = "any";
    robot.track_mm = dice.between(95.0, 140.0);
    robot.top_speed_mm_s = dice.between(320.0, 480.0);
    robot.look_ms = dice.whole(6, 20);
    robot.delay_ms = dice.whole(0, 50);
    robot.motors.lag_ms = dice.between(20.0, 110.0);
    robot.motors.dead_band_pct = 3.0;
    const double spacing = dice.between(9.0, 15.0);
    const double ahead = dice.between(35.0, 80.0);
    for (int i = 0; i < sensors; ++i) {
        LineSensor sensor;
        sensor.at_mm = {ahead, (0.5 * (sensors - 1) - i) * spacing};
        sensor.noise = dice.between(0.0, 6.0);
        robot.sensors.push_back(sensor);
    }
    return robot;
}

/// Predicted and happened; predicted and not; not and happened; neither.
struct Tally {
    int hits = 0;
    int false_alarms = 0;
    int misses = 0;
    int quiet = 0;

    void add(bool predicted, bool happened) {
        ++(predicted ? (happened ? hits : false_alarms) : (happened ? misses : quiet));
    }
    double hit_rate() const { return static_cast<double>(hits) / std::max(1, hits + misses); }
    double false_rate() const { return static_cast<double>(false_alarms) / std::max(1, false_alarms + quiet); }
    std::string text(const char* what) const {
        return fmt::format("{}: {} of {} that happened were predicted, {} false alarms in {} that did not", what, hits,
                           hits + misses, false_alarms, false_alarms + quiet);
    }
};

bool has(const VetReport& report, const std::string& code) {
    for (const Finding& finding : report.findings) {
        if (finding.kind->code == code) {
            return true;
        }
    }
    return false;
}

/// Far enough for the bounds to hold; a handful of pairs only shows that nothing breaks.
void hold_to_bounds(const Tally& tally, const char* what) {
    MESSAGE(tally.text(what));
    CHECK(tally.quiet > 0);
    if (pairs_of_a_kind >= 100) {
        CHECK(tally.hits > 0);
        CHECK(tally.hit_rate() >= 0.95);
        CHECK(tally.false_rate() < 0.05);
    }
}

double middle_x(const Robot& robot) { return robot.sensors.front().at_mm.x; }

} // namespace

TEST_CASE("vet's predictions: swinging about the line") {
    const Course course = parse_course("name = \"aisle\"\nsize_mm = [3200, 400]\ncell_mm = 1.0\n[[tape]]\n"
                                       "path = \"M 40,200 H 3160\"\n[[start]]\nname = \"door\"\nat_mm = [100, 208]\n"
                                       "heading_deg = 3\n",
                                       "aisle");
    Tally tally;
    for (int i = 0; i < pairs_of_a_kind; ++i) {
        Dice dice(static_cast<std::uint64_t>(1000 + i));
        const int sensors = dice.whole(3, 5);
        const Robot robot = any_robot(dice, sensors);
        const double kp = std::exp(dice.between(std::log(8.0), std::log(140.0)));
        const double kd = dice.between(0.0, 1.0) < 0.5 ? 0.0 : dice.between(0.0, 6.0);
        const Plan plan = fixtures::compiled(fmt::format(
            "plan \"p\"\nsensors {}\nhabit f {{\n    else -> bend(pid(offset, {:.2f}, 0, {:.2f}), {:.1f})\n}}\n",
            sensors, kp, kd, dice.between(28.0, 62.0)));
        RunOptions options;
        options.time_limit_s = 20.0;
        const Scene scene(course, robot);
        const Run run = drive(scene, Mind(plan), options);
        double squares = 0.0;
        int looks = 0;
        for (const LookRecord& look : run.looks) {
            if (look.at.x > 1300.0 && look.at.x < 2900.0) {
                const Vec2 nose =
                    from_robot(look.at, direction(static_cast<double>(look.heading_deg)), {middle_x(robot), 0.0});
                squares += (nose.y - 200.0) * (nose.y - 200.0);
                ++looks;
            }
        }
        const bool swung = looks < 20 || std::sqrt(2.0 * squares / looks) >= 3.0; // or never came there
        tally.add(has(vet(plan, {&robot, nullptr, nullptr}), "oscillates"), swung);
    }
    hold_to_bounds(tally, "swinging");
}

TEST_CASE("vet's predictions: bends that are too tight") {
    Tally tally;
    for (int i = 0; i < pairs_of_a_kind; ++i) {
        Dice dice(static_cast<std::uint64_t>(2000 + i));
        const int sensors = dice.whole(3, 5);
        const Robot robot = any_robot(dice, sensors);
        const double speed = dice.between(28.0, 55.0);
        const double outer = dice.between(4.0, 45.0);
        std::string rules;
        for (int k = 0; k < sensors / 2; ++k) { // harder, the farther out
            std::string marks(static_cast<std::size_t>(sensors), '?');
            marks[static_cast<std::size_t>(k)] = '#';
            rules += fmt::format("    [{}] mirrored -> bend({:.1f}, {:.1f})\n", marks,
                                 outer * (1.0 - static_cast<double>(k) / sensors), speed);
        }
        std::string middle(static_cast<std::size_t>(sensors), '?');
        middle[static_cast<std::size_t>(sensors / 2)] = '#';
        const Plan plan = fixtures::compiled(
            fmt::format("plan \"p\"\nsensors {}\nhabit f {{\n{}    [{}] -> ahead({:.1f})\n    else -> keep\n}}\n",
                        sensors, rules, middle, speed));
        const double radius = dice.between(15.0, 260.0);
        const Course course = parse_course(
            fmt::format(
                "name = \"bend\"\nsize_mm = [1100, 900]\ncell_mm = 1.0\n[[tape]]\npath = \"M 60,780 H 640 a "
                "{0:.1f},{0:.1f} "
                "0 0 0 {0:.1f},-{0:.1f} V {1:.1f}\"\n[[start]]\nname = \"door\"\nat_mm = [120, 780]\nheading_deg = 0\n"
                "[[place]]\nname = \"end\"\nat_mm = [{2:.1f}, {3:.1f}]\nradius_mm = 90\n",
                radius, 780.0 - radius - 400.0, 640.0 + radius, 780.0 - radius - 230.0),
            "bend");
        RunOptions options;
        options.time_limit_s = 25.0;
        const Scene scene(course, robot);
        const Run run = drive(scene, Mind(plan), options);
        bool lost = run.visits.empty();
        int off = 0;
        const double until = run.visits.empty() ? 1e9 : run.visits.front().t_s;
        for (const LookRecord& look : run.looks) {
            const Vec2 middle_at =
                from_robot(look.at, direction(static_cast<double>(look.heading_deg)), scene.array_middle());
            off = look.t_s < until && scene.tape().distance(middle_at) > scene.array_reach_mm() ? off + 1 : 0;
            lost = lost || off >= 3;
        }
        tally.add(has(vet(plan, {&robot, &course, nullptr}), "bend-too-tight"), lost);
    }
    hold_to_bounds(tally, "bends");
}

TEST_CASE("vet's predictions: plates that are missed") {
    Tally tally;
    for (int i = 0; i < pairs_of_a_kind; ++i) {
        Dice dice(static_cast<std::uint64_t>(3000 + i));
        Robot robot = any_robot(dice, 3);
        robot.look_ms = dice.whole(6, 60);
        robot.colour_sensors.push_back({"nose", {middle_x(robot), 0.0}, 9.0, 4095, 0.0});
        const int looks = dice.whole(1, 4);
        const Plan plan =
            fixtures::compiled(fmt::format("plan \"p\"\nsensors 3\nmarkers amber\nhabit f {{\n    amber lasting {} "
                                           "look{} -> note(\"plate\"), halt\n    else -> ahead({:.1f})\n}}\n",
                                           looks, looks == 1 ? "" : "s", dice.between(25.0, 98.0)));
        const double plate = dice.between(20.0, 70.0);
        bool missed = false;
        for (int shift = 0; shift < 8; ++shift) { // where in its stride the robot comes to the plate
            const Course course =
                parse_course(fmt::format("name = \"plate\"\nsize_mm = [1000, 300]\ncell_mm = 1.0\npalette = {{ amber = "
                                         "\"#E69A17\" }}\n[[tape]]\n"
                                         "path = \"M 60,150 H 940\"\n[[marker]]\ncolour = \"amber\"\nat_mm = [600, "
                                         "150]\nsize_mm = [{:.1f}, 40]\n"
                                         "[[start]]\nname = \"door\"\nat_mm = [{:.2f}, 150]\nheading_deg = 0\n",
                                         plate, 100.0 + shift * 0.125 * robot.top_speed_mm_s * robot.look_ms / 1000.0),
                             "plate");
            RunOptions options;
            options.time_limit_s = 25.0;
            const Run run = drive(Scene(course, robot), Mind(plan), options);
            missed = missed || run.ending != Ending::halted;
            if (shift == 7) {
                tally.add(has(vet(plan, {&robot, &course, nullptr}), "plate-missed"), missed);
            }
        }
    }
    hold_to_bounds(tally, "plates");
}
