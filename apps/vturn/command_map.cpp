#include <memory>

#include <fmt/format.h>

#include "commands.hpp"
#include "print.hpp"
#include "vast_turn/files/course_file.hpp"
#include "vast_turn/files/results.hpp"
#include "vast_turn/files/text_file.hpp"

namespace vturn {

using namespace vast_turn;

namespace {

struct MapCall {
    std::string course;
    std::string picture;
    bool json = false;
};

void print_map(std::ostream& out, const Course& course) {
    out << fmt::format("{}: {:g} x {:g} mm\n", course.name, course.width_mm, course.height_mm);
    std::vector<std::vector<std::string>> rows;
    for (const StartPose& start : course.starts) {
        rows.push_back({"start", start.name, fmt::format("{:.0f},{:.0f} mm", start.pose.at.x, start.pose.at.y),
                        fmt::format("facing {:g} deg", start.pose.heading_deg)});
    }
    for (const CoursePlace& place : course.places) {
        rows.push_back({"place", place.name, fmt::format("{:.0f},{:.0f} mm", place.at.x, place.at.y),
                        fmt::format("radius {:g} mm", place.radius_mm)});
    }
    for (std::size_t i = 0; i < course.tapes.size(); ++i) {
        const Tape& tape = course.tapes[i];
        rows.push_back({"tape", fmt::format("{}", i + 1), fmt::format("{:.0f} mm long", length_of(tape)),
                        fmt::format("{:g} mm wide{}{}", tape.width_mm, tape.closed ? ", closed" : "",
                                    tape.gaps.empty() ? std::string{} : fmt::format(", {} gaps", tape.gaps.size()))});
    }
    for (const Marker& marker : course.markers) {
        rows.push_back({"marker", marker.colour, fmt::format("{:.0f},{:.0f} mm", marker.at.x, marker.at.y),
                        fmt::format("{:g} x {:g} mm", marker.length_mm, marker.across_mm)});
    }
    for (const Thing& thing : course.things) {
        rows.push_back({"thing", thing.name, fmt::format("{:.0f},{:.0f} mm", thing.at.x, thing.at.y),
                        fmt::format("{:g} x {:g} mm", thing.size_mm.x, thing.size_mm.y)});
    }
    for (const Trip& trip : course.trips) {
        std::string route = trip.from;
        for (const std::string& visit : trip.visits) {
            route += " -> " + visit;
        }
        rows.push_back({"trip", trip.name, fmt::format("within {:g} s", trip.within_s),
                        fmt::format("{} -> {}", route, name_of(trip.ends))});
    }
    print_columns(out, rows);
}

int show_map(const Streams& streams, const MapCall& options) {
    const Course course = load_course(options.course);
    if (!options.picture.empty()) {
        write_file(options.picture, draw_course(course, format_for(options.picture)));
    }
    if (options.json) {
        streams.out << course_json(course);
    } else {
        print_map(streams.out, course);
    }
    return passed;
}

} // namespace

void add_map(CLI::App& app, Streams& streams, int& status) {
    CLI::App* command =
        app.add_subcommand("map", "The course: starts, places, tape, markers, trips; and a picture of it to scale");
    auto options = std::make_shared<MapCall>();
    command->add_option("COURSE", options->course, "course file (*.course.toml)")->required();
    command->add_option("-o,--output", options->picture, "draw it into this file (.png, .svg or .pdf)");
    command->add_flag("--json", options->json, "print JSON");
    command->footer("Example:\n  vturn map data/fern-house/fern-house.course.toml -o map.png");
    command->callback([options, &streams, &status] { status = show_map(streams, *options); });
}

} // namespace vturn
