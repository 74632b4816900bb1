/// What a robot's program includes of the C around its plan.

#include <fmt/format.h>

#include "emit/chassis.hpp"

namespace vast_turn::emit {

namespace {

int sensors(const Chassis& chassis) { return static_cast<int>(chassis.sensors()); }

CField output_of(const Motor& motor, const char* side) {
    const std::string at = motor.output.empty() ? "" : veiled(c_comment(" at " + motor.output));
    switch (motor.command) {
    case CommandKind::percent: return {"@number", side, 0, fmt::format("-100 .. 100, of the motor{}", at)};
    case CommandKind::pwm:
        return {motor.span > 65535.0 ? "uint32_t" : "uint16_t", side, 0,
                fmt::format("0 .. {:.0f}, of the motor{}", motor.span, at)};
    case CommandKind::servo:
        return {"@number", side, 0, fmt::format("degrees, of the servo{}; {:g} stands still", at, motor.neutral)};
    }
    return {};
}

CStruct loop(const Chassis& chassis) {
    const int count = sensors(chassis);
    CStruct made{
        "@loop",
        {{"const struct @robot *", "robot", 0, "what it is driven with"},
         {"struct @state", "plan", 0, "what the plan remembers"},
         {"struct @answer", "answer", 0, "of the last look"},
         {chassis.edge_type(), "on_from", count, "counts, from the floor's side, at which a sensor sees line ..."},
         {chassis.edge_type(), "off_below", count, "... and below which it does no more"}}};
    const auto add = [&](bool needed, CField field) {
        if (needed) {
            made.fields.push_back(std::move(field));
        }
    };
    add(chassis.reads_light(), {"@number", "floor_counts", count, "of each sensor over floor"});
    add(chassis.reads_light(), {"@number", "per_count", count, "by how much a reading grows with a count"});
    add_sensing_memory(made, chassis);
    for (CField field :
         {CField{"uint32_t", "clock_us", 0, "at the last look"}, CField{"uint32_t", "ms", 0, "since the first look"},
          CField{"uint32_t", "rest_us", 0, "and so many microseconds"}, CField{"uint32_t", "looks", 0, "made so far"},
          CField{"uint32_t", "late", 0, "looks that came late in @go"},
          CField{"uint16_t", "sum", 0, "of the frame that is being sent"}}) {
        made.fields.push_back(std::move(field));
    }
    add(chassis.asks("last_side"), {"int8_t", "side", 0, "where the line was last seen"});
    add(!chassis.asks("clock_ms"), {"bool", "timed", 0, "its time has begun"});
    for (CField field : {CField{"uint8_t", "line", 0, "bits of the last look"},
                         CField{"uint8_t", "falls", 0, "bit k is set when sensor k + 1 counts less over line"},
                         CField{"uint8_t", "tells", 0, "set it: $TELLS_... of each look over the serial line"},
                         CField{"bool", "motors_off", 0, "set it: the motors stand, all else goes on"},
                         CField{"bool", "begun", 0, "there was a look"}}) {
        made.fields.push_back(std::move(field));
    }
    add(!chassis.calibration, {"bool", "has_levels", 0, "it has been calibrated"});
    return made;
}

/// "uint16_t (*heard)(void *whom)"
std::string getter(const Sense& sense) {
    if (sense.field.count > 0) {
        return fmt::format("void (*{})(void *whom, uint16_t *{})", sense.field.name, sense.field.name);
    }
    return fmt::format("{} (*{})(void *whom)", sense.field.type, sense.field.name);
}

const char* const declarations = R"(#ifdef __cplusplus
extern "C" {
#endif

/* Before the first look. `robot` must live as long as `r`;
 * #levels#. */
void @ready(struct @loop *r, const struct @robot *robot);

/* One look: reads, decides, drives, tells. False when #over#. */
bool @step(struct @loop *r);

/* A look each $PERIOD_US until the plan halts; looks that come late are counted in `late`. */
void @go(struct @loop *r);

/* What the plan says to these senses goes into `answer`; nothing is driven. */
void @decide_senses(struct @loop *r, const struct @senses *now);

/* What goes to the motors for an answer. */
void @wire(const struct @answer *answer, struct @outputs *out);

/* Reads from now on with these levels, which may come out of a memory that lasts. False, and nothing
 * is changed, when they do not bear their own check. */
bool @use(struct @loop *r, const struct @levels *levels);

/* Calibration on the floor: _floor and _line with every sensor over floor, then over line, 64
 * readings each; or _sweep again and again (`first` at the first time) while the array is moved
 * over the line, then _sweep_ends. At last @learned: it reads with what was learned,
 * and returns the bits of sensors that tell floor and line too little apart, 0 when all is well.
 * The levels may then be stored as they are. */
void @learn_floor(const struct @loop *r, struct @levels *levels);
void @learn_line(const struct @loop *r, struct @levels *levels);
void @learn_sweep(const struct @loop *r, struct @levels *levels, bool first);
void @learn_sweep_ends(struct @levels *levels, bool line_is_dark);
uint8_t @learned(struct @loop *r, struct @levels *levels);

/* The same with a button: pressed and let go over floor, then over line. */
uint8_t @learn_by_button(struct @loop *r, struct @levels *levels, bool (*is_pressed)(void *whom));

/* The first line of what is told with $TELLS_TEXT: the names of the columns. */
void @tell_columns(struct @loop *r);

/* Says over the serial line what this program was made of: whoever asks it waits for that. */
void @greet(struct @loop *r);

/* A byte that came over the serial line. When it ends a frame with senses, they are decided and the
 * answer is sent back. True when it ended a frame. */
bool @serve(struct @loop *r, struct @ear *ear, uint8_t byte);

#if $TALKS
/* A byte that came over the serial line, of commands as text: motors, tell, level, use, set. At the
 * end of a command that bears its check sum it is carried out and answered: then true. */
bool @hear(struct @loop *r, struct @hearing *h, uint8_t byte);
#endif

#ifdef __cplusplus
}
#endif

)";

} // namespace

