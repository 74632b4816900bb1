#include "vast_turn/course/pieces/lay_out.hpp"

#include <algorithm>
#include <map>
#include <utility>

#include <fmt/format.h>

namespace vast_turn {

namespace {

class PieceLayer {
public:
    PieceLayer(const PieceSet& set, const Layout& layout) : set_(set), layout_(layout) {
        course_.file = set.file;
        course_.width_mm = layout.columns * set.side_mm;
        course_.height_mm = layout.rows * set.side_mm;
        course_.floor = set.floor;
        course_.line = set.line;
        course_.palette = set.palette;
        course_.line_widths_mm = set.line_widths_mm;
    }

    Course run() {
        for (const Piece& piece : set_.pieces) { // what holds wherever a piece lies
            const Course& board = piece.board;
            course_.warnings.insert(course_.warnings.end(), board.warnings.begin(), board.warnings.end());
            add(course_.line_hints.leave_out_colours, board.line_hints.leave_out_colours);
            add(course_.line_hints.take_in_colours, board.line_hints.take_in_colours);
        }
        for (row_ = 0; row_ < layout_.rows; ++row_) {
            for (column_ = 0; column_ < layout_.columns; ++column_) {
                const std::optional<LaidPiece>& laid = layout_.at(column_, row_);
                if (laid) {
                    laid_ = *laid;
                    lay();
                    check_neighbours();
                }
            }
        }
        return std::move(course_);
    }

private:
    static void add(std::vector<Rgb>& colours, const std::vector<Rgb>& more) {
        for (const Rgb colour : more) {
            if (std::find(colours.begin(), colours.end(), colour) == colours.end()) {
                colours.push_back(colour);
            }
        }
    }

    void lay() {
        const Course& board = set_.pieces[laid_.piece].board;
        for (Tape tape : board.tapes) {
            for (Vec2& p : tape.path) {
                p = moved(p);
            }
            course_.tapes.push_back(std::move(tape));
        }
        for (Marker marker : board.markers) {
            marker.at = moved(marker.at);
            marker.heading_deg += turn();
            marker.name = marker.name.empty() ? "" : numbered(marker.name, "marker");
            course_.markers.push_back(std::move(marker));
        }
        for (CoursePlace place : board.places) {
            place.at = moved(place.at);
            place.name = numbered(place.name, "place");
            course_.places.push_back(std::move(place));
        }
        for (Thing thing : board.things) {
            thing.at = moved(thing.at);
            thing.heading_deg += turn();
            thing.name = numbered(thing.name, "thing");
            course_.things.push_back(std::move(thing));
        }
        for (const Wall& wall : board.walls) {
            course_.walls.push_back({moved(wall.from), moved(wall.to)});
        }
        for (StartPose start : board.starts) {
            start.pose = {moved(start.pose.at), start.pose.heading_deg + turn()};
            start.name = numbered(start.name, "start");
            course_.starts.push_back(std::move(start));
        }
        const LineHints& hints = board.line_hints;
        for (const Area& area : hints.leave_out) {
            course_.line_hints.leave_out.push_back(moved(area));
        }
        for (const Area& area : hints.take_in) {
            course_.line_hints.take_in.push_back(moved(area));
        }
    }

    Vec2 moved(Vec2 p) const { return laid_point(set_, laid_, column_, row_, p); }
    Area moved(const Area& area) const {
        const Vec2 a = moved(area.from);
        const Vec2 b = moved(area.to);
        return {{std::min(a.x, b.x), std::min(a.y, b.y)}, {std::max(a.x, b.x), std::max(a.y, b.y)}};
    }
    double turn() const { return 90.0 * laid_.quarters; }

    std::string numbered(const std::string& name, const char* what) {
        const int count = ++taken_[fmt::format("{} {}", what, name)];
        return count == 1 ? name : fmt::format("{} {}", name, count);
    }

    /// Who runs out of the grid not at all: the board ends there for all to see.
    void check_neighbours() {
        for (const Side side : all_sides) {
            const GridCell next = beyond({column_, row_}, side);
            const std::optional<LaidPiece>& other = layout_.at(next.column, next.row);
            if (!other || !has_way(set_, laid_, side) || has_way(set_, other, opposite(side))) {
                continue;
            }
            Problem against;
            against.severity = Severity::warning;
            against.place.file = set_.file;
            against.message = fmt::format(
                "the line of {} in column {} of row {} runs {} against {}, which has no way there",
                set_.pieces[laid_.piece].name, column_ + 1, row_ + 1, name_of(side), set_.pieces[other->piece].name);
            against.cure = "turn one of them, or lay another piece there";
            course_.warnings.push_back(std::move(against));
        }
    }

    const PieceSet& set_;
    const Layout& layout_;
    Course course_;
    std::map<std::string, int> taken_;
    LaidPiece laid_;
    int column_ = 0;
    int row_ = 0;
};

} // namespace

Course lay_out(const PieceSet& set, const Layout& layout) { return PieceLayer(set, layout).run(); }

Vec2 laid_point(const PieceSet& set, const LaidPiece& laid, int column, int row, Vec2 on_piece) {
    const double middle = 0.5 * set.side_mm;
    Vec2 off{on_piece.x - middle, on_piece.y - middle};
    for (int i = 0; i < laid.quarters; ++i) {
        off = {off.y, -off.x}; // y points down: a quarter turn counter-clockwise
    }
    return {column * set.side_mm + middle + off.x, row * set.side_mm + middle + off.y};
}

} // namespace vast_turn
