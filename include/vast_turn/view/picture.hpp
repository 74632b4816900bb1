#pragma once

/// Pictures of courses and runs. Each call returns the bytes of a whole file, 1280 x 800 pixels (or
/// points): the same input gives the same bytes. Nothing is written to disk here.

#include <optional>
#include <string>
#include <string_view>

#include "vast_turn/course/graph/route_graph.hpp"
#include "vast_turn/plan/explain/pattern_table.hpp"
#include "vast_turn/plan/plan.hpp"
#include "vast_turn/sense/calibrate.hpp"
#include "vast_turn/sim/run.hpp"

namespace vast_turn {

/// Kinds of files that pictures can be.
enum class PictureFormat { png, svg, pdf };

/// The format that a file name ends with (".png", ".svg", ".pdf"), if any.
std::optional<PictureFormat> picture_format(std::string_view path);

/// The course to scale: surface, places, starts, things, walls, and the graph of its lines: a ring at each junction,
/// a dashed line over each gap.
std::string draw_course(const Course& course, const RouteGraph& graph, PictureFormat format);

/// A habit's pattern table: for each pattern the array over the line, and an arrow along the way that its
/// nose takes. `robot` gives track and speeds; null draws with a made-up robot.
std::string draw_table(const Plan& plan, const HabitTable& table, const Robot* robot, PictureFormat format);

/// A calibration: for each sensor how often each count came over line and over floor, with the
/// threshold between; below, the sweep as curves in which the peak walks across.
std::string draw_calibration(const BenchReadings& readings, const CalibrationReport& report, const std::string& about,
                             PictureFormat format);

/// A run on its course: the path coloured by the rule that acted, the moments that matter, a legend
/// of the rules with their share of the looks. `plan` is null when the decisions came from other
/// code; the path then has one colour.
std::string draw_run(const Scene& scene, const Plan* plan, const Run& run, PictureFormat format);

} // namespace vast_turn
