#include "vast_turn/trial/comparison.hpp"

#include <cmath>

#include <doctest/doctest.h>
#include <nlohmann/json.hpp>

#include "support/fern_house.hpp"
#include "support/fixtures.hpp"

using namespace vast_turn;
using fixtures::call_vturn;
using fixtures::Called;

TEST_CASE("figures of a run agree with what it recorded") {
    const fixtures::FernHouse f;
    const TripResult result = take_trip(f.scene, f.plan, f.trips[0]);
    const RunFigures figures = figures_of(f.scene, result.run);
    CHECK(figures.time_s == result.run.time_s);
    CHECK(figures.mean_mm_s == doctest::Approx(result.run.way_mm / result.run.time_s));
    CHECK(figures.top_mm_s >= figures.mean_mm_s);
    CHECK(figures.top_mm_s < f.robot.top_speed_mm_s);
    double squares = 0.0;
    double farthest = 0.0;
    for (const LookRecord& look : result.run.looks) {
        const Vec2 array =
            from_robot(look.at, direction(static_cast<double>(look.heading_deg)), f.scene.array_middle());
        const double aside = f.scene.tape().distance(array);
        squares += aside * aside;
        farthest = std::max(farthest, aside);
    }
    CHECK(figures.farthest_mm == doctest::Approx(farthest));
    CHECK(figures.aside_mm == doctest::Approx(std::sqrt(squares / static_cast<double>(result.run.looks.size()))));
    CHECK(figures.losses == 0.0);
    const TripResult flown = take_trip(f.scene, f.other("gentle"), f.trips[0]);
    CHECK(figures_of(f.scene, flown.run).losses >= 1.0);
    CHECK(figures_of(f.scene, Run{}).time_s == 0.0);
}

TEST_CASE("plans are compared over the same trips and seeds, whatever the number of threads") {
    const fixtures::FernHouse f;
    const std::vector<Pilot> plans{f.plan, f.other("gentle")};
    const std::vector<TripCase> cases = cases_of(f.scene, f.trips);
    const std::vector<PilotFigures> one = compare(cases, plans, 3, {}, 1);
    const std::vector<PilotFigures> two = compare(cases, plans, 3, {}, 2);
    REQUIRE(one.size() == 2);
    CHECK(one[0].runs == 6);
    CHECK(one[0].passed == 3);
    CHECK(one[1].passed == 0);
    for (std::size_t i = 0; i < one.size(); ++i) {
        REQUIRE(one[i].cases.size() == 2);
        for (std::size_t k = 0; k < 2; ++k) {
            const CaseFigures& figures = one[i].cases[k];
            CHECK(figures.runs == 3);
            CHECK(figures.time_s.deviation > 0.0);
            CHECK(figures.time_s.mean == two[i].cases[k].time_s.mean);
            CHECK(figures.aside_mm.deviation == two[i].cases[k].aside_mm.deviation);
            CHECK(figures.first_run.seed == 1);
            CHECK_FALSE(figures.first_run.looks.empty());
        }
    }
    // The trips are of different length: each stands for itself.
    const auto alone = [&](std::size_t trip) { return take_trip(f.scene, f.plan, f.trips[trip]).run.time_s; };
    CHECK(one[0].cases[0].time_s.mean == doctest::Approx(alone(0)).epsilon(0.05));
    CHECK(one[0].cases[1].time_s.mean == doctest::Approx(alone(1)).epsilon(0.05));
}

TEST_CASE("vturn compare prints, draws and writes JSON; what does not fit is refused") {
    const fixtures::Folder folder;
    const std::string aisle = "data/fern-house/aisle.course.toml";
    const std::string sprig = "data/fern-house/sprig-5.robot.toml";
    const std::string pid = "data/fern-house/plans/five-pid.plan";
    const std::string table = "data/fern-house/plans/five-table.plan";
    const Called called =
        call_vturn({"compare", aisle, sprig, pid, table, "--repeat", "2", "-o", folder.file("c.svg")});
    CHECK(called.status == 0);
    CHECK(called.out.find("trips passed                    2 of 2        2 of 2") != std::string::npos);
    CHECK(folder.names() == std::vector<std::string>{"c.svg"});
    const nlohmann::json json =
        nlohmann::json::parse(call_vturn({"compare", aisle, sprig, pid, "--repeat", "2", "--json"}).out);
    CHECK(json.at("plans")[0].at("passed") == 2);
    CHECK(json.at("plans")[0].at("trips")[0].at("mean_mm_s").at("mean").get<double>() > 150.0);
    CHECK(call_vturn({"compare", aisle, sprig, "data/fern-house/left-first.plan"}).status == 2);
    CHECK(call_vturn({"compare", "data/fern-house/night-round.course.toml", sprig, pid}).err.find("has no trips") !=
          std::string::npos);
}
