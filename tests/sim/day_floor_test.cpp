/// Tape and plates that lie otherwise on a day, and sensors that sit higher.

#include <cmath>
#include <functional>
#include <vector>

#include <doctest/doctest.h>

#include "support/fixtures.hpp"
#include "vast_turn/paint/course_file.hpp"
#include "vast_turn/robot/day.hpp"

using namespace vast_turn;

namespace {

/// Looks at a floor point by point on a day: what one sensor tells, 0 for full white to 1 for black.
class Probe {
public:
    Probe(const Course& course, const Robot& robot) : scene_(course, robot) {
        options_.time_limit_s = 0.004;
        options_.lost_after_s = options_.off_course_mm = 900.0;
        options_.keep_told = true;
    }

    Probe& on(std::vector<DayValue> day, std::uint64_t seed = 1) {
        options_.set = std::move(day);
        options_.seed = seed;
        return *this;
    }

    Look look(Vec2 p) const {
        RunOptions options = options_;
        options.pose = Pose{p - from_robot({}, direction(0.0), scene_.robot().sensors[0].at_mm), 0.0};
        return drive(scene_, Decide([](const Look&, Answer&) {}), options).told.front();
    }
    double dark(Vec2 p) const { return look(p).sensor[0]; }

    /// Where what is told crosses a half between two points, of which one is darker; by bisection.
    double crossing(Vec2 from, Vec2 to) const {
        double low = 0.0;
        double high = 1.0;
        const bool rises = dark(to) > dark(from);
        for (int i = 0; i < 24; ++i) {
            const double middle = 0.5 * (low + high);
            ((dark(from + middle * (to - from)) > 0.5) == rises ? high : low) = middle;
        }
        return 0.5 * (low + high) * length(to - from);
    }

private:
    Scene scene_;
    RunOptions options_;
};

struct Scattered {
    double mean = 0.0;
    double deviation = 0.0;
};

Scattered spread_of(int many, const std::function<double(std::uint64_t)>& value) {
    double sum = 0.0;
    double squares = 0.0;
    for (int n = 1; n <= many; ++n) {
        const double v = value(static_cast<std::uint64_t>(n));
        sum += v;
        squares += v * v;
    }
    const double mean = sum / many;
    return {mean, std::sqrt(std::max(0.0, squares / many - mean * mean))};
}

Robot finely_counting() {
    Robot robot = fixtures::ideal_robot(1);
    robot.sensors[0].adc_max = 65535;
    return robot;
}

} // namespace

TEST_CASE("tape that is wider or narrower: both edges move by half of it, on dark floors too") {
    const Robot robot = finely_counting();
    for (const bool dark_floor : {false, true}) {
        const std::string colours = dark_floor ? "floor = \"#202020\"\nline = { colour = \"#EEEEEE\" }\n" : "";
        const Course course = parse_course("name = \"c\"\nsize_mm = [1000, 600]\ncell_mm = 0.5\n" + colours +
                                               "[[tape]]\npath = \"M 100,290 L 900,340\"\nwidth_mm = 23\n"
                                               "[[start]]\nname = \"s\"\nat_mm = [100, 300]\nheading_deg = 0\n",
                                           "c");
        const Vec2 along = (1.0 / std::hypot(800.0, 50.0)) * Vec2{800.0, 50.0};
        const Vec2 across{-along.y, along.x};
        const Vec2 middle = Vec2{100.0, 290.0} + 377.0 * along;
        Probe probe(course, robot);
        for (const double wider : {-7.0, 0.0, 1.5, 6.0}) {
            CAPTURE(dark_floor);
            CAPTURE(wider);
            probe.on({{Quantity::tape_wider, 0, wider}});
            const double one = probe.crossing(middle, middle + 40.0 * across);
            const double other = probe.crossing(middle, middle - 40.0 * across);
            CHECK(one + other == doctest::Approx(23.0 + wider).epsilon(0.012));
            CHECK(std::abs(one - other) < 0.3);
        }
    }
}

TEST_CASE("tape off its place: by as much as said, each stretch to its own side, and the same on the same day") {
    const Course course = fixtures::board({"M 20,300 H 980"}, 19.0, 0.5);
    const Robot robot = finely_counting();
    Probe probe(course, robot);
    const auto place = [&](double x, std::uint64_t seed) { // of the tape's middle
        probe.on({{Quantity::tape_off, 0, 2.5}}, seed);
        return 0.5 * (probe.crossing({x, 300.0}, {x, 340.0}) - probe.crossing({x, 300.0}, {x, 260.0}));
    };
    const Scattered at_corner = spread_of(220, [&](std::uint64_t seed) { return place(500.0, seed); });
    CHECK(std::abs(at_corner.mean) < 0.5);
    // 300 mm down lies between corners 250 mm apart: two normal numbers, weighed 0.8 and 0.2.
    CHECK(at_corner.deviation == doctest::Approx(2.5 * std::hypot(0.8, 0.2)).epsilon(0.15));
    CHECK(place(500.0, 5) == place(500.0, 5));
    const Scattered difference =
        spread_of(60, [&](std::uint64_t seed) { return place(500.0, seed) - place(250.0, seed); });
    CHECK(difference.deviation > 2.0); // 250 mm on it lies off by other numbers
    const Scattered near = spread_of(60, [&](std::uint64_t seed) { return place(500.0, seed) - place(490.0, seed); });
    CHECK(near.deviation < 0.3);
}

