/// A robot with weight: closed forms of each part alone, a brute-force integration of all of them, and no energy from
/// nowhere.

#include "sim/drivetrain.hpp"

#include <cmath>
#include <random>

#include <doctest/doctest.h>

#include "support/fixtures.hpp"
#include "support/rounds.hpp"

using namespace vast_turn;

namespace {

constexpr double gravity = 9810.0; // mm/s^2

/// So well shod and without friction that it does what the lag alone says.
Robot weighty(double lag_ms = 60.0) {
    Robot robot = fixtures::ideal_robot(2);
    robot.motors.lag_ms = lag_ms;
    robot.drive = Drive{};
    robot.drive->grip = 50.0;
    robot.drive->gyration_mm = 0.5 * robot.track_mm;
    return robot;
}

Body driven(Drivetrain& drivetrain, Body body, int ms, double left_mm_s, double right_mm_s) {
    drivetrain.advance(body, ms, left_mm_s, right_mm_s);
    return body;
}

Body driven(const Robot& robot, int ms, double left_mm_s, double right_mm_s) {
    Drivetrain drivetrain(robot, 1.0);
    return driven(drivetrain, {}, ms, left_mm_s, right_mm_s);
}

/// The same forces, each smoothed over a crawl and added up in millionths of a second.
struct BruteForce {
    const Robot& robot;
    double ahead = 0.0;
    double sideways = 0.0;
    double turning = 0.0;
    std::array<double, 2> spin{};
    Vec2 at{};
    double heading = 0.0;

    void go(double seconds, std::array<double, 2> target) {
        constexpr double dt = 2e-6;
        const Drive& d = *robot.drive;
        const double crawl = 0.5; // mm/s
        const double lag = robot.motors.lag_ms / 1000.0;
        const double push = (d.mass_g + 2.0 * d.wheel_g) / (2.0 * lag);
        const double bears = d.grip * d.on_wheels * d.mass_g * gravity / 2.0;
        const double drags = d.caster_drag * (1.0 - d.on_wheels) * d.mass_g * gravity;
        const double inertia = d.mass_g * d.gyration_mm * d.gyration_mm;
        const double half = robot.track_mm / 2.0;
        const auto smooth = [crawl](double x) { return x / std::max(std::abs(x), crawl); };
        for (long n = std::lround(seconds / dt); n > 0; --n) {
            double battery = 1.0;
            if (d.sag > 0.0) { // the current by fixed point, the resistance from what two held motors lose
                const double resistance = d.sag / (1.0 - d.sag) / 2.0;
                for (int i = 0; i < 8; ++i) {
                    double current = 0.0;
                    for (std::size_t k = 0; k < 2; ++k) {
                        const double duty = target[k] / robot.top_speed_mm_s;
                        current += duty * (duty * battery - spin[k] / robot.top_speed_mm_s);
                    }
                    battery = std::min(1.0, 1.0 - resistance * current);
                }
            }
            double along = 0.0;
            double torque = 0.0;
            double aside = 0.0;
            for (std::size_t k = 0; k < 2; ++k) {
                const double lever = k == 0 ? -half : half;
                const Vec2 slips{ahead + lever * turning - spin[k], sideways};
                const double speed = std::max(length(slips), crawl);
                const Vec2 force = -bears / speed * slips;
                const double loss = d.keep_pct / 100.0 * robot.top_speed_mm_s;
                const double motor = push * (battery * target[k] - spin[k] - loss * smooth(spin[k]));
                spin[k] += dt * (motor - force.x) / d.wheel_g;
                along += force.x;
                aside += force.y;
                torque += lever * force.x;
            }
            const Vec2 moves{ahead - turning * d.caster_mm.y, sideways + turning * d.caster_mm.x};
            const Vec2 drag = -drags / std::max(length(moves), crawl) * moves;
            along += drag.x;
            aside += drag.y;
            torque += d.caster_mm.x * drag.y - d.caster_mm.y * drag.x;
            const double ahead_before = ahead;
            ahead += dt * (along / d.mass_g + sideways * turning);
            sideways += dt * (aside / d.mass_g - ahead_before * turning);
            turning += dt * torque / inertia;
            heading += dt * turning;
            const Vec2 facing{std::cos(heading), -std::sin(heading)};
            at.x += dt * (ahead * facing.x + sideways * facing.y);
            at.y += dt * (ahead * facing.y - sideways * facing.x);
        }
    }
};

} // namespace

TEST_CASE("with all the grip it wants and no friction a robot with weight does what the lag says") {
    std::mt19937 random(7);
    for (int n = 0; n < 20; ++n) {
        const Robot robot = weighty(30.0 + static_cast<double>(random() % 80));
        Drivetrain drivetrain(robot, 1.0);
        const Motion motion(robot, 1.0);
        Body with;
        Body without;
        for (int k = 0; k < 60; ++k) {
            const double left = static_cast<double>(random() % 600) - 200.0;
            const double right = static_cast<double>(random() % 600) - 200.0;
            drivetrain.advance(with, 12, left, right);
            motion.advance(without, 12, left, right);
        }
        CHECK(length(with.at - without.at) < 0.02);
        CHECK(std::abs(with.turned_rad - without.turned_rad) < 1e-9);
        CHECK(with.way_mm == doctest::Approx(without.way_mm).epsilon(1e-9));
        CHECK(with.right_counted_mm == doctest::Approx(without.way_mm + 0.5 * robot.track_mm * without.turned_rad));
    }
}

