#include "vast_turn/course/pieces/shuffle.hpp"

#include <algorithm>
#include <cmath>
#include <set>
#include <utility>

#include <fmt/format.h>

#include "vast_turn/base/noise.hpp"

namespace vast_turn {

namespace {

/// The side by which who comes in is to leave.
std::optional<Side> way_out(const Piece& piece, Side in) {
    const auto leads = piece.leads.find(in);
    if (leads != piece.leads.end()) {
        return leads->second;
    }
    if (piece.leads.empty() && piece.ways.size() == 2 && piece.has_way(in)) {
        return piece.ways[0] == in ? piece.ways[1] : piece.ways[0];
    }
    return std::nullopt;
}

/// Search with drawn candidates, step by step back where nothing fits.
class Shuffler {
public:
    Shuffler(const PieceSet& set, const ShuffleRules& rules, std::uint64_t seed)
        : set_(set), rules_(rules), seed_(seed), laid_(set.pieces.size(), 0) {
        const int square = std::min(most_layout_side, static_cast<int>(std::ceil(std::sqrt(3.0 * rules.pieces))));
        layout_.columns = rules.columns > 0 ? rules.columns : square;
        layout_.rows = rules.rows > 0 ? rules.rows : square;
        for (const Piece& piece : set.pieces) {
            has_stubs_ = has_stubs_ || piece.role == PieceRole::stub;
        }
    }

    Layout run() {
        check_set();
        // Counted in candidates that are looked at, so that it ends alike on every machine: about a second.
        constexpr std::size_t most_looked_at = 2'000'000;
        for (std::size_t all = 0; all < most_looked_at; all += looked_at_ + 1000) {
            layout_.cells.assign(static_cast<std::size_t>(layout_.columns) * static_cast<std::size_t>(layout_.rows),
                                 {});
            std::fill(laid_.begin(), laid_.end(), 0);
            driven_.clear();
            stubs_.clear();
            looked_at_ = 0;
            if (begin()) {
                return cut_down();
            }
        }
        throw InputError(set_.file,
                         fmt::format("no layout of {} pieces that fit in {} columns and {} rows was found (seed {})",
                                     rules_.pieces, layout_.columns, layout_.rows, seed_),
                         "allow more columns and rows, ask for fewer pieces, or add pieces that turn the other way");
    }

private:
    void check_set() const {
        for (const PieceRole role : {PieceRole::start, PieceRole::way, PieceRole::end}) {
            const bool found = std::any_of(set_.pieces.begin(), set_.pieces.end(),
                                           [&](const Piece& piece) { return piece.role == role; });
            if (!found && (role != PieceRole::way || rules_.pieces > 2)) {
                throw InputError(set_.file, fmt::format("no piece of the set has the role \"{}\"", name_of(role)),
                                 "a shuffled course begins on a start, leads through ways and stops on an end");
            }
        }
    }

    /// Uniform in 0 to 1, without 0.
    double drawn() {
        const Draw draw = random_draw(seed_, Stream::pieces, next_++);
        return (draw[0] * 65536.0 + draw[1] + 1.0) / 4294967297.0;
    }

    std::optional<LaidPiece>& at(GridCell cell) {
        return layout_.cells[static_cast<std::size_t>(cell.row) * static_cast<std::size_t>(layout_.columns) +
                             static_cast<std::size_t>(cell.column)];
    }
    bool on_grid(GridCell cell) const {
        return cell.column >= 0 && cell.row >= 0 && cell.column < layout_.columns && cell.row < layout_.rows;
    }
    const std::optional<LaidPiece>& laid_at(GridCell cell) const { return layout_.at(cell.column, cell.row); }

    /// All pieces of a role in all turns, in an order that is drawn by their weights.
    std::vector<LaidPiece> candidates(PieceRole role) {
        std::vector<std::pair<double, LaidPiece>> keyed;
        for (std::size_t p = 0; p < set_.pieces.size(); ++p) {
            const Piece& piece = set_.pieces[p];
            if (piece.role != role || (piece.at_most && laid_[p] >= *piece.at_most)) {
                continue;
            }
            for (int quarters = 0; quarters < 4; ++quarters) {
                // P. Efraimidis, P. Spirakis: Weighted random sampling with a reservoir, Inf. Proc. Letters 97, 2006.
                keyed.emplace_back(-std::log(drawn()) / piece.often, LaidPiece{p, quarters});
            }
        }
        looked_at_ += keyed.size();
        std::stable_sort(keyed.begin(), keyed.end(), [](const auto& a, const auto& b) { return a.first < b.first; });
        std::vector<LaidPiece> list;
        for (const auto& [key, laid] : keyed) {
            list.push_back(laid);
        }
        return list;
    }

    bool begin() {
        const GridCell cell{std::min(layout_.columns - 1, static_cast<int>(drawn() * layout_.columns)),
                            std::min(layout_.rows - 1, static_cast<int>(drawn() * layout_.rows))};
        for (const LaidPiece& laid : candidates(PieceRole::start)) {
            const Piece& piece = set_.pieces[laid.piece];
            if (piece.ways.empty()) {
                continue;
            }
            const Side out = turned(piece.ways.front(), laid.quarters);
            if (put(cell, laid, out, out) && extend(beyond(cell, out), opposite(out), 1)) {
                return true;
            }
            take_back(cell);
            take_back_stubs(0);
        }
        return false;
    }

