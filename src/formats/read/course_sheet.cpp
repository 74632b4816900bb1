#include "vast_turn/formats/read/course_sheet.hpp"

#include <algorithm>
#include <filesystem>
#include <set>
#include <utility>

#include <fmt/format.h>

#include "formats/read/drawing_keys.hpp"
#include "formats/read/file_kind.hpp"
#include "formats/read/toml_reader.hpp"
#include "formats/read/trip_reader.hpp"
#include "vast_turn/course/board/svg_path.hpp"

namespace vast_turn {

namespace {

constexpr Range tape_width{1.0, 1000.0};
constexpr double path_tolerance_mm = 0.02;

class CourseReader {
public:
    CourseReader(std::string_view text, std::string_view file, std::string_view variant)
        : toml_(text, file), root_(toml_.root()), variant_(variant) {
        course_.file = file;
    }

    CourseSheet read(const FindDrawing& find_drawing) {
        course_.name = root_.text("name");
        drawing(find_drawing);
        board();
        tapes();
        palette();
        markers();
        places();
        things();
        walls();
        starts();
        variants();
        sheet_.trips = read_trips(root_, course_, course_.file);
        root_.done();
        toml_.finish();
        make_variant();
        sheet_.course = std::move(course_);
        return std::move(sheet_);
    }

private:
    /// The drawing lies beside the course file.
    void drawing(const FindDrawing& find_drawing) {
        const std::string name = root_.text("drawing", "");
        const DrawingKeys keys = read_drawing_keys(root_, !name.empty());
        board_mm_ = keys.board_mm;
        sheet_.find_board = !name.empty() && !keys.board && !keys.is_page;
        if (name.empty()) {
            return;
        }
        const std::filesystem::path path = std::filesystem::path(course_.file).parent_path() / name;
        if (!find_drawing) {
            throw InputError(course_.file, "this course is drawn, and whoever reads it here takes no drawings",
                             "read it with load_course()");
        }
        course_.drawing = path.string();
        toml_.finish(); // what is wrong with its keys comes before what they make of it
        drawing_size_mm_ = find_drawing(course_.drawing, keys, course_.warnings);
    }

    void board() {
        const Vec2 size = board_mm_ ? *board_mm_ : root_.pair("size_mm", board_size, drawing_size_mm_);
        sheet_.floor_given = root_.has("floor");
        course_.width_mm = size.x;
        course_.height_mm = size.y;
        course_.floor = root_.colour("floor", course_.floor);
        TomlTable line = root_.table("line");
        sheet_.line_given = line.has("colour");
        course_.line = line.colour("colour", course_.line);
        if (line.is_list("width_mm")) {
            course_.line_widths_mm = line.numbers("width_mm", tape_width);
            if (!course_.line_widths_mm.empty()) {
                tape_width_mm_ = course_.line_widths_mm.front();
            }
        } else if (line.has("width_mm")) {
            tape_width_mm_ = line.number("width_mm", tape_width, tape_width_mm_);
            course_.line_widths_mm = {tape_width_mm_};
        }
        line.done();
        course_.line_hints = read_line_hints(root_, !course_.drawing.empty());
        // Half a millimetre where that is no burden: readings are four times as exact as with one.
        constexpr double most_fine_cells = 16e6;
        const double fine_cells = course_.width_mm * course_.height_mm / (0.5 * 0.5);
        sheet_.cell_mm = root_.number("cell_mm", {0.1, 1.0}, fine_cells <= most_fine_cells ? 0.5 : 1.0);
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
        for (const auto& [name, rgb] : course_.palette) {
            colours_.push_back(name);
        }
        std::set<std::string> taken;
        for (TomlTable& table : root_.tables("marker")) {
            Marker marker;
            marker.colour = table.one_of("colour", colours_);
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
            thing.heading_deg = table.number("heading_deg", any_number, 0.0);
            times_of(table, thing);
            table.done();
            course_.things.push_back(thing);
        }
    }

    static void times_of(TomlTable& table, Thing& thing) {
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

    /// A variant names plates and things of the file; what it changes is changed before anything is painted.
    void variants() {
        std::vector<std::string> markers;
        std::vector<std::string> all;
        for (const Marker& marker : course_.markers) {
            if (!marker.name.empty()) {
                markers.push_back(marker.name);
                all.push_back(marker.name);
            }
        }
        for (const Thing& thing : course_.things) {
            all.push_back(thing.name);
        }
        std::set<std::string> taken{as_drawn};
        for (TomlTable& table : root_.tables("variant")) {
            Variant variant;
            variant.name = table.text("name");
            unique(table, variant.name, taken, "variants");
            if (table.has("without")) {
                variant.without = table.texts("without");
            }
            for (const std::string& name : variant.without) {
                known(table, "without", name, all, "named marker and no thing");
            }
            TomlTable plates = table.table("plates");
            for (const std::string& name : plates.all_keys()) {
                known(table, "plates", name, markers, "named marker");
                variant.plates[name] = plates.one_of(name.c_str(), colours_);
            }
            table.done();
            course_.variants.push_back(std::move(variant));
        }
    }

    static void known(TomlTable& table, const char* key, const std::string& name, const std::vector<std::string>& names,
                      const char* what) {
        if (std::find(names.begin(), names.end(), name) == names.end()) {
            table.fault(key, fmt::format("\"{}\" is no {} of this file{}", name, what, did_you_mean(name, names)),
                        names.empty() ? "give the marker a name; plates of a drawing cannot be changed"
                                      : fmt::format("there are {}", one_of(names)));
        }
    }

    void make_variant() {
        if (variant_ == as_drawn) {
            return;
        }
        const auto variant = std::find_if(course_.variants.begin(), course_.variants.end(),
                                          [&](const Variant& v) { return v.name == variant_; });
        if (variant == course_.variants.end()) {
            std::vector<std::string> names{as_drawn};
            for (const Variant& one : course_.variants) {
                names.push_back(one.name);
            }
            throw InputError(
                course_.file,
                fmt::format("\"{}\" is no variant of the course{}", variant_, did_you_mean(variant_, names)),
                fmt::format("its variants are {}", one_of(names)));
        }
        course_.variant = variant_;
        const auto is_away = [&](const auto& one) {
            return !one.name.empty() &&
                   std::find(variant->without.begin(), variant->without.end(), one.name) != variant->without.end();
        };
        std::erase_if(course_.markers, is_away);
        std::erase_if(course_.things, is_away);
        for (Marker& marker : course_.markers) {
            const auto plate = variant->plates.find(marker.name);
            if (plate != variant->plates.end()) {
                marker.colour = plate->second;
                marker.rgb = course_.palette.at(marker.colour);
            }
        }
    }

    TomlText toml_;
    TomlTable root_;
    CourseSheet sheet_;
    Course course_;
    double tape_width_mm_ = 19.0;
    std::optional<Vec2> drawing_size_mm_;
    std::optional<Vec2> board_mm_; ///< when the file says so beside a drawing
    std::string variant_;
    std::vector<std::string> colours_; // of the palette
};

} // namespace

CourseSheet parse_course_sheet(std::string_view text, std::string_view file, std::string_view variant,
                               const FindDrawing& find_drawing) {
    expect_kind(text, file, FileKind::course);
    return CourseReader(text, file, variant).read(find_drawing);
}

} // namespace vast_turn
