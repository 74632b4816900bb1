#include <algorithm>
#include <cmath>
#include <filesystem>
#include <memory>
#include <sstream>

#include <fmt/format.h>
#include <fmt/ranges.h>

#include "call_files.hpp"
#include "commands/commands.hpp"
#include "commands/run_options.hpp"
#include "print/print.hpp"
#include "vast_turn/course/board/tape_finder.hpp"
#include "vast_turn/formats/read/folder_file.hpp"
#include "vast_turn/formats/read/kept_layout.hpp"
#include "vast_turn/formats/read/text_file.hpp"
#include "vast_turn/formats/write/course_json.hpp"
#include "vast_turn/formats/write/route_graph_dot.hpp"
#include "vast_turn/formats/write/text_file.hpp"
#include "vast_turn/paint/course_file.hpp"
#include "vast_turn/paint/surface_export.hpp"
#include "vast_turn/trial/trip_case.hpp"

namespace vturn {

using namespace vast_turn;

namespace {

struct MapCall {
    std::string course;
    std::string variant = as_drawn;
    std::string picture;
    std::string drawing;
    std::string keep;
    bool json = false;
};

/// How far a start is from the nearest tape, when that is so far that a robot may not see it; else nothing.
std::string off_the_tape(const TapeFinder& tape, Vec2 at) {
    constexpr double near_mm = 60.0;
    const double off = tape.distance(at);
    return off > near_mm && std::isfinite(off) ? fmt::format(", {:.0f} mm from the nearest line", off) : std::string{};
}

void print_map(std::ostream& out, const Course& course, const std::vector<Trip>& trips) {
    const TapeFinder tape(course);
    out << fmt::format("{}: {:g} x {:g} mm\n", course.name, course.width_mm, course.height_mm);
    std::vector<std::vector<std::string>> rows;
    for (const StartPose& start : course.starts) {
        rows.push_back({"start", start.name, fmt::format("{:.0f},{:.0f} mm", start.pose.at.x, start.pose.at.y),
                        fmt::format("facing {:g} deg{}", start.pose.heading_deg, off_the_tape(tape, start.pose.at))});
    }
    for (const CoursePlace& place : course.places) {
        rows.push_back({"place", place.name, fmt::format("{:.0f},{:.0f} mm", place.at.x, place.at.y),
                        fmt::format("radius {:g} mm", place.radius_mm)});
    }
    for (const Marker& marker : course.markers) {
        rows.push_back({"marker", marker.colour, fmt::format("{:.0f},{:.0f} mm", marker.at.x, marker.at.y),
                        fmt::format("{:g} x {:g} mm", marker.length_mm, marker.across_mm)});
    }
    for (const Thing& thing : course.things) {
        rows.push_back({"thing", thing.name, fmt::format("{:.0f},{:.0f} mm", thing.at.x, thing.at.y),
                        fmt::format("{:g} x {:g} mm{}{}{}", thing.size_mm.x, thing.size_mm.y,
                                    thing.heading_deg != 0.0 ? fmt::format(", {:g} deg askew", thing.heading_deg) : "",
                                    when_there(thing).empty() ? "" : ", ", when_there(thing))});
    }
    for (const Variant& variant : course.variants) {
        rows.push_back({"variant", variant.name, "", describe(variant)});
    }
    for (const Trip& trip : trips) {
        std::string route = fmt::format("{}", fmt::join(starts_of(trip), " or "));
        for (const std::string& step : trip.choices.empty() ? trip.visits : trip.choices) {
            route += " -> " + step;
        }
        for (const auto& [colour, meaning] : trip.plates) {
            route += fmt::format("{}{} {}", colour == trip.plates.begin()->first ? " by plates: " : ", ", colour,
                                 name_of(meaning));
        }
        rows.push_back({"trip", trip.name, fmt::format("within {:g} s", trip.within_s),
                        fmt::format("{} -> {}", route, name_of(trip.ends))});
    }
    print_columns(out, rows);
    if (course.laid) {
        out << fmt::format("\n{} of {}\n", course.laid->number > 0 ? course.variant : "layout", course.laid->pieces);
        for (const std::string& row : course.laid->rows()) {
            out << "  " << row << "\n";
        }
    }
}

void print_nodes(std::ostream& out, const RouteGraph& graph) {
    std::vector<std::vector<std::string>> rows{{"junction", "kind", "at mm", "ways out, degrees"}};
    for (const Node& node : graph.nodes) {
        std::vector<std::string> ways;
        for (const Exit& exit : node.exits) {
            ways.push_back(fmt::format("{:.0f}", std::fmod(std::round(exit.heading_deg) + 360.0, 360.0)));
        }
        rows.push_back({node.name, name_of(node.kind), fmt::format("{:.0f},{:.0f}", node.at.x, node.at.y),
                        fmt::format("{}", fmt::join(ways, ", "))});
    }
    out << "\n";
    print_columns(out, rows);
}

void print_stretches(std::ostream& out, const Course& course, const RouteGraph& graph) {
    std::vector<std::vector<std::string>> rows{{"line from", "to", "mm", "wide", "tightest bend", "on it"}};
    for (const Stretch& stretch : graph.stretches) {
        std::vector<std::string> on_it;
        for (const Bridge& bridge : stretch.bridges) {
            on_it.push_back(fmt::format("{} of {:.0f} mm at {:.0f}",
                                        bridge.marker.empty() ? "gap" : bridge.marker + " over the line",
                                        bridge.length_mm, bridge.from_mm));
        }
        for (const int marker : stretch.markers) {
            const std::string& colour = course.markers[static_cast<std::size_t>(marker)].colour;
            if (std::none_of(stretch.bridges.begin(), stretch.bridges.end(),
                             [&](const Bridge& b) { return b.marker == colour; })) {
                on_it.push_back(colour);
            }
        }
        for (const int thing : stretch.things) {
            on_it.push_back(course.things[static_cast<std::size_t>(thing)].name);
        }
        const bool even = stretch.widest_mm - stretch.narrowest_mm < 1.5;
        rows.push_back(
            {graph.node(stretch.from).name, graph.node(stretch.to).name, fmt::format("{:.0f}", stretch.length_mm),
             even ? fmt::format("{:.0f}", stretch.width_mm)
                  : fmt::format("{:.0f} to {:.0f}", stretch.narrowest_mm, stretch.widest_mm),
             std::isfinite(stretch.tightest_mm) ? fmt::format("{:.0f} mm at {:.0f},{:.0f}", stretch.tightest_mm,
                                                              stretch.tightest_at.x, stretch.tightest_at.y)
                                                : "straight",
             fmt::format("{}", fmt::join(on_it, ", "))});
    }
    out << "\n";
    print_columns(out, rows, {2});
}

void print_not_lines(std::ostream& out, const RouteGraph& graph) {
    if (graph.not_lines.empty()) {
        return;
    }
    std::vector<std::vector<std::string>> rows{{"not taken for line", "at mm", "mm", ""}};
    constexpr std::size_t most = 20;
    for (std::size_t i = 0; i < std::min(graph.not_lines.size(), most); ++i) {
        const NotLine& it = graph.not_lines[i];
        std::vector<std::string> words;
        if (it.pieces > 1) {
            words.push_back(fmt::format("{} pieces", it.pieces));
        }
        constexpr double array_mm = 60.0; // to the outermost sensors of most
        if (it.from_line_mm < array_mm) {
            words.push_back(it.from_line_mm < 1.0
                                ? std::string("at a line: an array on it sees this")
                                : fmt::format("{:.0f} mm from a line: an array on it may see this", it.from_line_mm));
        }
        rows.push_back({name_of(it.kind), fmt::format("{:.0f},{:.0f}", it.at.x, it.at.y),
                        fmt::format("{:.0f} x {:.0f}", it.size_mm.x, it.size_mm.y),
                        fmt::format("{}", fmt::join(words, "; "))});
    }
    out << "\n";
    print_columns(out, rows);
    if (graph.not_lines.size() > most) {
        out << fmt::format("  and {} more\n", graph.not_lines.size() - most);
    }
}

void write_map(const Streams& streams, const std::string& path, const Course& course, const RouteGraph& graph) {
    if (ends_with(path, ".geojson")) {
        write_output(streams, path, route_graph_geojson(course, graph));
    } else if (ends_with(path, ".dot")) {
        write_output(streams, path, route_graph_dot(course, graph));
    } else {
        write_output(streams, path, draw_course(course, graph, format_for(path)));
    }
}

void export_surface(const Streams& streams, const std::string& path, const Course& course) {
    if (ends_with(path, ".svg")) {
        write_output(streams, path, surface_svg(course));
    } else if (ends_with(path, ".png")) {
        write_output(streams, path, surface_png(course));
        streams.err << fmt::format("{}: mm_per_px = {:g}\n", path, course.surface.cell_mm);
    } else {
        throw InputError(path, "a surface is exported as SVG or PNG", "give the file a name that ends in .svg or .png");
    }
}

/// A layout as a course file. What it names lies beside the course that it comes from.
void keep_layout(const Streams& streams, const std::string& path, const std::string& text, const Course& course) {
    const auto folder = [](const std::string& file) {
        std::error_code fault;
        return std::filesystem::weakly_canonical(std::filesystem::absolute(file, fault).parent_path(), fault);
    };
    const std::string kept = kept_layout(text, course);
    if (!is_standard_output(path) && folder(path) != folder(course.file)) {
        throw InputError(path, "a kept layout names the pieces beside it, and they lie in another folder",
                         fmt::format("keep it beside {}", course.file));
    }
    write_output(streams, path, kept);
}

/// Whether its folder says with what one would drive on it.
bool has_robot_and_plan_beside(const std::string& course) {
    try {
        const FolderMeaning beside = read_folder(std::filesystem::path(course).parent_path().string());
        return !beside[FolderKind::robot].meant.empty() && !beside[FolderKind::plan].meant.empty();
    } catch (const InputError&) {
        return false; // of a folder's faults those calls tell that need it
    }
}

int show_map(const Streams& streams, const MapCall& options) {
    const std::string text = read_file(options.course); // once: it may be a pipe
    const CourseFile file = CourseReading(text, options.course, drawings_of(streams)).read(options.variant);
    also_reads(streams, file.course.drawing);
    const Course& course = file.course;
    if (course.laid) {
        also_reads(streams, course.laid->pieces);
    }
    print_warnings(streams, course.warnings);
    if (!options.keep.empty()) {
        keep_layout(streams, options.keep, text, course);
    }
    const RouteGraph graph = find_route_graph(course);
    if (!options.picture.empty()) {
        write_map(streams, options.picture, course, graph);
    }
    if (!options.drawing.empty()) {
        export_surface(streams, options.drawing, course);
    }
    if (options.json) {
        streams.out << course_json(course, graph);
    } else {
        print_map(streams.out, course, file.trips);
        print_nodes(streams.out, graph);
        print_stretches(streams.out, course, graph);
        print_not_lines(streams.out, graph);
        print_drawing(streams.out, course, graph);
        if (has_robot_and_plan_beside(options.course)) {
            say_next(streams, "routes", "where a plan goes on it, from every start");
        }
    }
    return passed;
}

} // namespace

void add_map(Parser& parser, Streams& streams) {
    Command command = parser.command(
        "map",
        "The course: starts, places, markers, trips, its junctions and lines as found on it; and a picture to scale");
    auto options = std::make_shared<MapCall>();
    command.course(options->course);
    command.writes("-o,--output", options->picture,
                   "draw it into this file (.png, .svg or .pdf), or write its lines (.geojson, .dot)");
    command.writes("--export", options->drawing,
                   "write what lies on the floor as a drawing (.svg or .png) that a course file can name");
    command.writes("--keep", options->keep, "write this layout of a shuffled course as a course file of its own");
    command.prints_data("--json", options->json, "print JSON");
    add_variant_option(command, options->variant);
    add_drawings_option(command, streams);
    command.footer("Example:\n  vturn map data/fern-house/fern-house.course.toml -o map.png\n"
                   "  vturn map data/fern-house/turns.course.toml --export turns.svg");
    command.does([options, &streams] { return show_map(streams, *options); });
}

} // namespace vturn
