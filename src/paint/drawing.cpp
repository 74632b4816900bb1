#include "paint/drawing.hpp"

#include <fmt/format.h>

#include "paint/drawing_kinds.hpp"
#include "paint/loaded_libraries.hpp"
#include "vast_turn/formats/read/text_file.hpp"

namespace vast_turn {

ReadDrawing* drawing_reader_for(const std::string& bytes) {
    if (bytes.compare(0, 4, "\x89PNG") == 0) {
        return read_png_drawing;
    }
    if (bytes.compare(0, 3, "\xFF\xD8\xFF") == 0) {
        return read_jpeg_drawing;
    }
    constexpr std::size_t head = 1024; // some programs write something before it
    if (bytes.substr(0, head).find("%PDF-") != std::string::npos) {
        return read_pdf_drawing;
    }
    if (bytes.find("<svg") != std::string::npos || bytes.find(":svg") != std::string::npos) {
        return read_svg_drawing;
    }
    return nullptr;
}

void refuse_keys_of_pictures(const std::string& path, const char* kind, const DrawingKeys& keys) {
    if (keys.even_light) {
        throw InputError(path, fmt::format("the light on {} cannot be evened out", kind),
                         "remove even_light: it is for photographs");
    }
    if (!keys.corners.empty()) {
        throw InputError(path, fmt::format("{} is not seen at a slant", kind),
                         "remove corners: they are for photographs; a part of a drawing is its `board`");
    }
}

std::unique_ptr<Drawing> read_drawing(const std::string& path, const DrawingKeys& keys, bool caged) {
    std::string bytes = read_file(path);
    ReadDrawing* const reader = drawing_reader_for(bytes);
    if (reader == nullptr) {
        throw InputError(path, "this is neither SVG, PDF, PNG nor JPEG", "save the drawing as one of them");
    }
    if ((keys.page || keys.page_box) && reader != read_pdf_drawing) {
        throw InputError(path, "only a PDF has pages", keys.page ? "remove page" : "remove page_box");
    }
    // Here, so that a process of its own has it from this one and need not load it each time.
    if (reader == read_svg_drawing) {
        svg_library();
    } else if (reader == read_pdf_drawing) {
        pdf_library();
        if (keys.page_box.value_or(PageBox::crop) != PageBox::crop) {
            qpdf_library();
        }
    }
    return caged ? read_caged_drawing(path, std::move(bytes), keys, reader) : reader(path, bytes, keys, Checked::no);
}

} // namespace vast_turn
