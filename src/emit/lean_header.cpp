/// What a robot's program includes of the C around its plan when levels are built in and nothing is told.

#include <utility>

#include <fmt/format.h>

#include "emit/chassis.hpp"

namespace vast_turn::emit {

namespace {

CStruct lean_loop(const Chassis& chassis) {
    CStruct made{"@loop", {{"struct @state", "plan", 0, "what the plan remembers"}}};
    const bool timed = chassis.asks("clock_ms");
    const auto add = [&](bool needed, CField field) {
        if (needed) {
            made.fields.push_back(std::move(field));
        }
    };
    add_sensing_memory(made, chassis);
    add(timed, {"uint32_t", "clock_us", 0, "at the last look"});
    add(timed, {"uint32_t", "ms", 0, "since the first look"});
    add(timed, {"uint16_t", "rest_us", 0, "and so many microseconds"});
    add(chassis.asks("last_side"), {"int8_t", "side", 0, "where the line was last seen"});
    add(true, {"uint8_t", "line", 0, "bits of the last look"});
    add(timed || chassis.counts_from_start(), {"bool", "begun", 0, "there was a look"});
    return made;
}

const char* const lean_declarations = R"(#ifdef __cplusplus
extern "C" {
#endif

/* Before the first look. */
void @ready(struct @loop *r);

/* One look: reads, decides, drives. False when the plan has halted. */
bool @step(struct @loop *r, const struct @robot *robot);

/* A look each $PERIOD_US until the plan halts; how many looks came late. */
uint32_t @go(struct @loop *r, const struct @robot *robot);

/* What the plan says to these senses; nothing is driven. */
void @decide_senses(struct @loop *r, const struct @senses *now, struct @answer *answer);

/* What goes to the motors for an answer. */
void @wire(const struct @answer *answer, struct @outputs *out);

#ifdef __cplusplus
}
#endif

)";

} // namespace

std::vector<CStruct> lean_structs(const Chassis& chassis) {
    return {senses_struct(chassis), outputs_struct(chassis), lean_loop(chassis)};
}

std::string lean_header(const Chassis& chassis) {
    const CPieces& pieces = chassis.shape.pieces;
    const std::vector<CStruct> structs = lean_structs(chassis);
    return pieces(robot_constants(chassis)) + pieces("/* What the sensors tell at one moment. */\n") +
           struct_text(chassis.shape, structs[0]) + pieces("/* What goes to the motors. */\n") +
           struct_text(chassis.shape, structs[1]) + robot_table(chassis) +
           pieces(
               "/* All that the robot remembers. Set by @ready; the levels of its sensors are in the program. */\n") +
           struct_text(chassis.shape, structs[2]) + pieces(lean_declarations);
}

} // namespace vast_turn::emit
