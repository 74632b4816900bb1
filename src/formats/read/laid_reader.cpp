#include "formats/read/laid_reader.hpp"

#include <algorithm>
#include <charconv>
#include <filesystem>
#include <utility>

#include <fmt/format.h>

#include "formats/read/drawing_keys.hpp"
#include "vast_turn/course/pieces/lay_out.hpp"
#include "vast_turn/course/pieces/shuffle.hpp"
#include "vast_turn/formats/read/pieces_file.hpp"

namespace vast_turn {

namespace {

constexpr int most_layouts = 1'000'000;

/// The number in "layout 17"; 1 for the course as drawn.
int layout_number(const std::string& variant, const std::string& file) {
    if (variant == as_drawn) {
        return 1;
    }
    constexpr std::string_view word = "layout ";
    int number = 0;
    const char* end = variant.data() + variant.size();
    const bool begins = variant.starts_with(word);
    const auto [stopped, error] = std::from_chars(variant.data() + (begins ? word.size() : 0), end, number);
    if (!begins || error != std::errc{} || stopped != end || number < 1 || number > most_layouts) {
        throw InputError(file, fmt::format("\"{}\" is no layout of this shuffled course", variant),
                         fmt::format("write \"layout 1\" to \"layout {}\"", most_layouts));
    }
    return number;
}

Layout layout_in(TomlTable& root, const PieceSet& set) {
    std::optional<Problem> problem;
    Layout layout = parse_layout(root.text("layout"), set, problem);
    if (problem) {
        root.fault_in_text("layout", problem->place.line, problem->place.column, problem->place.length,
                           problem->message, problem->cure);
    } else if (std::none_of(layout.cells.begin(), layout.cells.end(),
                            [](const auto& one) { return one.has_value(); })) {
        root.fault("layout", "no piece lies in this layout", "write a row of pieces a line; . is bare floor");
    }
    return layout;
}

Layout shuffled(TomlTable& root, const PieceSet& set, LaidOut& laid) {
    TomlTable table = root.table("shuffled");
    ShuffleRules rules;
    rules.pieces = table.whole("pieces", {2.0, 400.0});
    laid.layouts = table.whole("seeds", {1.0, 10000.0}, 1);
    rules.columns = table.whole("columns", {1.0, most_layout_side}, 0);
    rules.rows = table.whole("rows", {1.0, most_layout_side}, 0);
    table.done();
    return shuffle_pieces(set, rules, static_cast<std::uint64_t>(laid.number));
}

} // namespace

void read_laid(TomlText& toml, TomlTable& root, const std::string& variant, const FindPieces& find_pieces,
               CourseSheet& sheet, Course& course) {
    const std::string file = course.file;
    LaidOut laid;
    laid.pieces = (std::filesystem::path(file).parent_path() / root.text("pieces")).string();
    const bool is_shuffled = root.has("shuffled");
    if (is_shuffled == root.has("layout")) {
        root.fault(
            "pieces", is_shuffled ? "`layout` and `shuffled` exclude each other" : "nothing says how they lie",
            "write layout = \"\"\"...\"\"\" with a row of pieces a line, or shuffled = { pieces = 14, seeds = 60 }");
    }
    for (const char* key : {"drawing", "size_mm", "floor", "line", "palette"}) {
        if (root.has(key)) {
            root.fault(key, "of a course of pieces this is said by the file of the pieces", "write it there");
        }
    }
    toml.finish(); // what is wrong here comes before what it makes of the pieces
    laid.number = is_shuffled ? layout_number(variant, file) : 0;
    PieceSet set = find_pieces ? find_pieces(laid.pieces) : load_pieces(laid.pieces);
    const Layout layout = is_shuffled ? shuffled(root, set, laid) : layout_in(root, set);
    toml.finish();
    course = lay_out(set, layout);
    course.file = file;
    laid.layout = text_of(layout, set);
    if (is_shuffled) {
        course.variant = fmt::format("layout {}", laid.number);
    }
    constexpr double longest_board = board_size.high;
    if (std::max(course.width_mm, course.height_mm) > longest_board) {
        root.fault(is_shuffled ? "shuffled" : "layout",
                   fmt::format("this board is {:g} x {:g} mm", course.width_mm, course.height_mm),
                   fmt::format("at most {:g} mm a side: lay fewer pieces in a row", longest_board));
        toml.finish();
    }
    constexpr double most_fine_cells = 16e6;
    const double fine_cells = course.width_mm * course.height_mm / (0.5 * 0.5);
    sheet.cell_mm = root.number("cell_mm", {0.1, 1.0}, fine_cells <= most_fine_cells ? 0.5 : 1.0);
    sheet.floor_given = true;
    sheet.line_given = true;
    course.laid = std::move(laid);
    sheet.laid = LaidPieces{std::move(set), layout};
}

} // namespace vast_turn
