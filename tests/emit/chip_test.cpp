/// Plans as C on simulated chips: compiled by their own compilers, every answer equal to the runtime's.
#include <algorithm>
#include <filesystem>
#include <sstream>
#include <string>
#include <vector>

#include <doctest/doctest.h>
#include <fmt/format.h>

#include "emit/chip/looks.h"
#include "plan/reference/model.hpp"
#include "support/c_program.hpp"
#include "support/fixtures.hpp"
#include "support/rounds.hpp"
#include "vast_turn/formats/read/plan_file.hpp"
#include "vast_turn/formats/read/text_file.hpp"
#include "vast_turn/formats/write/text_file.hpp"

using namespace vast_turn;

namespace {

constexpr int told_every = 50; // looks

Look look_of(const chip_look& l) {
    Look look;
    look.clock_ms = l.clock_ms;
    look.way_mm = l.way_mm;
    look.heading_deg = l.heading[0];
    look.heading_by_wheels_deg = l.heading[1];
    look.heading_by_gyro_deg = l.heading[2];
    look.heading_by_compass_deg = l.heading[3];
    look.left_deg = l.left_deg;
    look.right_deg = l.right_deg;
    look.range_mm = l.range_mm;
    look.offset = l.offset_8 / 8.0;
    look.last_side = l.last_side;
    look.battery_pct = l.battery_pct;
    look.button = l.button != 0;
    look.line_bits = l.line;
    look.markers = l.markers;
    look.heard = l.heard;
    for (int k = 0; k < 8; ++k) {
        look.sensor[k] = l.sensor_8[k] / 8.0;
        look.raw[k] = l.raw[k];
    }
    std::copy(std::begin(l.markers_at), std::end(l.markers_at), std::begin(look.markers_at));
    return look;
}

std::uint32_t with_number(std::uint32_t sum, double x) {
    const auto bits = static_cast<float>(x);
    return chip_sum(sum, &bits, 4);
}

std::uint32_t with_whole(std::uint32_t sum, std::size_t x) {
    const auto bits = static_cast<std::uint16_t>(x);
    return chip_sum(sum, &bits, 2);
}

/// What the chip should tell of a plan: the sums, a line each.
std::string expected_of(const Plan& plan, std::uint32_t seed, int looks, bool lean) {
    Mind mind(plan, runtime::NumberKind::binary32);
    chip_look given;
    chip_begin(&given);
    std::uint32_t random = seed;
    std::uint32_t sum = 2166136261U;
    std::string told;
    for (int n = 0; n < looks; ++n) {
        chip_next(&given, &random, plan.sensors());
        Answer answer;
        mind(look_of(given), answer);
        sum = with_number(with_number(sum, answer.left_pct), answer.right_pct);
        sum = with_whole(sum, answer.halted ? 1 : 0);
        sum = with_whole(with_whole(sum, lean ? 0 : answer.rule.index()), lean ? 0 : answer.block);
        for (int e = 0; e < answer.events; ++e) {
            const Event& event = answer.event[e];
            sum = with_whole(with_whole(sum, static_cast<std::size_t>(event.kind)), event.what);
            sum = with_number(sum, event.kind == EventKind::tell ? event.value : 0.0);
        }
        if (answer.halted && n % 7 == 0) {
            mind = Mind(plan, runtime::NumberKind::binary32);
        }
        if (n % told_every == told_every - 1) {
            told += fmt::format("{:08x}\n", sum);
        }
    }
    return told;
}

/// Where a plan is compiled and played: it and its adapter.
void write_plan(const fixtures::Folder& folder, const Plan& plan, bool lean) {
    const CSource c = c_source(plan, {.numbers = runtime::NumberKind::binary32, .name = "plan", .lean = lean});
    write_file(folder.file("plan.h"), c.header);
    write_file(folder.file("plan.c"), c.source);
    write_file(folder.file("flat.c"), fixtures::c_adapter(c, lean));
}

/// Runs a call in that folder; what it printed.
std::string called_there(const fixtures::Folder& folder, const std::string& call) {
    const fixtures::Called called = fixtures::program(fmt::format("sh -c 'cd {} && {}'", folder.path(), call));
    REQUIRE_MESSAGE(called.status == 0, called.out << called.err);
    return called.out;
}

std::string defines(const Plan& plan, std::uint32_t seed, int looks) {
    return fmt::format(
        "-DPLAN=plan -DPLAN_SOURCE=\\\"flat.c\\\" -DSENSORS={} -DSEED={}UL -DLOOKS={}UL -DEVERY={} -I. -I{}",
        plan.sensors(), seed, looks, told_every, std::filesystem::absolute("tests/emit/chip").string());
}

const char* const strictly = "-std=c99 -Os -Wall -Wextra -Wconversion -Wshadow -Wpedantic -Werror -c plan.c -o alone.o";

/// What the 8-bit chip tells: the lines of its serial port, without what the simulator puts around them.
std::string told_by_8_bits(const Plan& plan, std::uint32_t seed, int looks, bool lean) {
    const fixtures::Folder folder;
    write_plan(folder, plan, lean);
    const std::string shown =
        called_there(folder, fmt::format("avr-gcc -mmcu=atmega1284p {0} && avr-gcc -std=gnu99 -Os -mmcu=atmega1284p "
                                         "-DF_CPU=16000000UL {1} {2}/main.c -lm -o chip.elf && "
                                         "simavr -m atmega1284p -f 16000000 chip.elf 2>&1",
                                         strictly, defines(plan, seed, looks),
                                         std::filesystem::absolute("tests/emit/chip").string()));
    std::istringstream all(shown); // it shows a line in colour, with a dot for its end
    std::string lines;
    bool ended = false;
    for (std::string line; std::getline(all, line);) {
        const std::size_t begin = line.find("\x1b[32m");
        const std::string told = begin == std::string::npos ? "" : line.substr(begin + 5);
        ended = ended || told.starts_with("..");
        lines += told.size() > 8 && told[8] == '.' ? told.substr(0, 8) + "\n" : "";
    }
    CHECK_MESSAGE(ended, shown);
    return lines;
}

/// What the 32-bit chip tells.
std::string told_by_32_bits(const Plan& plan, std::uint32_t seed, int looks, bool lean) {
    const fixtures::Folder folder;
    write_plan(folder, plan, lean);
    const std::string example = std::filesystem::absolute("examples/on-the-robot/32-bit").string();
    std::string told = called_there(
        folder,
        fmt::format("arm-none-eabi-gcc -mcpu=cortex-m3 -mthumb -ffreestanding {0} && arm-none-eabi-gcc -std=gnu99 "
                    "-Os -mcpu=cortex-m3 -mthumb -ffreestanding -nostdlib {1} {2}/main.c {3}/begin.c -T "
                    "{3}/chip.ld -lgcc -o chip.elf && timeout 120 qemu-system-arm -M mps2-an385 -kernel "
                    "chip.elf -display none -monitor none -serial stdio -semihosting",
                    strictly, defines(plan, seed, looks), std::filesystem::absolute("tests/emit/chip").string(),
                    example));
    CHECK(told.ends_with(".\n"));
    return told.substr(0, told.size() - std::min<std::size_t>(2, told.size()));
}

} // namespace

