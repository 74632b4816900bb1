/// The C around a plan on its own: levels learned on the floor, what goes to the motors, what is told over the line.
#include <algorithm>
#include <cmath>
#include <filesystem>
#include <sstream>

#include <doctest/doctest.h>
#include <fmt/format.h>

#include "plan/reference/model.hpp"
#include "support/fixtures.hpp"
#include "support/rounds.hpp"
#include "vast_turn/emit/c_source.hpp"
#include "vast_turn/emit/frames.hpp"
#include "vast_turn/formats/read/plan_file.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/formats/read/text_file.hpp"
#include "vast_turn/formats/write/text_file.hpp"
#include "vast_turn/robot/array.hpp"

using namespace vast_turn;
using fixtures::call_vturn;

namespace {

/// Compiles a program around the exported pair and runs it; what it wrote.
std::string played(const fixtures::Folder& folder, const Plan& plan, const CSourceOptions& options,
                   const std::string& program, const std::string& beside = "") {
    const CSource c = c_source(plan, options);
    write_file(folder.file("plan.h"), c.header);
    write_file(folder.file("plan.c"), c.source);
    write_file(folder.file("main.c"), "#include <stdio.h>\n#include \"plan.h\"\n" + program);
    const fixtures::Called built = fixtures::program(fmt::format(
        "cd '{}' && {} -std=c99 -Wall -Wextra -Wconversion -Wshadow -Wpedantic -Werror main.c plan.c {} -o main",
        folder.path(), fixtures::sanitized() ? "clang -fsanitize=address,undefined" : "cc", beside));
    REQUIRE_MESSAGE(built.status == 0, built.err);
    const fixtures::Called called = fixtures::program("'" + folder.file("main") + "'");
    REQUIRE_MESSAGE(called.status == 0, called.err);
    return called.out;
}

Robot two_wheels(const Motor& left, const Motor& right) {
    Robot made = fixtures::ideal_robot(2);
    made.motors.left = left;
    made.motors.right = right;
    return made;
}

const char* const reads_line_bits = R"(
static uint16_t now[2];
static void counts(void *whom, uint16_t *to) { (void)whom; to[0] = now[0]; to[1] = now[1]; }
static uint32_t us;
static uint32_t clock_us(void *whom) { (void)whom; return us; }
static void drive(void *whom, const struct plan_outputs *out) { (void)whom; (void)out; }
static const struct plan_robot robot = {.clock_us = clock_us, .counts = counts, .drive = drive};
static struct plan_loop loop;
static void sees(uint16_t a, uint16_t b)
{
    now[0] = a;
    now[1] = b;
    us += 10000;
    plan_step(&loop);
    printf("%d ", loop.line);
}
)";

} // namespace

