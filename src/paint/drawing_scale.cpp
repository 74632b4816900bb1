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

Vec2 size_on_floor(const std::string& path, const OwnSize& own, const DrawingKeys& keys,
                   std::vector<Problem>& warnings) {
    Vec2 size;
    if (keys.mm_per_px) {
        size = *keys.mm_per_px * own.units;
    } else if (keys.measured) {
        size = (keys.measured->mm / length(keys.measured->to - keys.measured->from)) * own.units;
    } else if (keys.board_mm) {
        size = fitted(path, own.mm.value_or(own.units), *keys.board_mm, warnings);
    } else if (own.mm) {
        size = *own.mm;
    } else {
        throw InputError(path, fmt::format("how large is {} of this drawing?", own.unit),
                         fmt::format("write in the course file size_mm = [wide, high], to which it is fitted; or "
                                     "mm_per_px = 0.5, the millimetres of {}; or measured = {{ from = [120, 80], "
                                     "to = [980, 80], mm = 1290 }}, two of its points and how far apart they are",
                                     own.unit));
    }
    if (!(size.x >= 1.0 && size.y >= 1.0 && size.x <= 32000.0 && size.y <= 32000.0)) {
        throw InputError(path, fmt::format("a drawing of {:g} x {:g} mm is no course", size.x, size.y),
                         "check its width, height and units, or what the course file says of its scale");
    }
    return size;
}

} // namespace vast_turn
