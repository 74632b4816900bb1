/// From an answer to the motors, one look after another, and calibration on the floor.

#include <fmt/format.h>

#include "emit/c_function.hpp"
#include "emit/chassis.hpp"

namespace vast_turn::emit {

namespace {

/// Statements that give a motor what is its own, as command_for() has it.
void add_motor(Lines& lines, const Chassis& chassis, const Motor& motor, const char* side) {
    const CPieces& pieces = chassis.shape.pieces;
    const std::string power = fmt::format("{}answer->{}_pct", motor.reversed ? "-" : "", side);
    switch (motor.command) {
    case CommandKind::percent: lines.add(fmt::format("out->{} = {};", side, power)); return;
    case CommandKind::servo:
        lines.add(fmt::format("out->{} = {} + {} / {} * {};", side, pieces.number(motor.neutral), power,
                              pieces.number(100.0), pieces.number(motor.span)));
        return;
    case CommandKind::pwm:
        lines.add("{");
        lines.add(fmt::format("const @number power = {};", power));
        lines.add(fmt::format("const @number size = power < {0} ? -power : power;", pieces.number(0.0)));
        lines.add(
            fmt::format("const @number counts = size / {} * {};", pieces.number(100.0), pieces.number(motor.span)));
        lines.add("const uint32_t whole = (uint32_t)counts;");
        lines.add(fmt::format("out->{} = ({})(counts - (@number)whole >= {} ? whole + 1u : whole);", side,
                              motor.span > 65535.0 ? "uint32_t" : "uint16_t", pieces.number(0.5)));
        lines.add(fmt::format("out->{}_backwards = power < {};", side, pieces.number(0.0)));
        lines.add("}");
        return;
    }
}

std::string read_senses(const Chassis& chassis) {
    Lines lines;
    if (!chassis.shape.form.lean) {
        lines.add("const struct @robot *const robot = r->robot;");
    }
    lines.add("now->clock_us = robot->clock_us(robot->whom);");
    for (const Sense& sense : chassis.senses) {
        const std::string& name = sense.field.name;
        lines.add(sense.field.count > 0 ? fmt::format("robot->{0}(robot->whom, now->{0});", name)
                                        : fmt::format("now->{0} = robot->{0}(robot->whom);", name));
    }
    return c_function(
        chassis.shape.pieces, "static void @read_senses",
        {chassis.shape.form.lean ? "const struct @robot *robot" : "const struct @loop *r", "struct @senses *now"}, {},
        lines.text());
}

const char* const looking = R"(static void @drive(const struct @loop *r, bool stands)
{
    const struct @answer none = {0};
    struct @outputs out;
    @wire(stands ? &none : &r->answer, &out);
    r->robot->drive(r->robot->whom, &out);
}

bool @step(struct @loop *r)
{
    struct @senses now = {0};
#if
    @read_senses(r, &now);
    @decide_senses(r, &now);
    @drive(r, r->motors_off);
    @tell(r, &now);
    return !r->answer.halted;
}

void @go(struct @loop *r)
{
    const struct @robot *const robot = r->robot;
    uint32_t due = robot->clock_us(robot->whom);
    while (@step(r)) {
        uint32_t over;
        due += $PERIOD_US;
        over = robot->clock_us(robot->whom) - due;
        if (over != 0 && over < 0x80000000u) { /* it is later already */
            r->late++;
            due += over;
        }
        while (robot->clock_us(robot->whom) - due >= 0x80000000u) {
        }
    }
}

)";

/// The robot stands beside what is remembered, and nothing is told.
const char* const lean_looking = R"(bool @step(struct @loop *r, const struct @robot *robot)
{
    struct @senses now = {0};
    struct @answer answer;
    struct @outputs out;
    @read_senses(robot, &now);
    @decide_senses(r, &now, &answer);
    @wire(&answer, &out);
    robot->drive(robot->whom, &out);
    return !answer.halted;
}

uint32_t @go(struct @loop *r, const struct @robot *robot)
{
    uint32_t due = robot->clock_us(robot->whom);
    uint32_t late = 0;
    while (@step(r, robot)) {
        uint32_t over;
        due += $PERIOD_US;
        over = robot->clock_us(robot->whom) - due;
        if (over != 0 && over < 0x80000000u) { /* it is later already */
            late++;
            due += over;
        }
        while (robot->clock_us(robot->whom) - due >= 0x80000000u) {
        }
    }
    return late;
}

)";

/// Before the first look.
std::string ready(const Chassis& chassis) {
    Lines lines;
    lines.add("*r = (struct @loop){0};");
    lines.add("r->robot = robot;");
    add_built_in_levels(lines, chassis);
    if (chassis.asks("last_side")) {
        lines.add("r->side = 1;");
    }
    lines.add_all("@begin(&r->plan, robot->say, robot->whom);\n@listen(r);");
    return c_function(chassis.shape.pieces, "void @ready", {"struct @loop *r", "const struct @robot *robot"}, {},
                      lines.text());
}

/// Who is told what the plan says.
const char* const listening = R"(#if $TALKS
static void @says_over_line(void *whom, uint8_t kind, uint16_t what, @number value);
#endif

static void @listen(struct @loop *r)
{
#if $TALKS
    r->plan.say = @says_over_line;
    r->plan.whom = r;
#else
    r->plan.say = r->robot->say;
    r->plan.whom = r->robot->whom;
#endif
}

)";

/// `N` stands for the number of sensors, `LEAST` for how far a sensor's two levels must be apart.
const char* const learning = R"(/* Of the bytes of the numbers. */
static uint16_t @check_of(const struct @levels *levels)
{
    const uint8_t *const floors = (const uint8_t *)levels->floor_counts;
    const uint8_t *const lines = (const uint8_t *)levels->line_counts;
    uint16_t sum = 0xFFFFu;
    uint8_t i;
    for (i = 0; i < sizeof levels->floor_counts; ++i) {
        sum = @summed(@summed(sum, floors[i]), lines[i]);
    }
    return sum;
}

