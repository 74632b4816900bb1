/// `vturn export`: both files or neither, and what is said of them.
#include <filesystem>

#include <doctest/doctest.h>

#include "support/fixtures.hpp"
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
