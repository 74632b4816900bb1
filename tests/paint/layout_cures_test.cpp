/// Cures and comparisons over all layouts of a shuffled course.

#include <algorithm>
#include <cmath>
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
#include "vast_turn/trial/comparison.hpp"
#include "vast_turn/trial/layouts_report.hpp"

using namespace vast_turn;

namespace {

const std::string shuffled_course = "data/fern-house/any-day.course.toml";
const std::string shuffled_robot = "data/fern-house/sprig-5.robot.toml";

/// The demo's plan for any day with a slip in it.
std::string slipped(const std::string& right, const std::string& wrong) {
    std::string text = read_file("data/fern-house/any-day.plan");
    const std::size_t at = text.find(right);
    REQUIRE(at != std::string::npos);
    return text.replace(at, right.size(), wrong);
}

/// Layouts of the demo's course, for a robot.
struct Layouts {
    Robot robot = load_robot(shuffled_robot);
    CourseReading reading{shuffled_course};
    MakeLayout make = [this](int number) { return reading.trip_ground(robot, "", "layout " + std::to_string(number)); };

    int passed_by(const Plan& plan, int layouts) const {
        TripReportOptions options;
        options.cures = false;
        return report_layouts(layouts, make, {Pilot(plan)}, options).passed();
    }
};

} // namespace

TEST_CASE("cures of a failed layout are driven over all of them, and those come first that hold on most" *
          doctest::skip(fixtures::sanitized())) { // the drives of others run there too
    const Layouts over;
    constexpr int layouts = 11;
    const Plan plan = compile_plan(slipped("bend(46, slow)", "bend(26, cruise)"), "slip.plan").plan.value();
    const LayoutsReport report = report_layouts(layouts, over.make, {Pilot(plan)});
    CHECK(report.passed() < layouts);
    REQUIRE(report.looked_into);
    bool differ = false;
    for (const CaseReport& one : report.looked_into->pilots[0].cases) {
        if (one.holds() || one.cures.empty()) {
            continue;
        }
        int before = layouts + 1;
        int driven = 0;
        for (const Cure& cure : one.cures) {
            if (cure.layouts.taken > 0) {
                CHECK(cure.layouts.taken == layouts);
                CHECK(cure.layouts.before == report.passed());
                CHECK(cure.layouts.held <= before);
                differ = differ || (driven > 0 && cure.layouts.held < before);
                before = cure.layouts.held;
                ++driven;
            }
        }
        CHECK(driven >= 1);
        const Cure& first = one.cures.front();
        CHECK(over.passed_by(compile_plan(first.text, "slip.plan").plan.value(), layouts) == first.layouts.held);
        CHECK(describe(first).find("holds on " + std::to_string(first.layouts.held) + " of 11 layouts, without it on " +
                                   std::to_string(report.passed())) != std::string::npos);
    }
    CHECK(differ); // some hold on fewer than others: eight layouts do not tell
}

TEST_CASE("plans are compared over all layouts: each trip's runs are those of every layout, one by one" *
          doctest::skip(fixtures::sanitized())) {
    const Layouts over;
    constexpr int layouts = 3;
    constexpr int repeats = 2;
    const std::vector<Pilot> pilots{load_plan("data/fern-house/any-day.plan"),
                                    compile_plan(slipped("take(right)", "take(left)"), "slip.plan").plan.value()};
    const TripGround first = over.make(1);
    const std::vector<PilotFigures> all = compare_layouts(first.cases(), layouts, over.make, pilots, repeats);
    REQUIRE(all.size() == 2);
    std::vector<double> times;
    int passed = 0;
    for (int number = 1; number <= layouts; ++number) {
        const TripGround ground = over.make(number);
        for (int repeat = 0; repeat < repeats; ++repeat) {
            const TripResult one = try_trip(*ground.cases()[0].scene, pilots[1], ground.cases()[0].trip,
                                            nth_run({}, static_cast<std::uint64_t>(repeat)));
            times.push_back(one.run.time_s);
            passed += one.passed ? 1 : 0;
        }
    }
    CHECK(all[1].runs == layouts * repeats);
    CHECK(all[1].passed == passed);
    CHECK(all[1].against.lost == all[0].passed - passed);
    CHECK(all[1].cases[0].time_s.mean == doctest::Approx(spread_of(times).mean));
    CHECK(all[1].cases[0].time_s.deviation == doctest::Approx(spread_of(times).deviation));
    CHECK(all[1].cases[0].first_run.time_s == times[0]);
    // Runs on one layout are alike, so twice as many are no surer.
    const std::vector<PilotFigures> once = compare_layouts(first.cases(), layouts, over.make, pilots, 1);
    const auto wide = [](const Against& one) { return one.better.high - one.better.low; };
    CHECK(wide(all[1].against) > 0.85 * wide(once[1].against));
}

TEST_CASE("compare goes over all layouts, or one of them, and says so" * doctest::skip(fixtures::sanitized())) {
    const std::string slip = slipped("take(right)", "take(left)");
    const fixtures::Folder folder;
    write_file(folder.file("slip.plan"), slip);
    const std::vector<std::string> call{"compare", fixtures::few_layouts(folder, 12), shuffled_robot,
                                        "data/fern-house/any-day.plan", folder.file("slip.plan")};
    const auto with = [&call](std::vector<std::string> more) {
        more.insert(more.begin(), call.begin(), call.end());
        return fixtures::call_vturn(more);
    };
    const fixtures::Called all = with({});
    CHECK(all.err == "");
    CHECK(all.out.find("Fern house on any day: Sprig-5, 1 trip, 1 run on each of 12 layouts\n") == 0);
    CHECK(all.out.find("12 of 12") != std::string::npos);
    const std::string text = with({"--json", "--jobs", "1"}).out;
    const nlohmann::json json = nlohmann::json::parse(text);
    CHECK(json["layouts"] == 12);
    CHECK(json["plans"][0]["passed"] == 12);
    CHECK(json["plans"][1]["runs"] == 12);
    CHECK(json["plans"][1]["lost"] == 12 - json["plans"][1]["passed"].get<int>());
    CHECK(json["plans"][1]["trips"][0]["variant"] == nullptr);
    CHECK(text == with({"--json", "--jobs", "2"}).out);
    const fixtures::Called one = with({"--variant", "layout 5"});
    CHECK(one.out.find("1 trip, 5 runs each\n") != std::string::npos);
    CHECK(one.out.find("by the plates to the dock (layout 5)") != std::string::npos);
    CHECK(with({"--variant", "layout none"}).err.find("no layout") != std::string::npos);
}
