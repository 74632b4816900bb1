#include "paint/rectify.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdint>
#include <optional>

#include <Eigen/Dense>
#include <fmt/format.h>

#include "paint/drawing_kinds.hpp"
#include "paint/half_pixel.hpp"
#include "paint/straight_border.hpp"

namespace vast_turn {

namespace {

/// From the board to the unbowed picture.
class Homography {
public:
    Homography(const std::vector<Vec2>& mm, const std::vector<Vec2>& px) {
        Eigen::Matrix<double, 8, 8> left = Eigen::Matrix<double, 8, 8>::Zero();
        Eigen::Matrix<double, 8, 1> right;
        for (int i = 0; i < 4; ++i) {
            const Vec2 m = mm[static_cast<std::size_t>(i)];
            const Vec2 p = px[static_cast<std::size_t>(i)];
            left.row(2 * i) << m.x, m.y, 1.0, 0.0, 0.0, 0.0, -p.x * m.x, -p.x * m.y;
            left.row(2 * i + 1) << 0.0, 0.0, 0.0, m.x, m.y, 1.0, -p.y * m.x, -p.y * m.y;
            right[2 * i] = p.x;
            right[2 * i + 1] = p.y;
        }
        h_ = left.fullPivLu().solve(right);
    }

    double depth(Vec2 p) const { return h_[6] * p.x + h_[7] * p.y + 1.0; }

    Vec2 operator()(Vec2 p) const {
        const double w = depth(p);
        return {(h_[0] * p.x + h_[1] * p.y + h_[2]) / w, (h_[3] * p.x + h_[4] * p.y + h_[5]) / w};
    }

private:
    Eigen::Matrix<double, 8, 1> h_;
};

/// Whether four points, joined in order, are a quadrangle that bulges everywhere.
bool are_convex(const std::vector<Vec2>& p) {
    int turns = 0;
    for (std::size_t i = 0; i < p.size(); ++i) {
        const Vec2 a = p[(i + 1) % p.size()] - p[i];
        const Vec2 b = p[(i + 2) % p.size()] - p[(i + 1) % p.size()];
        constexpr double least_sine = 0.02;
        const double turn = cross(a, b);
        if (std::abs(turn) < least_sine * length(a) * length(b)) {
            return false;
        }
        turns += turn > 0.0 ? 1 : -1;
    }
    return std::abs(turns) == 4;
}

/// Four points in the order in which they lie round their middle.
std::vector<CornerOfPicture> in_order_round(std::vector<CornerOfPicture> corners) {
    Vec2 middle;
    for (const CornerOfPicture& corner : corners) {
        middle = middle + 0.25 * corner.mm;
    }
    std::sort(corners.begin(), corners.end(), [&](const CornerOfPicture& a, const CornerOfPicture& b) {
        const Vec2 to_a = a.mm - middle;
        const Vec2 to_b = b.mm - middle;
        return std::atan2(to_a.y, to_a.x) < std::atan2(to_b.y, to_b.x);
    });
    return corners;
}

PixelView view_of(cairo_surface_t* picture) {
    return {cairo_image_surface_get_data(picture), cairo_image_surface_get_stride(picture),
            cairo_image_surface_get_width(picture), cairo_image_surface_get_height(picture)};
}

/// The photograph, or what lies between its pixels.
struct Looked {
    PixelView pixels;
    double first = 0.5; ///< where the middle of the first one lies, in pixels of the photograph
};

/// Mean of the four pixels round a point of the photograph.
std::uint32_t colour_at(const Looked& looked, Vec2 p) {
    const PixelView& picture = looked.pixels;
    const double x = std::clamp(p.x - looked.first, 0.0, picture.columns - 1.001);
    const double y = std::clamp(p.y - looked.first, 0.0, picture.rows - 1.001);
    const int i = static_cast<int>(x);
    const int j = static_cast<int>(y);
    const double fx = x - i;
    const double fy = y - j;
    const std::array<std::uint32_t, 4> cells{picture.at(i, j), picture.at(i + 1, j), picture.at(i, j + 1),
                                             picture.at(i + 1, j + 1)};
    const std::array<double, 4> parts{(1.0 - fx) * (1.0 - fy), fx * (1.0 - fy), (1.0 - fx) * fy, fx * fy};
    std::uint32_t out = 0;
    for (const unsigned shift : {16U, 8U, 0U}) {
        double sum = 0.5;
        for (std::size_t k = 0; k < cells.size(); ++k) {
            sum += parts[k] * ((cells[k] >> shift) & 255U);
        }
        out |= static_cast<std::uint32_t>(sum) << shift;
    }
    return out;
}

/// Everything that leads from the board to the photograph.
struct View {
    Homography flat;
    LensBow lens;