TEST_CASE("levels are learned over floor and line, by a sweep or with a button, and may be stored") {
    const fixtures::Folder folder;
    const Plan plan = fixtures::compiled(fixtures::plan_text(2, "else -> ahead(40)"));
    const std::string told =
        played(folder, plan, {.name = "plan", .robot = fixtures::ideal_robot(2)}, std::string(reads_line_bits) + R"(
static int pressed;
static bool is_pressed(void *whom)
{
    (void)whom;
    pressed++;
    if (pressed == 4) { now[0] = 100; now[1] = 120; } /* moved onto the line between the two */
    return pressed % 3 == 2;
}
int main(void)
{
    struct plan_levels stored, levels;
    plan_ready(&loop, &robot);
    printf("%d %d ", plan_step(&loop), (int)loop.looks); /* no levels yet */
    now[0] = 900; now[1] = 880;
    plan_learn_floor(&loop, &levels);
    now[0] = 100; now[1] = 120;
    plan_learn_line(&loop, &levels);
    printf("learned %d: ", plan_learned(&loop, &levels));
    sees(900, 120); sees(501, 120); sees(499, 501); sees(500, 500);
    stored = levels;
    now[0] = 300; now[1] = 130;
    plan_learn_line(&loop, &levels);
    now[1] = 120; now[0] = 310;
    plan_learn_floor(&loop, &levels);
    printf("alike %d\n", plan_learned(&loop, &levels));
    printf("stored %d ", plan_use(&loop, &stored));
    stored.line_counts[0] += 1;
    printf("spoilt %d ", plan_use(&loop, &stored));
    sees(499, 880);
    now[0] = 250; now[1] = 260; plan_learn_sweep(&loop, &levels, true);
    now[0] = 700; now[1] = 260; plan_learn_sweep(&loop, &levels, false);
    now[0] = 250; now[1] = 710; plan_learn_sweep(&loop, &levels, false);
    plan_learn_sweep_ends(&levels, false);
    printf("swept %d: ", plan_learned(&loop, &levels));
    sees(474, 486); sees(476, 484);
    now[0] = 900; now[1] = 880;
    printf("by button %d: ", plan_learn_by_button(&loop, &levels, is_pressed));
    sees(900, 120);
    printf("%d of %d late\n", (int)loop.late, (int)loop.looks);
    return 0;
}
)");
    CHECK(told == "0 0 learned 0: 2 2 1 3 alike 3\nstored 1 spoilt 0 1 swept 0: 2 1 by button 0: 2 0 of 8 late\n");
}

TEST_CASE("bits and side are the reader's for converters of 16 bits, light lines and places whose sums are not exact") {
    const fixtures::Folder folder;
    const Plan plan = fixtures::compiled("plan \"side\"\nsensors 3\nhabit go {\n    last_side > 0 -> ahead(40)\n"
                                         "    else -> ahead(-40)\n}\n");
    Robot robot = fixtures::ideal_robot(3);
    const double left_mm[] = {0.3, -0.1, -0.2}; // as doubles they add up to a little less than 0
    Calibration calibration{{{61000.0, 900.0, 0.5, 0.2}, {800.0, 65535.0, 0.4, 0.1}, {500.0, 40000.0, 0.5, 0.0}}};
    for (std::size_t i = 0; i < 3; ++i) {
        robot.sensors[i].adc_max = 65535;
        robot.sensors[i].at_mm.y = left_mm[i];
    }
    const std::string told = played(folder, plan, {.name = "plan", .robot = robot, .calibration = calibration}, R"(
int main(void)
{
    static const struct plan_robot robot;
    static struct plan_loop loop;
    uint32_t n;
    plan_ready(&loop, &robot);
    for (n = 0; n < 3000; ++n) {
        const struct plan_senses now = {
            .clock_us = 10000 * n,
            .counts = {(uint16_t)(n * 40503u), (uint16_t)(n * 30011u), (uint16_t)(n * 51001u)}};
        plan_decide_senses(&loop, &now);
        printf("%d %d\n", loop.line, loop.side);
    }
    return 0;
}
)");
    ArrayReader reader = array_reader(robot, calibration);
    std::string expected;
    for (std::uint32_t n = 0; n < 3000; ++n) {
        Look look;
        look.raw[0] = static_cast<std::uint16_t>(n * 40503U);
        look.raw[1] = static_cast<std::uint16_t>(n * 30011U);
        look.raw[2] = static_cast<std::uint16_t>(n * 51001U);
        reader.from_counts(look);
        expected += fmt::format("{} {}\n", look.line_bits, look.last_side);
    }
    CHECK(told == expected);
    CHECK(read_file(folder.file("plan.c")).find("static const uint8_t left[1]") != std::string::npos);
}

