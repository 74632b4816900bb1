#pragma once

/// The demo data, read once a test.

#include <string>
#include <vector>

#include "vast_turn/formats/read/plan_file.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/paint/course_file.hpp"
#include "vast_turn/sim/run.hpp"

namespace fixtures {

struct FernHouse {
    vast_turn::CourseFile file = vast_turn::load_course_file("data/fern-house/fern-house.course.toml");
    vast_turn::Course& course = file.course;
    std::vector<vast_turn::Trip>& trips = file.trips;
    vast_turn::Robot robot = vast_turn::load_robot("data/fern-house/sprig-2.robot.toml");
    vast_turn::Plan plan = vast_turn::load_plan("data/fern-house/left-first.plan");
    vast_turn::Scene scene{course, robot};

    vast_turn::Plan other(const std::string& name) const {
        return vast_turn::load_plan("data/fern-house/" + name + ".plan");
    }
};

} // namespace fixtures
