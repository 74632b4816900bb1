/// Calls that name few files or none: what the folder means, and folders that are begun anew.
#include <filesystem>
#include <sstream>

#include <doctest/doctest.h>
#include <fmt/format.h>

#include "cli.hpp"
#include "support/fixtures.hpp"
#include "support/rounds.hpp"
#include "support/terminal.hpp"
#include "vast_turn/formats/read/text_file.hpp"
#include "vast_turn/formats/write/text_file.hpp"

using fixtures::call_vturn;
using fixtures::Called;

namespace {

bool says(const std::string& text, const std::string& part) { return text.find(part) != std::string::npos; }

/// A folder as `vturn new` begins it.
std::string begun(const fixtures::Folder& folder, const std::vector<std::string>& options = {}) {
    std::vector<std::string> call = {"new", folder.file("first")};
    call.insert(call.end(), options.begin(), options.end());
    const Called made = call_vturn(call);
    CAPTURE(made.err);
    CHECK(made.status == 0);
    return folder.file("first");
}

} // namespace

TEST_CASE("new: every command of the begun folder's readme works as it stands" * doctest::skip(fixtures::sanitized())) {
    const fixtures::Folder folder;
    const std::string first = begun(folder);
    int commands = 0;
    const std::string readme = vast_turn::read_file(first + "/README.md");
    for (std::size_t at = readme.find("\n    vturn "); at != std::string::npos;
         at = readme.find("\n    vturn ", at + 1)) {
        const std::string command = readme.substr(at + 11, readme.find('#', at) - at - 11);
        CAPTURE(command);
        const Called called =
            fixtures::program("cd " + first + " && " + fixtures::built("apps/vturn/vturn") + " " + command);
        CHECK(called.status == 0);
        CHECK(says(called.err, "as vturn.toml says\n"));
        CHECK_FALSE(called.out.empty());
        ++commands;
    }
    CHECK(commands == 5);
    CHECK(std::filesystem::exists(first + "/run.png"));
    CHECK(call_vturn({"format", "--check", first + "/follow.plan"}).status == 0);
    CHECK(call_vturn({"table", first + "/follow.plan"}).err ==
          fmt::format("vturn: robot first.robot.toml, as {}/vturn.toml says\n", first));
}

TEST_CASE("new: what it begins passes its trip for any number of sensors, dark and light, at usual and odd spacings" *
          doctest::skip(fixtures::sanitized())) {
    const bool all = fixtures::rounds(1, 0, 0) == 1;
    const std::vector<double> widths = all ? std::vector{8.0, 12.0, 19.0, 30.0, 50.0} : std::vector{19.0};
    const std::vector<double> parts = all ? std::vector{0.0, 0.4, 0.6, 0.8, 1.0, 1.3, 1.7} : std::vector{0.0, 1.0};
    int made = 0;
    for (int sensors = 1; sensors <= 8; sensors += fixtures::sanitized() ? 4 : 1) {
        for (const double width : widths) {
            for (const double part : parts) {
                const fixtures::Folder folder;
                const std::string first = folder.file("any");
                std::vector<std::string> call = {"new",       first,
                                                 "--sensors", std::to_string(sensors),
                                                 "--width",   fmt::format("{:g}", width),
                                                 "--line",    made % 2 == 0 ? "dark" : "light"};
                const double spacing = part * width;
                if (part > 0.0) {
                    if (sensors == 1 || spacing < 4.0 || spacing > 60.0) {
                        continue;
                    }
                    call.insert(call.end(), {"--spacing", fmt::format("{:g}", spacing)});
                }
                const Called begins = call_vturn(call);
                CAPTURE(sensors);
                CAPTURE(width);
                CAPTURE(spacing);
                if (part > 0.0 && begins.status == 2) {
                    CHECK(says(begins.err, "apart")); // what such a line cannot be followed with
                    CHECK_FALSE(std::filesystem::exists(first));
                    continue;
                }
                ++made;
                const Called trips = call_vturn({"trips", first + "/follow.plan", "--no-cures", "--repeat", "3"});
                CAPTURE(trips.out);
                CHECK(trips.status == 0);
                if (part <= 0.8 &&
                    (sensors > 2 || (width > 18.0 && width < 20.0))) { // one or two swing about broad lines
                    CHECK(call_vturn({"vet", first + "/follow.plan"}).status == 0);
                }
            }
        }
    }
    CHECK(made >= (fixtures::sanitized() ? 3 : 14));
}

