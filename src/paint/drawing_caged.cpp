/// A drawing that is read and painted in a process of its own.
#include <cstring>

#include "paint/cage.hpp"
#include "paint/drawing_kinds.hpp"

namespace vast_turn {

namespace {

constexpr const char* simplify = "simplify it, or save it as PNG";

/// What the parent wants to know of a drawing before it is painted.
struct Facts {
    Vec2 size_mm;
    std::size_t warnings = 0;
};

class CagedDrawing : public Drawing {
public:
    CagedDrawing(std::string path, std::string bytes, DrawingKeys keys)
        : path_(std::move(path)), bytes_(std::move(bytes)), keys_(keys) {
        const std::string told = in_cage(path_, simplify, [this] {
            const std::unique_ptr<Drawing> drawing = read_svg_drawing(path_, bytes_, keys_, Checked::no);
            const Facts facts{drawing->size_mm(), drawing->warnings().size()};
            std::string all(sizeof facts, '\0');
            std::memcpy(all.data(), &facts, sizeof facts);
            for (const Problem& warning : drawing->warnings()) {
                for (const std::string& part : {std::to_string(warning.place.line), warning.message, warning.cure}) {
                    all += part;
                    all += '\0';
                }
            }
            return all;
        });
        Facts facts;
        std::memcpy(&facts, told.data(), sizeof facts);
        size_ = facts.size_mm;
        std::size_t at = sizeof facts;
        const auto next = [&] {
            const std::size_t end = told.find('\0', at);
            std::string part = told.substr(at, end - at);
            at = end + 1;
            return part;
        };
        for (std::size_t i = 0; i < facts.warnings; ++i) {
            Problem warning{Severity::warning, {}, {}, {}};
            warning.place.file = path_;
            warning.place.line = std::stoi(next());
            warning.message = next();
            warning.cure = next();
            warnings_.push_back(std::move(warning));
        }
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
