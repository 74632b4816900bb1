#include "vast_turn/formats/read/course_sheet.hpp"

#include <algorithm>
#include <filesystem>
#include <iterator>
#include <set>
#include <utility>

#include <fmt/format.h>

#include "formats/read/drawing_keys.hpp"
#include "formats/read/file_kind.hpp"
#include "formats/read/item_reader.hpp"
#include "formats/read/laid_reader.hpp"
#include "formats/read/outside_reader.hpp"
#include "formats/read/toml_reader.hpp"
#include "formats/read/trip_reader.hpp"

namespace vast_turn {

namespace {

class CourseReader {
public:
    CourseReader(std::string_view text, std::string_view file, std::string_view variant)
        : toml_(text, file), root_(toml_.root()), variant_(variant) {
        course_.file = file;
    }

    CourseSheet read(const FindDrawing& find_drawing, const FindPieces& find_pieces) {
        const std::string name = root_.text("name");
        if (root_.has("pieces")) {
            read_laid(toml_, root_, variant_, find_pieces, sheet_, course_);
            tape_width_mm_ = course_.line_widths_mm.empty() ? tape_width_mm_ : course_.line_widths_mm.front();
            const std::vector<Piece>& pieces = sheet_.laid->set.pieces;
            in_the_way(std::any_of(pieces.begin(), pieces.end(),
                                   [](const Piece& piece) { return !piece.board.drawing.empty(); }));
        } else {
            drawing(find_drawing);
            board();
            palette();
        }
        course_.name = name;
        for (const auto& [colour, rgb] : course_.palette) {
            colours_.push_back(colour);
        }
        ItemReader(root_, course_, tape_width_mm_).read();
        course_.lights = read_lights(root_);
        course_.irons = read_irons(root_);
        variants();
        sheet_.trips = read_trips(root_, course_, course_.file);
        if (is_shuffled()) { // each layout is taken by itself
            for (Trip& trip : sheet_.trips) {
                trip.variants = {course_.variant};
            }
        }
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
        in_the_way(!course_.drawing.empty());
        // Half a millimetre where that is no burden: readings are four times as exact as with one.
        constexpr double most_fine_cells = 16e6;
        const double fine_cells = course_.width_mm * course_.height_mm / (0.5 * 0.5);
        sheet_.cell_mm = root_.number("cell_mm", {0.1, 1.0}, fine_cells <= most_fine_cells ? 0.5 : 1.0);
    }

    void in_the_way(bool is_drawn) {
        course_.in_the_way = read_in_the_way(root_, is_drawn);
        for (const InTheWay& one : course_.in_the_way) {
            course_.line_hints.leave_out_colours.push_back(one.colour);
        }
    }

    void palette() {
        TomlTable table = root_.table("palette");
        for (const std::string& name : table.all_keys()) {
            course_.palette[name] = table.colour(name.c_str());
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
        for (const InTheWay& one : course_.in_the_way) {
            all.push_back(one.name);
        }
        std::set<std::string> taken{as_drawn};
        if (is_shuffled() && root_.has("variant")) {
            root_.fault("variant", "a shuffled course has no variants but its layouts",
                        "lay the pieces out (layout), or draw other pieces");
        }
        for (TomlTable& table : root_.tables("variant")) {
            Variant variant;
            variant.name = table.text("name");
            unique(table, variant.name, taken, "variants");
            if (table.has("without")) {
                variant.without = table.texts("without");
            }
            for (const std::string& name : variant.without) {
                if (!is_drawn_in_the_way(name)) {
                    known(table, "without", name, all, "named marker and no thing");
                }
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

    /// "bench", or "bench 2": how many there are shows when the drawing is looked at.
    bool is_drawn_in_the_way(const std::string& name) const {
        return std::any_of(course_.in_the_way.begin(), course_.in_the_way.end(),
                           [&](const InTheWay& one) { return is_of(one, name); });
    }

    static bool is_of(const InTheWay& one, const std::string& name) {
        const std::string numbered = one.name + " ";
        return name == one.name || (name.starts_with(numbered) && name.size() > numbered.size() &&
                                    name.find_first_not_of("0123456789", numbered.size()) == std::string::npos);
    }

    static void known(TomlTable& table, const char* key, const std::string& name, const std::vector<std::string>& names,
                      const char* what) {
        if (std::find(names.begin(), names.end(), name) == names.end()) {
            table.fault(key, fmt::format("\"{}\" is no {} of this file{}", name, what, did_you_mean(name, names)),
                        names.empty() ? "give the marker a name; plates of a drawing cannot be changed"
                                      : fmt::format("there are {}", one_of(names)));
        }
    }

    bool is_shuffled() const { return course_.laid && course_.laid->number > 0; }

    void make_variant() {
        if (variant_ == as_drawn || is_shuffled()) {
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
        for (InTheWay& one : course_.in_the_way) {
            std::copy_if(variant->without.begin(), variant->without.end(), std::back_inserter(one.away),
                         [&](const std::string& name) { return is_of(one, name); });
        }
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
                               const FindDrawing& find_drawing, const FindPieces& find_pieces) {
    expect_kind(text, file, FileKind::course);
    return CourseReader(text, file, variant).read(find_drawing, find_pieces);
}

} // namespace vast_turn
