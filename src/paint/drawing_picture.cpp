/// Pictures of pixels, whatever they were stored as.

#include <algorithm>

#include <fmt/format.h>

#include "paint/drawing_kinds.hpp"
#include "paint/drawing_scale.hpp"
#include "paint/half_pixel.hpp"
#include "paint/rectify.hpp"
#include "vast_turn/course/floor/even_light.hpp"

namespace vast_turn {

namespace {

class PictureDrawing : public Drawing {
public:
    PictureDrawing(std::string path, OwnedSurface image, const DrawingKeys& keys, Checked checked)
        : path_(std::move(path)), image_(std::move(image)) {
        if (keys.corners.empty()) {
            OwnSize own;
            own.units = {static_cast<double>(pixels_wide()), static_cast<double>(pixels_high())};
            facts_.on_floor = place_on_floor(path_, own, keys, facts_.warnings);
        } else {
            Rectified flat = rectified(path_, image_.get(), keys);
            image_ = std::move(flat.image);
            facts_.on_floor.mm_per_unit = {flat.mm_per_px, flat.mm_per_px};
            facts_.on_floor.size_mm = facts_.on_floor.board_mm = flat.board_mm;
            facts_.notes = std::move(flat.notes);
        }
        mm_per_px_ = facts_.on_floor.pixel_mm = facts_.on_floor.mm_per_unit.x;
        see_light(keys.even_light, checked);
        wide_ = pixels_wide();
        high_ = pixels_high();
        if (keys.corners.empty() && are_coarse(mm_per_px_, image_.get())) {
            image_ = half_a_pixel_off(path_, image_.get());
            inset_ = 0.5;
        }
    }

protected:
    void draw(cairo_t* context) const override {
        cairo_scale(context, mm_per_px_, mm_per_px_);
        cairo_set_source_surface(context, image_.get(), -inset_, -inset_);
        cairo_pattern_set_filter(cairo_get_source(context), CAIRO_FILTER_GOOD);
        cairo_pattern_set_extend(cairo_get_source(context), CAIRO_EXTEND_PAD); // no faded rim
        cairo_rectangle(context, 0.0, 0.0, wide_, high_);
        cairo_fill(context);
    }

private:
    int pixels_wide() const { return cairo_image_surface_get_width(image_.get()); }
    int pixels_high() const { return cairo_image_surface_get_height(image_.get()); }

    /// Evens the light out when asked to; tells of it when nothing was said.
    void see_light(std::optional<bool> even_light, Checked checked) {
        if (!even_light) {
            if (checked == Checked::yes) {
                return;
            }
            constexpr double uneven = 0.8;
            const double evenness = light_evenness(pixels());
            if (evenness < uneven) {
                facts_.warnings.push_back(
                    {Severity::warning,
                     {path_, 0, 0, 1, {}},
                     fmt::format("the light is uneven: the darkest floor has {:.0f} % of the brightest",
                                 100.0 * evenness),
                     "write even_light = true beside drawing if this is a photograph, false if the floor is so"});
            }
        } else if (*even_light) {
            Surface even = pixels();
            even_out_light(even);
            put_back(even);
        }
    }

    std::size_t width() const { return static_cast<std::size_t>(cairo_image_surface_get_width(image_.get())); }

    std::uint32_t* row(int y) const {
        return reinterpret_cast<std::uint32_t*>(cairo_image_surface_get_data(image_.get()) +
                                                static_cast<std::ptrdiff_t>(y) *
                                                    cairo_image_surface_get_stride(image_.get()));
    }

    Surface pixels() const {
        cairo_surface_flush(image_.get());
        Surface surface;
        surface.columns = cairo_image_surface_get_width(image_.get());
        surface.rows = cairo_image_surface_get_height(image_.get());
        surface.cell_mm = mm_per_px_;
        surface.cells.resize(width() * static_cast<std::size_t>(surface.rows));
        for (int y = 0; y < surface.rows; ++y) {
            std::copy(row(y), row(y) + width(), surface.cells.data() + static_cast<std::size_t>(y) * width());
        }
        return surface;
    }

    void put_back(const Surface& surface) {
        constexpr std::uint32_t opaqueness = 0xFF000000U;
        for (int y = 0; y < surface.rows; ++y) {
            const std::uint32_t* from = surface.cells.data() + static_cast<std::size_t>(y) * width();
            std::transform(from, from + width(), row(y), row(y), [](std::uint32_t colour, std::uint32_t before) {
                return (before & opaqueness) | (colour & ~opaqueness);
            });
        }
        cairo_surface_mark_dirty(image_.get());
    }

    std::string path_;
    double mm_per_px_ = 1.0;
    OwnedSurface image_;
    int wide_ = 0; ///< px of it, as it was brought
    int high_ = 0;
    double inset_ = 0.0; ///< px from its first pixel to where it begins
};

} // namespace

OwnedSurface make_picture(const std::string& path, int columns, int rows, cairo_format_t format) {
    OwnedSurface image(cairo_image_surface_create(format, columns, rows));
    if (cairo_surface_status(image.get()) != CAIRO_STATUS_SUCCESS) {
        throw InputError(path, "there is no room for this picture", "scale it down");
    }
    return image;
}

std::unique_ptr<Drawing> make_picture_drawing(const std::string& path, OwnedSurface image, const DrawingKeys& keys,
                                              Checked checked) {
    return std::make_unique<PictureDrawing>(path, std::move(image), keys, checked);
}

} // namespace vast_turn