    /// Goes on from a cell that is come into by a side, with so many pieces on the way.
    bool extend(GridCell cell, Side in, int on_way) {
        constexpr std::size_t most_a_try = 200'000;
        if (!on_grid(cell) || looked_at_ > most_a_try) {
            return false;
        }
        if (laid_at(cell)) {
            return pass_through(cell, in, on_way);
        }
        const bool is_last = on_way + 1 == rules_.pieces;
        for (const LaidPiece& laid : candidates(is_last ? PieceRole::end : PieceRole::way)) {
            const Piece& piece = set_.pieces[laid.piece];
            const Side own = turned(in, -laid.quarters);
            const std::optional<Side> leads = is_last ? own : way_out(piece, own);
            if (!piece.has_way(own) || !leads) {
                continue;
            }
            const Side out = turned(*leads, laid.quarters);
            const std::size_t before = stubs_.size();
            if (put(cell, laid, in, out)) {
                if (is_last || extend(beyond(cell, out), opposite(out), on_way + 1)) {
                    return true;
                }
            }
            take_back(cell);
            take_back_stubs(before);
        }
        return false;
    }

    /// A crossing may be come through once more, by a way that was not driven yet.
    bool pass_through(GridCell cell, Side in, int on_way) {
        const LaidPiece laid = *laid_at(cell);
        const Piece& piece = set_.pieces[laid.piece];
        const std::optional<Side> leads = way_out(piece, turned(in, -laid.quarters));
        if (piece.role != PieceRole::way || !leads) {
            return false;
        }
        const Side out = turned(*leads, laid.quarters);
        if (driven_.count({cell, in}) > 0 || driven_.count({cell, out}) > 0) {
            return false;
        }
        driven_.insert({cell, in});
        driven_.insert({cell, out});
        if (extend(beyond(cell, out), opposite(out), on_way)) {
            return true;
        }
        driven_.erase({cell, in});
        driven_.erase({cell, out});
        return false;
    }

    /// Lays a piece down when it fits with its neighbours, and stubs at its lines that are not on the way.
    bool put(GridCell cell, const LaidPiece& laid, Side in, Side out) {
        at(cell) = laid;
        ++laid_[laid.piece];
        driven_.insert({cell, in});
        driven_.insert({cell, out});
        if (!fits(cell)) {
            return false;
        }
        for (const Side side : all_sides) {
            if (side == in || side == out || !has_way(set_, laid, side)) {
                continue;
            }
            const GridCell other = beyond(cell, side);
            if (!on_grid(other) || (!laid_at(other) && has_stubs_ && !put_stub(other))) {
                return false;
            }
        }
        return true;
    }

    bool put_stub(GridCell cell) {
        for (const LaidPiece& laid : candidates(PieceRole::stub)) {
            at(cell) = laid;
            if (fits(cell)) {
                ++laid_[laid.piece];
                stubs_.push_back(cell);
                return true;
            }
            at(cell).reset();
        }
        return false;
    }

    /// Whether lines meet lines on all sides where something lies.
    bool fits(GridCell cell) const {
        return std::all_of(all_sides.begin(), all_sides.end(), [&](Side side) {
            const std::optional<LaidPiece>& other = laid_at(beyond(cell, side));
            return !other || has_way(set_, laid_at(cell), side) == has_way(set_, other, opposite(side));
        });
    }

    void take_back(GridCell cell) {
        --laid_[at(cell)->piece];
        at(cell).reset();
        for (const Side side : all_sides) {
            driven_.erase({cell, side});
        }
    }

    void take_back_stubs(std::size_t before) {
        while (stubs_.size() > before) {
            --laid_[at(stubs_.back())->piece];
            at(stubs_.back()).reset();
            stubs_.pop_back();
        }
    }

    Layout cut_down() const {
        GridCell from{layout_.columns, layout_.rows};
        GridCell to{0, 0};
        for (int row = 0; row < layout_.rows; ++row) {
            for (int column = 0; column < layout_.columns; ++column) {
                if (layout_.at(column, row)) {
                    from = {std::min(from.column, column), std::min(from.row, row)};
                    to = {std::max(to.column, column), std::max(to.row, row)};
                }
            }
        }
        Layout out{to.column - from.column + 1, to.row - from.row + 1, {}};
        for (int row = from.row; row <= to.row; ++row) {
            for (int column = from.column; column <= to.column; ++column) {
                out.cells.push_back(layout_.at(column, row));
            }
        }
        return out;
    }

    const PieceSet& set_;
    const ShuffleRules& rules_;
    std::uint64_t seed_;
    std::uint64_t next_ = 0; ///< draw
    Layout layout_;
    std::vector<int> laid_; ///< how many of each piece
    std::vector<GridCell> stubs_;
    std::set<std::pair<GridCell, Side>> driven_; ///< sides that the way leads over
    bool has_stubs_ = false;
    std::size_t looked_at_ = 0; ///< candidates in this try
};

} // namespace

Layout shuffle_pieces(const PieceSet& set, const ShuffleRules& rules, std::uint64_t seed) {
    return Shuffler(set, rules, seed).run();
}

} // namespace vast_turn
