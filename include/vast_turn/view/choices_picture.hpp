#pragma once

/// What a plan does at each junction, drawn on the course.

#include <string>
#include <vector>

#include "vast_turn/trial/junction_choices.hpp"
#include "vast_turn/view/picture.hpp"

namespace vast_turn {

/// An arrow from each side of each junction along the way that the plan usually takes, coloured by how sure it is:
/// green when nearly all robots went so, amber when most did, red below. A square is a halt, a cross a robot lost.
/// `plan` is its name, for the title. Returns the whole picture, PNG or SVG.
std::string draw_choices(const Course& course, const RouteGraph& graph, const std::string& plan,
                         const std::vector<Arm>& arms, PictureFormat format);

} // namespace vast_turn
