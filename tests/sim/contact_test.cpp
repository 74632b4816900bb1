/// Robots with weight that come against things and walls, and Box2D as another body that does the same.

#include <cmath>
#include <random>

#include <box2d/box2d.h>
#include <doctest/doctest.h>

#include "sim/drivetrain.hpp"
#include "support/fixtures.hpp"
#include "support/rounds.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/paint/course_file.hpp"

using namespace vast_turn;
using fixtures::call_vturn;
using fixtures::message_of;

namespace {

Robot cart() {
    Robot robot = fixtures::ideal_robot(3);
    robot.motors.lag_ms = 60.0;
    robot.drive = Drive{};
    robot.drive->keep_pct = 2.0;
    return robot;
}

Run against(const Robot& robot, const Course& course, Pose pose, double left_pct, double right_pct, double seconds) {
    const Scene scene(course, robot);
    RunOptions options;
    options.touch_ends = false;
    options.pose = pose;
    options.time_limit_s = seconds;
    options.lost_after_s = options.off_course_mm = 900.0;
    options.keep_told = true;
    return drive(scene, Decide([&](const Look&, Answer& out) {
                     out.left_pct = left_pct;
                     out.right_pct = right_pct;
                 }),
                 options);
}

Course walled() {
    Course course = fixtures::board({"M 10,300 H 990"});
    course.walls.push_back({{700.0, 20.0}, {700.0, 580.0}});
    return course;
}

} // namespace

TEST_CASE("a wall stops a robot, its motors stall, and the run goes on") {
    const Course course = walled();
    Robot robot = cart();
    robot.drive->grip = 4.0;
    const Run run = against(robot, course, {{300.0, 300.0}, 0.0}, 50.0, 50.0, 6.0);
    CHECK(run.ending == Ending::time_over);
    CHECK(run.end_at.x == doctest::Approx(700.0 - 0.5 * robot.track_mm).epsilon(1e-4));
    CHECK(run.end_at.y == doctest::Approx(300.0));
    REQUIRE(run.touches.size() == 1); // it never left it
    CHECK(run.touches[0].what.empty());
    CHECK(run.touches[0].at.x == doctest::Approx(700.0));
    CHECK(run.touches[0].t_s ==
          doctest::Approx((400.0 - 0.5 * robot.track_mm) / (0.48 * robot.top_speed_mm_s)).epsilon(0.1));
    CHECK(run.told.back().left_deg ==
          doctest::Approx(run.told[run.told.size() - 60].left_deg).epsilon(1e-3)); // stalled
    robot.drive->grip = 0.05;                                                      // on ice the wheels spin on
    const Run spins = against(robot, course, {{500.0, 300.0}, 0.0}, 50.0, 50.0, 6.0);
    CHECK(spins.end_at.x == doctest::Approx(700.0 - 0.5 * robot.track_mm).epsilon(1e-4));
    CHECK(spins.told.back().left_deg > spins.told[spins.told.size() - 60].left_deg + 50.0);
    CHECK(spins.slid_s > 3.0);
}

TEST_CASE("at a slant it slides along; a thing is named, and one that goes is no longer in the way") {
    Course course = fixtures::board({"M 10,300 H 990"});
    course.walls.push_back({{100.0, 380.0}, {900.0, 380.0}});
    Robot robot = cart();
    CHECK(against(robot, course, {{250.0, 300.0}, -20.0}, 40.0, 40.0, 2.5).end_at.x <
          350.0);                                                                    // a disc about the axle jams
    robot.outline_mm = {{80.0, 45.0}, {-60.0, 45.0}, {-60.0, -45.0}, {80.0, -45.0}}; // a nose is turned aside
    const Run run = against(robot, course, {{250.0, 300.0}, -20.0}, 40.0, 40.0, 2.5);
    CHECK(run.end_at.x > 450.0);
    CHECK(run.end_at.y == doctest::Approx(380.0 - 45.0).epsilon(0.03));
    CHECK(run.touches.size() == 1);
    Course with_can = fixtures::board({"M 10,300 H 990"});
    Thing can;
    can.name = "can";
    can.at = {600.0, 300.0};
    can.size_mm = {80.0, 120.0};
    can.until_s = 4.0;
    with_can.things.push_back(can);
    const Run waits = against(robot, with_can, {{300.0, 300.0}, 0.0}, 40.0, 40.0, 3.9);
    REQUIRE(waits.touches.size() == 1);
    CHECK(waits.touches[0].what == "can");
    CHECK(waits.end_at.x == doctest::Approx(560.0 - 80.0).epsilon(1e-3));
    CHECK(against(robot, with_can, {{300.0, 300.0}, 0.0}, 40.0, 40.0, 6.0).end_at.x > 700.0);
}

