/// Plans as C on a simulated 8-bit chip: compiled by its own compiler, every answer equal to the runtime's.
#include <algorithm>
#include <cstdlib>
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
std::string expected_of(const Plan& plan, std::uint32_t seed, int looks) {
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
        sum = with_whole(with_whole(with_whole(sum, answer.halted ? 1 : 0), answer.rule.index()), answer.block);
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

/// What the chip tells: the lines of its serial port, without what the simulator puts around them.
std::string told_by_chip(const Plan& plan, std::uint32_t seed, int looks) {
    const fixtures::Folder folder;
    const CSource c = c_source(plan, {.numbers = runtime::NumberKind::binary32, .name = "plan"});
    write_file(folder.file(c.name + ".h"), c.header);
    write_file(folder.file(c.name + ".c"), c.source);
    write_file(folder.file("flat.c"), fixtures::c_adapter(c));
    const std::string chip = std::filesystem::absolute("tests/emit/chip").string();
    const std::string call = fmt::format(
        "cd '{0}' && avr-gcc -std=gnu99 -Os -mmcu=atmega1284p -DF_CPU=16000000UL -DPLAN={1} -DPLAN_SOURCE='\"flat.c\"' "
        "-DSENSORS={2} -DSEED={3}UL -DLOOKS={4}UL -DEVERY={5} -I. -I'{6}' '{6}/avr_main.c' -lm -o chip.elf > said.txt "
        "2>&1 && "
        "avr-gcc -std=c99 -Os -mmcu=atmega1284p -Wall -Wextra -Wconversion -Wshadow -Wpedantic -Werror -c {1}.c -o "
        "alone.o >> said.txt 2>&1 && "
        "simavr -m atmega1284p -f 16000000 chip.elf > told.txt 2>&1",
        folder.path(), c.name, plan.sensors(), seed, looks, told_every, chip);
    const int status = std::system(call.c_str()); // NOLINT(cert-env33-c): the test's own words, no one else's
    REQUIRE_MESSAGE(status == 0, read_file(folder.file("said.txt")));
    // The simulator shows a line in colour, with a dot for its end.
    std::istringstream all(read_file(folder.file("told.txt")));
    std::string lines;
    bool ended = false;
    for (std::string line; std::getline(all, line);) {
        const std::size_t begin = line.find("\x1b[32m");
        const std::string told = begin == std::string::npos ? "" : line.substr(begin + 5);
        ended = ended || told.starts_with("..");
        lines += told.size() > 8 && told[8] == '.' ? told.substr(0, 8) + "\n" : "";
    }
    CHECK_MESSAGE(ended, read_file(folder.file("told.txt")));
    return lines;
}

} // namespace

TEST_CASE("plans say on a simulated 8-bit chip what they say in the runtime, look for look") {
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
        const std::string expected = expected_of(plans[i], seed, looks);
        CHECK(told_by_chip(plans[i], seed, looks) == expected);
        told += looks;
    }
    MESSAGE(told, " looks of ", plans.size(), " plans on the chip");
}
