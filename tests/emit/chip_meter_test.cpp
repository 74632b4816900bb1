/// What a plan's C is said to cost on a chip, against what it costs on simulated ones.
#include <algorithm>
#include <cmath>
#include <filesystem>
#include <functional>
#include <iterator>
#include <sstream>
#include <string>
#include <vector>

#include <doctest/doctest.h>
#include <fmt/format.h>

#include "plan/reference/model.hpp"
#include "support/fixtures.hpp"
#include "support/rounds.hpp"
#include "vast_turn/base/problem.hpp"
#include "vast_turn/emit/chip_cost.hpp"
#include "vast_turn/formats/read/calibration_file.hpp"
#include "vast_turn/formats/read/chip_text.hpp"
#include "vast_turn/formats/read/plan_file.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/paint/course_file.hpp"
#include "vast_turn/sim/run.hpp"

using namespace vast_turn;
using fixtures::call_vturn;

namespace {

/// One line of bench/chip/cost.py.
struct Measured {
    std::string plan;
    std::string chip;
    std::string written;
    double mean = 0.0;
    double most = 0.0;
    double flash = 0.0;
    double memory = 0.0;
};

std::vector<Measured> measured(const std::vector<std::string>& plans) {
    std::string call = fmt::format("python3 bench/chip/cost.py '{}'", fixtures::built("apps/vturn/vturn"));
    for (const std::string& plan : plans) {
        call += fmt::format(" '{}'", plan);
    }
    const fixtures::Called told = fixtures::program(call);
    REQUIRE_MESSAGE(told.status == 0, told.err);
    std::istringstream lines(told.out);
    std::string line;
    std::getline(lines, line); // what the columns are
    std::vector<Measured> all;
    while (std::getline(lines, line)) {
        std::istringstream words(line);
        Measured one;
        if (words >> one.plan >> one.chip >> one.written >> one.mean >> one.most >> one.flash >> one.memory) {
            all.push_back(one);
        }
    }
    return all;
}

std::vector<Measured> of_form(const std::vector<Measured>& all, const std::string& written) {
    std::vector<Measured> some;
    std::copy_if(all.begin(), all.end(), std::back_inserter(some),
                 [&](const Measured& one) { return one.written == written; });
    return some;
}

/// Lean programs beside the same written by hand: time, flash and memory.
void check_lean(const std::vector<Measured>& all) {
    const std::vector<Measured> lean = of_form(all, "lean");
    int compared = 0;
    for (const Measured& hand : of_form(all, "by_hand")) {
        const auto same = std::find_if(lean.begin(), lean.end(), [&](const Measured& one) {
            return one.plan == hand.plan && one.chip == hand.chip;
        });
        REQUIRE(same != lean.end());
        CAPTURE(hand.plan);
        CAPTURE(hand.chip);
        CHECK(same->mean <= 1.5 * hand.mean);
        CHECK(same->flash <= 1.5 * hand.flash);
        CHECK(same->memory <= 1.5 * hand.memory);
        ++compared;
    }
    CHECK(compared == 4); // two plans on two chips
}

/// The same robots and courses as there.
struct Driven {
    LookCost cost;
    ProgramCost program;
};

Driven metered(const std::string& path, ChipKind chip, const Calibration& of_bench) {
    const Plan plan = load_plan(path);
    const Robot robot = load_robot(fmt::format("data/fern-house/sprig-{}.robot.toml", plan.sensors()));
    const Course course =
        load_course(fmt::format("data/fern-house/{}.course.toml", plan.sensors() == 5 ? "glass-wing" : "fern-house"));
    const Scene scene(course, robot);
    RunOptions options;
    options.numbers = runtime::NumberKind::binary32;
    options.calibration = plan.sensors() == 5 ? of_bench : scene.own_calibration();
    options.time_limit_s = 250 * robot.look_ms / 1000.0; // as many looks as are played there
    ChipMeter meter(plan, robot, *options.calibration, chip);
    drive(scene, plan, std::ref(meter), options);
    return {meter.cost(), meter.program()};
}

} // namespace

