#include "vast_turn/files/course_file.hpp"

#include <algorithm>
#include <array>
#include <filesystem>
#include <memory>
#include <set>

#include <fmt/format.h>

#include "files/drawing.hpp"
#include "files/paint.hpp"
#include "files/toml_reader.hpp"
#include "vast_turn/course/drawn.hpp"
#include "vast_turn/course/svg_path.hpp"
#include "vast_turn/files/text_file.hpp"

namespace vast_turn {

namespace {

constexpr Range coordinate{-100000.0, 100000.0};
constexpr Range tape_width{1.0, 1000.0};
constexpr double path_tolerance_mm = 0.02;

constexpr std::array<Ending, 5> endings = {Ending::halted, Ending::off_course, Ending::lost, Ending::touched,
                                           Ending::time_over};

class CourseReader {
public:
    CourseReader(std::string_view text, std::string_view file) : toml_(text, file), root_(toml_.root()) {
        course_.file = file;
    }

    Course read() {
        board();
        tapes();
        palette();
        markers();
        places();
        things();
        walls();
        starts();
        trips();
        root_.done();
        toml_.finish();
        paint();
        return std::move(course_);
    }

private:
    /// The drawing lies beside the course file; its colours hold where the file gives none.
    void drawing() {
        const std::string name = root_.text("drawing", "");
        DrawingKeys keys;
        keys.mm_per_px = root_.optional_number("mm_per_px", {0.001, 1000.0});
        if (root_.has("even_light")) {
            keys.even_light = root_.flag("even_light", false);
        }
        if (name.empty()) {
            for (const char* key : {"mm_per_px", "even_light"}) {
                if (root_.has(key)) {
                    root_.fault(key, "there is no drawing that this could be about", "write drawing = \"name.png\"");
                }
            }
            return;
        }
        const std::filesystem::path path = std::filesystem::path(course_.file).parent_path() / name;
        drawing_ = read_drawing(path.string(), keys);
        course_.warnings = drawing_->warnings();
    }

    void paint() {
        paint_surface(course_, cell_mm_, drawing_.get());
        if (drawing_ == nullptr) {
            return;
        }
        const FoundColours found = find_colours(course_.surface, course_.palette);
        course_.floor = floor_given_ ? course_.floor : found.floor;
        course_.line = line_given_ ? course_.line : found.line;
        course_.surface.beyond = course_.floor;
        find_tapes_and_markers();
    }

    void find_tapes_and_markers() {
        Course drawn = course_; // what is found must not be found again in what the file adds
        if (!course_.tapes.empty() || !course_.markers.empty()) {
            drawn.tapes.clear();
            drawn.markers.clear();
            paint_surface(drawn, cell_mm_, drawing_.get());
        }
        find_markers(drawn);
        find_tapes(drawn);
        for (Tape& tape : drawn.tapes) {
            if (tape.drawn) {
                course_.tapes.push_back(std::move(tape));
            }
        }
        for (const Marker& marker : drawn.markers) {
            if (marker.drawn) {
                course_.markers.push_back(marker);
            }
        }
    }

    void board() {
        course_.name = root_.text("name");
        drawing();
        const std::optional<Vec2> drawn = drawing_ == nullptr ? std::nullopt : std::optional<Vec2>(drawing_->size_mm());
        const Vec2 size = root_.pair("size_mm", {10.0, 32000.0}, drawn);
        floor_given_ = root_.has("floor");
        course_.width_mm = size.x;
        course_.height_mm = size.y;
        course_.floor = root_.colour("floor", course_.floor);
        TomlTable line = root_.table("line");
        line_given_ = line.has("colour");
        course_.line = line.colour("colour", course_.line);
        tape_width_mm_ = line.number("width_mm", tape_width, tape_width_mm_);
        line.done();
        // Half a millimetre where that is no burden: readings are four times as exact as with one.
        constexpr double most_fine_cells = 16e6;
        const double fine_cells = course_.width_mm * course_.height_mm / (0.5 * 0.5);
        cell_mm_ = root_.number("cell_mm", {0.1, 1.0}, fine_cells <= most_fine_cells ? 0.5 : 1.0);
    }