    Vec2 operator()(Vec2 mm) const { return lens.bowed(flat(mm)); }
};

/// How far apart neighbouring pixels of the photograph lie on the board where it is sharpest.
double finest_mm_per_px(const View& view, Vec2 board) {
    constexpr int steps = 8;
    constexpr double apart = 1.0;
    double most = 0.0; // pixels a millimetre
    for (int i = 0; i <= steps; ++i) {
        for (int k = 0; k <= steps; ++k) {
            const Vec2 p{board.x * i / steps, board.y * k / steps};
            most = std::max({most, length(view(p + Vec2{apart, 0.0}) - view(p)) / apart,
                             length(view(p + Vec2{0.0, apart}) - view(p)) / apart});
        }
    }
    return 1.0 / std::max(most, 1e-9);
}

OwnedSurface seen_from_above(const std::string& path, const Looked& looked, const View& view, Vec2 board,
                             double mm_per_px) {
    const double columns = std::ceil(board.x / mm_per_px - 1e-9);
    const double rows = std::ceil(board.y / mm_per_px - 1e-9);
    refuse_too_large(path, columns, rows);
    OwnedSurface image = make_picture(path, static_cast<int>(columns), static_cast<int>(rows));
    cairo_surface_flush(image.get());
    unsigned char* data = cairo_image_surface_get_data(image.get());
    const int stride = cairo_image_surface_get_stride(image.get());
    for (int y = 0; y < static_cast<int>(rows); ++y) {
        auto* row = reinterpret_cast<std::uint32_t*>(data + static_cast<std::ptrdiff_t>(y) * stride);
        for (int x = 0; x < static_cast<int>(columns); ++x) {
            row[x] = colour_at(looked, view({(x + 0.5) * mm_per_px, (y + 0.5) * mm_per_px}));
        }
    }
    cairo_surface_mark_dirty(image.get());
    return image;
}

std::vector<Vec2> unbowed(const std::vector<CornerOfPicture>& corners, const LensBow& lens) {
    std::vector<Vec2> px;
    for (const CornerOfPicture& corner : corners) {
        px.push_back(lens.unbowed(corner.px));
    }
    return px;
}

/// Throws unless the corners can be the view of a board from above.
void check_corners(const std::string& path, const std::vector<CornerOfPicture>& corners, const PixelView& picture) {
    for (const CornerOfPicture& corner : corners) {
        constexpr double outside = 0.5; // of the picture: a corner may lie beyond its rim
        if (corner.px.x < -outside * picture.columns || corner.px.y < -outside * picture.rows ||
            corner.px.x > (1.0 + outside) * picture.columns || corner.px.y > (1.0 + outside) * picture.rows) {
            throw InputError(
                path,
                fmt::format("the corner at px {:g},{:g} lies far beside the photograph", corner.px.x, corner.px.y),
                fmt::format("it has {} x {} pixels, counted from its top left as it is shown upright", picture.columns,
                            picture.rows));
        }
    }
    std::vector<Vec2> px;
    std::vector<Vec2> mm;
    for (const CornerOfPicture& corner : corners) {
        px.push_back(corner.px);
        mm.push_back(corner.mm);
    }
    if (!are_convex(px) || !are_convex(mm)) {
        throw InputError(path, "these corners are no quadrangle: three of them lie on a line, or two are exchanged",
                         "give four points round the board, each px with the mm of the same point");
    }
    if (cross(px[1] - px[0], px[2] - px[1]) * cross(mm[1] - mm[0], mm[2] - mm[1]) < 0.0) {
        throw InputError(path, "these corners show the board from behind, as in a mirror",
                         "x runs to the right and y down, in px and in mm: check which mm belongs to which px");
    }
}

} // namespace

Rectified rectified(const std::string& path, cairo_surface_t* photograph, const DrawingKeys& keys) {
    cairo_surface_flush(photograph);
    const PixelView picture = view_of(photograph);
    const std::vector<CornerOfPicture> corners = in_order_round(keys.corners);
    check_corners(path, corners, picture);
    Rectified out;
    LensBow lens{{0.5 * picture.columns, 0.5 * picture.rows},
                 0.5 * std::hypot(picture.columns, picture.rows),
                 keys.lens_bow.value_or(0.0)};
    std::vector<Vec2> px;
    std::vector<Vec2> mm;
    for (const CornerOfPicture& corner : corners) {
        px.push_back(corner.px);
        mm.push_back(corner.mm);
    }
    const std::optional<SeenBorder> border = find_border(picture, px, lens, !keys.lens_bow);
    if (border) {
        lens.k = border->lens.k;
    }
    const View view{Homography(mm, unbowed(corners, lens)), lens};
    Vec2 reach;
    for (const Vec2 p : mm) {
        reach = {std::max(reach.x, p.x), std::max(reach.y, p.y)};
    }
    out.board_mm = keys.board_mm.value_or(reach);
    for (const Vec2 p : {Vec2{}, Vec2{out.board_mm.x, 0.0}, Vec2{0.0, out.board_mm.y}, out.board_mm}) {
        constexpr double least = 0.05; // nearly on the horizon
        if (view.flat.depth(p) < least) {
            throw InputError(path, fmt::format("the board's corner at {:g},{:g} mm lies beyond the horizon", p.x, p.y),
                             "check the corners, or give points that lie farther apart");
        }
    }
    const double finest = finest_mm_per_px(view, out.board_mm);
    constexpr double fine = 0.25; // mm: nothing on a course is finer
    out.mm_per_px = std::max({fine, finest, std::sqrt(out.board_mm.x * out.board_mm.y / most_pixels) * 1.01});
    const Vec2 middle = 0.5 * out.board_mm;
    const double mm_a_pixel = 1.0 / std::max(1e-9, length(view(middle + Vec2{1.0, 0.0}) - view(middle)));
    if (are_coarse(mm_a_pixel, photograph)) {
        const OwnedSurface between = half_a_pixel_off(path, photograph);
        out.image = seen_from_above(path, {view_of(between.get()), 0.0}, view, out.board_mm, out.mm_per_px);
    } else {
        out.image = seen_from_above(path, {picture, 0.5}, view, out.board_mm, out.mm_per_px);
    }
    out.notes.push_back(fmt::format("turned by four corners; a pixel of the photograph is {:.2f} mm in the middle of "
                                    "the board",
                                    mm_a_pixel));
    if (border) {
        out.notes.push_back(fmt::format("the border between the corners is straight within {:.1f} px ({:.1f} mm)",
                                        border->off_px, border->off_px * mm_a_pixel));
        if (!keys.lens_bow && lens.k != 0.0) {
            out.notes.back() += fmt::format("; before the bow of the lens was evened out (lens_bow = {:.3f}) within "
                                            "{:.1f} px",
                                            lens.k, border->off_before_px);
        }
    } else {
        out.notes.emplace_back("no border can be seen between the corners, so nothing tells how straight it is");
    }
    return out;
}

} // namespace vast_turn