TEST_CASE("an outline touches where its corners are, not where a disc would be") {
    Robot robot = cart();
    const Course course = walled();
    robot.outline_mm = {{90.0, 40.0}, {90.0, -40.0}, {-50.0, -60.0}, {-50.0, 60.0}};
    const Run run = against(robot, course, {{300.0, 300.0}, 0.0}, 40.0, 40.0, 5.0);
    CHECK(run.end_at.x == doctest::Approx(610.0).epsilon(1e-3));
    // Without a drive too it ends a run: at the nose, and past the wall's end not at all.
    robot.drive.reset();
    const Scene scene(course, robot);
    RunOptions options;
    options.pose = Pose{{300.0, 300.0}, 0.0};
    options.lost_after_s = options.off_course_mm = 900.0;
    const auto ahead = Decide([](const Look&, Answer& out) { out.left_pct = out.right_pct = 40.0; });
    const Run ends = drive(scene, ahead, options);
    CHECK(ends.ending == Ending::touched);
    CHECK(std::abs(ends.end_at.x - 610.0) < 3.0); // looked at every 10 ms
    Course short_wall = fixtures::board({"M 10,300 H 990"});
    short_wall.walls.push_back({{700.0, 20.0}, {700.0, 235.0}});
    const Scene passes(short_wall, robot);
    options.time_limit_s = 3.2;
    CHECK(drive(passes, ahead, options).ending != Ending::touched); // its tail is 60 mm to the side, the wall 65
    short_wall.walls[0].to.y = 242.0;
    const Scene meets(short_wall, robot);
    const Run tail = drive(meets, ahead, options);
    CHECK(tail.ending == Ending::touched);
    CHECK(tail.end_at.x > 730.0); // with its tail
}

TEST_CASE("Box2D agrees on bumps: discs and boxes against walls, at any slant") {
    std::mt19937 random(9);
    const auto between = [&](double low, double high) {
        return low + (high - low) * static_cast<double>(random() % 1024) / 1023.0;
    };
    double farthest = 0.0;
    const int bumps = fixtures::rounds(120, 24, 6);
    for (int n = 0; n < bumps; ++n) {
        CAPTURE(n);
        Robot robot = fixtures::ideal_robot(2);
        robot.drive = Drive{};
        robot.drive->grip = 0.02; // so that the bump is nearly all there is
        robot.drive->rub = between(0.0, 0.9);
        robot.drive->mass_g = between(200.0, 800.0);
        robot.drive->gyration_mm = between(25.0, 60.0);
        if (n % 2 == 1) {
            robot.outline_mm = {{80.0, 45.0}, {-60.0, 45.0}, {-60.0, -45.0}, {80.0, -45.0}};
        }
        const double slant = between(25.0, 80.0);
        const Vec2 along = direction(slant);
        Drivetrain drivetrain(robot, 0.5);
        Body body;
        for (int k = 0; k < 8000; ++k) { // it gains speed slowly
            drivetrain.advance(body, 1, 220.0, 220.0);
            if (body.at.x > 150.0) {
                break;
            }
        }
        const double speed = body.left_mm_s;
        const Vec2 middle = body.at + (Outline(robot).reach_mm() + 10.0) * Vec2{-along.y, along.x};
        const Barrier wall{middle - 2000.0 * along, middle + 2000.0 * along, 0};
        constexpr float per_mm = 0.1F; // its slop is 0.005 units
        b2World world(b2Vec2(0.0F, 0.0F));
        b2BodyDef moving;
        moving.type = b2_dynamicBody;
        moving.position.Set(per_mm * static_cast<float>(body.at.x), 0.0F);
        moving.linearVelocity.Set(per_mm * static_cast<float>(speed), 0.0F);
        moving.allowSleep = false;
        b2Body* other = world.CreateBody(&moving);
        b2CircleShape disc;
        disc.m_radius = per_mm * static_cast<float>(0.5 * robot.track_mm);
        b2PolygonShape box;
        box.SetAsBox(per_mm * 70.0F, per_mm * 45.0F, b2Vec2(per_mm * 10.0F, 0.0F), 0.0F);
        b2FixtureDef fixture;
        fixture.shape = n % 2 == 1 ? static_cast<const b2Shape*>(&box) : &disc;
        fixture.density = 1.0F;
        fixture.friction = static_cast<float>(robot.drive->rub);
        other->CreateFixture(&fixture);
        b2MassData weight;
        weight.mass = static_cast<float>(robot.drive->mass_g);
        weight.center.SetZero();
        weight.I = weight.mass * static_cast<float>(std::pow(per_mm * robot.drive->gyration_mm, 2.0));
        other->SetMassData(&weight);
        b2BodyDef still;
        b2Body* ground = world.CreateBody(&still);
        b2EdgeShape edge;
        const auto unit = [&](Vec2 p) {
            return b2Vec2(per_mm * static_cast<float>(p.x), -per_mm * static_cast<float>(p.y));
        };
        edge.SetTwoSided(unit(wall.from), unit(wall.to));
        b2FixtureDef wall_fixture;
        wall_fixture.shape = &edge;
        wall_fixture.friction = fixture.friction;
        ground->CreateFixture(&wall_fixture);
        drivetrain.beside({wall});
        bool bumped = false;
        for (int k = 0; k < 2000; ++k) { // until a tenth of a second after the bump
            drivetrain.advance(body, 1, speed, speed);
            world.Step(0.0005F, 12, 8);
            if (!bumped && !drivetrain.pressed().empty()) {
                bumped = true;
                k = 1800;
            }
        }
        REQUIRE(bumped);
        const b2Vec2 at = other->GetPosition();
        const double off =
            length(body.at - Vec2{static_cast<double>(at.x / per_mm), -static_cast<double>(at.y / per_mm)});
        farthest = std::max(farthest, off);
        CHECK(off < 3.0); // tyres of so little grip give 157 mm/s^2: 0.8 mm in 0.1 s
        CHECK(std::abs(body.turned_rad - static_cast<double>(other->GetAngle())) < 0.06);
    }
    MESSAGE("farthest from Box2D, 0.1 s after the bump: ", farthest, " mm");
}

