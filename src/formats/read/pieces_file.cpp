#include "vast_turn/formats/read/pieces_file.hpp"

#include <algorithm>
#include <filesystem>
#include <set>
#include <utility>

#include <fmt/format.h>

#include "formats/read/drawing_keys.hpp"
#include "formats/read/file_kind.hpp"
#include "formats/read/item_reader.hpp"
#include "formats/read/toml_reader.hpp"
#include "vast_turn/formats/read/text_file.hpp"

namespace vast_turn {

namespace {

/// The middle of a side of a piece.
Vec2 middle_of(Side side, double side_mm) {
    const double half = 0.5 * side_mm;
    switch (side) {
    case Side::east: return {side_mm, half};
    case Side::north: return {half, 0.0};
    case Side::west: return {0.0, half};
    case Side::south: return {half, side_mm};
    }
    return {half, half};
}

class PiecesReader {
public:
    PiecesReader(std::string_view text, std::string_view file, const FindDrawing& find_drawing)
        : toml_(text, file), root_(toml_.root()), find_drawing_(find_drawing) {
        set_.file = file;
        for (const Side side : all_sides) {
            sides_.emplace_back(name_of(side));
        }
    }

    PieceSet read() {
        set_.name = root_.text("name");
        set_.side_mm = root_.number("side_mm", {10.0, 3000.0});
        set_.floor = root_.colour("floor", set_.floor);
        TomlTable line = root_.table("line");
        set_.line = line.colour("colour", set_.line);
        if (line.has("width_mm")) {
            tape_width_mm_ = line.number("width_mm", tape_width);
            set_.line_widths_mm = {tape_width_mm_};
        }
        line.done();
        TomlTable palette = root_.table("palette");
        for (const std::string& name : palette.all_keys()) {
            set_.palette[name] = palette.colour(name.c_str());
        }
        std::set<std::string> taken;
        for (TomlTable& table : root_.tables("piece")) {
            Piece one = piece(table);
            unique(table, one.name, taken, "pieces");
            set_.pieces.push_back(std::move(one));
        }
        root_.done();
        if (set_.pieces.empty() || set_.pieces.size() > most_pieces) {
            root_.fault("piece", fmt::format("this set has {} pieces", set_.pieces.size()),
                        fmt::format("write a [[piece]] for each, at most {}", most_pieces));
        }
        toml_.finish();
        return std::move(set_);
    }

private:
    Piece piece(TomlTable& table) {
        Piece piece;
        piece.name = table.text("name");
        if (piece.name == "." || piece.name.find_first_of(" \t/\"\\") != std::string::npos) {
            table.fault("name", "a layout could not name this piece", "no blanks, slashes or quotation marks");
        }
        ways(table, piece);
        const std::vector<std::string> roles = {"way", "start", "end", "stub"};
        const std::string role = table.one_of("role", roles, "way");
        piece.role = static_cast<PieceRole>(std::find(roles.begin(), roles.end(), role) - roles.begin());
        piece.often = table.whole("often", {1.0, 1000.0}, 1);
        if (table.has("at_most")) {
            piece.at_most = table.whole("at_most", {1.0, 10000.0});
        }
        Course& board = piece.board;
        board.name = piece.name;
        board.file = set_.file;
        board.width_mm = set_.side_mm;
        board.height_mm = set_.side_mm;
        board.floor = set_.floor;
        board.line = set_.line;
        board.palette = set_.palette;
        board.line_widths_mm = set_.line_widths_mm;
        drawing(table, board);
        ItemReader(table, board, tape_width_mm_).read();
        table.done();
        check(table, piece);
        return piece;
    }

    Side side(const std::string& name) const {
        const auto found = std::find(sides_.begin(), sides_.end(), name);
        return found == sides_.end() ? Side::east : static_cast<Side>(found - sides_.begin());
    }