void add_sensing_memory(CStruct& made, const Chassis& chassis) {
    if (chassis.asks("offset")) {
        made.fields.push_back({"@number", "offset", 0, "at the last look"});
    }
    for (const Sense& sense : chassis.senses) {
        if (sense.from_start) {
            made.fields.push_back({"@number", "first_" + sense.field.name, 0, "at the first look"});
        }
    }
}

CStruct outputs_struct(const Chassis& chassis) {
    CStruct made{"@outputs", {}};
    const auto add = [&](const Motor& motor, const char* side, const char* backwards) {
        made.fields.push_back(output_of(motor, side));
        if (motor.command == CommandKind::pwm) {
            made.fields.push_back({"bool", backwards, 0, "its direction line"});
        }
    };
    add(chassis.robot.motors.left, "left", "left_backwards");
    add(chassis.robot.motors.right, "right", "right_backwards");
    return made;
}

CStruct senses_struct(const Chassis& chassis) {
    CStruct made{"@senses", {{"uint32_t", "clock_us", 0, "goes on; behind its last number it begins anew"}}};
    for (const Sense& sense : chassis.senses) {
        made.fields.push_back(sense.field);
    }
    return made;
}

std::string robot_table(const Chassis& chassis) {
    std::string text = "/* What the robot gives: functions, each given `whom`. */\nstruct @robot {\n";
    const auto add = [&](const std::string& declared, const std::string& about) {
        text += fmt::format("    /* {} */\n    {};\n", about, declared);
    };
    text += "    void *whom;\n";
    add("uint32_t (*clock_us)(void *whom)", "microseconds of a clock that goes on");
    for (const Sense& sense : chassis.senses) {
        add(getter(sense), sense.field.count > 0 ? fmt::format("all {}: {}", sense.field.count, sense.field.about)
                                                 : sense.field.about);
    }
    add("void (*drive)(void *whom, const struct @outputs *out)", "gives the motors what is theirs");
    if (!chassis.shape.form.lean) {
        add("@say_function say", "may be 0: is told what the plan says");
        add("void (*put)(void *whom, uint8_t byte)", "may be 0: puts a byte onto the serial line");
    }
    return chassis.shape.pieces(text + "};\n\n");
}

