#include <algorithm>
#include <cstring>

#include <fmt/format.h>

#include "paint/cairo_owned.hpp"
#include "paint/drawing_kinds.hpp"
#include "vast_turn/course/floor/even_light.hpp"

namespace vast_turn {

namespace {

constexpr double longest_png_side = 32'000;

/// What is left to read.
struct Rest {
    const char* at;
    std::size_t size;
};

cairo_status_t read_some(void* closure, unsigned char* to, unsigned int size) {
    Rest& rest = *static_cast<Rest*>(closure);
    if (size > rest.size) {
        return CAIRO_STATUS_READ_ERROR;
    }
    std::memcpy(to, rest.at, size);
    rest.at += size;
    rest.size -= size;
    return CAIRO_STATUS_SUCCESS;
}

double big_endian(const std::string& bytes, std::size_t at) {
    double value = 0.0;
    for (std::size_t i = 0; i < 4; ++i) {
        value = value * 256.0 + static_cast<unsigned char>(bytes[at + i]);
    }
    return value;
}

class PngDrawing : public Drawing {
public:
    PngDrawing(std::string path, const std::string& bytes, double mm_per_px, std::optional<bool> even_light)
        : path_(std::move(path)), mm_per_px_(mm_per_px) {
        // The size is looked at before room is made for it.
        constexpr std::size_t header = 24;
        const double columns = bytes.size() < header ? 0.0 : big_endian(bytes, 16);
        const double rows = bytes.size() < header ? 0.0 : big_endian(bytes, 20);
        if (columns < 1.0 || rows < 1.0) {
            throw InputError(path_, "this PNG is cut off before its size", "save it anew");
        }
        if (std::max(columns, rows) > longest_png_side || columns * rows > most_pixels) {
            throw InputError(path_, fmt::format("a picture of {:.0f} x {:.0f} pixels is too large", columns, rows),
                             "scale it down: one pixel a millimetre is enough");
        }
        Rest rest{bytes.data(), bytes.size()};
        image_.reset(cairo_image_surface_create_from_png_stream(read_some, &rest));
        const cairo_status_t status = cairo_surface_status(image_.get());
        if (status != CAIRO_STATUS_SUCCESS) {
            throw InputError(path_, fmt::format("this PNG cannot be read: {}", cairo_status_to_string(status)),
                             "it is cut off or damaged: save it anew");
        }
        see_light(even_light);
    }

    Vec2 size_mm() const override {
        return {mm_per_px_ * cairo_image_surface_get_width(image_.get()),
                mm_per_px_ * cairo_image_surface_get_height(image_.get())};
    }

    void paint(cairo_t* context) const override {
        cairo_save(context);
        cairo_scale(context, mm_per_px_, mm_per_px_);
        cairo_set_source_surface(context, image_.get(), 0.0, 0.0);
        cairo_pattern_set_filter(cairo_get_source(context), CAIRO_FILTER_GOOD);
        cairo_pattern_set_extend(cairo_get_source(context), CAIRO_EXTEND_PAD); // no faded rim
        cairo_rectangle(context, 0.0, 0.0, cairo_image_surface_get_width(image_.get()),
                        cairo_image_surface_get_height(image_.get()));
        cairo_fill(context);
        cairo_restore(context);
    }

private:
    /// Evens the light out when asked to; tells of it when nothing was said.
    void see_light(std::optional<bool> even_light) {
        if (!even_light) {
            constexpr double uneven = 0.8;
            const double evenness = light_evenness(pixels());
            if (evenness < uneven) {
                warnings_.push_back(
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
    double mm_per_px_;
    OwnedSurface image_;
};

} // namespace

std::unique_ptr<Drawing> read_png_drawing(const std::string& path, const std::string& bytes, const DrawingKeys& keys) {
    if (!keys.mm_per_px) {
        throw InputError(path, "how large is a pixel of this PNG?",
                         "write mm_per_px beside drawing in the course file");
    }
    return std::make_unique<PngDrawing>(path, bytes, *keys.mm_per_px, keys.even_light);
}

} // namespace vast_turn
