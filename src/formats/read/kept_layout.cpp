#include "vast_turn/formats/read/kept_layout.hpp"

#include <fmt/format.h>

#include "formats/read/toml_reader.hpp"

namespace vast_turn {

std::string kept_layout(std::string_view text, const Course& course) {
    TomlText toml(text, course.file);
    const TomlTable root = toml.root();
    if (!course.laid || course.laid->number == 0 || !root.has("shuffled") || !root.has("pieces")) {
        throw InputError(course.file, "only a layout of a shuffled course can be kept",
                         "name a course with `shuffled`");
    }
    const auto [from, to] = root.lines_of("shuffled");
    const auto [pieces_from, pieces_to] = root.lines_of("pieces");
    std::string out;
    for (int line = 1; !text.empty(); ++line) {
        const std::size_t end = text.find('\n');
        const std::string_view row = text.substr(0, end);
        text = end == std::string_view::npos ? std::string_view{} : text.substr(end + 1);
        if (line < from || line > to) {
            out += fmt::format("{}\n", row);
        }
        if (line == pieces_to) {
            out += fmt::format("# {} of it\nlayout = \"\"\"\n{}\"\"\"\n", course.variant, course.laid->layout);
        }
    }
    return out;
}

} // namespace vast_turn
