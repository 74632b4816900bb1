#pragma once

/// A look of a stepped run, drawn.

#include <string>
#include <vector>

#include "vast_turn/step/branches.hpp"
#include "vast_turn/view/picture.hpp"

namespace vast_turn {

/// What is drawn.
struct StepView {
    std::string title; ///< in large letters
    std::string where; ///< below it
    const SteppedRun& run;
    std::vector<const RunBranch*> beside{}; ///< their ways are drawn under that of the run, as far as they were driven
    std::string name{};                     ///< of the run, where there are branches
};

/// The course around the robot with its array, the way so far and that of other branches; beside it the readings as
/// bars with their thresholds, and why each rule acts or does not.
std::string draw_step(const Scene& scene, const StepView& view, PictureFormat format);

} // namespace vast_turn