std::string robot_constants(const Chassis& chassis) {
    std::string text = veiled(c_comment(fmt::format("The robot around it: {}", chassis.robot.name)));
    text = fmt::format("/* {}. */\n\n#define $SENSORS {}\n#define $PERIOD_US {:.0f}UL\n", text, sensors(chassis),
                       1000.0 * chassis.robot.look_ms);
    for (const Sense& sense : chassis.senses) {
        text += fmt::format("#define $ASKS_{} 1\n", c_constant(sense.field.name));
    }
    return text + "\n";
}

std::vector<CStruct> chassis_structs(const Chassis& chassis) {
    const int count = sensors(chassis);
    return {senses_struct(chassis),
            outputs_struct(chassis),
            {"@levels",
             {{"@number", "floor_counts", count, "of each sensor over floor"},
              {"@number", "line_counts", count, "and over line"},
              {"uint16_t", "check", 0, "of the numbers before it"}}},
            loop(chassis)};
}

std::string chassis_header(const Chassis& chassis) {
    const CPieces& pieces = chassis.shape.pieces;
    const std::vector<CStruct> structs = chassis_structs(chassis);
    int payload = 4;
    for (const Sense& sense : chassis.senses) {
        payload += std::max(sense.field.count, 1) * (sense.bytes == 0 ? 8 : sense.bytes);
    }
    std::string text = robot_constants(chassis);
    text += fmt::format("/* 1: hears commands over the serial line and tells there what the plan says, which takes\n"
                        " * memory on chips that keep texts in it. */\n"
                        "#ifndef $TALKS\n#define $TALKS {}\n#endif\n\n",
                        chassis.talks ? 1 : 0);
    text += "enum { $TELLS_NOTHING, $TELLS_TEXT, $TELLS_SHORT };\n\n";
    text =
        pieces(text) + pieces("/* What the sensors tell at one moment. */\n") + struct_text(chassis.shape, structs[0]) +
        pieces("/* What goes to the motors. */\n") + struct_text(chassis.shape, structs[1]) + robot_table(chassis) +
        pieces("/* What each sensor counts over floor and over line. */\n") + struct_text(chassis.shape, structs[2]) +
        pieces("/* All that the robot remembers. Set by @ready. */\n") + struct_text(chassis.shape, structs[3]);
    text += pieces(fmt::format("/* Bytes of a frame that are there so far; set it to 0 at first. */\nstruct @ear {{\n"
                               "    uint16_t sum;\n    uint8_t at;\n    uint8_t kind;\n    uint8_t length;\n"
                               "    uint8_t payload[{}];\n}};\n\n",
                               payload));
    text +=
        pieces(fmt::format("/* A command as far as it has come, and levels that came with some; all 0 at first. */\n"
                           "#if $TALKS\nstruct @hearing {{\n    struct @levels levels;\n    uint8_t length;\n"
                           "    char words[{}];\n}};\n#endif\n\n",
                           longest_command(chassis)));
    std::string functions = declarations;
    functions.replace(functions.find("#over#"), 6,
                      chassis.calibration ? "the plan has halted" : "the plan has halted or it has no levels");
    functions.replace(functions.find("#levels#"), 8,
                      chassis.calibration ? "it reads with the calibration that is built in"
                                          : "until it has levels its motors stand and no look is made");
    return text + pieces(functions);
}

} // namespace vast_turn::emit
