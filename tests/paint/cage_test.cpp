/// Work in a process of its own: whatever happens to it, an error or its answer comes back.
#include <cstdlib>
#include <fcntl.h>
#include <functional>
#include <string>
#include <sys/socket.h>
#include <unistd.h>
#include <vector>

#include <doctest/doctest.h>

#include "paint/cage.hpp"
#include "support/fixtures.hpp"
#include "vast_turn/base/problem.hpp"
#include "vast_turn/paint/course_file.hpp"

using namespace vast_turn;

namespace {

std::string fault_of(const std::function<std::string()>& work, const CageLimits& limits = {}) {
    return fixtures::message_of([&] { in_cage("d.svg", "simplify it", work, limits); });
}

} // namespace

TEST_CASE("a cage gives back what the work returns or throws") {
    CHECK(in_cage("f", "c", [] { return std::string("a\0b", 3); }) == std::string("a\0b", 3));
    CHECK(in_cage("f", "c", [] { return std::string(5U << 20U, 'x'); }).size() == 5U << 20U);
    const std::string fault = fault_of([]() -> std::string { throw InputError("x:y", "m 12:3", "do this"); });
    CHECK(fault == "x:y: error: m 12:3\n  to do: do this\n");
}

TEST_CASE("a cage outlives crashes, aborts and endless work") {
    const std::string aborted = fault_of([]() -> std::string { std::abort(); });
    CHECK(aborted.find("d.svg: error: it cannot be drawn: what draws it gave up") == 0);
    CHECK(aborted.find("simplify it") != std::string::npos);
    CHECK(fault_of([]() -> std::string { ::_exit(3); }).find("gave up") != std::string::npos);
    const std::string endless = fault_of(
        [] {
            volatile bool on = true;
            while (on) {
            }
            return std::string{};
        },
        {.cpu_s = 1});
    CHECK(endless.find("longer than 1 s") != std::string::npos);
}

TEST_CASE("a cage writes no file, removes none and connects nowhere") {
    const fixtures::Folder folder;
    const std::string path = folder.file("kept");
    CHECK(in_cage("f", "c", [&] {
              const bool made = ::open(path.c_str(), O_CREAT | O_WRONLY, 0644) >= 0;
              const bool connects = ::socket(AF_INET, SOCK_STREAM, 0) >= 0;
              const bool removes = ::unlink("README.md") == 0;
              const bool starts = ::execl("/bin/true", "true", static_cast<char*>(nullptr)) == 0;
              return std::string(made || connects || removes || starts ? "escaped" : "held");
          }) == "held");
    CHECK(::access("README.md", F_OK) == 0);
    CHECK(::access(path.c_str(), F_OK) != 0);
}

TEST_CASE("a drawing painted apart is the same to the last bit as one painted here, and the course says which") {
    const std::string file = "data/fern-house/glass-wing.course.toml";
    const Course apart = load_course(file);
    const Course here = load_course(file, as_drawn, {.apart = false});
    CHECK(apart.drawn_apart);
    CHECK_FALSE(here.drawn_apart);
    CHECK(apart.surface.cells == here.surface.cells);
    CHECK(apart.warnings.size() == here.warnings.size());
}