TEST_CASE("a hard start is no harder than the tyres bear, and the wheels spin meanwhile") {
    Robot robot = weighty(8.0);
    robot.drive->grip = 0.25;
    const double most = 0.25 * robot.drive->on_wheels * gravity;
    Drivetrain drivetrain(robot, 1.0);
    const Body body = driven(drivetrain, {}, 100, 400.0, 400.0);
    CHECK(body.way_mm == doctest::Approx(0.5 * most * 0.01).epsilon(0.01));
    CHECK(body.left_mm_s == doctest::Approx(most * 0.1).epsilon(0.01));
    CHECK(body.left_counted_mm > 2.0 * body.way_mm);
    CHECK(drivetrain.slid_s() == doctest::Approx(0.1).epsilon(0.02));
}

TEST_CASE("friction: what starts, what keeps on, and where it comes to rest") {
    Robot robot = weighty(60.0);
    robot.drive->keep_pct = 4.0;
    robot.drive->start_pct = 9.0;
    const double full = robot.top_speed_mm_s;
    CHECK(driven(robot, 900, 0.08 * full, 0.08 * full).way_mm < 1e-9);
    const Body going = driven(robot, 2000, 0.10 * full, 0.10 * full);
    CHECK(going.left_mm_s == doctest::Approx(0.06 * full).epsilon(1e-3)); // less what it loses
    Drivetrain drivetrain(robot, 1.0);
    Body body = driven(drivetrain, {}, 2000, 0.50 * full, 0.50 * full);
    body = driven(drivetrain, body, 2000, 0.08 * full, 0.08 * full); // too little to start, enough to keep on
    CHECK(body.left_mm_s == doctest::Approx(0.04 * full).epsilon(1e-3));
    // Short-circuited motors and friction: v' = -(v + k) / lag.
    Drivetrain braked(robot, 1.0);
    const Body before = driven(braked, {}, 2000, 0.50 * full, 0.50 * full);
    const double v0 = before.left_mm_s;
    const double k = 0.04 * full;
    const double rests_s = 0.060 * std::log((v0 + k) / k);
    const double way = 0.060 * v0 - k * rests_s;
    const Body after = driven(braked, before, 1000, 0.0, 0.0);
    CHECK(after.way_mm - before.way_mm == doctest::Approx(way).epsilon(2e-3));
    CHECK_FALSE(std::abs(after.left_mm_s) > 0.0);
}

TEST_CASE("a battery sags by the current that both motors draw, and runs down by the minute") {
    Robot robot = weighty(40.0);
    robot.drive->sag = 0.3;
    robot.drive->keep_pct = 10.0;
    const double full = robot.top_speed_mm_s;
    // At the end each motor draws what friction takes: a tenth of its current when held, at full duty.
    const double resistance = 0.3 / 0.7 / 2.0;
    const double part = 1.0 - resistance * 2.0 * 0.1;
    CHECK(driven(robot, 3000, full, full).left_mm_s == doctest::Approx((part - 0.1) * full).epsilon(1e-4));
    robot.drive->sag = 0.0;
    robot.drive->keep_pct = 0.0;
    robot.drive->run_down = 0.12;
    CHECK(driven(robot, 60000, 200.0, 200.0).left_mm_s == doctest::Approx(200.0 * 0.88).epsilon(1e-3));
}

TEST_CASE("gear play: a motor that turns back has the wheel only behind the play, and the encoder counts it") {
    Robot robot = weighty(50.0);
    robot.drive->play_deg = 6.0;
    const double play_mm = 6.0 / 360.0 * pi * robot.wheel_mm;
    Drivetrain drivetrain(robot, 1.0);
    const Body there = driven(drivetrain, {}, 600, 150.0, 150.0);
    CHECK(there.left_counted_mm == doctest::Approx(there.way_mm).epsilon(1e-6)); // it was pushed to its place
    const Body back = driven(drivetrain, there, 2000, -150.0, -150.0);
    CHECK(back.way_mm - back.left_counted_mm == doctest::Approx(play_mm).epsilon(1e-6));
    Robot tight = robot;
    tight.drive->play_deg = 0.0;
    Drivetrain other(tight, 1.0);
    const Body its_back = driven(other, driven(other, {}, 600, 150.0, 150.0), 2000, -150.0, -150.0);
    CHECK(back.way_mm > its_back.way_mm + 0.5 * play_mm); // it rolled on while the play was crossed
}

