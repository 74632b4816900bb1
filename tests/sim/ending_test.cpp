#include "vast_turn/sim/ending.hpp"

#include <string>
#include <vector>

#include <doctest/doctest.h>
#include <fmt/format.h>
#include <fmt/ranges.h>

using namespace vast_turn;

TEST_CASE("every way for a run to end has a name of its own") {
    std::vector<std::string> names;
    for (const Ending ending : {Ending::halted, Ending::off_course, Ending::lost, Ending::touched, Ending::time_over}) {
        names.emplace_back(name_of(ending));
    }
    CHECK(fmt::format("{}", fmt::join(names, ",")) == "halt,off course,lost,touch,time over");
}
