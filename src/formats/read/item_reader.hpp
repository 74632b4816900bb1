#pragma once

/// Reads what lies on a board, or on a piece of one.

#include <set>
#include <string>
#include <vector>

#include "formats/read/toml_reader.hpp"
#include "vast_turn/course/board/course.hpp"

namespace vast_turn {

inline constexpr Range tape_width{1.0, 1000.0};

/// Reads `[[tape]]`, `[[marker]]`, `[[place]]`, `[[thing]]`, `[[wall]]` and `[[start]]` of a table.
class ItemReader {
public:
    /// Adds to this course, whose size and palette are known. Tapes are so wide when they do not say it.
    ItemReader(TomlTable& root, Course& course, double tape_width_mm)
        : root_(root), course_(course), tape_width_mm_(tape_width_mm) {}

    void read() {
        tapes();
        markers();
        places();
        things();
        walls();
        starts();
    }

private:
    void tapes();
    void markers();
    void places();
    void things();
    void walls();
    void starts();

    TomlTable& root_;
    Course& course_;
    double tape_width_mm_;
};

/// Faults a name that is taken.
void unique(TomlTable& table, const std::string& name, std::set<std::string>& taken, const char* what);

} // namespace vast_turn
