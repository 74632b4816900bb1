/// The command line in process: every command, its output, its exit status.
#include <algorithm>
#include <sstream>
#include <string>
#include <vector>

#include <doctest/doctest.h>
#include <nlohmann/json.hpp>

#include "cli.hpp"
#include "support/drawn_course.hpp"
#include "support/fixtures.hpp"
#include "support/golden.hpp"
#include "support/rounds.hpp"
#include "vast_turn/formats/read/text_file.hpp"
#include "vast_turn/formats/write/text_file.hpp"

using fixtures::call_vturn;
using fixtures::Called;
using fixtures::Folder;

namespace {

const std::string cli_data_course = "data/fern-house/fern-house.course.toml";
const std::string robot = "data/fern-house/sprig-2.robot.toml";
const std::string left = "data/fern-house/left-first.plan";
const std::string right = "data/fern-house/right-first.plan";
const std::string gentle = "data/fern-house/gentle.plan";

bool has(const std::string& text, const std::string& part) { return text.find(part) != std::string::npos; }

/// What was written when it was handed on to who watches.
class Watched : public std::stringbuf {
public:
    std::vector<std::string> handed_on;

protected:
    int sync() override {
        handed_on.push_back(str());
        return 0;
    }
};

} // namespace

TEST_CASE("outputs on the demo data are as recorded" * doctest::skip(fixtures::sanitized())) {
    golden::check("table-left-first.txt", call_vturn({"table", left}).out);
    golden::check("table-gentle.txt", call_vturn({"table", gentle}).out);
    golden::check("map.txt", call_vturn({"map", cli_data_course}).out);
    golden::check("run-left-first.txt", call_vturn({"run", cli_data_course, robot, left}).out);
    golden::check("run-gentle.txt", call_vturn({"run", cli_data_course, robot, gentle}).out);
    golden::check("trips.txt", call_vturn({"trips", cli_data_course, robot, left, right}).out);
    golden::check("trips.json", call_vturn({"trips", cli_data_course, robot, left, right, "--json"}).out);
}

TEST_CASE("run tells route and end; its exit status says whether the plan halted") {
    const Called good = call_vturn({"run", cli_data_course, robot, left});
    CHECK(good.status == 0);
    CHECK(has(good.out, "potting bench -> sharp bend"));
    CHECK(good.err.empty());
    const Called off = call_vturn({"run", cli_data_course, robot, gentle});
    CHECK(off.status == 1);
    CHECK(has(off.out, "off course"));
    CHECK(call_vturn({"run", cli_data_course, robot, left, "--limit-s", "2"}).status == 1);
}

TEST_CASE("run draws and traces, and the seed matters") {
    const Folder folder;
    const auto trace = [&](const char* seed) {
        CHECK(call_vturn({"run", cli_data_course, robot, left, "--seed", seed, "-o", folder.file("r.svg"), "--trace",
                          folder.file("t.csv")})
                  .status == 0);
        return vast_turn::read_file(folder.file("t.csv"));
    };
    const std::string one = trace("1");
    CHECK(one == trace("1"));
    CHECK(one != trace("2"));
    CHECK(folder.names() == std::vector<std::string>{"r.svg", "t.csv"});
    const auto json = nlohmann::json::parse(call_vturn({"run", cli_data_course, robot, left, "--json"}).out);
    CHECK(json["ended"] == "halt");
}

TEST_CASE("nothing is written when an input is bad") {
    const Folder folder;
    CHECK(call_vturn(
              {"run", cli_data_course, robot, "no.plan", "-o", folder.file("r.png"), "--trace", folder.file("t.csv")})
              .status == 2);
    CHECK(call_vturn({"run", cli_data_course, robot, left, "-o", folder.file("r.gif"), "--trace", folder.file("t.csv")})
              .status == 2);
    CHECK(folder.names().empty());
}

TEST_CASE("map draws in every format and prints JSON") {
    const Folder folder;
    for (const char* name : {"m.png", "m.svg", "m.pdf"}) {
        CHECK(call_vturn({"map", cli_data_course, "-o", folder.file(name)}).status == 0);
    }
    CHECK(folder.names().size() == 3);
    const Called bad = call_vturn({"map", cli_data_course, "-o", folder.file("m.bmp")});
    CHECK(bad.status == 2);
    CHECK(has(bad.err, "end it with .png, .svg or .pdf"));
    const auto json = nlohmann::json::parse(call_vturn({"map", cli_data_course, "--json"}).out);
    CHECK(json["course"] == "Fern house");
    CHECK(json["graph"]["stretches"].size() == 3);
}

