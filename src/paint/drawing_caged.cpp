/// A drawing that is read and painted in a process of its own.
#include <cstring>

#include "paint/cage.hpp"
#include "paint/drawing_kinds.hpp"

namespace vast_turn {

namespace {

constexpr const char* simplify = "simplify it, or save it as PNG";

class CagedDrawing : public Drawing {
public:
    CagedDrawing(std::string path, std::string bytes, DrawingKeys keys)
        : path_(std::move(path)), bytes_(std::move(bytes)), keys_(keys) {
        const std::string told = in_cage(path_, simplify, [this] {
            const std::unique_ptr<Drawing> drawing = read_svg_drawing(path_, bytes_, keys_, Checked::no);
            const Vec2 size = drawing->size_mm();
            std::string all(sizeof size, '\0');
            std::memcpy(all.data(), &size, sizeof size);
            return all + packed(drawing->warnings());
        });
        std::memcpy(&size_, told.data(), sizeof size_);
        warnings_ = unpacked(std::string_view(told).substr(sizeof size_));
    }

    Vec2 size_mm() const override { return size_; }
    bool is_apart() const override { return true; }

    /// The child paints: the picture must lie in SharedMemory.
    void paint(cairo_t* context) const override {
        cairo_surface_t* picture = cairo_get_target(context);
        cairo_surface_flush(picture);
        in_cage(path_, simplify, [&] {
            read_svg_drawing(path_, bytes_, keys_, Checked::yes)->paint(context);
            cairo_surface_flush(picture);
            return std::string{};
        });
        cairo_surface_mark_dirty(picture);
    }

private:
    std::string path_;
    std::string bytes_;
    DrawingKeys keys_;
    Vec2 size_;
};

} // namespace

std::unique_ptr<Drawing> read_caged_drawing(const std::string& path, const std::string& bytes,
                                            const DrawingKeys& keys) {
    return std::make_unique<CagedDrawing>(path, bytes, keys);
}

} // namespace vast_turn
