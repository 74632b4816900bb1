// Wheels in the air: asks a plan about a look, and holds a card of tape under a robot wired wrong.
#include <iostream>

#include "vast_turn/formats/read/plan_file.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/plan/explain/asker.hpp"
#include "vast_turn/sense/array_reader.hpp"
#include "vast_turn/sim/card_check.hpp"

using namespace vast_turn;

int main() {
    const Plan plan = load_plan("data/fern-house/five-wide.plan");
    const Robot robot = load_robot("data/fern-house/sprig-5.robot.toml");

    Look look;
    ArrayReader(plan.sensors()).from_pattern(look, *parse_marks("##..."));
    const Reply reply = Asker(plan).ask(look);
    for (const AskedStep& step : reply.steps) {
        if (step.stage == runtime::Stage::rule) {
            std::cout << "line " << plan.rule(step.rule).line << ": " << (step.holds ? "acts" : step.because) << "\n";
        }
    }
    std::cout << "wheels " << reply.answer.left_pct << " / " << reply.answer.right_pct << "\n\n";

    for (const CardStep& step : card_check(robot, plan, parse_faults({"swapped:1,2", "right_motor=weak:0.6"}, 5))) {
        std::cout << to_marks(step.expected) << " shows as " << to_marks(step.pattern) << "  " << step.remark << "\n";
    }
}
