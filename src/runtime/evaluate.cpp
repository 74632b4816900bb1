#include "runtime/evaluate.hpp"

namespace vast_turn::runtime {

double Machine::ramp(double from, double to, std::uint32_t& faults) const {
    const Frame& frame = storage_.frames[context_.frame];
    const Item& item = program_.items[program_.blocks[frame.block].first_item + frame.item];
    const double part = frame.item_limit > 0.0 ? clamped(kept(measure(frame, item) / frame.item_limit), 0.0, 1.0) : 1.0;
    return kept_settled(from + kept_settled(kept(to - from) * part, faults), faults);
}

const Instruction* Machine::values_of_kind(const Context& at, const Instruction* next, const double* constants,
                                           double*& top, Wheels& wheels, std::uint32_t& faults) const {
    return program_.numbers == NumberKind::binary64 ? values<Binary64>(at, next, constants, top, wheels, faults)
                                                    : values<Binary32>(at, next, constants, top, wheels, faults);
}

double Machine::evaluate(std::uint16_t at) {
    double stack[stack_depth];
    double* top = stack;
    values_of_kind(context_, program_.code + at, program_.constants, top, wheels_, faults_);
    return top[-1];
}

double Machine::value_of(const Instruction* code, const double* constants) const {
    double stack[stack_depth];
    double* top = stack;
    Wheels wheels; // an expression has no motion
    std::uint32_t faults = 0;
    values_of_kind(context_, code, constants, top, wheels, faults);
    return top[-1];
}

double Machine::value_in_plan(const Look& look, const Instruction* code, const double* constants) const {
    double stack[stack_depth];
    double* top = stack;
    Wheels wheels;
    std::uint32_t faults = 0;
    const Marks now = marks_of(look); // the usual look counts nothing from marks, and keeps none
    values_of_kind({&look, &now, &plan_began_, storage_.cells, -1}, code, constants, top, wheels, faults);
    return top[-1];
}

bool Machine::is_true_at(std::uint16_t at) { return is_true(evaluate(at)); }

void Machine::use_plan() {
    context_.now = &raw_;
    context_.began = &plan_began_;
    context_.cells = storage_.cells;
    context_.frame = -1;
}

void Machine::use_block(int frame) {
    const Frame& f = storage_.frames[frame];
    context_.now = &now_;
    context_.began = &f.block_began;
    context_.cells = storage_.cells + f.cells;
    context_.frame = frame;
}

void Machine::use_item(int frame) {
    use_block(frame);
    context_.began = &storage_.frames[frame].item_began;
}

} // namespace vast_turn::runtime
