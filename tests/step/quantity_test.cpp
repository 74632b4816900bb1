/// Quantities of runs, and plots of them.

#include "vast_turn/step/quantity.hpp"

#include <fstream>
#include <sstream>

#include <doctest/doctest.h>

#include "support/fern_house.hpp"
#include "support/fixtures.hpp"
#include "vast_turn/view/plot_picture.hpp"

using namespace vast_turn;

TEST_CASE("quantities of a run are what was recorded and what its plan can be asked, look by look") {
    const fixtures::FernHouse f;
    RunOptions options;
    options.keep_told = true;
    const Run run = drive(f.scene, f.plan, options);
    const auto of = [&](const std::string& quantity) { return quantities_of(f.plan, run, quantity); };
    const Quantities left = of("left");
    const Quantities offset = of("offset");
    const Quantities both = of("[##] or sensor(2) > 0.9");
    const Quantities mean = of("travelled / elapsed");
    REQUIRE(left.values.size() == run.looks.size());
    REQUIRE(both.values.size() == run.looks.size());
    CHECK(left.unit == "%");
    CHECK(offset.unit.empty());
    CHECK(mean.unit == "mm/ms");
    CHECK(both.is_condition);
    CHECK_FALSE(mean.is_condition);
    CHECK(of("travelled").unit == "mm");
    for (std::size_t i = 0; i < run.looks.size(); i += 7) {
        CHECK(left.values[i] == static_cast<double>(run.looks[i].left_pct));
        CHECK(offset.values[i] == run.told[i].offset);
        CHECK((both.values[i] > 0.5) == (run.looks[i].line_bits == 3 || run.told[i].sensor[1] > 0.9));
        CHECK(of("facing").values[i] == static_cast<double>(run.looks[i].heading_deg));
    }
    CHECK(fixtures::message_of([&] { of("ofset"); }).find("did you mean `offset`?") != std::string::npos);
}

TEST_CASE("vars are told as they were, and float as a chip has them") {
    const Course course = fixtures::board({"M 0,300 H 1000"});
    const Robot robot = fixtures::ideal_robot(2);
    const Scene scene(course, robot);
    const Plan plan = fixtures::compiled("plan \"counting\"\nsensors 2\nvar n = 0\nhabit follow {\n"
                                         "  else -> track n = n + 0.1, ahead(20)\n}\n");
    RunOptions options;
    options.keep_told = true;
    options.time_limit_s = 0.3;
    const Run run = drive(scene, plan, options);
    const Quantities n = quantities_of(plan, run, "n");
    REQUIRE(n.values.size() > 10);
    CHECK(n.values[3] != n.values[4]);
    CHECK(quantities_of(plan, run, "n", runtime::NumberKind::binary32).values[9] != n.values[9]);
}

TEST_CASE("a plot draws every panel, in any format, also of nothing and of very many looks") {
    PlotPage page{"a plot", "of three", "time, s", {}};
    page.panels.push_back({"offset", "", false, {{"one", {0.0, 1.0, 2.0}, {0.0, 1.0, -1.0}}, {"two", {}, {}}}});
    page.panels.push_back({"[##]", "", true, {{"one", {0.0, 1.0, 2.0}, {0.0, 1.0, 0.0}}, {"two", {0.5}, {1.0}}}});
    PlotCurve many{"many", {}, {}};
    for (int i = 0; i < 400'000; ++i) {
        many.x.push_back(0.001 * i);
        many.y.push_back(i % 1000 == 0 ? 1e9 : i % 7);
    }
    page.panels.push_back({"much", "mm", false, {many}});
    CHECK(draw_plot(page, PictureFormat::png).substr(1, 3) == "PNG");
    CHECK(draw_plot(page, PictureFormat::pdf).substr(0, 4) == "%PDF");
    const std::string svg = draw_plot(page, PictureFormat::svg);
    CHECK(svg.find("<svg") != std::string::npos);
    CHECK(svg.size() < 600'000);                         // thinned to what a pixel shows
    CHECK((draw_plot(page, PictureFormat::svg) == svg)); // too much to print
}

TEST_CASE("run --plot: quantities of several plans and days over each other") {
    const fixtures::Folder folder;
    const std::string house = "data/fern-house/";
    const std::vector<std::string> call = {"run", house + "fern-house.course.toml", house + "sprig-2.robot.toml",
                                           house + "left-first.plan"};
    const auto with = [&call](std::vector<std::string> more) {
        more.insert(more.begin(), call.begin(), call.end());
        return fixtures::call_vturn(more);
    };
    const std::string plot = folder.file("plot.svg");
    const fixtures::Called drawn = with({"--plot", "offset,left,max(sensor(1), sensor(2))", "--plot", "[##]", "-o",
                                         plot, "--beside", house + "gentle.plan", "--runs", "2"});
    CHECK(drawn.err.empty());
    CHECK(drawn.status == 0);
    CHECK(drawn.out == fixtures::call_vturn(call).out);
    std::ostringstream text;
    text << std::ifstream(plot).rdbuf();
    CHECK(text.str().find("<svg") != std::string::npos);
    const fixtures::Called by_way = with({"--plot", "offset", "-o", folder.file("way.png"), "--against", "way"});
    CHECK(by_way.status == 0);
    const auto refused = [&](const std::vector<std::string>& more, const std::string& message) {
        const fixtures::Called told = with(more);
        CHECK(told.status == 2);
        CHECK_MESSAGE(told.err.find(message) != std::string::npos, told.err);
    };
    refused({"--plot", "offset"}, "a plot wants a file");
    refused({"--plot", "ofset", "-o", plot}, "did you mean `offset`?");
    refused({"--plot", "offset,,left", "-o", plot}, "an empty quantity");
    refused({"--plot", "offset", "-o", plot, "--against", "wy"}, "did you mean `way`?");
    refused({"--plot", "offset,left,right,x,y,facing,range,seen,clock", "-o", plot}, "more than 8 quantities");
    refused({"--runs", "3"}, "are of a plot");
    refused({"--plot", "offset", "-o", plot, "--beside", house + "rounds.plan"}, "written for 5 line sensors");
    refused({"--plot", "offset", "-o", plot, "--on", "true"}, "another program decide");
    refused({"--plot", "offset", "-o", folder.file("plot.bmp")}, "");
}
