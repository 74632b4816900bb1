#include "paint/pieces_drawing.hpp"

#include <cmath>
#include <cstring>
#include <utility>

#include <fmt/format.h>

#include "paint/painter.hpp"

namespace vast_turn {

namespace {

/// A drawn piece where it lies.
struct PlacedPicture {
    std::shared_ptr<cairo_surface_t> picture;
    Vec2 at; ///< the top left of its cell of the grid
    int quarters = 0;
};

class PiecesDrawing : public Drawing {
public:
    PiecesDrawing(std::vector<PlacedPicture> placed, double side_mm, double cell_mm, Vec2 size_mm)
        : placed_(std::move(placed)), side_mm_(side_mm), cell_mm_(cell_mm) {
        facts_.on_floor = {size_mm, {}, size_mm, {1.0, 1.0}};
    }

protected:
    void draw(cairo_t* context) const override {
        for (const PlacedPicture& one : placed_) {
            cairo_save(context);
            cairo_translate(context, one.at.x + 0.5 * side_mm_, one.at.y + 0.5 * side_mm_);
            // Exact, which cairo_rotate() is not: a cell must come to lie on a cell.
            constexpr std::array<std::array<double, 2>, 4> turns = {{{1, 0}, {0, -1}, {-1, 0}, {0, 1}}};
            const auto& [cosine, sine] = turns.at(static_cast<std::size_t>(one.quarters));
            const cairo_matrix_t turn = {cosine, sine, -sine, cosine, 0.0, 0.0};
            cairo_transform(context, &turn);
            cairo_translate(context, -0.5 * side_mm_, -0.5 * side_mm_);
            cairo_scale(context, cell_mm_, cell_mm_);
            cairo_set_source_surface(context, one.picture.get(), 0.0, 0.0);
            cairo_pattern_set_filter(cairo_get_source(context), CAIRO_FILTER_NEAREST);
            cairo_rectangle(context, 0.0, 0.0, side_mm_ / cell_mm_, side_mm_ / cell_mm_);
            cairo_fill(context);
            cairo_restore(context);
        }
    }

private:
    std::vector<PlacedPicture> placed_;
    double side_mm_;
    double cell_mm_;
};

} // namespace

Vec2 PiecePictures::add(const std::string& path, std::unique_ptr<Drawing> drawing) {
    const Vec2 size = drawing->facts().on_floor.board_mm;
    drawings_[path] = std::move(drawing);
    return size;
}

std::shared_ptr<cairo_surface_t> PiecePictures::of(const PieceSet& set, std::size_t piece, double cell_mm) {
    const double cells = set.side_mm / cell_mm;
    if (std::abs(cells - std::round(cells)) > 1e-6) {
        throw InputError(
            set.file,
            fmt::format("a drawn piece of {:g} mm is no whole number of cells of {:g} mm", set.side_mm, cell_mm),
            "give the course another cell_mm, or the pieces another side_mm");
    }
    const std::lock_guard<std::mutex> guard(lock_);
    std::shared_ptr<cairo_surface_t>& picture = pictures_[{piece, cell_mm}];
    if (!picture) {
        Course board = set.pieces[piece].board;
        board.tapes.clear(); // those of the file are painted where they are laid
        board.markers.clear();
        paint_surface(board, cell_mm, drawings_.at(board.drawing).get());
        const int side = board.surface.columns;
        picture = {cairo_image_surface_create(CAIRO_FORMAT_RGB24, side, side), cairo_surface_destroy};
        cairo_surface_flush(picture.get());
        unsigned char* bytes = cairo_image_surface_get_data(picture.get());
        const auto stride = static_cast<std::size_t>(cairo_image_surface_get_stride(picture.get()));
        const auto width = static_cast<std::size_t>(side);
        for (std::size_t row = 0; row < width; ++row) {
            std::memcpy(bytes + row * stride, board.surface.cells.data() + row * width, width * sizeof(std::uint32_t));
        }
        cairo_surface_mark_dirty(picture.get());
    }
    return picture;
}

std::unique_ptr<Drawing> draw_pieces(const PieceSet& set, const Layout& layout, double cell_mm,
                                     PiecePictures& pictures) {
    for (std::size_t piece = 0; piece < set.pieces.size(); ++piece) {
        if (!set.pieces[piece].board.drawing.empty()) {
            pictures.of(set, piece, cell_mm);
        }
    }
    std::vector<PlacedPicture> placed;
    for (int row = 0; row < layout.rows; ++row) {
        for (int column = 0; column < layout.columns; ++column) {
            const std::optional<LaidPiece>& laid = layout.at(column, row);
            if (laid && !set.pieces[laid->piece].board.drawing.empty()) {
                placed.push_back({pictures.of(set, laid->piece, cell_mm),
                                  {column * set.side_mm, row * set.side_mm},
                                  laid->quarters});
            }
        }
    }
    if (placed.empty()) {
        return nullptr;
    }
    return std::make_unique<PiecesDrawing>(std::move(placed), set.side_mm, cell_mm,
                                           Vec2{layout.columns * set.side_mm, layout.rows * set.side_mm});
}

} // namespace vast_turn
