#include <algorithm>
#include <filesystem>

#include <doctest/doctest.h>
#include <nlohmann/json.hpp>
#include <pugixml.hpp>

#include "support/fixtures.hpp"
#include "support/rounds.hpp"
#include "vast_turn/formats/read/kept_layout.hpp"
#include "vast_turn/formats/read/plan_file.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/formats/read/text_file.hpp"
#include "vast_turn/formats/write/text_file.hpp"
#include "vast_turn/paint/course_file.hpp"
#include "vast_turn/trial/layouts_report.hpp"

using namespace vast_turn;
using fixtures::call_vturn;
using fixtures::Called;
using fixtures::message_of;

namespace {

const std::string any_day = "data/fern-house/any-day.course.toml";
const std::string robot_file = "data/fern-house/sprig-5.robot.toml";
const std::string plan_file = "data/fern-house/any-day.plan";

/// The demo's pieces in a folder of their own, with a course of them.
void lay_in(const fixtures::Folder& folder, const std::string& course) {
    write_file(folder.file("fern-house.pieces.toml"), read_file("data/fern-house/fern-house.pieces.toml"));
    write_file(folder.file("c.course.toml"), course);
}

std::string course_text(const std::string& lies) {
    return "name = \"c\"\npieces = \"fern-house.pieces.toml\"\ncell_mm = 1\n" + lies +
           "\n[[trip]]\nname = \"t\"\nfrom = \"door\"\nplates = { amber = \"left\", teal = \"right\", magenta = "
           "\"end\" }\nwithin_s = 75\nlost_after_s = 4.6\n";
}

} // namespace

TEST_CASE("a layout of a shuffled course is a variant of it, the same every time") {
    const Course first = load_course(any_day);
    CHECK(first.variant == "layout 1");
    REQUIRE(first.laid);
    CHECK(first.laid->layouts == 40);
    CHECK(first.laid->number == 1);
    const Course again = load_course(any_day, "layout 1");
    CHECK(again.laid->layout == first.laid->layout);
    CHECK(again.surface.cells == first.surface.cells);
    const Course other = load_course(any_day, "layout 2");
    CHECK(other.laid->layout != first.laid->layout);
    CHECK(message_of([] { load_course(any_day, "layout 0"); }).find("\"layout 0\" is no layout") != std::string::npos);
    CHECK(message_of([] { load_course(any_day, "can away"); }).find("no layout of this shuffled course") !=
          std::string::npos);
}

TEST_CASE("a kept layout is the same course without the dice, its comments and trips kept") {
    const fixtures::Folder folder;
    lay_in(folder, "# mine\n" + course_text("shuffled = { pieces = 9, seeds = 5 }"));
    const std::string kept = folder.file("kept.course.toml");
    const Called map = call_vturn({"map", folder.file("c.course.toml"), "--variant", "layout 4", "--keep", kept});
    CHECK(map.err == "");
    CHECK(map.status == 0);
    CHECK(map.out.find("layout 4 of ") != std::string::npos);
    CHECK(read_file(kept).starts_with("# mine\n"));
    const Course drawn = load_course(folder.file("c.course.toml"), "layout 4");
    const Course same = load_course(kept);
    CHECK(same.variant == as_drawn);
    CHECK(same.laid->number == 0);
    CHECK(same.laid->layout == drawn.laid->layout);
    CHECK(same.surface.cells == drawn.surface.cells);
    CHECK(load_course_file(kept).trips.size() == 1);
    // It names what lies beside the course, so it belongs there; and what is laid out already is not kept again.
    const fixtures::Folder elsewhere;
    const Called far = call_vturn({"map", folder.file("c.course.toml"), "--keep", elsewhere.file("k.toml")});
    CHECK(far.status == 2);
    CHECK(far.err.find("keep it beside") != std::string::npos);
    CHECK(elsewhere.names().empty());
    const Called twice = call_vturn({"map", kept, "--keep", folder.file("k.toml")});
    CHECK(twice.err.find("only a layout of a shuffled course can be kept") != std::string::npos);
    // In one line, and as a table with a header.
    const std::string head = "name = \"c\"\npieces = \"p\"\n";
    for (const char* shuffled : {"shuffled = { pieces = 4, seeds = 3 }\n", "[shuffled]\npieces = 4\nseeds = 3\n"}) {
        const std::string out = kept_layout(head + shuffled + "[[trip]]\n", drawn);
        CHECK(out.find("shuffled") == std::string::npos);
        CHECK(out.find("seeds") == std::string::npos);
        CHECK(out.find("[[trip]]") != std::string::npos);
        CHECK(out.find("layout = \"\"\"") < out.find("[[trip]]"));
    }
}