bool @use(struct @loop *r, const struct @levels *levels)
{
    if (levels->check != @check_of(levels)) {
        return false;
    }
    @read_with(r, levels);
    return true;
}

/* The mean of 64 readings of each sensor. */
static void @mean_counts(const struct @loop *r, @number *mean)
{
    uint32_t sum[N] = {0};
    uint16_t counts[N];
    uint8_t i, n;
    for (n = 0; n < 64; ++n) {
        r->robot->counts(r->robot->whom, counts);
        for (i = 0; i < N; ++i) {
            sum[i] += counts[i];
        }
    }
    for (i = 0; i < N; ++i) {
        mean[i] = (@number)sum[i] / 64.0_;
    }
}

void @learn_floor(const struct @loop *r, struct @levels *levels)
{
    @mean_counts(r, levels->floor_counts);
}

void @learn_line(const struct @loop *r, struct @levels *levels)
{
    @mean_counts(r, levels->line_counts);
}

void @learn_sweep(const struct @loop *r, struct @levels *levels, bool first)
{
    uint16_t counts[N];
    uint8_t i;
    r->robot->counts(r->robot->whom, counts);
    for (i = 0; i < N; ++i) { /* the least in the place of the floor, until the sweep ends */
        const @number x = (@number)counts[i];
        if (first || x < levels->floor_counts[i]) {
            levels->floor_counts[i] = x;
        }
        if (first || x > levels->line_counts[i]) {
            levels->line_counts[i] = x;
        }
    }
}

void @learn_sweep_ends(struct @levels *levels, bool line_is_dark)
{
    uint8_t i;
    for (i = 0; line_is_dark && i < N; ++i) {
        const @number least = levels->floor_counts[i];
        levels->floor_counts[i] = levels->line_counts[i];
        levels->line_counts[i] = least;
    }
}

uint8_t @learned(struct @loop *r, struct @levels *levels)
{
    uint8_t i;
    uint8_t alike = 0;
    for (i = 0; i < N; ++i) {
        if (@counts_apart(levels, i) < @least_apart(i)) {
            alike = (uint8_t)(alike | 1u << i);
        }
    }
    levels->check = @check_of(levels);
    @read_with(r, levels);
    return alike;
}

static void @wait_for_button(const struct @loop *r, bool (*is_pressed)(void *whom))
{
    while (!is_pressed(r->robot->whom)) {
    }
    while (is_pressed(r->robot->whom)) {
    }
}

uint8_t @learn_by_button(struct @loop *r, struct @levels *levels, bool (*is_pressed)(void *whom))
{
    @wait_for_button(r, is_pressed);
    @learn_floor(r, levels);
    @wait_for_button(r, is_pressed);
    @learn_line(r, levels);
    return @learned(r, levels);
}

)";

/// A twentieth of the converter's range: less than that tells line and floor apart no longer once noise and light are
/// in it.
std::string apart_functions(const Chassis& chassis) {
    const CPieces& pieces = chassis.shape.pieces;
    std::vector<std::string> least;
    for (const LineSensor& sensor : chassis.robot.sensors) {
        least.push_back(pieces.number(sensor.adc_max / 20.0));
    }
    return pieces("static @number @counts_apart(const struct @levels *levels, uint8_t sensor)\n{\n"
                  "    const @number apart = levels->line_counts[sensor] - levels->floor_counts[sensor];\n"
                  "    return apart < 0.0_ ? -apart : apart;\n}\n\n"
                  "/* A twentieth of what the converter counts. */\n") +
           number_of_sensor(pieces, "@least_apart", least);
}

std::string for_sensors(std::string text, std::size_t sensors) {
    for (std::size_t at = text.find('N'); at != std::string::npos; at = text.find('N', at + 1)) {
        const bool stands_alone = text[at - 1] == '[' || text[at - 1] == ' ';
        if (stands_alone && (text[at + 1] == ']' || text[at + 1] == ';')) {
            text.replace(at, 1, std::to_string(sensors));
        }
    }
    return text;
}

} // namespace

std::string wiring_function(const Chassis& chassis) {
    Lines lines;
    add_motor(lines, chassis, chassis.robot.motors.left, "left");
    add_motor(lines, chassis, chassis.robot.motors.right, "right");
    return c_function(chassis.shape.pieces, "void @wire", {"const struct @answer *answer", "struct @outputs *out"}, {},
                      lines.text());
}

std::string learning_functions(const Chassis& chassis) {
    return chassis.shape.pieces(listening) + apart_functions(chassis) +
           chassis.shape.pieces(for_sensors(learning, chassis.sensors())) + ready(chassis);
}

std::string lean_loop_functions(const Chassis& chassis) {
    Lines lines;
    lines.add("*r = (struct @loop){0};");
    if (chassis.asks("last_side")) {
        lines.add("r->side = 1;");
    }
    lines.add("@begin(&r->plan);");
    return c_function(chassis.shape.pieces, "void @ready", {"struct @loop *r"}, {}, lines.text()) +
           wiring_function(chassis) + read_senses(chassis) + chassis.shape.pieces(lean_looking);
}

std::string loop_functions(const Chassis& chassis) {
    std::string text = looking;
    const std::string hole = "#if\n";
    text.replace(text.find(hole), hole.size(),
                 chassis.calibration
                     ? ""
                     : "    if (!r->has_levels) {\n        @drive(r, true);\n        return false;\n    }\n");
    return wiring_function(chassis) + read_senses(chassis) + chassis.shape.pieces(text);
}

} // namespace vast_turn::emit