TEST_CASE("what stands at the motors is what the library says stands there") {
    Motor percent;
    percent.reversed = true;
    Motor pwm;
    pwm.command = CommandKind::pwm;
    pwm.span = 255.0;
    Motor long_pwm = pwm;
    long_pwm.reversed = true;
    long_pwm.span = 80000.0;
    Motor servo = percent;
    servo.command = CommandKind::servo;
    servo.neutral = 88.5;
    servo.span = 41.0;
    const Plan plan = fixtures::compiled(fixtures::plan_text(2, "else -> ahead(40)"));
    for (const auto& [left, right] : {std::pair{percent, pwm}, std::pair{long_pwm, servo}}) {
        const fixtures::Folder folder;
        const Robot robot = two_wheels(left, right);
        const bool pwm_left = left.command == CommandKind::pwm;
        const std::string told =
            played(folder, plan, {.name = "plan", .robot = robot},
                   fmt::format(R"(
int main(void)
{{
    int i;
    for (i = -200; i <= 200; ++i) {{
        const struct plan_answer a = {{.left_pct = i / 2.0, .right_pct = -i / 2.0}};
        struct plan_outputs out;
        plan_wire(&a, &out);
        printf("%.17g %d %.17g %d\n", (double)out.left, {}, (double)out.right, {});
    }}
    return 0;
}}
)",
                               pwm_left ? "out.left_backwards" : "0", pwm_left ? "0" : "out.right_backwards"));
        std::istringstream lines(told);
        for (int i = -200; i <= 200; ++i) {
            CAPTURE(i);
            double values[2];
            int backwards[2];
            lines >> values[0] >> backwards[0] >> values[1] >> backwards[1];
            const MotorCommand expected[] = {command_for(robot.motors.left, i / 2.0),
                                             command_for(robot.motors.right, -i / 2.0)};
            for (int side = 0; side < 2; ++side) {
                CHECK(values[side] == doctest::Approx(expected[side].value).epsilon(1e-12));
                CHECK((backwards[side] != 0) == expected[side].backwards);
            }
        }
        CHECK(lines.good());
    }
}

TEST_CASE("what an exported program tells over its line is a log that differs in no look, in both forms") {
    const std::string robot_file = "data/fern-house/sprig-5.robot.toml";
    for (const bool in_frames : {false, true}) {
        CAPTURE(in_frames);
        const fixtures::Folder folder;
        const std::string calibration = folder.file("sprig-5.calibration.toml");
        REQUIRE(call_vturn({"calibrate", "data/fern-house/sprig-5.bench.csv", "--robot", robot_file, "-o", calibration})
                    .status == 0);
        REQUIRE(call_vturn({"export", "data/fern-house/rounds.plan", "-o", folder.path(), "--numbers", "float",
                            "--name", "plan", "--robot", robot_file, "--calibration", calibration})
                    .status == 0);
        write_file(folder.file("main.c"),
                   fmt::format(R"(
#include <stdio.h>
#include "plan.h"
static uint32_t n;
static uint32_t clock_us(void *whom) {{ (void)whom; return 4294900000u + 12000u * n; }}
static void counts(void *whom, uint16_t *to)
{{
    int i;
    (void)whom;
    for (i = 0; i < PLAN_SENSORS; ++i) {{
        to[i] = (uint16_t)(i == 3 ? 3300 : 830);
    }}
    to[(n / 9) % 5] = 100;
}}
static float left_deg(void *whom) {{ (void)whom; return 7.0f + 1.25f * (float)n; }}
static float right_deg(void *whom) {{ (void)whom; return 1.5f * (float)n; }}
static float range_mm(void *whom) {{ (void)whom; return n % 40 == 13 ? 71.5f : 1150.0f; }}
static uint16_t markers(void *whom) {{ (void)whom; return n % 50 == 30 ? PLAN_SEES_TEAL : 0; }}
static void drive(void *whom, const struct plan_outputs *out) {{ (void)whom; (void)out; }}
static void put(void *whom, uint8_t byte) {{ (void)whom; putchar(byte); }}
int main(void)
{{
    static const struct plan_robot robot = {{0, clock_us, counts, left_deg, right_deg, range_mm, markers, drive, 0, put}};
    static struct plan_loop loop;
    plan_ready(&loop, &robot);
    loop.tells = {};
    {}
    for (n = 0; n < 200 && plan_step(&loop); ++n) {{
    }}
    return 0;
}}
)",
                               in_frames ? "PLAN_TELLS_SHORT" : "PLAN_TELLS_TEXT",
                               in_frames ? "printf(\"\\xA7 half a frame\");" : "plan_tell_columns(&loop);"));
        const fixtures::Called built = fixtures::program(
            fmt::format("cd '{}' && cc -std=c99 -Wall -Wextra -Werror main.c plan.c -o main", folder.path()));
        REQUIRE_MESSAGE(built.status == 0, built.err);
        write_file(folder.file("told"), fixtures::program("'" + folder.file("main") + "'").out);
        const auto asked =
            call_vturn({"ask", "data/fern-house/rounds.plan", "--log", folder.file("told"), "--robot", robot_file,
                        "--calibration", calibration, "--numbers", "float", "--tolerance-pct", "0.001"});
        CAPTURE(asked.out);
        CAPTURE(asked.err);
        CHECK(asked.status == 0);
        CHECK(asked.out.find("200 looks") != std::string::npos);
        // A fit reads both forms too: wheels that turn evenly whatever the powers are not this one.
        std::vector<std::string> fit = {"fit", robot_file, folder.file("told"), "--json"};
        if (in_frames) {
            CHECK(call_vturn(fit).err.find("--plan") != std::string::npos);
            fit.insert(fit.end(), {"--plan", "data/fern-house/rounds.plan"});
        }
        const auto fitted = call_vturn(fit);
        CAPTURE(fitted.err);
        CAPTURE(fitted.out);
        CHECK(fitted.status == 1);
        CHECK(fitted.out.find("\"looks\": 200,") != std::string::npos);
        CHECK(fitted.out.find("left wheel at full power comes out as") != std::string::npos);
    }
}

