#include "paint/drawing_scale.hpp"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

namespace vast_turn {

namespace {

/// Uniformly, so that all of it lies on the board.
Vec2 fitted(const std::string& path, Vec2 own, Vec2 board, std::vector<Problem>& warnings) {
    const double scale = std::min(board.x / own.x, board.y / own.y);
    const Vec2 size = scale * own;
    constexpr double same_shape = 0.01;
    if (size.x < (1.0 - same_shape) * board.x || size.y < (1.0 - same_shape) * board.y) {
        warnings.push_back({Severity::warning,
                            {path, 0, 0, 1, {}},
                            fmt::format("this drawing is not of the board's shape: fitted to {:g} x {:g} mm it takes "
                                        "{:.0f} x {:.0f} mm from the top left",
                                        board.x, board.y, size.x, size.y),
                            "check size_mm; or say the scale by mm_per_px or measured, then it is not fitted"});
    }
    return size;
}

} // namespace

OnFloor place_on_floor(const std::string& path, const OwnSize& own, const DrawingKeys& keys,
                       std::vector<Problem>& warnings) {
    const Area board = keys.board.value_or(Area{{0.0, 0.0}, own.units});
    const Vec2 units = board.to - board.from;
    constexpr double slack = 1.0; // of its units
    if (board.from.x < -slack || board.from.y < -slack || board.to.x > own.units.x + slack ||
        board.to.y > own.units.y + slack) {
        throw InputError(path, "the board reaches beyond the drawing",
                         fmt::format("board.from and board.to are in the drawing's own units, and it has {:g} x {:g} "
                                     "of them",
                                     own.units.x, own.units.y));
    }
    Vec2 scale;
    if (keys.mm_per_px) {
        scale = {*keys.mm_per_px, *keys.mm_per_px};
    } else if (keys.measured) {
        const double mm = keys.measured->mm / length(keys.measured->to - keys.measured->from);
        scale = {mm, mm};
    } else if (keys.board_mm) {
        const Vec2 shape = own.mm ? Vec2{own.mm->x / own.units.x * units.x, own.mm->y / own.units.y * units.y} : units;
        const Vec2 size = fitted(path, shape, *keys.board_mm, warnings);
        scale = {size.x / units.x, size.y / units.y};
    } else if (own.mm) {
        scale = {own.mm->x / own.units.x, own.mm->y / own.units.y};
    } else {
        throw InputError(path, fmt::format("how large is {} of this drawing?", own.unit),
                         fmt::format("write in the course file size_mm = [wide, high], to which it is fitted; or "
                                     "mm_per_px = 0.5, the millimetres of {}; or measured = {{ from = [120, 80], "
                                     "to = [980, 80], mm = 1290 }}, two of its points and how far apart they are",
                                     own.unit));
    }
    OnFloor out;
    out.size_mm = {scale.x * own.units.x, scale.y * own.units.y};
    out.from_mm = {scale.x * board.from.x, scale.y * board.from.y};
    out.board_mm = keys.board ? Vec2{scale.x * units.x, scale.y * units.y} : out.size_mm;
    out.mm_per_unit = scale;
    for (const Vec2 size : {out.size_mm, out.board_mm}) {
        if (!(size.x >= 1.0 && size.y >= 1.0 && size.x <= 32000.0 && size.y <= 32000.0)) {
            throw InputError(path, fmt::format("a drawing of {:g} x {:g} mm is no course", size.x, size.y),
                             "check its width, height and units, or what the course file says of its scale");
        }
    }
    return out;
}

} // namespace vast_turn
