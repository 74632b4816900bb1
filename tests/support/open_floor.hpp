#pragma once

/// Floor with room on all sides, for drives that follow no line.

#include "support/fixtures.hpp"
#include "vast_turn/formats/write/text_file.hpp"
#include "vast_turn/paint/course_file.hpp"

namespace fixtures {

/// Four metres square, a short tape far off, a start in the middle.
inline vast_turn::Course open_floor() {
    const Folder folder;
    vast_turn::write_file(folder.file("open.course.toml"),
                          "name = \"Open floor\"\nsize_mm = [4100, 3900]\ncell_mm = 1\n"
                          "[[tape]]\npath = \"M 90,90 H 390\"\n"
                          "[[start]]\nname = \"middle\"\nat_mm = [2050, 1950]\nheading_deg = 0\n");
    return vast_turn::load_course(folder.file("open.course.toml"));
}

} // namespace fixtures
