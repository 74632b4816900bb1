#include <algorithm>
#include <cstring>

#include <fmt/format.h>

#include "files/drawing_kinds.hpp"

namespace vast_turn {

namespace {

constexpr double most_pixels = 110e6;
constexpr double longest_png_side = 32'000;

struct FreeImage {
    void operator()(cairo_surface_t* s) const { cairo_surface_destroy(s); }
};

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
    PngDrawing(std::string path, const std::string& bytes, double mm_per_px)
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
    std::string path_;
    double mm_per_px_;
    std::unique_ptr<cairo_surface_t, FreeImage> image_;
};

} // namespace

std::unique_ptr<Drawing> read_png_drawing(const std::string& path, const std::string& bytes,
                                          std::optional<double> mm_per_px) {
    if (!mm_per_px) {
        throw InputError(path, "how large is a pixel of this PNG?",
                         "write mm_per_px beside drawing in the course file");
    }
    return std::make_unique<PngDrawing>(path, bytes, *mm_per_px);
}

} // namespace vast_turn