/// A program that gives a full and a lean one of the same plan the same senses, tells how many looks it gave them, and
/// the first at which they differ; the counts wander as over a line.
std::string two_minds(const CSource& full) {
    std::string fill;
    for (const SenseField& sense : full.senses) {
        const std::string value = sense.name == "counts"   ? "n % 17 < 9 ? (uint16_t)(seed >> 22) : now.counts[k]"
                                  : sense.bytes == 0       ? "(float)(n * 3 % 900) + 0.25f * (float)(seed >> 28)"
                                  : sense.name == "button" ? "n % 50 > 45"
                                                           : "n % 31 == 3 ? (uint16_t)(seed >> 30) : 0";
        fill += fmt::format("        for (k = 0; k < {0}; ++k) {{\n            seed = seed * 1664525u + 1013904223u;\n"
                            "            {1} = {2};\n            {3} = {1};\n        }}\n",
                            std::max(sense.count, 1), "now." + sense.name + (sense.count > 0 ? "[k]" : ""), value,
                            "same." + sense.name + (sense.count > 0 ? "[k]" : ""));
    }
    return R"(
#include "lean.h"
int main(void)
{
    static const struct plan_robot robot;
    struct plan_loop loop;
    struct lean_loop other;
    struct plan_senses now = {0};
    struct lean_senses same = {0};
    struct lean_answer answer;
    uint32_t seed = 7, n;
    int k, halts = 0;
    plan_ready(&loop, &robot);
    lean_ready(&other);
    for (n = 0; n < 20000; ++n) {
        now.clock_us += n % 1000 == 7 ? 0 : 9900u + n % 400;
        same.clock_us = now.clock_us;
)" + fill + R"(
        plan_decide_senses(&loop, &now);
        lean_decide_senses(&other, &same, &answer);
        if (answer.left_pct != loop.answer.left_pct || answer.right_pct != loop.answer.right_pct ||
            answer.halted != loop.answer.halted || other.line != loop.line) {
            printf("look %d: %g %g but %g %g\n", (int)n, loop.answer.left_pct, loop.answer.right_pct, answer.left_pct, answer.right_pct);
            return 0;
        }
        if (answer.halted) {
            halts++;
            plan_ready(&loop, &robot);
            lean_ready(&other);
        }
    }
    printf("alike %d %d", (int)sizeof other, halts > 0);
    return 0;
}
)";
}

