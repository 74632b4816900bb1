// A picture of a pattern table.
#include "vast_turn/view/picture.hpp"

int main() {
    const vast_turn::Compiled compiled = vast_turn::compile_plan(
        "plan \"edge\"\nsensors 1\nhabit follow {\n    [#] -> wheels(46, 12)\n    else -> wheels(12, 46)\n}\n", "edge");
    const auto tables = vast_turn::pattern_tables(*compiled.plan);
    const std::string svg = vast_turn::draw_table(*compiled.plan, tables[0], nullptr, vast_turn::PictureFormat::svg);
    return svg.find("<svg") != std::string::npos ? 0 : 1;
}