TEST_CASE("new: asks on a terminal for what the call does not say, and takes no answer that it cannot use") {
    const fixtures::Folder folder;
    fixtures::Terminal terminal({fixtures::built("apps/vturn/vturn"), "new", folder.file("mine"), "--line", "light"},
                                24, 80);
    REQUIRE(terminal.shows("Line sensors, 1 to 8? [3] "));
    terminal.type("9\r");
    REQUIRE(terminal.shows("a whole number from 1 to 8, please"));
    terminal.type("4\r");
    REQUIRE(terminal.shows("Width of the line, mm? [19] "));
    terminal.type("17,5\r");
    REQUIRE(terminal.shows("From sensor to sensor, mm? [13] "));
    terminal.type("\r");
    REQUIRE(terminal.shows("Now: cd "));
    CHECK(terminal.ended() == 0);
    CHECK(says(vast_turn::read_file(folder.file("mine/practice.course.toml")), "width_mm = 17.5"));
    CHECK(says(vast_turn::read_file(folder.file("mine/follow.plan")), "sensors 4"));
}

TEST_CASE("new: what cannot be begun is refused, and nothing is written or written over") {
    const fixtures::Folder folder;
    const std::string first = begun(folder);
    const std::string plan = vast_turn::read_file(first + "/follow.plan");
    CHECK(says(call_vturn({"new", first}).err, "is there already, and nothing in it is written over"));
    CHECK(vast_turn::read_file(first + "/follow.plan") == plan);
    const std::string other = folder.file("other");
    CHECK(says(call_vturn({"new", other, "--line", "drak"}).err, "did you mean `dark`?"));
    CHECK(says(call_vturn({"new", other, "--sensors", "2.5"}).err, "no whole number"));
    CHECK(call_vturn({"new", other, "--sensors", "9"}).status == 2);
    CHECK(says(call_vturn({"new", other, "--name", "my robot"}).err, "cannot be the name of a file"));
    CHECK(says(call_vturn({"new", folder.file("a/b")}).err, "this folder cannot be made"));
    CHECK(says(call_vturn({"new", other, "--sensors", "8", "--spacing", "30"}).err, "at most 18 mm apart"));
    CHECK_FALSE(std::filesystem::exists(other));
}

TEST_CASE("words of a call are told apart by their endings, and what is left out comes from the folder" *
          doctest::skip(fixtures::sanitized())) {
    const fixtures::Folder folder;
    const std::string first = begun(folder);
    const std::string own_robot = first + "/first.robot.toml";
    const std::string own_course = first + "/practice.course.toml";
    const std::string plan = first + "/follow.plan";
    const Called whole = call_vturn({"run", own_course, own_robot, plan});
    CHECK(whole.status == 0);
    CHECK(whole.err.empty());
    for (const std::vector<std::string>& words : std::vector<std::vector<std::string>>{{plan, own_robot, own_course},
                                                                                       {own_robot, plan, own_course},
                                                                                       {plan},
                                                                                       {plan, own_course},
                                                                                       {own_robot},
                                                                                       {own_course, own_robot}}) {
        std::vector<std::string> call = {"run"};
        call.insert(call.end(), words.begin(), words.end());
        const Called some = call_vturn(call);
        CHECK(some.out == whole.out);
        CHECK(some.err.empty() == (words.size() == 3));
    }
    // Names without an ending that says what they are come in the order of the help; in a short call they are plans.
    const std::string odd = folder.file("odd");
    vast_turn::write_file(odd + ".course", vast_turn::read_file(own_course));
    vast_turn::write_file(odd + ".robot", vast_turn::read_file(own_robot));
    vast_turn::write_file(odd + ".txt", vast_turn::read_file(plan));
    CHECK(call_vturn({"run", odd + ".course", odd + ".robot", odd + ".txt"}).status == 0);
    CHECK(says(call_vturn({"run", plan, plan}).err, "is a file more than this command takes"));
    CHECK(says(call_vturn({"run", odd + ".txt"}).err, "has none"));
}

TEST_CASE("what a folder does not say is asked for, with what is there") {
    const Called run = call_vturn({"run", "data/fern-house/left-first.plan"});
    CHECK(run.status == 2);
    CHECK(says(run.err, "no course is named, and data/fern-house has "));
    CHECK(says(run.err, "write which is meant into vturn.toml: course = \"aisle.course.toml\""));
    const fixtures::Folder folder;
    vast_turn::write_file(folder.file("a.plan"), fixtures::plan_text(1, "else -> ahead(31)"));
    CHECK(says(call_vturn({"trips", folder.file("a.plan")}).err,
               "begin a folder with all that is needed: vturn new FOLDER"));
    vast_turn::write_file(folder.file("vturn.toml"), "robot = \"\"\n");
    CHECK(says(call_vturn({"robot", folder.file("x.robot.toml")}).err, "cannot be read"));
    // What a command can do without it does without.
    CHECK(call_vturn({"table", folder.file("a.plan")}).status == 0);
    CHECK(call_vturn({"vet", folder.file("a.plan")}).err.empty());
}