TEST_CASE("what looks cost on a chip is told before, of plans that no price was found from" *
          doctest::skip(fixtures::sanitized())) { // compilers and simulators take their time, which no sanitizer sees
    std::vector<std::string> plans = {"data/fern-house/plans/five-pid.plan", "data/fern-house/plans/five-table.plan"};
    if (fixtures::rounds(1, 0, 0) == 1) {
        plans = {"data/fern-house/rounds.plan", "data/fern-house/left-first.plan", "data/fern-house/five-wide.plan"};
        for (const auto& entry : std::filesystem::directory_iterator("data/fern-house/plans")) {
            if (load_plan(entry.path().string()).sensors() > 1) {
                plans.push_back(entry.path().string());
            }
        }
    }
    const fixtures::Folder folder;
    const std::string calibration = folder.file("sprig-5.calibration.toml");
    call_vturn({"calibrate", "data/fern-house/sprig-5.bench.csv", "--robot", "data/fern-house/sprig-5.robot.toml", "-o",
                calibration});
    const Calibration of_bench =
        calibration_for(load_robot("data/fern-house/sprig-5.robot.toml"), load_calibration(calibration));
    const std::vector<Measured> every = measured(plans);
    check_lean(every);
    const std::vector<Measured> all = of_form(every, "exported");
    CHECK(all.size() == 2 * plans.size());
    const auto off = [](double told, double is) { return std::abs(told / is - 1.0); };
    std::vector<double> means;
    std::vector<double> mosts;
    std::vector<double> flashes;
    for (std::size_t i = 0; i < all.size(); ++i) {
        const Measured& one = all[i];
        const Driven driven =
            metered(plans[i / 2], one.chip == "8-bit" ? ChipKind::bits_8 : ChipKind::bits_32, of_bench);
        means.push_back(off(driven.cost.mean, one.mean));
        mosts.push_back(off(driven.cost.most, one.most));
        flashes.push_back(off(driven.program.flash_bytes, one.flash));
        MESSAGE(one.plan, " ", one.chip, ": mean ", driven.cost.mean, " is ", one.mean, ", most ", driven.cost.most,
                " is ", one.most, ", flash ", driven.program.flash_bytes, " is ", one.flash, ", memory ",
                driven.program.memory_bytes, " is ", one.memory);
        // What else is measured is the table of the robot's functions, in the memory of the 8-bit chip.
        CHECK(static_cast<double>(driven.program.memory_bytes) <= one.memory);
        CHECK(static_cast<double>(driven.program.memory_bytes) >= one.memory - (one.chip == "8-bit" ? 32 : 0));
    }
    const auto within = [](const std::vector<double>& list, double part) {
        return static_cast<double>(std::count_if(list.begin(), list.end(), [&](double x) { return x <= part; })) /
               static_cast<double>(list.size());
    };
    MESSAGE("within 20 %: means ", within(means, 0.2), ", longest looks ", within(mosts, 0.2), ", flash ",
            within(flashes, 0.2));
    CHECK(within(means, 0.2) >= 0.9);
    CHECK(within(means, 0.3) == 1.0);
    CHECK(within(mosts, 0.2) >= 0.75);
    CHECK(within(flashes, 0.2) >= 0.9);
}

TEST_CASE("a meter answers as the plan does, whatever is written in it, and every look costs something" *
          doctest::skip(fixtures::sanitized())) {
    for (std::uint32_t seed = 1; seed <= static_cast<std::uint32_t>(fixtures::rounds(2000, 60, 12)); ++seed) {
        CAPTURE(seed);
        const Plan plan = fixtures::compiled(reference::written(reference::make(seed)));
        const Robot robot = fixtures::ideal_robot(plan.sensors());
        Calibration calibration;
        calibration.sensors.assign(robot.sensors.size(), SensorLevels{});
        for (const ChipKind chip : {ChipKind::bits_8, ChipKind::bits_32}) {
            ChipMeter meter(plan, robot, calibration, chip);
            CHECK(meter.cost().looks == 0);
            CHECK(meter.cost().mean == 0.0);
            Mind mind(plan, runtime::NumberKind::binary32);
            reference::Looks script(seed, plan.sensors());
            for (int i = 0; i < 40; ++i) {
                const Look& in = script.next(plan.places(), plan.heard());
                Answer expected;
                Answer answer;
                mind(in, expected);
                meter(in, answer);
                REQUIRE(answer.left_pct == expected.left_pct);
                REQUIRE(answer.right_pct == expected.right_pct);
                REQUIRE(answer.rule == expected.rule);
                REQUIRE(answer.halted == expected.halted);
            }
            CHECK(meter.cost().looks == 40);
            CHECK(meter.cost().mean > 20.0);
            CHECK(meter.cost().most >= meter.cost().mean);
            CHECK(meter.cost().most < 1e7);
            CHECK(meter.program().flash_bytes > 300.0);
            CHECK(meter.program().memory_bytes > 20);
        }
    }
    const Plan plan = fixtures::compiled(fixtures::plan_text(2, "else -> ahead(40)"));
    Calibration two;
    two.sensors.assign(2, SensorLevels{});
    CHECK_THROWS_AS(ChipMeter(plan, fixtures::ideal_robot(2), two, ChipKind::bits_64), InputError);
    CHECK_THROWS_AS(ChipMeter(plan, fixtures::ideal_robot(3), two, ChipKind::bits_8), InputError);
}
