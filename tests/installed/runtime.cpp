// The robot's part alone: counts to bits, and an offset.
#include "vast_turn/runtime/line_position.hpp"
#include "vast_turn/runtime/machine.hpp"
#include "vast_turn/runtime/sensing.hpp"
#include "vast_turn/version.hpp"

int main() {
    const vast_turn::SensorLevels levels[2] = {{810.0, 95.0, 0.5, 0.0}, {790.0, 110.0, 0.5, 0.0}};
    vast_turn::ArrayScale scale(levels, 2);
    const double counts[2] = {102.0, 777.0};
    double readings[2];
    const double weights[2] = {1.0, -1.0};
    const bool left = scale.read(counts, readings) == 1;
    const bool is_left = vast_turn::weighted_position(readings, weights, 2, 0b01, 0.0) > 0.9;
    vast_turn::runtime::Rule rule;
    rule.acts = 0;
    const vast_turn::runtime::Instruction code[1] = {{vast_turn::runtime::Op::end, 0, 0}};
    vast_turn::runtime::Block block;
    block.rules = 1;
    vast_turn::runtime::Program program;
    program.code = code;
    program.rules = &rule;
    program.blocks = &block;
    program.rule_count = 1;
    program.sensors = 2;
    vast_turn::runtime::Frame frame;
    vast_turn::runtime::Storage storage;
    storage.frames = &frame;
    vast_turn::runtime::Machine machine(program, storage);
    vast_turn::Look look;
    vast_turn::Answer answer;
    machine.look(look, answer);
    return left && is_left && answer.rule == vast_turn::RuleId(0) && vast_turn::version_minor == 1 ? 0 : 1;
}