TEST_CASE("a lean program of a robot decides as the full one does, and needs the bytes that are told") {
    const Robot five = load_robot("data/fern-house/sprig-5.robot.toml");
    const Calibration of_five{{{830.0, 100.0, 0.5, 0.1},
                               {90.0, 800.0, 0.5, 0.1}, // one that counts more over line
                               {866.0, 112.0, 0.4, 0.0},
                               {3400.0, 480.0, 0.5, 0.05},
                               {500.0, 500.0, 0.5, 0.1}}}; // one that tells nothing apart
    std::vector<Plan> plans;
    for (const char* name : {"rounds", "plans/five-pid", "plans/five-table", "over-the-drain", "plates"}) {
        plans.push_back(load_plan(fmt::format("data/fern-house/{}.plan", name)));
    }
    plans.push_back(fixtures::compiled(fixtures::plan_text(
        5,
        "[#...?] -> pivot(-last_side, 31)\nlast_side < 0 and [??#??] -> wheels(pid(offset, 60, 9, 4), pid(seen, 5, 3, "
        "2))\n[#####] lasting 3 looks -> halt\nelse -> rotate(last_side, 20 + 10 * offset)")));
    const auto random = static_cast<std::uint32_t>(fixtures::rounds(60, 2, 1));
    for (std::uint32_t seed = 301; seed < 301 + random; ++seed) {
        plans.push_back(fixtures::compiled(reference::written(reference::make(seed))));
    }
    for (const runtime::NumberKind numbers : {runtime::NumberKind::binary32, runtime::NumberKind::binary64}) {
        for (const Plan& plan : plans) {
            const bool is_five = plan.sensors() == 5;
            const Robot robot = is_five ? five : fixtures::ideal_robot(plan.sensors());
            const Calibration calibration = is_five ? of_five : calibration_of_readings(plan.sensors());
            CAPTURE(plan.name());
            const bool is_short = plan.rules().size() <= 4;
            if (!is_short && (numbers == runtime::NumberKind::binary64 || fixtures::sanitized())) { // each is compiled
                continue;
            }
            const fixtures::Folder folder;
            CSourceOptions options{.numbers = numbers, .name = "lean", .robot = robot, .calibration = calibration};
            options.lean = true;
            const CSource lean = c_source(plan, options);
            write_file(folder.file("lean.h"), lean.header);
            write_file(folder.file("lean.c"), lean.source);
            options.name = "plan";
            options.lean = false;
            const CSource full = c_source(plan, options);
            const std::string told = played(folder, plan, options, two_minds(full), "lean.c");
            CHECK(told.starts_with(fmt::format("alike {} ", lean.state_bytes[static_cast<int>(ChipKind::bits_64)])));
            CHECK(lean.state_bytes[static_cast<int>(ChipKind::bits_32)] <
                  full.state_bytes[static_cast<int>(ChipKind::bits_32)]);
        }
    }
}

