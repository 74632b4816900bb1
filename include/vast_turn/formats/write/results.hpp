#pragma once

/// Results as texts for other programs. Each is a function of its arguments alone, so the same run
/// gives the same bytes. Formats: docs/files.md.

#include <string>
#include <vector>

#include "vast_turn/course/graph/route_graph.hpp"
#include "vast_turn/plan/explain/pattern_table.hpp"
#include "vast_turn/sim/run.hpp"
#include "vast_turn/trial/comparison.hpp"
#include "vast_turn/trial/cures.hpp"
#include "vast_turn/trial/junction_choices.hpp"
#include "vast_turn/trial/trip.hpp"
#include "vast_turn/trial/trip_case.hpp"

namespace vast_turn {

/// Every look of a run as CSV, one line each. `plan` names the rules; null when the decisions came
/// from other code.
std::string trace_csv(const Run& run, const Robot& robot, const Plan* plan);

/// A course: size, places, starts, tapes, markers, and the graph of its lines.
std::string course_json(const Course& course, const RouteGraph& graph);

/// The graph as GeoJSON (RFC 7946) but for its frame: coordinates are millimetres, x right, y down. Stretches are
/// LineStrings, nodes Points.
std::string route_graph_geojson(const Course& course, const RouteGraph& graph);

/// The graph in Graphviz' language; nodes have the position where they lie.
std::string route_graph_dot(const Course& course, const RouteGraph& graph);

/// Pattern tables of a plan. With a robot each case says what it does.
std::string table_json(const Plan& plan, const std::vector<HabitTable>& tables, const Robot* robot = nullptr);

/// A run: route, end, way, events. Not its looks: those are in the trace.
std::string run_json(const Scene& scene, const Plan& plan, const Run& run);

/// The trips of one plan. Results and all that goes with them stand in the order of the cases.
struct PlanTrips {
    Plan plan;
    std::vector<TripResult> results;      ///< of each case the first run that failed, else the first
    std::vector<int> passes;              ///< of each case, how many of its runs passed
    std::vector<int> runs;                ///< of each case, how many there were, each with a seed of its own
    std::vector<std::vector<Cure>> cures; ///< of each case; empty when it passed or none was looked for
    bool cures_sought = false;
};

std::string trips_json(const std::vector<TripCase>& cases, const std::vector<PlanTrips>& all);

/// Trips as JUnit XML: a test suite for each plan, a test case for each case.
std::string trips_junit(const std::vector<TripCase>& cases, const std::vector<PlanTrips>& all);

/// What a plan does at each junction and where that leads.
struct PlanChoices {
    Plan plan;
    std::vector<Arm> arms;
    std::vector<Reach> reach;
};

/// Plans side by side.
std::string comparison_json(const std::vector<PlanFigures>& all);

std::string choices_json(const RouteGraph& graph, const std::vector<PlanChoices>& all);

} // namespace vast_turn
