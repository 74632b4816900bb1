/// Pictures of the bench: calibrations and pattern tables.
#include <doctest/doctest.h>

#include "support/bench_array.hpp"
#include "support/fixtures.hpp"
#include "vast_turn/view/picture.hpp"

using namespace vast_turn;

namespace {

std::size_t times(const std::string& text, const std::string& part) {
    std::size_t count = 0;
    for (std::size_t at = text.find(part); at != std::string::npos; at = text.find(part, at + 1)) {
        ++count;
    }
    return count;
}

} // namespace

TEST_CASE("a calibration of one to eight sensors can be drawn, with and without a sweep, dead sensors too") {
    for (std::uint64_t seed = 0; seed < 8; ++seed) {
        fixtures::BenchArray array(seed);
        array.sensors[0].line = array.sensors[0].floor;
        BenchReadings readings = array.readings();
        const CalibrationReport report = calibrate(readings, array.facts());
        const std::string png = draw_calibration(readings, report, "an array", PictureFormat::png);
        CHECK(png.starts_with("\x89PNG"));
        CHECK(draw_calibration(readings, report, "an array", PictureFormat::png) == png);
        CalibrationReport without = report;
        without.sweep.reset();
        CHECK(draw_calibration(readings, without, "an array", PictureFormat::png) != png);
    }
}

TEST_CASE("a table's picture has a cell for every pattern, whatever the number of sensors") {
    std::size_t before = 0;
    for (int sensors = 1; sensors <= 8; ++sensors) {
        const Plan plan =
            fixtures::compiled(fixtures::plan_text(sensors, "seen > 1 -> rotate(left, 30)\nelse -> ahead(40)"));
        const std::string svg = draw_table(plan, pattern_tables(plan).front(), nullptr, PictureFormat::svg);
        const std::size_t shapes = times(svg, "<path") + times(svg, "<rect");
        CHECK(shapes > before + 4 * static_cast<std::size_t>(pattern_count(sensors)) / 2);
        before = shapes;
    }
}

TEST_CASE("the robot's speeds change the arrows") {
    const Plan plan = fixtures::compiled(fixtures::plan_text(2, "[#.] mirrored -> wheels(-9, 50)\nelse -> ahead(40)"));
    const HabitTable table = pattern_tables(plan).front();
    Robot robot = fixtures::ideal_robot(2);
    const std::string ideal = draw_table(plan, table, &robot, PictureFormat::svg);
    robot.motors.dead_band_pct = 20.0;
    CHECK(draw_table(plan, table, &robot, PictureFormat::svg) != ideal);
}
