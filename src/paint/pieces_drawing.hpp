#pragma once

/// The drawings of pieces, put side by side as their course is laid out.

#include <cstdint>
#include <map>
#include <memory>
#include <mutex>
#include <string>
#include <vector>

#include "paint/cairo_owned.hpp"
#include "paint/drawing.hpp"
#include "vast_turn/course/pieces/piece.hpp"

namespace vast_turn {

/// Pieces as pictures, each painted once however many courses are laid out of it. Any thread may ask.
class PiecePictures {
public:
    /// Keeps the drawing of a piece; returns its size.
    Vec2 add(const std::string& path, std::unique_ptr<Drawing> drawing);

    /// The picture of a piece that is drawn, a cell a pixel. Throws InputError when it cannot be painted, or when a
    /// piece is no whole number of cells.
    std::shared_ptr<_cairo_surface> of(const PieceSet& set, std::size_t piece, double cell_mm);

private:
    std::mutex lock_;
    std::map<std::string, std::unique_ptr<Drawing>> drawings_;
    std::map<std::pair<std::size_t, double>, std::shared_ptr<_cairo_surface>> pictures_;
};

/// The drawing of a whole course of pieces; null when none of those that lie in it is drawn. All drawn pieces of the
/// set are painted at the first call, so that later ones, which may come from many threads, start no process.
std::unique_ptr<Drawing> draw_pieces(const PieceSet& set, const Layout& layout, double cell_mm,
                                     PiecePictures& pictures);

} // namespace vast_turn
