#include "vast_turn/sim/scene.hpp"

#include <type_traits>

#include <doctest/doctest.h>

#include "support/fern_house.hpp"
#include "vast_turn/robot/array.hpp"

using namespace vast_turn;

TEST_CASE("a scene refuses a course or a robot that nobody keeps") {
    CHECK(std::is_constructible_v<Scene, Course&, Robot&>);
    CHECK(std::is_constructible_v<Scene, const Course&, const Robot&>);
    CHECK_FALSE(std::is_constructible_v<Scene, Course, Robot&>);
    CHECK_FALSE(std::is_constructible_v<Scene, Course&, Robot>);
    CHECK_FALSE(std::is_constructible_v<Scene, Course, Robot>);
}

TEST_CASE("the array's middle and the graph of a scene are those of its robot and course") {
    const fixtures::FernHouse f;
    CHECK(f.scene.array_middle() == array_middle(f.robot));
    CHECK(f.scene.graph().nodes.size() == find_route_graph(f.course).nodes.size());
    CHECK(f.scene.line_points().size() > f.scene.graph().stretches.size());
}