TEST_CASE("a lean program needs a calibration and no serial line") {
    const Plan plan = fixtures::compiled(fixtures::plan_text(2, "else -> ahead(40)"));
    CSourceOptions options{.robot = fixtures::ideal_robot(2)};
    options.lean = true;
    CHECK(fixtures::message_of([&] { c_source(plan, options); }).find("calibrate first") != std::string::npos);
    options.calibration = calibration_of_readings(2);
    CHECK(c_source(plan, options).source.find("plan_serve") == std::string::npos);
    options.talks = true;
    CHECK(fixtures::message_of([&] { c_source(plan, options); }).find("no serial line") != std::string::npos);
    const fixtures::Folder folder;
    const auto exported = [&](const std::vector<std::string>& more) {
        std::vector<std::string> call = {"export", "data/fern-house/rounds.plan", "-o", folder.path(), "--lean"};
        call.insert(call.end(), more.begin(), more.end());
        return call_vturn(call);
    };
    const std::string robot = "data/fern-house/sprig-5.robot.toml";
    CHECK(exported({"--robot", robot, "--alone"}).err.find("name the calibration") != std::string::npos);
    CHECK(exported({"--robot", robot, "--talks"}).err.find("the serial line that --talks needs") != std::string::npos);
    CHECK(!std::filesystem::exists(folder.file("rounds.c")));
    CHECK(exported({"--alone", "--name", "rounds"}).status == 0);
    CHECK(read_file(folder.file("rounds.h")).find("void rounds_begin(struct rounds_state *s);") != std::string::npos);
}

TEST_CASE("a robot or calibration with other sensors than the plan is refused, and frames of other programs") {
    const Plan plan = fixtures::compiled(fixtures::plan_text(2, "else -> ahead(40)"));
    const auto refused = [&](const CSourceOptions& options) {
        return fixtures::message_of([&] { c_source(plan, options); });
    };
    CHECK(refused({.robot = fixtures::ideal_robot(3)}).find("the plan is for 2 sensors") != std::string::npos);
    CHECK(refused({.robot = fixtures::ideal_robot(2), .calibration = calibration_of_readings(3)})
              .find("the calibration is for 3 sensors") != std::string::npos);
    const fixtures::Folder folder;
    const std::string log = folder.file("told");
    write_file(log, "\xA7 no frame at all");
    const std::string robot_file = "data/fern-house/sprig-5.robot.toml";
    auto asked = call_vturn({"ask", "data/fern-house/rounds.plan", "--log", log, "--robot", robot_file});
    CHECK(asked.status == 2);
    CHECK(asked.err.find("counts in the short form, which need robot and calibration") != std::string::npos);
    const std::string calibration = folder.file("sprig-5.calibration.toml");
    call_vturn({"calibrate", "data/fern-house/sprig-5.bench.csv", "--robot", robot_file, "-o", calibration});
    asked = call_vturn(
        {"ask", "data/fern-house/rounds.plan", "--log", log, "--robot", robot_file, "--calibration", calibration});
    CHECK(asked.status == 2);
    CHECK(asked.err.find("there is no look of data/fern-house/rounds.plan with Sprig-5 in it") != std::string::npos);
}

TEST_CASE("the check sum of frames is that of the standard's own example, and what is no frame is passed over") {
    std::uint16_t sum = frames::no_sum;
    for (const char c : std::string("123456789")) {
        sum = frames::summed(sum, static_cast<std::uint8_t>(c));
    }
    CHECK(sum == 0x29B1); // the check value of CRC-16 with 0x1021 from 0xFFFF
    frames::Ear ear;
    const auto heard = [&](std::vector<int> bytes) {
        int kinds = 0;
        for (const int byte : bytes) {
            kinds = 256 * kinds + ear.hears(static_cast<std::uint8_t>(byte));
        }
        return kinds;
    };
    std::uint16_t own = frames::no_sum;
    for (const int byte : {int{'A'}, 2, 7, 9}) {
        own = frames::summed(own, static_cast<std::uint8_t>(byte));
    }
    CHECK(heard({1, 2, 0xA7, 'A', 2, 7, 9, own & 0xFF, own >> 8}) == 'A');
    CHECK(ear.length() == 2);
    CHECK(ear.content()[1] == 9);
    CHECK(heard({0xA7, 'A', 2, 7, 8, own & 0xFF, own >> 8}) == 0); // one bit off
    CHECK(heard({0xA7, 'A', 2, 7, 9, own & 0xFF, own >> 8}) == 'A');
}
