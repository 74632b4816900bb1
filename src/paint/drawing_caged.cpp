/// A drawing that is read and painted in a process of its own.
#include <cstring>

#include "paint/cage.hpp"
#include "paint/drawing_kinds.hpp"

namespace vast_turn {

namespace {

constexpr const char* simplify = "simplify it, or save it as PNG of one pixel a millimetre";

/// The way out of the cage and back.
std::string bytes_of(const DrawingFacts& facts) {
    std::vector<Problem> notes;
    for (const std::string& words : facts.notes) {
        notes.push_back({Severity::warning, {}, words, {}});
    }
    const std::string warnings = packed(facts.warnings);
    const std::size_t size = warnings.size();
    std::string all(sizeof facts.on_floor + sizeof size, '\0');
    std::memcpy(all.data(), &facts.on_floor, sizeof facts.on_floor);
    std::memcpy(all.data() + sizeof facts.on_floor, &size, sizeof size);
    return all + warnings + packed(notes);
}

DrawingFacts facts_of(std::string_view all) {
    DrawingFacts facts;
    std::size_t size = 0;
    std::memcpy(&facts.on_floor, all.data(), sizeof facts.on_floor);
    std::memcpy(&size, all.data() + sizeof facts.on_floor, sizeof size);
    all.remove_prefix(sizeof facts.on_floor + sizeof size);
    facts.warnings = unpacked(all.substr(0, size));
    for (Problem& note : unpacked(all.substr(size))) {
        facts.notes.push_back(std::move(note.message));
    }
    return facts;
}

class CagedDrawing : public Drawing {
public:
    CagedDrawing(std::string path, std::string bytes, DrawingKeys keys, ReadDrawing* reader)
        : path_(std::move(path)), bytes_(std::move(bytes)), keys_(std::move(keys)), reader_(reader) {
        facts_ = facts_of(
            in_cage(path_, simplify, [this] { return bytes_of(reader_(path_, bytes_, keys_, Checked::no)->facts()); }));
    }

    bool is_apart() const override { return true; }

protected:
    /// The child paints: the picture must lie in SharedMemory.
    void draw(cairo_t* context) const override {
        cairo_surface_t* picture = cairo_get_target(context);
        cairo_surface_flush(picture);
        in_cage(path_, simplify, [&] {
            const std::unique_ptr<Drawing> drawing = reader_(path_, bytes_, keys_, Checked::yes);
            const Vec2 from = drawing->facts().on_floor.from_mm;
            cairo_translate(context, from.x, from.y); // which it takes off again
            drawing->paint(context);
            cairo_surface_flush(picture);
            return std::string{};
        });
        cairo_surface_mark_dirty(picture);
    }

private:
    std::string path_;
    std::string bytes_;
    DrawingKeys keys_;
    ReadDrawing* reader_;
};

} // namespace

std::unique_ptr<Drawing> read_caged_drawing(const std::string& path, std::string bytes, const DrawingKeys& keys,
                                            ReadDrawing* reader) {
    return std::make_unique<CagedDrawing>(path, std::move(bytes), keys, reader);
}

} // namespace vast_turn