TEST_CASE("map tells starts off the lines, and what of a drawing it did not take for line" *
          doctest::skip(fixtures::sanitized())) {
    const fixtures::DrawnCourse d;
    const std::string body = "<rect width='900' height='500' fill='#EDEAE2'/><g fill='none' stroke='#1B1B1B'>"
                             "<path d='M 60,100 H 840' stroke-width='18'/><path d='M 100,300 v 40 h 22 M 140,300 v 40' "
                             "stroke-width='5'/></g><rect x='500' y='260' width='170' height='120' fill='#1B1B1B'/>";
    d.svg("width='900mm' height='500mm' viewBox='0 0 900 500'", body,
          "[[start]]\nname = \"by the bench\"\nat_mm = [90, 210]\nheading_deg = 0\n"
          "[[start]]\nname = \"on the line\"\nat_mm = [90, 112]\nheading_deg = 0\n");
    const fixtures::Called map = fixtures::call_vturn({"map", d.folder.file("c.course.toml")});
    CHECK(map.status == 0);
    CHECK(map.out.find("facing 0 deg, 110 mm from the nearest line") != std::string::npos);
    CHECK(map.out.find("12 mm from") == std::string::npos);
    CHECK(map.out.find("dark area           585,320  170 x 120") != std::string::npos);
    CHECK(map.out.find("lettering") != std::string::npos);
    CHECK(map.out.find("2 pieces") != std::string::npos);
    const fixtures::Called json = fixtures::call_vturn({"map", d.folder.file("c.course.toml"), "--json"});
    CHECK(json.out.find("\"kind\": \"dark area\"") != std::string::npos);
    const fixtures::Called drawn =
        fixtures::call_vturn({"map", d.folder.file("c.course.toml"), "-o", d.folder.file("map.svg")});
    CHECK(drawn.status == 0);
    const auto strokes = [&] {
        const std::string svg = vast_turn::read_file(d.folder.file("map.svg"));
        std::size_t count = 0;
        for (std::size_t at = svg.find("clip-path="); at != std::string::npos; at = svg.find("clip-path=", at + 1)) {
            ++count;
        }
        return count;
    };
    const std::size_t hatched = strokes();
    d.svg(
        "width='900mm' height='500mm' viewBox='0 0 900 500'",
        "<rect width='900' height='500' fill='#EDEAE2'/><path d='M 60,100 H 840' stroke='#1B1B1B' stroke-width='18'/>");
    CHECK(fixtures::call_vturn({"map", d.folder.file("c.course.toml"), "-o", d.folder.file("map.svg")}).status == 0);
    CHECK(hatched >= strokes() + 2);
}

TEST_CASE("map writes the lines as GeoJSON in millimetres and as a graph") {
    const Folder folder;
    REQUIRE(call_vturn({"map", cli_data_course, "-o", folder.file("m.geojson")}).status == 0);
    const auto geo = nlohmann::json::parse(vast_turn::read_file(folder.file("m.geojson")));
    CHECK(geo["type"] == "FeatureCollection");
    REQUIRE(geo["features"].size() == 7); // three lines, four nodes
    const auto& line = geo["features"][0];
    CHECK(line["geometry"]["type"] == "LineString");
    CHECK(line["geometry"]["coordinates"].size() > 100);
    CHECK(line["properties"]["from"] == "mist room");
    REQUIRE(call_vturn({"map", cli_data_course, "-o", folder.file("m.dot")}).status == 0);
    const std::string dot = vast_turn::read_file(folder.file("m.dot"));
    CHECK(has(dot, "graph \"Fern house\" {"));
    CHECK(has(dot, "\"mist room\" -- \"fork\" [label=\"575 mm\"];"));
}

TEST_CASE("trips: status 0 when all pass, 1 when one fails; JUnit beside the text" *
          doctest::skip(fixtures::sanitized())) {
    const Folder folder;
    const std::string only = folder.file("only.course.toml");
    const std::string text = vast_turn::read_file(cli_data_course);
    vast_turn::write_file(only, text.substr(0, text.rfind("[[trip]]")));
    CHECK(call_vturn({"trips", only, robot, left}).status == 0);
    CHECK(call_vturn({"trips", only, robot, left, "--json"}).status == 0);
    CHECK(call_vturn({"trips", only, robot, left, right, "--json"}).status == 1);
    const Called both = call_vturn({"trips", cli_data_course, robot, left, right, "--junit", folder.file("t.xml")});
    CHECK(both.status == 1);
    CHECK(has(both.out, "2 passed, 2 failed"));
    CHECK(has(vast_turn::read_file(folder.file("t.xml")), "<testsuite name=\"right first\""));
    vast_turn::write_file(only, text.substr(0, text.find("[[trip]]")));
    const Called none = call_vturn({"trips", only, robot, left});
    CHECK(none.status == 2);
    CHECK(has(none.err, "has no trips to take"));
}

