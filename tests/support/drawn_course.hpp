#pragma once

/// A course file beside a drawing.

#include <string>

#include "support/fixtures.hpp"
#include "vast_turn/formats/write/text_file.hpp"
#include "vast_turn/paint/course_file.hpp"

namespace fixtures {

inline const std::string svg_head =
    "<svg xmlns=\"http://www.w3.org/2000/svg\" xmlns:xlink=\"http://www.w3.org/1999/xlink\" ";

/// Both in a folder of their own.
struct DrawnCourse {
    Folder folder;

    vast_turn::Course load(const std::string& name, const std::string& more = {}) const {
        vast_turn::write_file(folder.file("c.course.toml"), "name = \"c\"\ndrawing = \"" + name + "\"\n" + more);
        return vast_turn::load_course(folder.file("c.course.toml"));
    }
    vast_turn::Course svg(const std::string& attributes, const std::string& body, const std::string& more = {}) const {
        vast_turn::write_file(folder.file("d.svg"), svg_head + attributes + ">" + body + "</svg>");
        return load("d.svg", more);
    }
    std::string fault(const std::string& name, const std::string& more = {}) const {
        return message_of([&] { load(name, more); });
    }
};

/// By how much the channels of two surfaces of one size differ at most, 0..255; 256 when the sizes differ.
int largest_difference(const vast_turn::Course& a, const vast_turn::Course& b);

} // namespace fixtures
