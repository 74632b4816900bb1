#pragma once

/// Square pieces of floor, of which courses are laid out.

#include <array>
#include <cstdint>
#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "vast_turn/base/problem.hpp"
#include "vast_turn/course/board/course.hpp"

namespace vast_turn {

/// A side of a piece as it is drawn; counter-clockwise, so that a quarter turn makes each the next.
enum class Side : std::uint8_t { east, north, west, south };

/// "east", "north", "west", "south".
const char* name_of(Side side);

/// The side after so many quarter turns counter-clockwise; they may be negative.
constexpr Side turned(Side side, int quarters) {
    return static_cast<Side>((static_cast<int>(side) + quarters % 4 + 4) % 4);
}
/// The side that the neighbour there shows.
constexpr Side opposite(Side side) { return turned(side, 2); }

/// All of them.
inline constexpr std::array<Side, 4> all_sides = {Side::east, Side::north, Side::west, Side::south};

/// A place in a grid of pieces.
struct GridCell {
    int column = 0;
    int row = 0;
    friend constexpr bool operator==(const GridCell&, const GridCell&) = default;
    /// By rows, then columns.
    friend constexpr bool operator<(const GridCell& a, const GridCell& b) {
        return a.row != b.row ? a.row < b.row : a.column < b.column;
    }
};

/// The neighbour on a side.
constexpr GridCell beyond(GridCell cell, Side side) {
    return {cell.column + (side == Side::east ? 1 : 0) - (side == Side::west ? 1 : 0),
            cell.row + (side == Side::south ? 1 : 0) - (side == Side::north ? 1 : 0)};
}

/// What a piece is for when a course is shuffled.
enum class PieceRole : std::uint8_t {
    way,   ///< the way leads through it
    start, ///< the way begins on it
    end,   ///< the way ends on it
    stub,  ///< closes a line that is not on the way
};

/// "way", "start", "end", "stub".
const char* name_of(PieceRole role);

/// One piece.
struct Piece {
    std::string name;
    std::vector<Side> ways; ///< sides over whose middle a line leads in and out
    /// Out by which side who comes in by a side is to go. Of a piece with two ways each leads to the other.
    std::map<Side, Side> leads;
    PieceRole role = PieceRole::way;
    int often = 1;                             ///< its weight when one is drawn
    std::optional<int> at_most = std::nullopt; ///< so many of it there are; any number when not given
    /// What lies on it, in its own frame: millimetres from its top left. Without a surface; `drawing` when it is drawn.
    Course board;

    /// Whether a line leads over this side.
    bool has_way(Side side) const;
};

/// Pieces of one size that go together.
struct PieceSet {
    std::string name;
    std::string file;     ///< as it was named when read; empty when made in memory
    double side_mm = 0.0; ///< of each
    Rgb floor{237, 234, 226};
    Rgb line{27, 27, 27};
    std::vector<double> line_widths_mm; ///< as Course::line_widths_mm
    std::map<std::string, Rgb> palette;
    std::vector<Piece> pieces;

    /// The number of the piece of this name; none when there is no such piece.
    std::optional<std::size_t> find(std::string_view piece_name) const;
};

/// A piece as it lies in a layout.
struct LaidPiece {
    std::size_t piece = 0; ///< of the set
    int quarters = 0;      ///< 0 to 3 quarter turns counter-clockwise
};

/// Where which piece lies: a grid, row by row from the top left; bare floor where there is none.
struct Layout {
    int columns = 0;
    int rows = 0;
    std::vector<std::optional<LaidPiece>> cells; ///< columns x rows

    /// What lies there; nothing beyond the grid.
    const std::optional<LaidPiece>& at(int column, int row) const;
};

/// The most pieces of a set, and columns and rows of a layout.
inline constexpr std::size_t most_pieces = 500;
inline constexpr int most_layout_side = 60; ///< and rows

/// Reads a layout: a row a line, cells parted by blanks; a name of a piece, with `/90`, `/180` or `/270` when it lies
/// turned so many degrees counter-clockwise; a full stop is bare floor. Rows that end early go on bare. On a fault
/// `problem` says it, with the line and column of the text from 1, and what is returned is empty.
///
///     door   aisle    bend/180
///     .      .        pot/90
Layout parse_layout(std::string_view text, const PieceSet& set, std::optional<Problem>& problem);

/// The same text, in columns.
std::string text_of(const Layout& layout, const PieceSet& set);

/// Whether a line leads over a side of what lies there.
bool has_way(const PieceSet& set, const std::optional<LaidPiece>& laid, Side side);

} // namespace vast_turn