TEST_CASE("what is wrong with a course of pieces is told where it stands") {
    const fixtures::Folder folder;
    const auto told = [&](const std::string& lies) {
        lay_in(folder, course_text(lies));
        return message_of([&] { load_course(folder.file("c.course.toml")); });
    };
    const std::string unknown = told("layout = \"\"\"\ndoor  aisle\n.     bendt\n\"\"\"");
    CHECK(unknown.find("c.course.toml:6:7: error: \"bendt\" is no piece of the set (did you mean `bend`?)") !=
          std::string::npos);
    CHECK(unknown.find("  .     bendt\n        ^^^^^") != std::string::npos);
    CHECK(told("layout = \"door aisle/12\"").find("c.course.toml:4:16: error: a piece cannot lie turned") !=
          std::string::npos);
    CHECK(told("").find("nothing says how they lie") != std::string::npos);
    CHECK(told("layout = \"door\"\nshuffled = { pieces = 4 }").find("exclude each other") != std::string::npos);
    CHECK(told("layout = \" . \"").find("no piece lies in this layout") != std::string::npos);
    CHECK(told("layout = \"\"").find("no piece lies in this layout") != std::string::npos);
    CHECK(told("size_mm = [3, 4]\nlayout = \"door\"").find("said by the file of the pieces") != std::string::npos);
    if (!fixtures::sanitized()) { // it looks for long before it gives up
        CHECK(told("shuffled = { pieces = 40, columns = 3, rows = 3 }").find("no layout of 40 pieces that fit") !=
              std::string::npos);
    }
    CHECK(told("shuffled = { pieces = 4 }\n[[variant]]\nname = \"v\"").find("no variants but its layouts") !=
          std::string::npos);
    write_file(folder.file("c.course.toml"), "name = \"c\"\npieces = \"../elsewhere.pieces.toml\"\nlayout = \"a\"\n");
    CHECK(message_of([&] { load_course(folder.file("c.course.toml")); }).find("lie outside the folder") !=
          std::string::npos);
}

