/// `vturn export`: both files or neither, and what is said of them.
#include <filesystem>

#include <doctest/doctest.h>
#include <nlohmann/json.hpp>

#include "support/fixtures.hpp"
#include "support/rounds.hpp"
#include "vast_turn/emit/c_source.hpp"
#include "vast_turn/formats/read/plan_file.hpp"
#include "vast_turn/formats/read/text_file.hpp"
#include "vast_turn/formats/write/text_file.hpp"

using namespace vast_turn;
using fixtures::call_vturn;

TEST_CASE("export writes the pair that the library makes, and says what the robot must give") {
    const fixtures::Folder folder;
    const std::string made_in = folder.file("robot");
    const auto called = call_vturn({"export", "data/fern-house/rounds.plan", "-o", made_in, "--numbers", "float"});
    CHECK(called.status == 0);
    CHECK(called.err.empty());
    CHECK(called.out == made_in + "/rounds.h, " + made_in +
                            "/rounds.c\n  asks the robot for  line, clock_ms, way_mm, heading_deg, range_mm, markers\n"
                            "  remembers           256 bytes on an 8-bit chip, 284 on a 32-bit one\n");
    const CSource made =
        c_source(load_plan("data/fern-house/rounds.plan"), {.numbers = runtime::NumberKind::binary32, .name = {}});
    CHECK(read_file(made_in + "/rounds.h") == made.header);
    CHECK(read_file(made_in + "/rounds.c") == made.source);
    CHECK(made.source.find("    /* line 21: [..#..] -> ahead(cruise) */\n    if ((in->line & 0x1Fu) == 0x04u) {\n") !=
          std::string::npos);

    const auto named = call_vturn({"export", "data/fern-house/rounds.plan", "-o", made_in, "--name", "Sprig's plan"});
    CHECK(named.status == 0);
    CHECK(read_file(made_in + "/sprig_s_plan.h").find("typedef double sprig_s_plan_number;") != std::string::npos);
}

TEST_CASE("export refuses what it cannot do, and nothing is written") {
    const fixtures::Folder folder;
    const std::string plan = "data/fern-house/rounds.plan";
    auto called = call_vturn({"export", plan, "-o", folder.path(), "--numbers", "half"});
    CHECK(called.status == 2);
    CHECK(called.err.find("there are no numbers called `half`\n  to do: write --numbers double, or --numbers float") !=
          std::string::npos);
    called = call_vturn({"export", plan, "-o", folder.file("no/such")});
    CHECK(called.status == 2);
    CHECK(called.err.find("this is no folder, and none can be made there") != std::string::npos);
    called = call_vturn({"export", plan});
    CHECK(called.status == 2);
    write_file(folder.file("rounds.c"), read_file(plan));
    called = call_vturn({"export", folder.file("rounds.c"), "-o", folder.path()});
    CHECK(called.status == 2);
    CHECK(called.err.find("the plan would be written over") != std::string::npos);
    CHECK(folder.names() == std::vector<std::string>{"rounds.c"});
    CHECK(read_file(folder.file("rounds.c")) == read_file(plan));
}

