// What is written can be read by others: any bytes as names, and any plan that compiles, go through every writer, and
// strict readers of JSON, XML and CSV read what comes out.
#include <cstdint>
#include <cstdlib>
#include <string>
#include <string_view>
#include <vector>

#include <nlohmann/json.hpp>
#include <pugixml.hpp>

#include "formats/read/csv_table.hpp"
#include "vast_turn/formats/read/plan_file.hpp"
#include "vast_turn/formats/write/course_json.hpp"
#include "vast_turn/formats/write/replies_json.hpp"
#include "vast_turn/formats/write/table_json.hpp"
#include "vast_turn/formats/write/trace_csv.hpp"
#include "vast_turn/formats/write/trips_json.hpp"
#include "vast_turn/formats/write/trips_junit.hpp"
#include "vast_turn/formats/write/vet_json.hpp"
#include "vast_turn/paint/surface.hpp"
#include "vast_turn/paint/surface_export.hpp"
#include "vast_turn/plan/explain/pattern_table.hpp"
#include "vast_turn/trial/trip_report.hpp"
#include "vast_turn/vet/vet.hpp"

using namespace vast_turn;

std::vector<std::string_view> fuzz_words() {
    return {"plan", "habit", "note", "light", "->",   "else", "still", "halt",         "{",
            "}",    "\"",    "\\",   "<",     "&",    "]]>",  "\x1b[", "\xef\xbf\xbe", "\xe2\x80\xae",
            "\xff", ",",     ";",    "=1+1",  "\r\n", "\n"};
}

namespace {

void expect(bool holds) {
    if (!holds) {
        std::abort();
    }
}

void read_as_json(const std::string& text) { expect(nlohmann::json::accept(text)); }

void read_as_xml(const std::string& text) {
    pugi::xml_document document;
    expect(static_cast<bool>(document.load_buffer(text.data(), text.size(), pugi::parse_full, pugi::encoding_utf8)));
    // pugixml lets through what XML 1.0 (chapter 2.2) does not allow as a character.
    for (std::size_t at = 0; at < text.size();) {
        const auto byte = static_cast<unsigned char>(text[at]);
        expect(byte >= 0x20 || byte == '\t' || byte == '\n' || byte == '\r');
        expect(text.compare(at, 3, "\xef\xbf\xbe") != 0 && text.compare(at, 3, "\xef\xbf\xbf") != 0);
        ++at;
    }
}

void read_as_csv(const std::string& text, std::size_t rows) { expect(CsvTable(text, "written").rows() == rows); }

Course course_of(const std::string& name) {
    Course course;
    course.name = name;
    course.width_mm = 310.0;
    course.height_mm = 230.0;
    course.palette[name] = {210, 120, 30};
    course.tapes.push_back({{{10.0, 110.0}, {290.0, 110.0}}, false, 19.0, {}, false});
    course.markers.push_back({name, {210, 120, 30}, {150.0, 110.0}, 40.0, 40.0, 0.0, false, name});
    course.places.push_back({name, {200.0, 110.0}, 40.0});
    course.things.push_back({name, {150.0, 30.0}, {20.0, 20.0}});
    course.starts.push_back({name, {{60.0, 110.0}, 0.0}});
    paint_surface(course, 2.0);
    return course;
}

Robot robot_of(const std::string& name, int sensors) {
    Robot robot;
    robot.name = name;
    for (int i = 0; i < sensors; ++i) {
        LineSensor sensor;
        sensor.at_mm = {60.0, 9.0 * (sensors - 1) - 18.0 * i};
        sensor.channel = name;
        robot.sensors.push_back(sensor);
    }
    return robot;
}

} // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    const std::string text(reinterpret_cast<const char*>(data), size);
    const std::string name = text.substr(0, 60);
    const Course course = course_of(name);
    const Robot two = robot_of(name, 2);
    const Scene scene(course, two);
    read_as_json(course_json(scene.course(), scene.graph()));
    read_as_json(route_graph_geojson(scene.course(), scene.graph()));
    read_as_xml(surface_svg(scene.course()));

    const Compiled compiled = compile_plan(text, name);
    if (!compiled.plan) {
        return 0;
    }
    const Plan& plan = *compiled.plan;
    const Robot robot = robot_of(name, plan.sensors());
    const Scene place(course, robot);
    read_as_json(table_json(plan, pattern_tables(plan), &robot));
    const VettedPlan vetted{plan, vet(plan)};
    read_as_json(vet_json({vetted}));
    read_as_json(vet_sarif({vetted}));

    Trip trip;
    trip.name = name;
    trip.from = name;
    trip.visits = {name};
    RunOptions options;
    options.time_limit_s = 0.3;
    try {
        const Run run = drive(place, plan, options);
        read_as_json(run_json(place, plan, run));
        read_as_csv(trace_csv(run, robot, &plan), run.looks.size());
        TripReportOptions trips;
        trips.run = options;
        trips.cures = false;
        trips.threads = 1;
        trip.within_s = 0.3;
        const TripReport report = report_trips({TripCase{trip, &place}}, {Pilot(plan)}, trips);
        read_as_json(trips_json(report));
        read_as_xml(trips_junit(report));
    } catch (const InputError&) { // NOLINT(bugprone-empty-catch): it asks for markers that the course has not
    }
    return 0;
}
