#include "vast_turn/formats/write/course_json.hpp"

#include <cmath>

#include "formats/write/json_text.hpp"

namespace vast_turn {

namespace {

Json stretch_json(const Course& course, const RouteGraph& graph, const Stretch& stretch) {
    const auto name = [&](NodeId node) { return graph.node(node).name; };
    Json gaps = Json::array();
    for (const Bridge& bridge : stretch.bridges) {
        gaps.push_back({{"from_mm", thousandths(bridge.from_mm)},
                        {"length_mm", thousandths(bridge.length_mm)},
                        {"marker", bridge.marker.empty() ? Json(nullptr) : Json(bridge.marker)}});
    }
    Json markers = Json::array();
    for (const int marker : stretch.markers) {
        markers.push_back(course.markers[static_cast<std::size_t>(marker)].colour);
    }
    Json things = Json::array();
    for (const int thing : stretch.things) {
        things.push_back(course.things[static_cast<std::size_t>(thing)].name);
    }
    const bool bent = std::isfinite(stretch.tightest_mm);
    return {{"from", name(stretch.from)},
            {"to", name(stretch.to)},
            {"length_mm", thousandths(stretch.length_mm)},
            {"width_mm", thousandths(stretch.width_mm)},
            {"narrowest_mm", thousandths(stretch.narrowest_mm)},
            {"widest_mm", thousandths(stretch.widest_mm)},
            {"tightest_bend_mm", bent ? Json(thousandths(stretch.tightest_mm)) : Json(nullptr)},
            {"tightest_bend_at_mm", bent ? point_json(stretch.tightest_at) : Json(nullptr)},
            {"gaps", gaps},
            {"markers", markers},
            {"things", things}};
}

Json node_json(const Node& node) {
    Json exits = Json::array();
    for (const Exit& exit : node.exits) {
        exits.push_back({{"stretch", exit.stretch.index()},
                         {"forward", exit.forward},
                         {"heading_deg", std::round(exit.heading_deg * 10.0) / 10.0}});
    }
    return {{"name", node.name}, {"kind", name_of(node.kind)}, {"at_mm", point_json(node.at)}, {"exits", exits}};
}

Json feature(const Json& geometry, const Json& properties) {
    return {{"type", "Feature"}, {"geometry", geometry}, {"properties", properties}};
}

Json route_graph_object(const Course& course, const RouteGraph& graph) {
    Json nodes = Json::array();
    for (const Node& node : graph.nodes) {
        nodes.push_back(node_json(node));
    }
    Json stretches = Json::array();
    for (const Stretch& stretch : graph.stretches) {
        stretches.push_back(stretch_json(course, graph, stretch));
    }
    Json not_lines = Json::array();
    for (const NotLine& it : graph.not_lines) {
        not_lines.push_back(
            {{"kind", name_of(it.kind)},
             {"at_mm", point_json(it.at)},
             {"size_mm", point_json(it.size_mm)},
             {"pieces", it.pieces},
             {"from_line_mm", std::isfinite(it.from_line_mm) ? Json(thousandths(it.from_line_mm)) : Json()}});
    }
    return {{"nodes", nodes}, {"stretches", stretches}, {"not_lines", not_lines}};
}

/// Null of a course that is not laid out of pieces.
Json layout_json(const Course& course) {
    if (!course.laid) {
        return nullptr;
    }
    return {{"pieces", course.laid->pieces}, {"number", course.laid->number}, {"rows", course.laid->rows()}};
}

Json things_json(const Course& course) {
    Json things = Json::array();
    for (const Thing& thing : course.things) {
        things.push_back({{"name", thing.name},
                          {"at_mm", point_json(thing.at)},
                          {"size_mm", point_json(thing.size_mm)},
                          {"heading_deg", thing.heading_deg},
                          {"when", when_there(thing)}});
    }
    return things;
}

Json walls_json(const Course& course) {
    Json walls = Json::array();
    for (const Wall& wall : course.walls) {
        walls.push_back({{"from_mm", point_json(wall.from)}, {"to_mm", point_json(wall.to)}});
    }
    return walls;
}

} // namespace

std::string course_json(const Course& course, const RouteGraph& graph) {
    Json places = Json::array();
    for (const CoursePlace& place : course.places) {
        places.push_back({{"name", place.name}, {"at_mm", point_json(place.at)}, {"radius_mm", place.radius_mm}});
    }
    Json starts = Json::array();
    for (const StartPose& start : course.starts) {
        starts.push_back(
            {{"name", start.name}, {"at_mm", point_json(start.pose.at)}, {"heading_deg", start.pose.heading_deg}});
    }
    Json tapes = Json::array();
    for (const Tape& tape : course.tapes) {
        Json gaps = Json::array();
        for (const Gap& gap : tape.gaps) {
            gaps.push_back(Json::array({gap.from_mm, gap.length_mm}));
        }
        tapes.push_back({{"length_mm", thousandths(length_of(tape))},
                         {"width_mm", tape.width_mm},
                         {"closed", tape.closed},
                         {"gaps_mm", gaps}});
    }
    Json markers = Json::array();
    for (const Marker& marker : course.markers) {
        markers.push_back({{"colour", marker.colour},
                           {"at_mm", point_json(marker.at)},
                           {"size_mm", Json::array({marker.length_mm, marker.across_mm})},
                           {"heading_deg", marker.heading_deg}});
    }
    return written({{"course", course.name},
                    {"size_mm", Json::array({course.width_mm, course.height_mm})},
                    {"places", places},
                    {"starts", starts},
                    {"tapes", tapes},
                    {"markers", markers},
                    {"things", things_json(course)},
                    {"walls", walls_json(course)},
                    {"layout", layout_json(course)},
                    {"graph", route_graph_object(course, graph)}});
}

std::string route_graph_geojson(const Course& course, const RouteGraph& graph) {
    Json features = Json::array();
    for (const Stretch& stretch : graph.stretches) {
        Json points = Json::array();
        for (const Vec2 p : stretch.path) {
            points.push_back(point_json(p));
        }
        features.push_back(
            feature({{"type", "LineString"}, {"coordinates", points}}, stretch_json(course, graph, stretch)));
    }
    for (const Node& node : graph.nodes) {
        features.push_back(feature({{"type", "Point"}, {"coordinates", point_json(node.at)}},
                                   {{"name", node.name}, {"kind", name_of(node.kind)}}));
    }
    const Json json = {{"type", "FeatureCollection"}, {"name", course.name}, {"features", features}};
    return written(json, 1);
}

} // namespace vast_turn