TEST_CASE("run, trips and ask decide in float what the exported C decides, and run says where that mattered" *
          doctest::skip(fixtures::sanitized())) {
    const fixtures::Folder folder;
    const std::string tenths = folder.file("tenths.plan");
    // Three tenths are 0.3 in float, and a little more in double.
    write_file(tenths, "plan \"by tenths\"\nsensors 5\nhabit on {\n    looks * 0.1 == 0.3 looks -> halt\n"
                       "    else -> ahead(31)\n}\n");
    const std::string glass_wing = "data/fern-house/glass-wing.course.toml";
    const std::string sprig = "data/fern-house/sprig-5.robot.toml";
    auto called = call_vturn({"run", glass_wing, sprig, tenths, "--limit-s", "0.2"});
    CHECK(called.status == 1);
    CHECK(called.out.find("numbers") == std::string::npos);
    called = call_vturn(
        {"run", glass_wing, sprig, tenths, "--limit-s", "0.2", "--numbers", "float", "--trace", folder.file("t.csv")});
    CHECK(called.status == 0);
    CHECK(called.out.find(
              "float; double decides otherwise in 1 of 4 looks, first at 0.04 s: line 5 in place of line 4") !=
          std::string::npos);
    CHECK(call_vturn({"ask", tenths, "--log", folder.file("t.csv"), "--numbers", "float"}).status == 0);
    CHECK(call_vturn({"ask", tenths, "--log", folder.file("t.csv")}).status == 1);
    called = call_vturn({"run", glass_wing, sprig, "data/fern-house/rounds.plan", "--numbers", "float"});
    CHECK(called.out.find("  numbers     float; double decides alike in all 944 looks\n") != std::string::npos);
    CHECK(call_vturn({"trips", glass_wing, sprig, "data/fern-house/rounds.plan", "--numbers", "half"}).status == 2);
    if (fixtures::sanitized()) {
        return; // trips of the glass wing are taken by others there
    }
    called = call_vturn(
        {"trips", glass_wing, sprig, "data/fern-house/rounds.plan", "--numbers", "float", "--filter", "not into"});
    CHECK(called.status == 0);
    CHECK(called.out.find("numbers: float; plan \"rounds\": double decides alike in all ") != std::string::npos);
    called =
        call_vturn({"trips", glass_wing, sprig, tenths, "--numbers", "float", "--filter", "not into", "--no-cures"});
    CHECK(called.out.find(
              "numbers: float; \"not into the mist room\" on plan \"by tenths\": double decides otherwise in 1 "
              "of 4 looks, first at 0.04 s: line 5 in place of line 4") != std::string::npos);
    const auto json = nlohmann::json::parse(
        call_vturn({"run", glass_wing, sprig, tenths, "--limit-s", "0.2", "--numbers", "float", "--json"}).out);
    CHECK(json["numbers"]["differing"] == 1);
    CHECK(json["numbers"]["looks"] == 4);
    const std::string at_once = folder.file("at-once.plan");
    write_file(at_once,
               "plan \"at once\"\nsensors 5\nhabit on {\n    (looks + 3 looks) * 0.1 == 0.3 looks -> ahead(40)\n"
               "    else -> ahead(-40)\n}\n");
    const auto card = [&](const char* numbers) {
        return call_vturn({"ask", at_once, "--robot", sprig, "--card", "--numbers", numbers}).out;
    };
    CHECK(card("float").find(".....      40       40  S1 = 108.9 deg") != std::string::npos);
    CHECK(card("double").find(".....     -40      -40  S1 = 76.1 deg") != std::string::npos);
}

TEST_CASE("vet drives the plan with the numbers that it is told") {
    const fixtures::Folder folder;
    const std::string file = folder.file("tenths.plan");
    write_file(
        file, "plan \"by tenths\"\nsensors 5\nvar none = 0\nhabit on {\n"
              "    [..#..] and (3 + none) * 0.1 == 0.3 -> ahead(40)\n    [..#..] -> bend(100, 40)\n"
              "    [##...] mirrored -> bend(24, 31)\n    [#....] mirrored -> bend(43, 31)\n    else -> ahead(40)\n}\n");
    const auto swing = [&](const char* numbers) {
        const auto called =
            call_vturn({"vet", file, "--robot", "data/fern-house/sprig-5.robot.toml", "--numbers", numbers});
        const std::size_t at = called.out.find("swing on a straight");
        REQUIRE_MESSAGE(at != std::string::npos, called.out);
        return called.out.substr(at, called.out.find('\n', at) - at);
    };
    CHECK(swing("float") != swing("double"));
    CHECK(call_vturn({"vet", file, "--numbers", "half"}).status == 2);
}

TEST_CASE("export with a robot writes what lies around the plan too, and says what it must give") {
    const fixtures::Folder folder;
    const std::string sprig = "data/fern-house/sprig-5.robot.toml";
    auto called = call_vturn(
        {"export", "data/fern-house/rounds.plan", "-o", folder.path(), "--numbers", "float", "--robot", sprig});
    CHECK(called.status == 0);
    CHECK(called.out ==
          folder.file("rounds.h") + ", " + folder.file("rounds.c") +
              "\n  asks the robot for  clock_us, counts, left_deg, right_deg, range_mm, markers, drive, say, "
              "put\n  remembers           327 bytes on an 8-bit chip, 360 on a 32-bit one\n"
              "  reads with          what it learns on the floor: no --calibration\n");
    CHECK(read_file(folder.file("rounds.h")).find("#define ROUNDS_PERIOD_US 12000UL") != std::string::npos);
    called = call_vturn({"export", "data/fern-house/rounds.plan", "-o", folder.path(), "--robot",
                         "data/fern-house/sprig-3.robot.toml"});
    CHECK(called.status == 2);
    CHECK(called.err.find("5 line sensors, robot \"Sprig-3\" has 3") != std::string::npos);
    called = call_vturn({"export", "data/fern-house/rounds.plan", "-o", folder.path(), "--calibration", "x.toml"});
    CHECK(called.status == 2);
}
