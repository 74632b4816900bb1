#include "page/course_data.hpp"

#include "page/columns.hpp"
#include "page/floor_picture.hpp"

namespace vast_turn {

namespace {

Json things_json(const Course& course) {
    Json things = Json::array();
    for (const Thing& thing : course.things) {
        Json corners = Json::array();
        for (const Vec2 corner : corners_of(thing)) {
            corners.push_back(point_json(corner));
        }
        things.push_back({{"name", thing.name}, {"corners", corners}, {"when", when_there(thing)}});
    }
    return things;
}

Json gaps_json(const RouteGraph& graph) {
    Json gaps = Json::array();
    for (const Stretch& stretch : graph.stretches) {
        for (const Bridge& bridge : stretch.bridges) {
            Json way = Json::array();
            double done = 0.0;
            for (std::size_t i = 0; i < stretch.path.size(); ++i) {
                done += i > 0 ? length(stretch.path[i] - stretch.path[i - 1]) : 0.0;
                if (done >= bridge.from_mm && done <= bridge.from_mm + bridge.length_mm) {
                    way.push_back(point_json(stretch.path[i]));
                }
            }
            gaps.push_back(std::move(way));
        }
    }
    return gaps;
}

} // namespace

Json course_data(const Scene& scene) {
    const Course& course = scene.course();
    Json json = {{"name", course.name},
                 {"variant", course.variant == as_drawn ? "" : course.variant},
                 {"width_mm", course.width_mm},
                 {"height_mm", course.height_mm},
                 {"floor", "data:image/png;base64," + base64(floor_picture(course.surface))},
                 {"cell_mm", course.surface.cell_mm}};
    Json starts = Json::array();
    for (const StartPose& start : course.starts) {
        starts.push_back(
            {{"name", start.name}, {"at", point_json(start.pose.at)}, {"heading_deg", start.pose.heading_deg}});
    }
    Json places = Json::array();
    for (const CoursePlace& place : course.places) {
        places.push_back({{"name", place.name}, {"at", point_json(place.at)}, {"radius_mm", place.radius_mm}});
    }
    Json walls = Json::array();
    for (const Wall& wall : course.walls) {
        walls.push_back(Json::array({point_json(wall.from), point_json(wall.to)}));
    }
    Json lamps = Json::array();
    for (const OutsideLight& light : course.lights) {
        if (light.kind == OutsideLight::Kind::lamp) {
            lamps.push_back(point_json(light.at));
        }
    }
    Json irons = Json::array();
    for (const Iron& iron : course.irons) {
        irons.push_back(point_json(iron.at));
    }
    Json junctions = Json::array();
    for (const Node& node : scene.graph().nodes) {
        if (node.exits.size() > 2) {
            junctions.push_back({{"name", node.name}, {"at", point_json(node.at)}});
        }
    }
    json["starts"] = std::move(starts);
    json["places"] = std::move(places);
    json["things"] = things_json(course);
    json["walls"] = std::move(walls);
    json["lamps"] = std::move(lamps);
    json["irons"] = std::move(irons);
    json["junctions"] = std::move(junctions);
    json["gaps"] = gaps_json(scene.graph());
    return json;
}

Json robot_data(const Scene& scene) {
    const Robot& robot = scene.robot();
    Json sensors = Json::array();
    for (const LineSensor& sensor : robot.sensors) {
        sensors.push_back({{"at", point_json(sensor.at_mm)}, {"spot_mm", sensor.spot_mm}});
    }
    return {{"name", robot.name}, {"track_mm", robot.track_mm}, {"sensors", sensors}};
}

} // namespace vast_turn
