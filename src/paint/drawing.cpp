#include "paint/drawing.hpp"

#include "paint/drawing_kinds.hpp"
#include "vast_turn/formats/read/text_file.hpp"

namespace vast_turn {

std::unique_ptr<Drawing> read_drawing(const std::string& path, const DrawingKeys& keys, bool caged) {
    const std::string bytes = read_file(path);
    if (bytes.compare(0, 4, "\x89PNG") == 0) {
        return read_png_drawing(path, bytes, keys);
    }
    if (bytes.compare(0, 3, "\xFF\xD8\xFF") == 0) {
        return read_jpeg_drawing(path, bytes, keys);
    }
    if (bytes.find("<svg") != std::string::npos || bytes.find(":svg") != std::string::npos) {
        return caged ? read_caged_drawing(path, bytes, keys) : read_svg_drawing(path, bytes, keys, Checked::no);
    }
    throw InputError(path, "this is neither SVG, PNG nor JPEG", "save the drawing as one of them");
}

} // namespace vast_turn
