#pragma once

/// The demo data, read once a test.

#include <string>
#include <vector>

#include "support/fixtures.hpp"
#include "vast_turn/formats/read/plan_file.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/formats/read/text_file.hpp"
#include "vast_turn/formats/write/text_file.hpp"
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

/// The demo's course of pieces, in a folder, with fewer layouts than its 40: what is said of all of them takes as long
/// as there are.
inline std::string few_layouts(const Folder& folder, int layouts) {
    std::string text = vast_turn::read_file("data/fern-house/any-day.course.toml");
    const std::string all = "seeds = 40";
    text.replace(text.find(all), all.size(), "seeds = " + std::to_string(layouts)); // throws where it is not there
    const std::string pieces = "fern-house.pieces.toml";
    vast_turn::write_file(folder.file(pieces), vast_turn::read_file("data/fern-house/" + pieces));
    vast_turn::write_file(folder.file("any-day.course.toml"), text);
    return folder.file("any-day.course.toml");
}

} // namespace fixtures
