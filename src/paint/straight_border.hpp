#pragma once

/// The border of a board on a photograph: how the lens bows it.

#include <cmath>
#include <cstddef>
#include <cstdint>
#include <optional>
#include <vector>

#include "vast_turn/base/geometry.hpp"

namespace vast_turn {

/// Pixels of a Cairo image; a view only.
struct PixelView {
    const unsigned char* data = nullptr;
    int stride = 0;
    int columns = 0;
    int rows = 0;

    /// 0xRRGGBB, with anything in the top byte.
    std::uint32_t at(int column, int row) const {
        return *reinterpret_cast<const std::uint32_t*>(data + static_cast<std::ptrdiff_t>(row) * stride +
                                                       static_cast<std::ptrdiff_t>(column) * 4);
    }
};

/// A lens with one number, the division model (see rectify.hpp).
struct LensBow {
    Vec2 middle;       ///< px
    double unit = 1.0; ///< px of its radius 1: half a diagonal
    double k = 0.0;

    /// Where a point of the photograph would lie without the bow.
    Vec2 unbowed(Vec2 px) const {
        const Vec2 d = 1.0 / unit * (px - middle);
        return middle + unit / (1.0 + k * dot(d, d)) * d;
    }

    /// The way back.
    Vec2 bowed(Vec2 px) const {
        const Vec2 u = 1.0 / unit * (px - middle);
        return middle + 2.0 * unit / (1.0 + std::sqrt(std::max(0.0, 1.0 - 4.0 * k * dot(u, u)))) * u;
    }
};

struct SeenBorder {
    LensBow lens;
    double off_px = 0.0;        ///< how far it lies off straight lines (root mean square), with this lens
    double off_before_px = 0.0; ///< and with the lens as it was given
};

/// The border that runs from each corner to the next, where the brightness steps; nothing when fewer than three sides
/// can be seen. With `fit` the lens is the one that makes it straightest; one that makes it hardly straighter is
/// not taken.
std::optional<SeenBorder> find_border(const PixelView& picture, const std::vector<Vec2>& corners_px,
                                      const LensBow& lens, bool fit);

} // namespace vast_turn
