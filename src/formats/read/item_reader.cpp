#include "formats/read/item_reader.hpp"

#include <utility>

#include <fmt/format.h>

#include "formats/read/drawing_keys.hpp"
#include "vast_turn/course/board/svg_path.hpp"

namespace vast_turn {

namespace {

constexpr double path_tolerance_mm = 0.02;

void gaps_fit(TomlTable& table, const Tape& tape) {
    const double total = length_of(tape);
    for (const Gap& gap : tape.gaps) {
        if (gap.from_mm + gap.length_mm > total) {
            table.fault(
                "gaps_mm",
                fmt::format("a gap reaches to {:g} mm, the tape is {:.1f} mm long", gap.from_mm + gap.length_mm, total),
                "gaps are [from, length] along the path");
        }
    }
}

void times_of(TomlTable& table, Thing& thing) {
    thing.from_s = table.number("from_s", not_negative, 0.0);
    thing.until_s = table.optional_number("until_s", not_negative);
    thing.appears_mm = table.optional_number("appears_mm", not_negative);
    thing.goes_mm = table.optional_number("goes_mm", not_negative);
    thing.stays_s = table.optional_number("stays_s", not_negative);
    for (const auto& [time, near] : {std::pair{"from_s", "appears_mm"}, {"until_s", "goes_mm"}}) {
        if (table.has(time) && table.has(near)) {
            table.fault(time, fmt::format("`{}` and `{}` exclude each other", time, near), "keep one of them");
        }
    }
    if (thing.stays_s && !thing.appears_mm && !thing.goes_mm) {
        table.fault("stays_s", "`stays_s` counts from when the robot comes near, which nothing here asks for",
                    "write appears_mm or goes_mm too, or until_s in its place");
    }
    if (thing.stays_s && thing.appears_mm && thing.until_s) {
        table.fault("stays_s", "`stays_s` and `until_s` exclude each other", "keep one of them");
    }
    if (thing.appears_mm && thing.goes_mm && *thing.goes_mm >= *thing.appears_mm) {
        table.fault("goes_mm", "it would go before it appears", "let goes_mm be less than appears_mm");
    }
}

/// Names that are taken before anything is read: a course of pieces has what lies on them.
template <class List> std::set<std::string> names_in(const List& list) {
    std::set<std::string> names;
    for (const auto& one : list) {
        names.insert(one.name);
    }
    return names;
}

} // namespace

void unique(TomlTable& table, const std::string& name, std::set<std::string>& taken, const char* what) {
    if (!taken.insert(name).second) {
        table.fault("name", fmt::format("there are two {} called \"{}\"", what, name), "give each a name of its own");
    }
}

void ItemReader::tapes() {
    for (TomlTable& table : root_.tables("tape")) {
        const double width = table.number("width_mm", tape_width, tape_width_mm_);
        const std::vector<Vec2> gaps = table.pairs("gaps_mm", not_negative);
        const std::string path = table.text("path");
        PathResult parsed = parse_svg_path(path, path_tolerance_mm);
        if (parsed.fault && table.has("path")) {
            table.fault("path", parsed.fault->message, parsed.fault->cure, parsed.fault->at);
        }
        if (!gaps.empty() && parsed.paths.size() > 1) {
            table.fault("gaps_mm", "gaps are counted along one path, this one is drawn in several strokes",
                        "write a [[tape]] for each M");
        }
        for (SubPath& sub : parsed.paths) {
            Tape tape{std::move(sub.points), sub.closed, width, {}};
            for (const Vec2 gap : gaps) {
                tape.gaps.push_back({gap.x, gap.y});
            }
            gaps_fit(table, tape);
            course_.tapes.push_back(std::move(tape));
        }
        table.done();
    }
}

void ItemReader::markers() {
    std::vector<std::string> colours;
    for (const auto& [name, rgb] : course_.palette) {
        colours.push_back(name);
    }
    std::set<std::string> taken;
    for (TomlTable& table : root_.tables("marker")) {
        Marker marker;
        marker.colour = table.one_of("colour", colours);
        marker.name = table.text("name", "");
        if (!marker.name.empty()) {
            unique(table, marker.name, taken, "markers");
        }
        const auto known = course_.palette.find(marker.colour);
        marker.rgb = known == course_.palette.end() ? Rgb{} : known->second;
        marker.at = table.pair("at_mm", coordinate);
        const Vec2 size = table.pair("size_mm", {1.0, 10000.0}, Vec2{marker.length_mm, marker.across_mm});
        marker.length_mm = size.x;
        marker.across_mm = size.y;
        marker.heading_deg = table.number("heading_deg", any_number, 0.0);
        table.done();
        course_.markers.push_back(marker);
    }
}

void ItemReader::places() {
    std::set<std::string> taken = names_in(course_.places);
    for (TomlTable& table : root_.tables("place")) {
        CoursePlace place;
        place.name = table.text("name");
        unique(table, place.name, taken, "places");
        place.at = table.pair("at_mm", coordinate);
        place.radius_mm = table.number("radius_mm", {1.0, 10000.0}, place.radius_mm);
        table.done();
        course_.places.push_back(place);
    }
}

void ItemReader::things() {
    for (TomlTable& table : root_.tables("thing")) {
        Thing thing;
        thing.name = table.text("name");
        thing.at = table.pair("at_mm", coordinate);
        thing.size_mm = table.pair("size_mm", {1.0, 10000.0});
        thing.heading_deg = table.number("heading_deg", any_number, 0.0);
        times_of(table, thing);
        table.done();
        course_.things.push_back(thing);
    }
}

void ItemReader::walls() {
    for (TomlTable& table : root_.tables("wall")) {
        Wall wall;
        wall.from = table.pair("from_mm", coordinate);
        wall.to = table.pair("to_mm", coordinate);
        table.done();
        course_.walls.push_back(wall);
    }
}

void ItemReader::starts() {
    std::set<std::string> taken = names_in(course_.starts);
    for (TomlTable& table : root_.tables("start")) {
        StartPose start;
        start.name = table.text("name");
        unique(table, start.name, taken, "starts");
        start.pose.at = table.pair("at_mm", coordinate);
        start.pose.heading_deg = table.number("heading_deg", any_number);
        if (start.pose.at.x < 0 || start.pose.at.y < 0 || start.pose.at.x > course_.width_mm ||
            start.pose.at.y > course_.height_mm) {
            table.fault("at_mm", "this start is not on the board",
                        fmt::format("the board is {:g} x {:g} mm", course_.width_mm, course_.height_mm));
        }
        table.done();
        course_.starts.push_back(start);
    }
}

} // namespace vast_turn