TEST_CASE("plans say on simulated 8-bit and 32-bit chips what they say in the runtime, look for look" *
          doctest::skip(fixtures::sanitized())) { // the simulators take their time, which no sanitizer sees
    const int looks = fixtures::rounds(1500, 300, 100);
    std::vector<Plan> plans;
    for (const auto& entry : std::filesystem::directory_iterator("data/fern-house/plans")) {
        const std::string name = entry.path().stem().string();
        if (fixtures::rounds(1, 0, 0) == 1 || name == "five-pid" || name == "search" || name == "wait") {
            plans.push_back(load_plan(entry.path().string()));
        }
    }
    plans.push_back(load_plan("data/fern-house/rounds.plan"));
    const auto random = static_cast<std::uint32_t>(fixtures::rounds(45, 3, 1));
    for (std::uint32_t seed = 1; seed <= random; ++seed) {
        plans.push_back(fixtures::compiled(reference::written(reference::make(seed))));
    }
    CHECK(plans.size() >= 5);
    int told = 0;
    for (std::size_t i = 0; i < plans.size(); ++i) {
        CAPTURE(i);
        CAPTURE(plans[i].name());
        const auto seed = static_cast<std::uint32_t>(i + 1);
        for (const bool lean : {false, true}) {
            if (lean && i % 7 != 0) { // some of them
                continue;
            }
            CAPTURE(lean);
            const std::string expected = expected_of(plans[i], seed, looks, lean);
            CHECK(told_by_8_bits(plans[i], seed, looks, lean) == expected);
            CHECK(told_by_32_bits(plans[i], seed, looks, lean) == expected);
        }
        told += looks;
    }
    MESSAGE(told, " looks of ", plans.size(), " plans on each chip");
}