    void ways(TomlTable& table, Piece& piece) {
        for (const std::string& name : table.texts("ways")) {
            if (std::find(sides_.begin(), sides_.end(), name) == sides_.end()) {
                table.fault("ways", fmt::format("\"{}\" is no side{}", name, did_you_mean(name, sides_)),
                            fmt::format("sides are {}", one_of(sides_)));
            } else if (!piece.has_way(side(name))) {
                piece.ways.push_back(side(name));
            }
        }
        TomlTable leads = table.table("leads");
        for (const std::string& in : leads.all_keys()) {
            const std::string out = leads.one_of(in.c_str(), sides_);
            const bool known = std::find(sides_.begin(), sides_.end(), in) != sides_.end();
            if (!known || in == out || !piece.has_way(side(in)) || !piece.has_way(side(out))) {
                leads.fault(in.c_str(), fmt::format("no way leads from {} to {}", in, out),
                            "both must be among its ways");
            } else {
                piece.leads[side(in)] = side(out);
            }
        }
    }

    void drawing(TomlTable& table, Course& board) {
        const std::string name = table.text("drawing", "");
        DrawingKeys keys = read_drawing_keys(table, !name.empty());
        board.line_hints = read_line_hints(table, !name.empty());
        if (name.empty()) {
            return;
        }
        board.drawing = (std::filesystem::path(set_.file).parent_path() / name).string();
        if (!find_drawing_) {
            throw InputError(set_.file, "its pieces are drawn, and whoever reads it here takes no drawings",
                             "read a course of these pieces with load_course()");
        }
        if (!keys.board) {
            keys.board_mm = Vec2{set_.side_mm, set_.side_mm};
        }
        toml_.finish();
        const Vec2 size = find_drawing_(board.drawing, keys, board.warnings);
        constexpr double tolerance_mm = 0.5;
        if (std::max(std::abs(size.x - set_.side_mm), std::abs(size.y - set_.side_mm)) > tolerance_mm) {
            table.fault("drawing",
                        fmt::format("this drawing is {:g} x {:g} mm, a piece {:g} x {:g}", size.x, size.y, set_.side_mm,
                                    set_.side_mm),
                        "draw a square, or name the part of it that is the piece (board)");
        }
    }

    /// What a layout could not see any more.
    void check(TomlTable& table, const Piece& piece) {
        const bool leads_on = piece.role == PieceRole::way;
        if (piece.ways.empty() || (leads_on && piece.ways.size() < 2)) {
            table.fault("ways",
                        fmt::format("a piece whose role is \"{}\" has {} ways", name_of(piece.role), piece.ways.size()),
                        leads_on ? "give it two or more, or another role: start, end, stub" : "name a side");
        }
        if (leads_on && piece.ways.size() > 2 && piece.leads.empty()) {
            table.fault("leads", "nothing says where the way leads through this junction",
                        "write leads = { west = \"north\" }: who comes in from the west goes out to the north");
        }
        if (piece.role == PieceRole::start && piece.board.starts.empty()) {
            table.fault("role", "a start has a pose from which runs begin", "write a [[piece.start]]");
        }
        for (const Side way : piece.ways) {
            const Vec2 at = middle_of(way, set_.side_mm);
            constexpr double near_mm = 1.0;
            const bool is_met = std::any_of(piece.board.tapes.begin(), piece.board.tapes.end(), [&](const Tape& tape) {
                return !tape.path.empty() &&
                       (length(tape.path.front() - at) <= near_mm || length(tape.path.back() - at) <= near_mm);
            });
            if (!is_met && piece.board.drawing.empty()) {
                table.fault(
                    "ways",
                    fmt::format("no tape ends at the middle of its {} side, {:g},{:g} mm", name_of(way), at.x, at.y),
                    "let a path begin or end there, or take the way out");
            }
        }
    }

    TomlText toml_;
    TomlTable root_;
    const FindDrawing& find_drawing_;
    PieceSet set_;
    double tape_width_mm_ = 19.0;
    std::vector<std::string> sides_;
};

} // namespace

PieceSet parse_pieces(std::string_view text, std::string_view file, const FindDrawing& find_drawing) {
    expect_kind(text, file, FileKind::pieces);
    return PiecesReader(text, file, find_drawing).read();
}

PieceSet load_pieces(const std::string& path) { return parse_pieces(read_file(path), path); }

} // namespace vast_turn
