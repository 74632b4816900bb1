/// Sweeps and tunings over the layouts of a shuffled course, in turn.

#include <string>
#include <vector>

#include <doctest/doctest.h>
#include <nlohmann/json.hpp>

#include "support/fern_house.hpp"
#include "support/fixtures.hpp"
#include "support/rounds.hpp"
#include "vast_turn/formats/read/plan_file.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/formats/read/text_file.hpp"
#include "vast_turn/formats/write/text_file.hpp"
#include "vast_turn/paint/course_file.hpp"
#include "vast_turn/settings/setting.hpp"
#include "vast_turn/trial/layouts_report.hpp"
#include "vast_turn/tune/trips_drive.hpp"

using namespace vast_turn;

namespace {

const std::vector<std::string> swept_layouts = {"data/fern-house/any-day.course.toml",
                                                "data/fern-house/sprig-5.robot.toml", "data/fern-house/any-day.plan"};

/// The demo's trip on any day, on some layouts, with other numbers.
struct SweptLayouts {
    Robot robot = load_robot(swept_layouts[1]);
    CourseReading reading{swept_layouts[0]};
    std::string text = read_file(swept_layouts[2]);
    std::vector<TripGround> grounds;
    SweepAsk ask;

    SweptLayouts(int layouts, const std::string& over) {
        const MakeLayout make = [this](int number) {
            return reading.trip_ground(robot, "", "layout " + std::to_string(number));
        };
        grounds = make_layouts(1, layouts, make);
        ask.axes = {parse_axis(over)};
        ask.points = grid_of(ask.axes);
        ask.cases = grounds.front().cases();
        for (std::size_t i = 1; i < grounds.size(); ++i) {
            ask.further_layouts.push_back(grounds[i].cases());
        }
        ask.plan = [this](const std::vector<Setting>& settings) {
            SettingsTaken taken;
            return fixtures::compiled(plan_text_with(text, "any-day.plan", settings, taken));
        };
        ask.robot = [](const std::vector<Setting>& settings) {
            return parse_robot(read_file(swept_layouts[1]), "sprig-5.robot.toml", settings);
        };
    }

    /// With the n-th seed, on the layout whose turn it is.
    TripResult one_by_one(const SweepValues& at, std::uint64_t n) const {
        const Setting setting = ask.axes[0].at(at[0]);
        const TripCase& on = grounds[n % grounds.size()].cases()[0];
        if (setting.of != Setting::Of::robot) {
            return try_trip(*on.scene, ask.plan({setting}), on.trip, nth_run({}, n));
        }
        const Robot other = ask.robot({setting});
        return try_trip(Scene(on.scene->course(), other), ask.plan({}), on.trip, nth_run({}, n));
    }
};

fixtures::Called on_layouts(const std::string& command, const std::vector<std::string>& more) {
    const fixtures::Folder folder;
    std::vector<std::string> words = {command, fixtures::few_layouts(folder, 12), swept_layouts[1], swept_layouts[2]};
    words.insert(words.end(), more.begin(), more.end());
    return fixtures::call_vturn(words);
}

} // namespace

TEST_CASE("each run of a sweep is on the next layout, whatever moves and however many threads drive" *
          doctest::skip(fixtures::sanitized())) {
    for (const char* over : {"cruise=52,63", "robot.sensor.1.spot_mm=4.5"}) {
        CAPTURE(over);
        SweptLayouts swept(3, over);
        swept.ask.repeats = 5;
        swept.ask.threads = 1;
        const std::vector<SweepPoint> points = sweep(swept.ask);
        for (const SweepPoint& point : points) {
            std::vector<double> times;
            for (std::uint64_t n = 0; n < 5; ++n) {
                const TripResult one = swept.one_by_one(point.at, n);
                if (one.passed) {
                    times.push_back(one.run.time_s);
                }
            }
            CHECK(point.runs == 5);
            CHECK(point.passed == static_cast<int>(times.size()));
            CHECK(point.time_s.mean == spread_of(times).mean);
            CHECK(point.time_s.deviation > 1.0); // layouts are not equally long
        }
        swept.ask.threads = 3;
        const std::vector<SweepPoint> again = sweep(swept.ask);
        CHECK(again[0].time_s.mean == points[0].time_s.mean);
        CHECK(again[0].passed == points[0].passed);
    }
}

TEST_CASE("each day of a tuning is on the next layout, from whichever day it drives") {
    const SweptLayouts swept(2, "cruise=52,63");
    const TuneDrive drive = trips_drive(swept.ask);
    const std::vector<std::vector<TuneRun>> runs = drive({{{52.0}, 2, 3}});
    REQUIRE(runs[0].size() == 3);
    for (std::uint64_t i = 0; i < 3; ++i) {
        CHECK(runs[0][i].time_s == swept.one_by_one({52.0}, 1 + i).run.time_s);
    }
    CHECK(runs[0][0].time_s != doctest::Approx(runs[0][1].time_s).epsilon(0.01));
}

TEST_CASE("sweep and tune go over all layouts, or one of them, and say so" * doctest::skip(fixtures::sanitized())) {
    const fixtures::Called all = on_layouts("sweep", {"--over", "cruise=40,60"});
    CHECK(all.out.find("40 runs at each of 2 points, each run on the next of 12 layouts\n") != std::string::npos);
    CHECK(all.err == "");
    const nlohmann::json few =
        nlohmann::json::parse(on_layouts("sweep", {"--over", "cruise=40", "--repeat", "3", "--json"}).out);
    CHECK(few["layouts"] == 3); // no more are needed
    const fixtures::Called one = on_layouts("sweep", {"--over", "cruise=40", "--repeat", "3", "--variant", "layout 9"});
    CHECK(one.out.find("3 runs at each of 1 points\n") != std::string::npos);
    CHECK(on_layouts("sweep", {"--over", "cruise=40", "--variant", "layout none"}).err.find("no layout") !=
          std::string::npos);
    const std::vector<std::string> tuning = {"--move", "cruise=38..46", "--runs", "200", "--sure", "70"};
    const fixtures::Called tuned = on_layouts("tune", tuning);
    CHECK(tuned.out.find(", on 12 layouts: the fastest") != std::string::npos);
    std::vector<std::string> alone = tuning;
    alone.insert(alone.end(), {"--variant", "layout 9", "--json"});
    const nlohmann::json json = nlohmann::json::parse(on_layouts("tune", alone).out);
    CHECK_FALSE(json.contains("layouts"));
}

TEST_CASE("layouts that do not fit into memory at once are not driven, and that is told" *
          doctest::skip(fixtures::sanitized())) {
    const fixtures::Folder folder;
    std::string large = read_file(swept_layouts[0]);
    const std::size_t at = large.find("cell_mm = 1 ");
    REQUIRE(at != std::string::npos);
    write_file(folder.file("c.course.toml"), large.replace(at, 12, "cell_mm = 0.25 "));
    write_file(folder.file("fern-house.pieces.toml"), read_file("data/fern-house/fern-house.pieces.toml"));
    const fixtures::Called called = fixtures::call_vturn({"sweep", folder.file("c.course.toml"), swept_layouts[1],
                                                          swept_layouts[2], "--over", "cruise=40", "--repeat", "9"});
    CHECK(called.err.find("of 40 layouts of ") != std::string::npos);
    CHECK(called.err.find("the first 3 are driven") != std::string::npos);
    CHECK(called.out.find("each run on the next of 3 layouts") != std::string::npos);
}