TEST_CASE("a turn that is too hard is wider than the wheels say") {
    Robot robot = weighty(30.0);
    robot.drive->grip = 0.3;
    robot.drive->keep_pct = robot.drive->start_pct = 2.0;
    Drivetrain drivetrain(robot, 1.0);
    Body body = driven(drivetrain, {}, 3000, 400.0, 400.0);
    CHECK(drivetrain.slid_s() > 0.05); // at the start
    body = driven(drivetrain, body, 400, 100.0, 400.0);
    const double by_wheels = (body.right_counted_mm - body.left_counted_mm) / robot.track_mm;
    CHECK(body.turned_rad < 0.97 * by_wheels);
    CHECK(body.turned_rad > 0.2 * by_wheels);
    Robot slow = robot;
    slow.drive->grip = 1.2;
    Drivetrain holds(slow, 1.0);
    Body rolls = driven(holds, {}, 3000, 80.0, 80.0);
    rolls = driven(holds, rolls, 400, 20.0, 80.0);
    CHECK(holds.slid_s() < 1e-9);
    CHECK(rolls.turned_rad ==
          doctest::Approx((rolls.right_counted_mm - rolls.left_counted_mm) / robot.track_mm).epsilon(1e-3));
}

TEST_CASE("random drives agree with a brute-force integration, sliding and holding") {
    std::mt19937 random(20);
    const auto between = [&](double low, double high) {
        return low + (high - low) * static_cast<double>(random() % 4096) / 4095.0;
    };
    const int drives = fixtures::rounds(300, 40, 5);
    double farthest = 0.0;
    int slid = 0;
    for (int n = 0; n < drives; ++n) {
        CAPTURE(n);
        Robot robot = fixtures::ideal_robot(2);
        robot.motors.lag_ms = between(15.0, 90.0);
        Drive drive;
        drive.mass_g = between(150.0, 900.0);
        drive.gyration_mm = between(25.0, 70.0);
        drive.on_wheels = between(0.6, 1.0);
        drive.grip = between(0.15, 1.1);
        drive.wheel_g = between(6.0, 40.0);
        drive.caster_mm = {between(-60.0, 60.0), 0.0};
        drive.caster_drag = between(0.0, 0.4);
        drive.keep_pct = drive.start_pct = between(0.0, 6.0);
        drive.sag = between(0.0, 0.3);
        robot.drive = drive;
        Drivetrain drivetrain(robot, 1.0);
        BruteForce brute{robot};
        Body body;
        for (int k = 0; k < 8; ++k) {
            const std::array<double, 2> target{between(-200.0, 400.0), between(-200.0, 400.0)};
            drivetrain.advance(body, 50, target[0], target[1]);
            brute.go(0.050, target);
        }
        slid += drivetrain.slid_s() > 0.01 ? 1 : 0;
        const double off = length(body.at - brute.at);
        farthest = std::max(farthest, off);
        CHECK(off < 0.5);
        CHECK(std::abs(body.turned_rad - brute.heading) < 0.004);
    }
    CHECK(farthest > 1e-6);
    CHECK(slid > drives / 4);
    MESSAGE("farthest from the brute force: ", farthest, " mm after 0.4 s; slid: ", slid, " of ", drives);
}

TEST_CASE(
    "energy never comes from nowhere: without power it only falls, with it there is never more than at full speed") {
    std::mt19937 random(5);
    for (int n = 0; n < fixtures::rounds(400, 60, 10); ++n) {
        CAPTURE(n);
        Robot robot = weighty(20.0 + static_cast<double>(random() % 60));
        robot.drive->grip = 0.1 + static_cast<double>(random() % 90) / 100.0;
        robot.drive->gyration_mm = 25.0 + static_cast<double>(random() % 40);
        robot.drive->caster_drag = static_cast<double>(random() % 30) / 100.0;
        robot.drive->play_deg = static_cast<double>(random() % 4);
        robot.drive->keep_pct = static_cast<double>(random() % 5);
        robot.drive->start_pct = 5.0;
        Drivetrain drivetrain(robot, 1.0);
        Body body;
        const Drive& drive = *robot.drive;
        const double spins = drive.gyration_mm / (0.5 * robot.track_mm);
        const double most =
            0.5 * 420.0 * 420.0 * (drive.mass_g * std::max(1.0, spins * spins) + 2.0 * drive.wheel_g) / 1000.0;
        for (int k = 0; k < 5; ++k) {
            drivetrain.advance(body, 70, static_cast<double>(random() % 840) - 420.0,
                               static_cast<double>(random() % 840) - 420.0);
            CHECK(drivetrain.kinetic_uj() <= most);
        }
        double before = drivetrain.kinetic_uj();
        for (int ms = 0; ms < 400; ++ms) {
            drivetrain.advance(body, 1, 0.0, 0.0);
            const double now = drivetrain.kinetic_uj();
            CHECK(now <= before * (1.0 + 1e-12) + 1e-12);
            before = now;
        }
    }
}
