#include "vast_turn/view/block_drawing.hpp"

#include <cstdlib>

#include <doctest/doctest.h>

#include "support/fixtures.hpp"
#include "vast_turn/formats/read/plan_file.hpp"
#include "vast_turn/formats/write/text_file.hpp"

using namespace vast_turn;
using fixtures::Folder;

namespace {

/// An environment variable while this lives.
class Environment {
public:
    Environment(const char* name, const std::string& value) : name_(name) {
        const char* before = std::getenv(name);
        had_ = before != nullptr;
        before_ = had_ ? before : "";
        ::setenv(name, value.c_str(), 1);
    }
    Environment(const Environment&) = delete;
    Environment& operator=(const Environment&) = delete;
    ~Environment() { had_ ? ::setenv(name_, before_.c_str(), 1) : ::unsetenv(name_); }

private:
    const char* name_;
    bool had_ = false;
    std::string before_;
};

const char* const search = "data/fern-house/plans/search.plan";

} // namespace

TEST_CASE("blocks are drawn in every format; what the folder for temporary files is called does not matter") {
    const Folder folder;
    const std::string planted = folder.file("planted");
    const Environment quoted("TMPDIR", folder.file("a'; touch " + planted + "; '"));
    const Plan plan = load_plan(search);
    CHECK(draw_blocks(plan, PictureFormat::svg).find("<svg") != std::string::npos);
    CHECK(draw_blocks(plan, PictureFormat::pdf).starts_with("%PDF"));
    CHECK(draw_blocks(plan, PictureFormat::png).find("PNG") == 1);
    CHECK(folder.names().empty());
}

TEST_CASE("without dot, or with one that fails or reads nothing, the drawing says what to do") {
    const Plan plan = load_plan(search);
    const Folder folder;
    const Environment elsewhere("PATH", folder.path());
    const auto message = [&] { return fixtures::message_of([&] { draw_blocks(plan, PictureFormat::svg); }); };
    CHECK(message().find("install the package graphviz") != std::string::npos);
    for (const char* script : {"#!/bin/sh\nexit 3\n", "#!/bin/sh\nexec 0<&-\nexit 0\n"}) {
        write_file(folder.file("dot"), script);
        REQUIRE(::system(("/bin/chmod +x " + folder.file("dot")).c_str()) == 0);
        CHECK(message().find("is not here or failed") != std::string::npos);
    }
}
