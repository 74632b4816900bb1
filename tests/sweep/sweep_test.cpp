// Axes, points, and the same trips at many points.
#include <set>

#include <doctest/doctest.h>

#include "support/fern_house.hpp"
#include "support/fixtures.hpp"
#include "support/rounds.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/formats/read/text_file.hpp"
#include "vast_turn/formats/write/sweep_table.hpp"
#include "vast_turn/sweep/sweep.hpp"
#include "vast_turn/trial/trip_result.hpp"

using namespace vast_turn;

namespace {

std::string axis_refusal(const std::string& text) {
    return fixtures::message_of([&] { grid_of({parse_axis(text)}); });
}

/// The fern house's first trip with left-first.plan, with these numbers.
struct SweptHouse {
    fixtures::FernHouse ferns;
    std::string text = read_file("data/fern-house/left-first.plan");
    std::string robot_text = read_file("data/fern-house/sprig-2.robot.toml");

    SweepAsk ask(const std::vector<std::string>& over) {
        SweepAsk out;
        for (const std::string& one : over) {
            out.axes.push_back(parse_axis(one));
        }
        out.points = grid_of(out.axes);
        out.cases = {cases_of(ferns.scene, ferns.trips).front()};
        out.plan = [this](const std::vector<Setting>& settings) {
            SettingsTaken taken;
            return fixtures::compiled(plan_text_with(text, "left-first.plan", settings, taken));
        };
        out.robot = [this](const std::vector<Setting>& settings) {
            return parse_robot(robot_text, "sprig-2.robot.toml", settings);
        };
        out.repeats = 3;
        return out;
    }
};

} // namespace

TEST_CASE("axes: ranges with steps, lists, units; each value as it is written") {
    CHECK(parse_axis("cruise=36..60:8").values == std::vector<double>{36, 44, 52, 60});
    CHECK(parse_axis("cruise=60..36:8").values == std::vector<double>{60, 52, 44, 36});
    CHECK(parse_axis("cruise=36..61:8").values == std::vector<double>{36, 44, 52, 60});
    CHECK(parse_axis("x=0..1:0.1").values.size() == 11);
    CHECK(parse_axis("inside=-24,-30.5,4").values == std::vector<double>{-24, -30.5, 4});
    const Axis near = parse_axis("near=90mm..120mm:15");
    CHECK(near.at(105).value == "105mm");
    CHECK(written_name(parse_axis("robot.look_ms=8,9").at(8)) == "robot.look_ms");
    CHECK(grid_of({parse_axis("a=1,2"), parse_axis("b=5,6,7")}) ==
          std::vector<SweepValues>{{1, 5}, {1, 6}, {1, 7}, {2, 5}, {2, 6}, {2, 7}});
    CHECK(axis_refusal("cruise").find("it names no values") != std::string::npos);
    CHECK(axis_refusal("cruise=36..60").find("a range without steps") != std::string::npos);
    CHECK(axis_refusal("cruise=36..60:0").find("its step is nothing") != std::string::npos);
    CHECK(axis_refusal("cruise=0..1e9:1").find("more than 10000 values") != std::string::npos);
    CHECK(axis_refusal("cruise=1,x").find("`cruise=1,x`: `x` is no number") != std::string::npos);
    CHECK(axis_refusal("near=1mm..2cm:1").find("several units") != std::string::npos);
    const std::string many = fixtures::message_of([] {
        grid_of({parse_axis("a=0..999:1"), parse_axis("b=0..999:1")});
    });
    CHECK(many.find("more than 200000 points") != std::string::npos);
}

TEST_CASE("fills: as many points as asked, evenly spread, the same for the same seed") {
    const std::vector<Axis> axes = {parse_axis("a=10..20"), parse_axis("b=-1..1")};
    const std::vector<SweepValues> points = fill_of(axes, 256, 5);
    REQUIRE(points.size() == 256);
    CHECK(points == fill_of(axes, 256, 5));
    CHECK(points != fill_of(axes, 256, 6));
    // Of 16 boxes of equal size each holds about 16 points.
    std::vector<int> in_box(16, 0);
    for (const SweepValues& at : points) {
        CHECK((at[0] >= 10 && at[0] <= 20 && at[1] >= -1 && at[1] <= 1));
        const int column = std::min(3, static_cast<int>((at[0] - 10) / 2.5));
        const int row = std::min(3, static_cast<int>((at[1] + 1) / 0.5));
        ++in_box[static_cast<std::size_t>(4 * row + column)];
    }
    for (const int count : in_box) {
        CHECK((count >= 12 && count <= 20));
    }
}