    void tapes() {
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

    static void gaps_fit(TomlTable& table, const Tape& tape) {
        const double total = length_of(tape);
        for (const Gap& gap : tape.gaps) {
            if (gap.from_mm + gap.length_mm > total) {
                table.fault("gaps_mm",
                            fmt::format("a gap reaches to {:g} mm, the tape is {:.1f} mm long",
                                        gap.from_mm + gap.length_mm, total),
                            "gaps are [from, length] along the path");
            }
        }
    }

    void palette() {
        TomlTable table = root_.table("palette");
        for (const std::string& name : table.all_keys()) {
            course_.palette[name] = table.colour(name.c_str());
        }
    }

    void markers() {
        std::vector<std::string> colours;
        for (const auto& [name, rgb] : course_.palette) {
            colours.push_back(name);
        }
        for (TomlTable& table : root_.tables("marker")) {
            Marker marker;
            marker.colour = table.one_of("colour", colours);
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

    void unique(TomlTable& table, const std::string& name, std::set<std::string>& taken, const char* what) {
        if (!taken.insert(name).second) {
            table.fault("name", fmt::format("there are two {} called \"{}\"", what, name),
                        "give each a name of its own");
        }
    }

    void places() {
        std::set<std::string> taken;
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

    void things() {
        for (TomlTable& table : root_.tables("thing")) {
            Thing thing;
            thing.name = table.text("name");
            thing.at = table.pair("at_mm", coordinate);
            thing.size_mm = table.pair("size_mm", {1.0, 10000.0});
            thing.from_s = table.number("from_s", not_negative, 0.0);
            thing.until_s = table.optional_number("until_s", not_negative);
            table.done();
            course_.things.push_back(thing);
        }
    }

    void walls() {
        for (TomlTable& table : root_.tables("wall")) {
            Wall wall;
            wall.from = table.pair("from_mm", coordinate);
            wall.to = table.pair("to_mm", coordinate);
            table.done();
            course_.walls.push_back(wall);
        }
    }

    void starts() {
        std::set<std::string> taken;
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

    /// "halt", or "halt at dock".
    void ends_of(TomlTable& table, Trip& trip, const std::vector<std::string>& ending_names,
                 const std::vector<std::string>& place_names) {
        const std::string words = table.has("ends") ? table.text("ends") : std::string("halt");
        const std::size_t at = words.find(" at ");
        const std::string ends = words.substr(0, at);
        const auto known = std::find_if(endings.begin(), endings.end(), [&](Ending e) { return ends == name_of(e); });
        if (known == endings.end()) {
            table.fault("ends", fmt::format("`ends` is \"{}\"{}", ends, did_you_mean(ends, ending_names)),
                        fmt::format("write {}, or with a place: halt at {}", one_of(ending_names),
                                    place_names.empty() ? "dock" : place_names.front()));
            return;
        }
        trip.ends = *known;
        trip.ends_at = at == std::string::npos ? "" : words.substr(at + 4);
        if (!trip.ends_at.empty() && course_.find_place(trip.ends_at) == nullptr) {
            table.fault("ends",
                        fmt::format("\"{}\" is no place of the course{}", trip.ends_at,
                                    did_you_mean(trip.ends_at, place_names)),
                        fmt::format("places are {}", one_of(place_names)));
        }
    }

    void trips() {
        std::vector<std::string> start_names;
        for (const StartPose& start : course_.starts) {
            start_names.push_back(start.name);
        }
        std::vector<std::string> place_names;
        for (const CoursePlace& place : course_.places) {
            place_names.push_back(place.name);
        }
        std::vector<std::string> ending_names;
        for (const Ending ending : endings) {
            ending_names.emplace_back(name_of(ending));
        }
        std::set<std::string> taken;
        for (TomlTable& table : root_.tables("trip")) {
            Trip trip;
            trip.name = table.text("name");
            unique(table, trip.name, taken, "trips");
            trip.from = table.one_of("from", start_names);
            if (table.has("choices")) {
                trip.choices = table.texts("choices");
            }
            for (const auto& [key, places] : {std::pair{"visits", &trip.visits}, {"never", &trip.never}}) {
                const bool asked = table.has(key) || (places == &trip.visits && trip.choices.empty());
                *places = asked ? table.texts(key) : std::vector<std::string>{};
                for (const std::string& place : *places) {
                    if (course_.find_place(place) == nullptr) {
                        table.fault(
                            key,
                            fmt::format("\"{}\" is no place of the course{}", place, did_you_mean(place, place_names)),
                            fmt::format("places are {}", one_of(place_names)));
                    }
                }
            }
            trip.laps = static_cast<int>(table.number("laps", {1.0, 1000.0}, 1.0));
            ends_of(table, trip, ending_names, place_names);
            trip.within_s = table.number("within_s", {0.001, 36000.0}, trip.within_s);
            trip.off_course_mm = table.number("off_course_mm", {1.0, 100000.0}, trip.off_course_mm);
            for (const Vec2 held : table.pairs("button_s", {0.0, 36000.0})) {
                if (held.y <= held.x) {
                    table.fault("button_s",
                                fmt::format("the button is let go at {:g} s, held from {:g} s", held.y, held.x),
                                "write [from, until] in seconds");
                }
                trip.button_s.emplace_back(held.x, held.y);
            }
            trip.lost_after_s = table.optional_number("lost_after_s", {0.001, 36000.0});
            for (TomlTable& heard : table.tables("hear")) {
                trip.hears.push_back({heard.text("name"), heard.number("at_s", {0.0, 36000.0})});
                heard.done();
            }
            trip.line = table.line();
            table.done();
            course_.trips.push_back(std::move(trip));
        }
    }

    TomlText toml_;
    TomlTable root_;
    Course course_;
    double tape_width_mm_ = 19.0;
    double cell_mm_ = 1.0;
    std::unique_ptr<Drawing> drawing_;
    bool floor_given_ = false;
    bool line_given_ = false;
};

} // namespace

Course parse_course(std::string_view text, std::string_view file) { return CourseReader(text, file).read(); }

Course load_course(const std::string& path) { return parse_course(read_file(path), path); }

} // namespace vast_turn
