/// What line sensors see, against the spot added up point by point, a twentieth of a millimetre apart.

#include <cmath>
#include <random>

#include <doctest/doctest.h>

#include "support/fixtures.hpp"
#include "support/rounds.hpp"

using namespace vast_turn;

namespace {

/// The light that comes back to a spot from a straight tape and light from outside, each point by itself. `higher`: it
/// sits so many times as high as its file says, and sees the floor under the same angle.
double brute_force(const Course& course, const LineSensor& sensor, Vec2 at, double half_width, double higher = 1.0) {
    const Vec2 from = course.tapes[0].path.front();
    const Vec2 to = course.tapes[0].path.back();
    const double line = reflectance(course.line, sensor.light);
    const double floor = reflectance(course.floor, sensor.light);
    constexpr double step = 0.05;
    const double radius = 0.5 * sensor.spot_mm * higher;
    const int reach = static_cast<int>(std::ceil(radius / step));
    double sum = 0.0;
    int points = 0;
    for (int i = -reach; i <= reach; ++i) {
        for (int j = -reach; j <= reach; ++j) {
            const Vec2 off{(i + 0.5) * step, (j + 0.5) * step};
            if (length(off) > radius) {
                continue;
            }
            const Vec2 p = at + off;
            const bool on_tape = length(p - nearest_on_segment(p, from, to)) <= half_width;
            sum +=
                (on_tape ? line : floor) * (1.0 / (higher * higher) + sensor.outside * light_at(course.lights, p, 0.0));
            ++points;
        }
    }
    return sum / points;
}

} // namespace

TEST_CASE("spots at any height with light from outside: what is read is what the spot adds up to") {
    using Kind = OutsideLight::Kind;
    std::mt19937 random(12);
    const auto between = [&](double low, double high) {
        return low + (high - low) * static_cast<double>(random() % 4096) / 4095.0;
    };
    double worst = 0.0;
    const int poses = fixtures::rounds(400, 90, 12);
    Course course = fixtures::board({"M 100,290 L 900,340"}, 19.0, 0.5);
    OutsideLight lamp{Kind::lamp, 0.8, {400.0, 200.0}};
    lamp.height_mm = 350.0;
    OutsideLight shadow{Kind::shadow, 0.2, {520.0, 600.0}, {480.0, 0.0}};
    shadow.soft_mm = 40.0;
    course.lights = {lamp, OutsideLight{Kind::window, 0.5, {0.0, 0.0}, {900.0, 500.0}}, shadow};
    for (int n = 0; n < poses; ++n) {
        CAPTURE(n);
        Robot robot = fixtures::ideal_robot(1);
        LineSensor& sensor = robot.sensors[0];
        sensor.adc_max = 65535;
        sensor.spot_mm = between(4.0, 12.0);
        sensor.gain = 0.25;
        sensor.outside = n % 2 == 0 ? 0.0 : between(0.1, 0.9);
        sensor.height_mm = n % 3 == 0 ? between(4.0, 12.0) : 0.0;
        const double higher = n % 3 == 0 ? between(0.7, 1.6) : 1.0;
        const Scene scene(course, robot);
        RunOptions options;
        const double x = between(250.0, 750.0);
        options.pose = Pose{{x, 290.0 + 50.0 * (x - 100.0) / 800.0 + between(-22.0, 22.0)}, between(0.0, 360.0)};
        options.pose->at = options.pose->at - from_robot({}, direction(options.pose->heading_deg), sensor.at_mm);
        options.time_limit_s = 0.005;
        options.keep_told = true;
        options.set = {{Quantity::raised, 0, (higher - 1.0) * sensor.height_mm}};
        const Run run = drive(scene, Decide([](const Look&, Answer&) {}), options);
        const Vec2 at = from_robot(options.pose->at, direction(options.pose->heading_deg), sensor.at_mm);
        const double seen = run.told.front().raw[0] / 65535.0 / 0.25;
        const double contrast = reflectance(course.floor, sensor.light) - reflectance(course.line, sensor.light);
        const double lit = 1.0 / (higher * higher) + sensor.outside * light_at(course.lights, at, 0.0);
        const double off = std::abs(seen - brute_force(course, sensor, at, 9.5, higher)) / (contrast * lit);
        worst = std::max(worst, off);
        CHECK(off < 0.02);
    }
    CHECK(worst > 1e-6);
    MESSAGE("farthest from the sum: ", 100.0 * worst, " % of the contrast");
}