TEST_CASE("a sweep says at each point what single runs say, for any number of threads") {
    SweptHouse house;
    SweepAsk ask = house.ask({"cruise=39,47,63", "robot.sensor.1.spot_mm=5.1,9.3"});
    ask.threads = 1;
    const std::vector<SweepPoint> points = sweep(ask);
    REQUIRE(points.size() == 6);
    ask.threads = 3;
    const std::vector<SweepPoint> again = sweep(ask);
    for (std::size_t i = 0; i < points.size(); ++i) {
        CHECK(points[i].passed == again[i].passed);
        CHECK(points[i].time_s.mean == again[i].time_s.mean);
        CHECK(points[i].steering_pct.mean == again[i].steering_pct.mean);
        const std::vector<Setting> settings = {ask.axes[0].at(points[i].at[0]), ask.axes[1].at(points[i].at[1])};
        const Robot robot = ask.robot(settings);
        const Scene scene(house.ferns.course, robot);
        int passed = 0;
        double time_s = 0.0;
        for (std::uint64_t n = 0; n < 3; ++n) {
            const TripResult result =
                try_trip(scene, ask.plan(settings), house.ferns.trips.front(), nth_run(RunOptions{}, n));
            passed += result.passed ? 1 : 0;
            time_s += result.passed ? result.run.time_s : 0.0;
        }
        CHECK(points[i].passed == passed);
        CHECK(points[i].time_s.mean == doctest::Approx(passed > 0 ? time_s / passed : 0.0));
    }
    CHECK(points[0].time_s.mean > points[2].time_s.mean); // 39 is slower than 47
}

TEST_CASE("points that cannot be are told, and do not end a sweep; when none can be it ends with the reason") {
    SweptHouse house;
    SweepAsk ask = house.ask({"robot.motors.lag_ms=60,-4"});
    const std::vector<SweepPoint> points = sweep(ask);
    REQUIRE(points.size() == 2);
    CHECK(points[0].runs == 3);
    CHECK(points[1].runs == 0);
    CHECK(points[1].refused.find("lag_ms") != std::string::npos);
    CHECK(sweep_csv(ask.axes, points).find("-4,0,0,") != std::string::npos);
    CHECK(sweep_json(ask.axes, points, 0.3).find("\"refused\"") != std::string::npos);
    SweepAsk none = house.ask({"robot.motors.lag_ms=-4,-5"});
    CHECK(fixtures::message_of([&] { sweep(none); }).find("lag_ms") != std::string::npos);
}

TEST_CASE("the fastest of the sure points is found; a stop leaves what was done") {
    std::vector<SweepPoint> points(4);
    const auto of = [&](std::size_t i, double low, double time_s) {
        points[i].runs = 10;
        points[i].share = {low, 1.0};
        points[i].time_s.mean = time_s;
    };
    of(0, 0.95, 9.0);
    of(1, 0.5, 3.0);
    of(2, 0.93, 7.0);
    CHECK(fastest_sure(points, 0.9) == 2);
    CHECK(fastest_sure(points, 0.94) == 0);
    CHECK(fastest_sure(points, 0.99) == points.size());
    SweptHouse house;
    SweepAsk ask = house.ask({"cruise=40..60:0.05"});
    ask.repeats = 2;
    int asked = 0;
    ask.stop = [&] { return ++asked > 1; };
    std::size_t told = 0;
    ask.progress = [&](std::size_t done, std::size_t all) {
        told = done;
        CHECK(all == 802);
    };
    ask.points.resize(401);
    const std::vector<SweepPoint> done = sweep(ask);
    CHECK(done.size() == 256);
    CHECK(told == 512);
}
