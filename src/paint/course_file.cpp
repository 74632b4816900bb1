#include "vast_turn/paint/course_file.hpp"

#include <algorithm>
#include <filesystem>
#include <memory>
#include <mutex>
#include <optional>
#include <utility>

#include <fmt/format.h>

#include "paint/drawing.hpp"
#include "paint/painter.hpp"
#include "paint/pieces_drawing.hpp"
#include "vast_turn/course/floor/board_outline.hpp"
#include "vast_turn/course/graph/drawn.hpp"
#include "vast_turn/course/graph/obstacles.hpp"
#include "vast_turn/course/graph/plate_colours.hpp"
#include "vast_turn/formats/read/course_sheet.hpp"
#include "vast_turn/formats/read/pieces_file.hpp"
#include "vast_turn/formats/read/text_file.hpp"
#include "vast_turn/formats/read/trips_file.hpp"

namespace vast_turn {

namespace {

/// Adds the lines and plates that the drawing shows. What is found must not be found again in what the file adds.
void find_tapes_and_markers(Course& course, double cell_mm, const Drawing& drawing) {
    Course drawn = course;
    if (!course.tapes.empty() || !course.markers.empty()) {
        drawn.tapes.clear();
        drawn.markers.clear();
        paint_surface(drawn, cell_mm, &drawing);
    }
    find_markers(drawn, drawing.facts().on_floor.pixel_mm);
    find_tapes(drawn);
    for (Tape& tape : drawn.tapes) {
        if (tape.drawn) {
            course.tapes.push_back(std::move(tape));
        }
    }
    for (const Marker& marker : drawn.markers) {
        if (marker.drawn) {
            course.markers.push_back(marker);
        }
    }
}

/// The board on the page that the drawing is, when it has an outline.
void find_board(Course& course, Vec2 mm_per_unit) {
    const std::optional<Area> outline = find_board_outline(course.surface, course.line_widths_mm);
    if (outline) {
        const auto units = [&](Vec2 p) { return Vec2{p.x / mm_per_unit.x, p.y / mm_per_unit.y}; };
        course.board = FoundBoard{*outline, {units(outline->from), units(outline->to)}};
    }
}

/// The surface; a drawing's colours hold where the file gives none.
void paint(CourseSheet& sheet, const Drawing* drawing) {
    Course& course = sheet.course;
    paint_surface(course, sheet.cell_mm, drawing);
    if (drawing == nullptr) {
        return;
    }
    if (sheet.find_board) {
        find_board(course, drawing->facts().on_floor.mm_per_unit);
    }
    if (!sheet.floor_given || !sheet.line_given) { // else nobody asks, and it looks at every cell
        const FoundColours found = find_colours(course.surface, course.palette, area_of(course));
        course.floor = sheet.floor_given ? course.floor : found.floor;
        course.line = sheet.line_given ? course.line : found.line;
    }
    course.surface.beyond = course.floor;
    course.taken = {!sheet.floor_given, !sheet.line_given, false};
    find_obstacles(course);
    if (course.palette.empty()) {
        course.palette = find_plate_colours(course);
        course.taken.palette = !course.palette.empty();
    }
    find_tapes_and_markers(course, sheet.cell_mm, *drawing);
    if (course.tapes.empty() && course.warnings.empty()) { // else it is told already what is odd
        const auto words = [](Rgb c) { return fmt::format("#{:02X}{:02X}{:02X}", c.r, c.g, c.b); };
        course.warnings.push_back(
            {Severity::warning,
             {course.drawing, 0, 0, 1, {}},
             fmt::format("no line was found on this drawing: floor is {}, line {}, the board {:g} x {:g} mm{}",
                         words(course.floor), words(course.line), course.width_mm, course.height_mm,
                         course.line_widths_mm.empty() ? std::string{}
                                                       : fmt::format(", lines {:g} mm wide", course.line_widths_mm[0])),
             "check floor and line.colour, line.width_mm, and the scale (size_mm, mm_per_px, measured)"});
    }
}

/// Whether a path, symbolic links followed, lies in the folder of a file or below it.
bool lies_beside(const std::string& path, const std::string& file) {
    std::error_code fault;
    const auto whole = [&fault](const std::filesystem::path& some) {
        return std::filesystem::weakly_canonical(std::filesystem::absolute(some, fault), fault);
    };
    const std::filesystem::path folder = whole(std::filesystem::path(file).parent_path());
    const std::filesystem::path drawing = whole(path);
    return std::mismatch(folder.begin(), folder.end(), drawing.begin(), drawing.end()).first == folder.end();
}

} // namespace

/// All that the variants and layouts of one course file have in common is read once.
struct CourseReading::Shared {
    std::string text;
    std::string file;
    DrawingRules rules;
    std::mutex lock; ///< of what is below
    std::optional<PieceSet> pieces;
    PiecePictures pictures;
};

CourseReading::CourseReading(std::string text, std::string file, const DrawingRules& rules)
    : shared_(std::make_unique<Shared>()) {
    shared_->text = std::move(text);
    shared_->file = std::move(file);
    shared_->rules = rules;
}

CourseReading::CourseReading(const std::string& path, const DrawingRules& rules)
    : CourseReading(read_file(path), path, rules) {}

CourseReading::~CourseReading() = default;
CourseReading::CourseReading(CourseReading&&) noexcept = default;
CourseReading& CourseReading::operator=(CourseReading&&) noexcept = default;

std::unique_ptr<Drawing> CourseReading::drawing_at(const std::string& path, const DrawingKeys& keys) const {
    if (!shared_->rules.anywhere && !lies_beside(path, shared_->file)) {
        throw InputError(shared_->file, fmt::format("its drawing \"{}\" lies outside the folder of the course", path),
                         "copy it beside the course; or, when you trust the file, allow it: "
                         "--drawings-anywhere, DrawingRules::anywhere");
    }
    return read_drawing(path, keys, shared_->rules.apart);
}

PieceSet CourseReading::pieces_at(const std::string& path) const {
    const std::lock_guard<std::mutex> guard(shared_->lock);
    if (!shared_->pieces) {
        if (!shared_->rules.anywhere && !lies_beside(path, shared_->file)) {
            throw InputError(shared_->file, fmt::format("its pieces \"{}\" lie outside the folder of the course", path),
                             "copy them beside the course; or, when you trust the file, allow it: "
                             "--drawings-anywhere, DrawingRules::anywhere");
        }
        shared_->pieces = pieces_in(read_file(path), path);
    }
    return *shared_->pieces;
}

PieceSet CourseReading::pieces_in(std::string_view text, const std::string& path) const {
    return parse_pieces(text, path,
                        [&](const std::string& name, const DrawingKeys& keys, std::vector<Problem>& warnings) {
                            std::unique_ptr<Drawing> drawing = drawing_at(name, keys);
                            warnings = drawing->facts().warnings;
                            return shared_->pictures.add(name, std::move(drawing));
                        });
}

void check_pieces(std::string_view text, const std::string& file, const DrawingRules& rules) {
    CourseReading({}, file, rules).pieces_in(text, file);
}

CourseFile CourseReading::read(std::string_view variant) const {
    std::unique_ptr<Drawing> drawing;
    CourseSheet sheet = parse_course_sheet(
        shared_->text, shared_->file, variant,
        [&](const std::string& path, const DrawingKeys& keys, std::vector<Problem>& warnings) {
            drawing = drawing_at(path, keys);
            warnings = drawing->facts().warnings;
            return drawing->facts().on_floor.board_mm;
        },
        [this](const std::string& path) { return pieces_at(path); });
    if (sheet.laid) {
        drawing = draw_pieces(sheet.laid->set, sheet.laid->layout, sheet.cell_mm, shared_->pictures);
    }
    paint(sheet, drawing.get());
    if (drawing != nullptr) {
        sheet.course.drawing_notes = drawing->facts().notes;
    }
    sheet.course.drawn_apart = drawing != nullptr && (drawing->is_apart() || (sheet.laid && shared_->rules.apart));
    return {std::move(sheet.course), std::move(sheet.trips)};
}

CourseFile parse_course_file(std::string_view text, std::string_view file, std::string_view variant,
                             const DrawingRules& rules) {
    return CourseReading(std::string(text), std::string(file), rules).read(variant);
}

CourseFile load_course_file(const std::string& path, std::string_view variant, const DrawingRules& rules) {
    return parse_course_file(read_file(path), path, variant, rules);
}

Course parse_course(std::string_view text, std::string_view file, std::string_view variant) {
    return parse_course_file(text, file, variant).course;
}

Course load_course(const std::string& path, std::string_view variant, const DrawingRules& rules) {
    return load_course_file(path, variant, rules).course;
}

TripGround CourseReading::trip_ground(const Robot& robot, const std::string& trips_path, std::string_view only_variant,
                                      bool robot_says_days) const {
    return trip_ground(read(only_variant), robot, trips_path, only_variant, robot_says_days);
}

TripGround CourseReading::trip_ground(CourseFile file, const Robot& robot, const std::string& trips_path,
                                      std::string_view only_variant, bool robot_says_days) const {
    TripSheet sheet{std::move(file.trips), {}};
    if (!trips_path.empty()) {
        sheet = load_trip_sheet(trips_path, file.course);
    }
    std::vector<Trip> trips = std::move(sheet.trips);
    Robot driven = robot;
    if (sheet.variation && !robot_says_days) {
        driven.variation = std::move(*sheet.variation);
    }
    if (trips.empty()) {
        throw InputError(shared_->file, "the course has no trips to take",
                         "add a [[trip]] with name, from and visits or choices, or name a file of trips with --trips");
    }
    const bool is_shuffled = file.course.laid && file.course.laid->number > 0;
    if (is_shuffled || only_variant != as_drawn) {
        std::erase_if(trips, [&](const Trip& trip) {
            const std::vector<std::string> own = variants_of(file.course, trip);
            return !is_shuffled && std::find(own.begin(), own.end(), only_variant) == own.end();
        });
        for (Trip& trip : trips) {
            trip.variants = {file.course.variant};
        }
        if (trips.empty()) {
            throw InputError(shared_->file, fmt::format("no trip is driven over \"{}\"", only_variant),
                             "name another variant");
        }
    }
    std::vector<Course> courses;
    for (const std::string& variant : variants_of(file.course, trips)) {
        if (variant != file.course.variant) {
            courses.push_back(read(variant).course);
            courses.back().surface.cells.share_with(file.course.surface.cells);
        }
    }
    courses.insert(courses.begin(), std::move(file.course));
    return TripGround(std::move(courses), driven, trips);
}

TripGround load_trip_ground(const std::string& course_path, const Robot& robot, const std::string& trips_path,
                            const DrawingRules& rules, bool robot_says_days) {
    return CourseReading(course_path, rules)
        .trip_ground(robot, trips_path, as_drawn, robot_says_days); // the text once: it may be a pipe
}

} // namespace vast_turn
