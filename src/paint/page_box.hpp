#pragma once

/// Which part of a PDF's page is shown: its boxes (ISO 32000-1, 14.11.2).

#include <string>

#include "vast_turn/formats/read/course_sheet.hpp"

namespace vast_turn {

/// "crop", "media", ... as the standard calls them.
const char* name_of(PageBox box);

/// The PDF with the crop box of one page, counted from 1, put to another of its boxes; a box that the page does not
/// have is its crop box, as the standard says, and then false is put into `has_box`. Throws InputError under that path
/// when it cannot be read, and when qpdf is not on this machine.
std::string with_page_box(const std::string& path, const std::string& bytes, int page, PageBox box, bool& has_box);

} // namespace vast_turn
