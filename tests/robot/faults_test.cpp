#include "vast_turn/robot/faults.hpp"

#include <string>

#include <doctest/doctest.h>

#include "vast_turn/base/problem.hpp"

using namespace vast_turn;

namespace {

std::string refused(const std::string& fault) {
    try {
        parse_faults({fault}, 3);
    } catch (const InputError& error) {
        return error.problems().front().message;
    }
    return "";
}

} // namespace

TEST_CASE("faults are read as they are written") {
    const Faults faults = parse_faults({"sensor2=stuck:0.4", "sensor3=dead", "sensor1=dim:0.6", "swapped:1,3",
                                        "left_motor=reversed", "right_motor=weak:0.8", "motors=swapped"},
                                       3);
    CHECK(faults.sensor(0).kind == SensorFaultKind::dim);
    CHECK(faults.sensor(1).kind == SensorFaultKind::stuck);
    CHECK(faults.sensor(1).value == 0.4);
    CHECK(faults.sensor(2).kind == SensorFaultKind::dead);
    CHECK(faults.source(0) == 2);
    CHECK(faults.source(1) == 1);
    CHECK(faults.left.reversed);
    CHECK(faults.right.strength == 0.8);
    CHECK(faults.motors_swapped);
}

TEST_CASE("what is no fault is refused with what was meant") {
    CHECK(refused("sensor4=dead") == "fault `sensor4=dead`: the robot has sensors 1 to 3, there is no sensor `4`");
    CHECK(refused("sensor1=stuk:0.4").find("did you mean `stuck`?") != std::string::npos);
    CHECK(refused("sensor1=stuck:1.4").find("expected a number from 0 to 1") != std::string::npos);
    CHECK(refused("sensor1=dead:1").find("takes no number") != std::string::npos);
    CHECK(refused("left_moter=reversed").find("did you mean `left_motor`?") != std::string::npos);
    CHECK(refused("swapped:1").find("expected the numbers of two sensors") != std::string::npos);
    CHECK(refused("left_motor=weak:x").find("not `x`") != std::string::npos);
    CHECK_FALSE(refused("").empty());
    CHECK_FALSE(refused("motors=reversed").empty());
}
