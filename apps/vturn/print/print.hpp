#pragma once

/// What several commands print alike.

#include <ostream>
#include <string>
#include <utility>
#include <vector>

#include "cli.hpp"
#include "print/shown.hpp"
#include "vast_turn/paint/course_file.hpp"
#include "vast_turn/plan/plan.hpp"
#include "vast_turn/sim/run.hpp"
#include "vast_turn/view/picture.hpp"

namespace vturn {

/// Words in colour where that is wanted.
class Paint {
public:
    explicit Paint(bool colour) : colour_(colour) {}
    std::string good(const std::string& words) const { return wrap("32", words); }
    std::string bad(const std::string& words) const { return wrap("31;1", words); }
    std::string strong(const std::string& words) const { return wrap("1", words); }
    std::string faint(const std::string& words) const { return wrap("2", words); }

private:
    std::string wrap(const char* code, const std::string& words) const {
        return colour_ ? own_code(code) + words + own_code("0") : words;
    }
    bool colour_;
};

/// Rows with columns as wide as their widest cell, two blanks apart. Columns named in `right` are
/// aligned to the right. The last column is not padded.
void print_columns(std::ostream& out, const std::vector<std::vector<std::string>>& rows,
                   const std::vector<std::size_t>& right = {});

/// Whether a file's name ends so.
bool ends_with(const std::string& text, const std::string& end);

/// The format of a picture by its name. Throws InputError when it has none.
vast_turn::PictureFormat format_for(const std::string& path);

/// Route, end, way and events of a run.
void print_run(const Streams& streams, const vast_turn::Scene& scene, const vast_turn::Plan& plan,
               const vast_turn::Run& run);

/// What drawings may do in this call.
vast_turn::DrawingRules drawings_of(const Streams& streams);

/// Reads a course file in one of its variants; what it warns of goes to the error stream.
vast_turn::Course read_course(const Streams& streams, const std::string& path,
                              const std::string& variant = vast_turn::as_drawn);

/// What was found out about a course's drawing, as lines that could stand in the course file; nothing of other courses.
void print_drawing(std::ostream& out, const vast_turn::Course& course, const vast_turn::RouteGraph& graph);

/// Says how many rows of a log that was told over a line were garbled, when there are any.
void warn_of_garbled(const Streams& streams, const std::string& log, const std::string& path);

/// Warnings that came with an input, to the error stream.
void print_warnings(const Streams& streams, const std::vector<vast_turn::Problem>& warnings);

/// What plans are called side by side: their names, with the file where two have one name.
std::vector<std::string> names_apart(const std::vector<std::pair<std::string, std::string>>& names_and_files);

} // namespace vturn