TEST_CASE("random bumps: no robot gets through anything, and energy only falls") {
    std::mt19937 random(31);
    for (int n = 0; n < fixtures::rounds(300, 60, 10); ++n) {
        CAPTURE(n);
        Robot robot = cart();
        robot.drive->grip = 0.1 + static_cast<double>(random() % 100) / 100.0;
        robot.drive->rub = static_cast<double>(random() % 100) / 100.0;
        if (n % 2 == 1) {
            robot.outline_mm = {{80.0, 45.0}, {-60.0, 45.0}, {-60.0, -45.0}, {80.0, -45.0}};
        }
        const std::vector<Vec2> room = {{-180.0, -150.0}, {190.0, -160.0}, {210.0, 140.0}, {-170.0, 180.0}};
        std::vector<Barrier> walls;
        for (std::size_t i = 0; i < room.size(); ++i) {
            walls.push_back({room[i], room[(i + 1) % room.size()], i});
        }
        Drivetrain drivetrain(robot, 1.0);
        drivetrain.beside(walls);
        Body body;
        for (int k = 0; k < 20; ++k) {
            const double left = static_cast<double>(random() % 840) - 420.0;
            const double right = static_cast<double>(random() % 840) - 420.0;
            drivetrain.advance(body, 100, left, right);
            std::vector<Meeting> meetings;
            for (const Barrier& wall : walls) {
                Outline(robot).meet(body, wall, 0.0, meetings);
            }
            for (const Meeting& meeting : meetings) {
                CHECK(meeting.gap_mm > -0.5);
            }
            CHECK(std::abs(body.at.x) < 220.0);
            CHECK(std::abs(body.at.y) < 190.0);
        }
        double before = drivetrain.kinetic_uj();
        for (int ms = 0; ms < 300; ++ms) {
            drivetrain.advance(body, 1, 0.0, 0.0);
            CHECK(drivetrain.kinetic_uj() <= before * (1.0 + 1e-9) + 1e-9);
            before = drivetrain.kinetic_uj();
        }
    }
}

TEST_CASE("vturn run and trips: touches go on where the call or the trip says so, only for what weighs something") {
    const std::string house = "data/fern-house/";
    const std::vector<std::string> call = {"run", house + "can.course.toml", house + "sprig-5-weighed.robot.toml",
                                           house + "over-the-drain.plan"};
    std::vector<std::string> goes_on = call;
    goes_on.emplace_back("--touches-go-on");
    const fixtures::Called ends = call_vturn(call);
    const fixtures::Called on = call_vturn(goes_on);
    CHECK(ends.out.find("ended   touch") != std::string::npos);
    CHECK(on.out.find("ended   touch") == std::string::npos);
    CHECK(on.out.find("  touch   ") != std::string::npos);
    goes_on[2] = house + "sprig-5.robot.toml";
    const fixtures::Called ideal = call_vturn(goes_on);
    CHECK(ideal.status == 2);
    CHECK(ideal.err.find("Sprig-5 weighs nothing") != std::string::npos);
    CHECK(ideal.err.find("give it a [drive]") != std::string::npos);
    const std::string head = "name = \"r\"\ntrack_mm = 104\nwheel_mm = 41\ntop_speed_mm_s = 390\noutline_mm = ";
    const auto fault = [&](const std::string& outline) {
        return message_of([&] { parse_robot(head + outline + "\n[[sensor]]\nat_mm = [50, 0]\n", "r"); });
    };
    CHECK(fault("[[60, 40], [-40, -40], [60, -40], [-40, 40]]").find("the outline crosses itself") !=
          std::string::npos);
    CHECK(fault("[[60, 40], [-40, 40], [-40, -40], [60, -40]]").empty());
    CHECK(fault("[[10, 10], [20, 20]]").find("an outline has 3 to 64 corners, this one has 2") != std::string::npos);
}