TEST_CASE("a lifted end of tape is seen as floor, each end as far as it was drawn for it") {
    const Course course = fixtures::board({"M 300,300 H 900", "M 620,300 V 580"}, 19.0, 0.5);
    const Robot robot = finely_counting();
    const std::vector<DayValue> day{{Quantity::tape_lifted, 0, 40.0}};
    Probe probe(course, robot);
    const Scattered begins = spread_of(120, [&](std::uint64_t seed) {
        return probe.on(day, seed).crossing({270.0, 300.0}, {360.0, 300.0}) - 30.0;
    });
    CHECK(begins.mean == doctest::Approx(20.0).epsilon(0.15)); // anything up to 40, evenly
    CHECK(begins.deviation == doctest::Approx(40.0 / std::sqrt(12.0)).epsilon(0.15));
    for (std::uint64_t seed = 1; seed <= 20; ++seed) {
        probe.on(day, seed);
        CHECK(probe.dark({620.0, 315.0}) > 0.95); // the branch is stuck to the tape that it begins on
        CHECK(probe.dark({600.0, 300.0}) > 0.95);
    }
    CHECK(probe.on({}).crossing({270.0, 300.0}, {360.0, 300.0}) == doctest::Approx(30.0).epsilon(0.02));
}

TEST_CASE("plates off their places: colour sensors see each where it lies that day") {
    const Course course =
        parse_course("name = \"c\"\nsize_mm = [1000, 600]\n[[tape]]\npath = \"M 20,300 H 980\"\n"
                     "[palette]\namber = \"#E0A030\"\n[[marker]]\ncolour = \"amber\"\nat_mm = [400, 300]\n"
                     "size_mm = [60, 44]\n[[marker]]\ncolour = \"amber\"\nat_mm = [700, 300]\nsize_mm = [60, 44]\n"
                     "[[start]]\nname = \"s\"\nat_mm = [100, 300]\nheading_deg = 0\n",
                     "c");
    Robot robot = finely_counting();
    ColourSensor nose;
    nose.name = "nose";
    nose.at_mm = robot.sensors[0].at_mm;
    nose.spot_mm = 4.0;
    robot.colour_sensors.push_back(nose);
    Probe probe(course, robot);
    const auto place = [&](double x, std::uint64_t seed) { // of the plate's middle along the tape
        probe.on({{Quantity::plates_off, 0, 5.0}}, seed);
        double first = 0.0;
        double last = 0.0;
        for (double at = x - 60.0; at < x + 60.0; at += 1.0) {
            if (probe.look({at, 300.0}).markers != 0) {
                first = first > 0.0 ? first : at;
                last = at;
            }
        }
        REQUIRE(first > 0.0);
        CHECK(last - first == doctest::Approx(60.0).epsilon(0.06));
        return 0.5 * (first + last) - x;
    };
    const Scattered off = spread_of(40, [&](std::uint64_t seed) { return place(400.0, seed); });
    CHECK(std::abs(off.mean) < 2.5);
    CHECK(off.deviation == doctest::Approx(5.0).epsilon(0.3));
    CHECK(std::abs(place(400.0, 3) - place(700.0, 3)) > 0.4); // each its own
}

TEST_CASE("a sensor that sits higher: a broader spot, less of its own light, as much from outside") {
    Course course = fixtures::board({"M 500,20 V 580"}, 60.0, 0.5);
    Robot robot = finely_counting();
    LineSensor& sensor = robot.sensors[0];
    sensor.height_mm = 7.0;
    sensor.spot_mm = 6.0;
    sensor.outside = 0.4;
    Probe probe(course, robot);
    const auto raw = [&](const Vec2 p, double by_mm) {
        return probe.on({{Quantity::raised, 0, by_mm}}).look(p).raw[0];
    };
    const Vec2 floor{200.0, 300.0};
    const double usual = raw(floor, 0.0);
    CHECK(raw(floor, 3.5) == doctest::Approx(usual / (1.5 * 1.5)).epsilon(1e-3));
    CHECK(raw(floor, -1.0) > usual);
    course.lights = {{OutsideLight::Kind::even, 1.0}};
    CHECK(raw(floor, 3.5) == doctest::Approx(usual * (1.0 / 2.25 + 0.4)).epsilon(1e-3));
    course.lights.clear();
    // How far it is from a tenth to nine tenths of the contrast goes with the spot.
    const auto breadth = [&](double by_mm) {
        const double bright = raw(floor, by_mm);
        const double dark = raw({500.0, 300.0}, by_mm);
        double first = 0.0;
        double last = 0.0;
        for (double x = 460.0; x < 480.0; x += 0.1) {
            const double part = (bright - raw({x, 300.0}, by_mm)) / (bright - dark);
            first = part < 0.1 ? x : first;
            last = part < 0.9 ? x : last;
        }
        return last - first;
    };
    CHECK(breadth(7.0) == doctest::Approx(2.0 * breadth(0.0)).epsilon(0.03));
    // One whose height nobody knows is as it is.
    robot.sensors[0].height_mm = 0.0;
    CHECK(raw(floor, 3.5) == usual);
    LineSensor high = sensor;
    high.height_mm = 8.0;
    CHECK(raised(high, 1e6).spot_mm == doctest::Approx(60.0));
    CHECK(raised(high, -1e6).height_mm == doctest::Approx(0.8));
}