TEST_CASE("table prints JSON and passes on warnings") {
    const Folder folder;
    vast_turn::write_file(folder.file("w.plan"), "plan \"w\"\nsensors 2\nhabit f {\n    [##] mirrored -> still\n}\n");
    const Called called = call_vturn({"table", folder.file("w.plan")});
    CHECK(called.status == 0);
    CHECK(has(called.err, "warning: this rule is its own mirror image"));
    CHECK(has(called.out, "UNANSWERED"));
    CHECK(has(called.out, "3 of 4 patterns may be unanswered"));
    CHECK(nlohmann::json::parse(call_vturn({"table", left, "--json"}).out)["plan"] == "left first");
}

// Under the sanitizers the commands that it calls are looked at one by one.
TEST_CASE("the demo tells its story and leaves its pictures" * doctest::skip(fixtures::sanitized())) {
    const Folder folder;
    Watched watched;
    std::ostream out(&watched);
    std::istringstream in;
    std::ostringstream err;
    CHECK(vturn::run({"demo", "-o", folder.file("d")}, {in, out, err, false}) == 0);
    CHECK(err.str().empty());
    const std::string told = watched.str();
    CHECK(has(told, "the robot flies off"));
    CHECK(has(told, "held too, but stands below"));
    // A command stands there before it runs: the whole takes half a minute.
    std::size_t seen = 0;
    for (std::size_t at = told.find("\n$ vturn"); at != std::string::npos; at = told.find("\n$ vturn", at + 1)) {
        const std::string so_far = told.substr(0, told.find('\n', at + 1) + 1);
        CHECK(std::find(watched.handed_on.begin(), watched.handed_on.end(), so_far) != watched.handed_on.end());
        ++seen;
    }
    CHECK(seen > 20);
    for (const char* name : {"map.png", "gentle.png", "left-first.png", "left-first.csv", "trips.xml", "search.png",
                             "search-blocks.png"}) {
        CHECK(vast_turn::read_file(folder.file(std::string("d/") + name)).size() > 100);
    }
    const Called nowhere = call_vturn({"demo", "-o", "/dev/null/x"});
    CHECK(nowhere.status == 2);
    CHECK(has(nowhere.err, "this folder cannot be made"));
}

TEST_CASE("every command has --help with an example that names it") {
    const Called top = call_vturn({"--help"});
    CHECK(top.status == 0);
    for (const char* command : {"demo", "robot", "table", "draw", "format", "map", "run", "trips"}) {
        CAPTURE(command);
        CHECK(has(top.out, command));
        const Called help = call_vturn({command, "--help"});
        CHECK(help.status == 0);
        CHECK(has(help.out, std::string("Example:\n  vturn ") + command));
    }
    CHECK(call_vturn({"--version"}).status == 0);
}

TEST_CASE("a call that cannot be understood says why, with the nearest command") {
    CHECK(has(call_vturn({"tabel", left}).err, "did you mean `table`?"));
    CHECK(has(call_vturn({"run", cli_data_course}).err, "no robot is named"));
    CHECK(has(call_vturn({"run", cli_data_course, robot, left, "--sed", "3"}).err, "--sed"));
    CHECK(has(call_vturn({"run", cli_data_course, robot, left, "--seed", "many"}).err, "many"));
    for (const std::vector<std::string>& call : {std::vector<std::string>{},
                                                 {""},
                                                 {"tabel"},
                                                 {"run", cli_data_course},
                                                 {"run", cli_data_course, robot, left, "--step-ms", "0"}}) {
        const Called called = call_vturn(call);
        CHECK(called.status == 2);
        CHECK(called.out.empty());
        CHECK_FALSE(called.err.empty());
    }
}

TEST_CASE("inputs that do not belong together are refused") {
    const Folder folder;
    vast_turn::write_file(folder.file("three.plan"), fixtures::plan_text(3, "else -> keep"));
    const Called called = call_vturn({"run", cli_data_course, robot, folder.file("three.plan")});
    CHECK(called.status == 2);
    CHECK(has(called.err, "written for 3 line sensors"));
    CHECK(call_vturn({"run", cli_data_course, robot, left, "--start", "dock"}).status == 2);
    CHECK(call_vturn({"run", robot, cli_data_course, left}).out ==
          call_vturn({"run", cli_data_course, robot, left}).out); // by their endings
}
