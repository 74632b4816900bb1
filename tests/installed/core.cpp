// Plans without any package of pictures: compile one, ask it, tabulate it.
#include "vast_turn/plan/explain/pattern_table.hpp"
#include "vast_turn/plan/mind.hpp"

int main() {
    const vast_turn::Compiled compiled = vast_turn::compile_plan(
        "plan \"edge\"\nsensors 1\nhabit follow {\n    [#] -> wheels(46, 12)\n    else -> wheels(12, 46)\n}\n", "edge");
    if (!compiled.plan) {
        return 1;
    }
    vast_turn::Mind mind(*compiled.plan);
    vast_turn::Look look;
    look.sensors = 1;
    look.line_bits = 1;
    vast_turn::Answer answer;
    mind(look, answer);
    return answer.left_pct == 46.0 && vast_turn::pattern_tables(*compiled.plan).size() == 1 ? 0 : 1;
}