TEST_CASE(
    "who names a robot or a course says what belongs to the call; calibration and days go with the folder's robot" *
    doctest::skip(fixtures::sanitized())) {
    const fixtures::Folder folder;
    const std::string first = begun(folder, {"--sensors", "2"});
    const std::string plan = first + "/follow.plan";
    CHECK(says(call_vturn({"vet", plan}).out, "highest speed for this course"));
    CHECK_FALSE(
        says(call_vturn({"vet", plan, "--robot", first + "/first.robot.toml"}).out, "highest speed for this course"));
    CHECK_FALSE(says(call_vturn({"vet", plan, "--alone"}).out, "fastest forward"));
    CHECK(call_vturn({"vet", plan, "--chip", "8-bit,16MHz"}).status == 0);
    CHECK(says(call_vturn({"vet", plan, "--alone", "--chip", "8-bit"}).err, "--chip is of a robot"));
    // The ending of a name says what it is, with or without an option in front.
    const std::string its_course = first + "/practice.course.toml";
    const std::string its_robot = first + "/first.robot.toml";
    const std::string whole = call_vturn({"vet", plan, "--course", its_course, "--robot", its_robot}).out;
    CHECK(call_vturn({"vet", its_course, its_robot, plan}).out == whole);
    CHECK(call_vturn({"vet", plan, its_course, "--robot", its_robot, "--alone"}).out == whole);
    CHECK(call_vturn({"vet", its_course, plan, its_course}).status == 2);
    const std::string levels = first + "/first.calibration.toml";
    CHECK(call_vturn(
              {"calibrate", "--simulate", first + "/practice.course.toml", first + "/first.robot.toml", "-o", levels})
              .status <= 1);
    CHECK(says(call_vturn({"run", plan}).err, "calibration first.calibration.toml"));
    CHECK_FALSE(says(call_vturn({"run", first + "/first.robot.toml", plan}).err, "calibration"));
    CHECK(says(call_vturn({"vet", "--explain", "oscillates"}).out, "oscillates")); // is about no file
}

TEST_CASE("what one does next is said on a terminal alone, with the files of the call; --quiet says results") {
    const fixtures::Folder folder;
    const std::string first = begun(folder);
    const std::string plan = first + "/follow.plan";
    const auto call = [&](const std::vector<std::string>& words, bool terminal) {
        std::istringstream in;
        std::ostringstream out;
        std::ostringstream err;
        vturn::Streams streams{in, out, err};
        streams.out_is_terminal = terminal;
        Called called;
        called.status = vturn::run(words, streams);
        called.out = out.str();
        called.err = err.str();
        return called;
    };
    const Called piped = call({"run", plan}, false);
    CHECK_FALSE(says(piped.out, "next:"));
    CHECK(call({"run", plan}, true).out ==
          piped.out + "\nnext: vturn trips " + plan + "   does it go where it should?\n");
    CHECK(says(call({"trips", plan}, true).out,
               "\nnext: vturn trips --days 200 " + plan + "   on days that are not ideal\n"));
    const Called mapped = call({"map", first + "/practice.course.toml"}, true);
    CHECK(says(mapped.out, "\nnext: vturn routes " + first + "/practice.course.toml   where a plan goes on it"));
    CHECK(call({"routes", first + "/practice.course.toml"}, false).status == 0); // and that works
    const std::string alone = folder.file("alone.course.toml");
    vast_turn::write_file(alone, vast_turn::read_file("data/fern-house/fern-house.course.toml"));
    CHECK_FALSE(says(call({"map", alone}, true).out, "next:"));
    const std::string odd = folder.file("it's.plan");
    vast_turn::write_file(odd, vast_turn::read_file(plan));
    const Called oddly = call({"run", first + "/practice.course.toml", first + "/first.robot.toml", odd}, true);
    CHECK(says(oddly.out, "first.robot.toml '" + folder.file("it") + "'\\''s.plan'   does it go where it should?"));
    const std::string slip = folder.file("slip.plan");
    vast_turn::write_file(slip,
                          "plan \"slip\"\nsensors 2\nhabit on {\n    [#?] -> ahead(30)\n    [?#] -> ahead(31)\n}\n");
    CHECK(says(call({"vet", slip, "--alone"}, true).out,
               "\nnext: vturn vet --explain unanswered   what it is, and a plan that cures it\n"));
    const Called quiet = call({"run", plan, "--quiet"}, true);
    CHECK(quiet.out == piped.out);
    CHECK(quiet.err.empty());
    CHECK_FALSE(piped.err.empty());
    const std::string help = call_vturn({"--help"}).out;
    std::size_t at = 0;
    for (const char* step : {"\nBegin:\n", "\nThe robot on the bench:\n", "\nThe plan:\n", "\nThe course:\n",
                             "\nRuns:\n", "\nRoutes:\n", "\nOnto the robot:\n"}) {
        CAPTURE(step);
        CHECK(help.find(step, at) != std::string::npos);
        at = help.find(step);
    }
    for (const char* command :
         {"new", "table", "trips", "export", "language-server"}) { // also where only one of them is set up
        CHECK(says(call_vturn({command, "--help"}).out, "--quiet"));
    }
}
