#pragma once

/// Dark areas that touch a line.

#include <cstdint>
#include <vector>

#include "course/graph/line_mask.hpp"
#include "vast_turn/course/graph/route_graph.hpp"

namespace vast_turn {

/// How wide most of the area is, by the depths along the middles of shapes, mm: so a line tells its width also where
/// furniture hangs on it. 0 when nothing is 6 to 60 mm wide.
double usual_width(const LineMask& mask, const std::vector<std::uint8_t>& deep);

/// Takes off what is much wider than `line_mm` where a line ends in it, or leads along or through it: a bench against
/// the tape, a filled start area. A line that goes on behind it is led straight through. Where three lines or more come
/// together in it, it is their junction and stays; what no line comes to stays too.
///
/// `deep` is depths() of the mask and is brought along. What was taken off is told. What the course takes in stays.
std::vector<NotLine> take_off_dark_areas(LineMask& mask, std::vector<std::uint8_t>& deep, double line_mm,
                                         const std::vector<Area>& taken_in);

/// The same with the pads among the tapes that a course describes, which are where they are said to be.
std::vector<NotLine> take_off_pads(LineMask& mask, std::vector<std::uint8_t>& deep, const Course& course);

} // namespace vast_turn
