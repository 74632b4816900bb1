#include "vast_turn/course/board/tape_ends.hpp"

#include <algorithm>
#include <cstddef>

namespace vast_turn {

namespace {

/// A piece of tape, and the box about its middle.
struct StuckPiece {
    std::vector<Vec2> path;
    std::size_t tape = 0;
    double half_width_mm = 0.0;
    Vec2 least;
    Vec2 most;

    bool covers(Vec2 p) const {
        const double h = half_width_mm;
        if (p.x < least.x - h || p.y < least.y - h || p.x > most.x + h || p.y > most.y + h) {
            return false;
        }
        for (std::size_t i = 0; i + 1 < path.size(); ++i) {
            if (length(p - nearest_on_segment(p, path[i], path[i + 1])) < h) {
                return true;
            }
        }
        return false;
    }
};

std::vector<StuckPiece> stuck_pieces(const Course& course) {
    std::vector<StuckPiece> pieces;
    for (std::size_t number = 0; number < course.tapes.size(); ++number) {
        for (std::vector<Vec2>& path : pieces_of(course.tapes[number])) {
            StuckPiece piece{std::move(path), number, 0.5 * course.tapes[number].width_mm, {}, {}};
            piece.least = piece.most = piece.path.front();
            for (const Vec2 p : piece.path) {
                piece.least = {std::min(piece.least.x, p.x), std::min(piece.least.y, p.y)};
                piece.most = {std::max(piece.most.x, p.x), std::max(piece.most.y, p.y)};
            }
            pieces.push_back(std::move(piece));
        }
    }
    return pieces;
}

} // namespace

std::vector<TapeEnd> tape_ends(const Course& course) {
    const std::vector<StuckPiece> pieces = stuck_pieces(course);
    std::vector<TapeEnd> ends;
    const auto add = [&](const StuckPiece& of, Vec2 at, Vec2 next) {
        constexpr double seam_mm = 1e-6;
        const Tape& tape = course.tapes[of.tape];
        if (tape.closed && length(at - tape.path.front()) < seam_mm) {
            return; // where a closed tape begins it does not end
        }
        const bool held = std::any_of(pieces.begin(), pieces.end(), [&](const StuckPiece& other) {
            return other.tape != of.tape && other.covers(at);
        });
        const Vec2 step = next - at;
        if (!held && length(step) > 0.0) {
            ends.push_back({at, (1.0 / length(step)) * step, of.half_width_mm});
        }
    };
    for (const StuckPiece& piece : pieces) {
        add(piece, piece.path.front(), piece.path[1]);
        add(piece, piece.path.back(), piece.path[piece.path.size() - 2]);
    }
    return ends;
}

} // namespace vast_turn