TEST_CASE("pieces that are drawn come to lie as those of tape do, turned cell by cell") {
    const fixtures::Folder folder;
    const auto svg = [&](const std::string& name, const std::string& path) {
        write_file(folder.file(name),
                   "<svg xmlns='http://www.w3.org/2000/svg' width='240mm' height='240mm' viewBox='0 0 "
                   "240 240'><rect width='240' height='240' fill='#EDEAE2'/><path d='" +
                       path + "' fill='none' stroke='#1B1B1B' stroke-width='19'/></svg>");
    };
    const auto pieces = [&](bool drawn) {
        std::string text = "name = \"p\"\nside_mm = 240\nline = { colour = \"#1B1B1B\", width_mm = 19 }\n";
        for (const auto& [name, path] :
             {std::pair{"aisle", "M 0,120 H 240"}, {"bend", "M 0,120 A 120,120 0 0 0 120,0"}}) {
            svg(std::string(name) + ".svg", path);
            text += std::string("[[piece]]\nname = \"") + name + "\"\nways = [\"west\", \"" +
                    (std::string(name) == "bend" ? "north" : "east") + "\"]\n" +
                    (drawn ? std::string("drawing = \"") + name + ".svg\"\n"
                           : std::string("tape = [{ path = \"") + path + "\" }]\n");
        }
        return text;
    };
    const std::string course = "name = \"c\"\npieces = \"p.pieces.toml\"\ncell_mm = 0.5\n"
                               "layout = \"\"\"\nbend/180 aisle bend/90\nbend/270 aisle/180 bend\n\"\"\"\n";
    write_file(folder.file("c.course.toml"), course);
    write_file(folder.file("p.pieces.toml"), pieces(false));
    const Course taped = load_course(folder.file("c.course.toml"));
    write_file(folder.file("p.pieces.toml"), pieces(true));
    const Course drawn = load_course(folder.file("c.course.toml"));
    CHECK(drawn.drawn_apart);
    REQUIRE(drawn.surface.cells.size() == taped.surface.cells.size());
    int unlike = 0;
    int on_line = 0;
    for (int row = 0; row < drawn.surface.rows; ++row) {
        for (int column = 0; column < drawn.surface.columns; ++column) {
            const int a = drawn.surface.at(column, row).r;
            const int b = taped.surface.at(column, row).r;
            on_line += b < 128 ? 1 : 0;
            unlike += std::abs(a - b) > 24 ? 1 : 0; // arcs are drawn by two programs, true to 0.05 mm each
        }
    }
    CHECK(on_line > 80'000);
    CHECK(unlike < on_line / 500);
    const RouteGraph graph = find_route_graph(drawn);
    REQUIRE(graph.stretches.size() == 1);
    CHECK(graph.stretches[0].length_mm == doctest::Approx(2 * 240 + 4 * 0.5 * pi * 120).epsilon(0.005));
    // Cells that do not fill a piece could not be turned.
    write_file(folder.file("c.course.toml"),
               "name = \"c\"\npieces = \"p.pieces.toml\"\ncell_mm = 0.7\nlayout = \"aisle\"\n");
    CHECK(message_of([&] { load_course(folder.file("c.course.toml")); }).find("no whole number of cells") !=
          std::string::npos);
}

TEST_CASE("what a piece's drawing shows wrong, and colours that are no line on it, hold for the course") {
    const fixtures::Folder folder;
    write_file(
        folder.file("aisle.svg"),
        "<svg xmlns='http://www.w3.org/2000/svg' width='240mm' height='240mm' viewBox='0 0 240 240'>"
        "<rect width='240' height='240' fill='#EDEAE2'/><path d='M 0,120 H 240' stroke='#1B1B1B' stroke-width='19'/>"
        "<path d='M 0,200 H 240' stroke='#2B3A2B' stroke-width='19'/><wobble/></svg>");
    const auto course = [&](const char* hint) {
        write_file(folder.file("p.pieces.toml"),
                   std::string("name = \"p\"\nside_mm = 240\n[[piece]]\nname = \"aisle\"\nways = [\"west\", \"east\"]\n"
                               "drawing = \"aisle.svg\"\n") +
                       hint);
        write_file(folder.file("c.course.toml"),
                   "name = \"c\"\npieces = \"p.pieces.toml\"\ncell_mm = 1\nlayout = \"aisle aisle\"\n");
        return load_course(folder.file("c.course.toml"));
    };
    const Course both = course("");
    REQUIRE(both.warnings.size() == 1);
    CHECK(both.warnings[0].message == "`wobble` is unknown and not drawn");
    CHECK(find_route_graph(both).stretches.size() == 2);
    CHECK(find_route_graph(course("leave_out = [{ colour = \"#2B3A2B\" }]\n")).stretches.size() == 1);
}

TEST_CASE("trips over one variant of a course are those that are driven over it, alone") {
    const std::vector<std::string> call = {"trips",    "data/fern-house/glass-wing.course.toml",
                                           robot_file, "data/fern-house/rounds.plan",
                                           "--json",   "--variant"};
    const auto over = [&](const char* variant) {
        std::vector<std::string> words = call;
        words.emplace_back(variant);
        return call_vturn(words);
    };
    const nlohmann::json away = nlohmann::json::parse(over("can away").out)["plans"][0]["trips"];
    REQUIRE(away.size() == 1);
    CHECK(away[0]["trip"] == "to the mist room");
    CHECK(away[0]["variant"] == "can away");
    CHECK(over("can awy").err.find("did you mean `can away`") != std::string::npos);
}

TEST_CASE("one trip holds over many layouts: how many, on which it fails, and why" *
          doctest::skip(fixtures::sanitized())) { // the drives of others run there too
    const fixtures::Folder folder;
    lay_in(folder, course_text("shuffled = { pieces = 5, seeds = 3 }"));
    const std::string course = folder.file("c.course.toml");
    const Called good = call_vturn({"trips", course, robot_file, plan_file});
    CHECK(good.err == "");
    CHECK(good.status == 0);
    CHECK(good.out.find("c: Sprig-5, 3 layouts\n") == 0);
    CHECK(good.out.find("3 of 3") != std::string::npos);
    const std::string junit = folder.file("j.xml");
    const Called bad = call_vturn(
        {"trips", course, robot_file, plan_file, "data/fern-house/rounds.plan", "--no-cures", "--junit", junit});
    CHECK(bad.status == 1);
    CHECK(bad.out.find("rounds, \"t\": failed on layout") != std::string::npos);
    CHECK(bad.out.find("FAIL  trip \"t, layout ") != std::string::npos);
    pugi::xml_document xml;
    REQUIRE(xml.load_file(junit.c_str()));
    CHECK(xml.select_nodes("//testcase").size() == 6);
    CHECK(std::string(xml.select_node("//testcase[3]").node().attribute("name").value()) == "t, layout 3");
    const Called json =
        call_vturn({"trips", course, robot_file, "data/fern-house/rounds.plan", "--no-cures", "--json"});
    const nlohmann::json told = nlohmann::json::parse(json.out);
    CHECK(told["layouts"] == 3);
    const nlohmann::json& outcomes = told["plans"][0]["outcomes"];
    REQUIRE(outcomes.size() == 3);
    const auto failed =
        std::count_if(outcomes.begin(), outcomes.end(), [](const auto& o) { return o["passed"] == false; });
    CHECK(failed == told["failed"]);
    CHECK(failed == static_cast<long>(xml.select_nodes("//testsuite[2]//failure").size()));
    // The first that failed, alone: it fails in the same way, however it is driven.
    const auto first =
        std::find_if(outcomes.begin(), outcomes.end(), [](const auto& o) { return o["passed"] == false; });
    REQUIRE(first != outcomes.end());
    const std::string layout = "layout " + std::to_string((*first)["layout"].get<int>());
    const Called alone = call_vturn(
        {"trips", course, robot_file, "data/fern-house/rounds.plan", "--no-cures", "--json", "--variant", layout});
    CHECK(nlohmann::json::parse(alone.out)["plans"][0]["trips"][0]["failures"] == (*first)["failures"]);
    const Called same =
        call_vturn({"trips", course, robot_file, "data/fern-house/rounds.plan", "--no-cures", "--json", "--jobs", "1"});
    CHECK(same.out == json.out);
    CHECK(call_vturn({"trips", course, robot_file, plan_file, "--filter", "nothing"}).err.find("no trip has") !=
          std::string::npos);
}

TEST_CASE("layouts are driven by any pilot, and stop when told") {
    const Robot robot = load_robot(robot_file);
    const CourseReading reading(any_day);
    const MakeLayout make = [&](int number) {
        return reading.trip_ground(robot, "", "layout " + std::to_string(number));
    };
    TripReportOptions options;
    options.cures = false;
    options.threads = 1;
    int asked = 0;
    options.stop = [&] { return ++asked > 3; };
    const LayoutsReport stopped = report_layouts(20, make, {Pilot(load_plan(plan_file))}, options);
    CHECK(stopped.stopped);
    CHECK(stopped.taken() == 3);
    CHECK(stopped.passed() == 3);
    CHECK_FALSE(stopped.looked_into);
}
