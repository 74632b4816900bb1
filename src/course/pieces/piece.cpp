#include "vast_turn/course/pieces/piece.hpp"

#include <algorithm>

#include <fmt/format.h>

namespace vast_turn {

namespace {

/// One cell of a layout's text, or what is wrong with it.
std::optional<LaidPiece> laid_piece(std::string_view words, const PieceSet& set, std::optional<Problem>& problem) {
    const std::size_t slash = words.find('/');
    const std::string_view name = words.substr(0, slash);
    const std::optional<std::size_t> piece = set.find(name);
    if (!piece) {
        std::vector<std::string> known;
        for (const Piece& one : set.pieces) {
            known.push_back(one.name);
        }
        problem = Problem{Severity::error,
                          {},
                          fmt::format("\"{}\" is no piece of the set{}", name, did_you_mean(std::string(name), known)),
                          fmt::format("pieces are {}; . is bare floor", one_of(known))};
        return std::nullopt;
    }
    const std::string_view turn = slash == std::string_view::npos ? "0" : words.substr(slash + 1);
    for (int quarters = 0; quarters < 4; ++quarters) {
        if (turn == fmt::format("{}", 90 * quarters)) {
            return LaidPiece{*piece, quarters};
        }
    }
    problem = Problem{Severity::error,
                      {},
                      fmt::format("a piece cannot lie turned by \"{}\"", turn),
                      "write /90, /180 or /270, counter-clockwise"};
    return std::nullopt;
}

} // namespace

const char* name_of(Side side) {
    constexpr std::array<const char*, 4> names = {"east", "north", "west", "south"};
    return names.at(static_cast<std::size_t>(side));
}

const char* name_of(PieceRole role) {
    constexpr std::array<const char*, 4> names = {"way", "start", "end", "stub"};
    return names.at(static_cast<std::size_t>(role));
}

bool Piece::has_way(Side side) const { return std::find(ways.begin(), ways.end(), side) != ways.end(); }

std::optional<std::size_t> PieceSet::find(std::string_view piece_name) const {
    for (std::size_t i = 0; i < pieces.size(); ++i) {
        if (pieces[i].name == piece_name) {
            return i;
        }
    }
    return std::nullopt;
}

const std::optional<LaidPiece>& Layout::at(int column, int row) const {
    static const std::optional<LaidPiece> bare;
    if (column < 0 || row < 0 || column >= columns || row >= rows) {
        return bare;
    }
    return cells[static_cast<std::size_t>(row) * static_cast<std::size_t>(columns) + static_cast<std::size_t>(column)];
}

Layout parse_layout(std::string_view text, const PieceSet& set, std::optional<Problem>& problem) {
    std::vector<std::vector<std::optional<LaidPiece>>> grid;
    std::size_t widest = 0;
    int line = 0;
    while (!text.empty() && !problem) {
        const std::size_t end = text.find('\n');
        const std::string_view row = text.substr(0, end);
        text = end == std::string_view::npos ? std::string_view{} : text.substr(end + 1);
        ++line;
        std::vector<std::optional<LaidPiece>> cells;
        constexpr std::string_view blanks = " \t\r";
        for (std::size_t at = row.find_first_not_of(blanks); at != std::string_view::npos && !problem;) {
            const std::size_t stop = std::min(row.find_first_of(blanks, at), row.size());
            const std::string_view words = row.substr(at, stop - at);
            cells.push_back(words == "." ? std::nullopt : laid_piece(words, set, problem));
            if (cells.size() > static_cast<std::size_t>(most_layout_side)) {
                problem = Problem{
                    Severity::error,
                    {},
                    fmt::format("a layout has at most {} columns and {} rows", most_layout_side, most_layout_side),
                    "part the course"};
            }
            if (problem) {
                problem->place.line = line;
                problem->place.column = static_cast<int>(at) + 1;
                problem->place.length = static_cast<int>(words.size());
            }
            at = row.find_first_not_of(blanks, stop);
        }
        if (!cells.empty()) {
            widest = std::max(widest, cells.size());
            grid.push_back(std::move(cells));
        }
        if (!problem && grid.size() > static_cast<std::size_t>(most_layout_side)) {
            problem =
                Problem{Severity::error,
                        {{}, line, 1, 1, {}},
                        fmt::format("a layout has at most {} columns and {} rows", most_layout_side, most_layout_side),
                        "part the course"};
        }
    }
    Layout layout;
    if (!problem) {
        layout.columns = static_cast<int>(widest);
        layout.rows = static_cast<int>(grid.size());
        for (std::vector<std::optional<LaidPiece>>& row : grid) {
            row.resize(widest);
            layout.cells.insert(layout.cells.end(), row.begin(), row.end());
        }
    }
    return layout;
}

std::string text_of(const Layout& layout, const PieceSet& set) {
    const auto words = [&](int column, int row) -> std::string {
        const std::optional<LaidPiece>& laid = layout.at(column, row);
        if (!laid) {
            return ".";
        }
        const std::string& name = set.pieces[laid->piece].name;
        return laid->quarters == 0 ? name : fmt::format("{}/{}", name, 90 * laid->quarters);
    };
    std::string text;
    for (int row = 0; row < layout.rows; ++row) {
        std::string line;
        for (int column = 0; column < layout.columns; ++column) {
            std::size_t wide = 0;
            for (int other = 0; other < layout.rows; ++other) {
                wide = std::max(wide, words(column, other).size());
            }
            line += fmt::format("{:<{}}  ", words(column, row), wide);
        }
        line.erase(line.find_last_not_of(' ') + 1);
        text += line + "\n";
    }
    return text;
}

bool has_way(const PieceSet& set, const std::optional<LaidPiece>& laid, Side side) {
    return laid && set.pieces[laid->piece].has_way(turned(side, -laid->quarters));
}

} // namespace vast_turn
