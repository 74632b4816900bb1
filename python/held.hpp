#pragma once

/// What keeps alive what a run refers to.

#include <memory>
#include <optional>
#include <utility>

#include "vast_turn/course/board/course.hpp"
#include "vast_turn/plan/plan.hpp"
#include "vast_turn/robot/robot.hpp"
#include "vast_turn/sim/run.hpp"
#include "vast_turn/sim/scene.hpp"

namespace vast_turn::python {

/// A scene with the course and the robot that it refers to.
struct HeldScene {
    std::shared_ptr<const Course> course;
    std::shared_ptr<const Robot> robot;
    Scene scene;

    HeldScene(std::shared_ptr<const Course> over, std::shared_ptr<const Robot> by)
        : course(std::move(over)), robot(std::move(by)), scene(*course, *robot) {}
};

/// A run, and what its numbers are of.
struct HeldRun {
    Run run;
    std::shared_ptr<const void> keeps; ///< what `scene` lies in
    const Scene* scene = nullptr;
    std::optional<Plan> plan; ///< that decided; none for code
};

} // namespace vast_turn::python
