/// Whether a plan's C fits on a chip, and whether a look is decided there in time.

#include <algorithm>
#include <cmath>
#include <functional>
#include <optional>

#include <fmt/format.h>

#include "vast_turn/base/problem.hpp"
#include "vast_turn/emit/chip_cost.hpp"
#include "vast_turn/sim/run.hpp"
#include "vet/collector.hpp"
#include "vet/lane.hpp"

namespace vast_turn::vetting {

namespace {

/// How far prices may be off: what lies beyond by more is a fault, else a risk.
constexpr double unsure = 0.2;

struct Metered {
    LookCost cost;
    ProgramCost program;
    std::size_t starts = 0;
};

/// From each start once.
Metered metered(Collector& out, const Scene& scene) {
    const Calibration& calibration = out.calibration() != nullptr ? *out.calibration() : scene.own_calibration();
    RunOptions options;
    options.numbers = runtime::NumberKind::binary32;
    options.calibration = calibration;
    options.step_ms = step_for(scene.robot());
    if (out.plan().reads(runtime::Op::button)) {
        options.button_s = {{0.0, 0.4}};
    }
    if (scene.course().starts.empty()) {
        throw InputError("", "the course has no start", "add one");
    }
    Metered all;
    double sum = 0.0;
    for (const StartPose& start : scene.course().starts) {
        options.start = start.name;
        ChipMeter meter(out.plan(), scene.robot(), calibration, out.chip()->kind);
        drive(scene, out.plan(), std::ref(meter), options);
        const LookCost cost = meter.cost();
        sum += cost.mean * static_cast<double>(cost.looks);
        all.cost.most = std::max(all.cost.most, cost.most);
        all.cost.looks += cost.looks;
        all.program = meter.program();
        ++all.starts;
    }
    all.cost.mean = sum / static_cast<double>(std::max<std::size_t>(all.cost.looks, 1));
    return all;
}

/// Two digits that matter, and three of what begins with 1: no more is known.
double rounded(double x) {
    if (!(x > 0.0)) {
        return 0.0;
    }
    const double unit = std::pow(10.0, std::floor(std::log10(x / 2.0)) - 1.0);
    return std::round(x / unit) * unit;
}

/// Whether what is told lies beyond a limit: surely, or perhaps.
std::optional<Grade> beyond(double told, double limit) {
    if (told * (1.0 - unsure) > limit) {
        return Grade::fault;
    }
    return told * (1.0 + unsure) > limit ? std::optional(Grade::risk) : std::nullopt;
}

void held_against(Collector& out, const char* code, double told, double limit, const std::string& message,
                  const std::string& cure) {
    if (const std::optional<Grade> grade = beyond(told, limit)) {
        out.add_whole(code, message, cure);
        out.at_most(*grade);
    }
}

void time_of_looks(Collector& out, const Metered& metered) {
    const ChipRoom& chip = *out.chip();
    const LookCost& cost = metered.cost;
    std::string told = fmt::format("about {:.0f} {} in the mean, {:.0f} at most", rounded(cost.mean),
                                   chip.kind == ChipKind::bits_8 ? "cycles" : "instructions", rounded(cost.most));
    if (chip.mhz > 0.0) {
        const double period = out.robot()->look_ms;
        const double most = cost.most * cycles_of_step(chip.kind) / (1000.0 * chip.mhz);
        told +=
            fmt::format(": {:g} and {:g} of {:g} ms",
                        rounded(cost.mean * cycles_of_step(chip.kind) / (1000.0 * chip.mhz)), rounded(most), period);
        held_against(out, "chip-too-slow", most, period,
                     fmt::format("its longest look takes about {:g} ms on this chip, the robot looks every {:g} ms",
                                 rounded(most), period),
                     fmt::format("look every {:g} ms, take a faster chip, or reckon less in a look",
                                 std::ceil(most * (1.0 + unsure))));
    }
    out.fact("a look on the chip", fmt::format("{} ({} looks of {} start{})", told, cost.looks, metered.starts,
                                               metered.starts == 1 ? "" : "s"));
}

void room_of_program(Collector& out, const ProgramCost& program) {
    const ChipRoom& chip = *out.chip();
    const auto of = [](double limit) { return limit > 0.0 ? fmt::format(" of {:.0f}", limit) : std::string(); };
    out.fact("its program there",
             fmt::format("about {:.0f}{} bytes of flash, {}{} of memory, beside your own", rounded(program.flash_bytes),
                         of(chip.flash_bytes), program.memory_bytes, of(chip.memory_bytes)));
    const char* cure = "take a larger chip, or a plan with fewer rules and blocks";
    if (chip.flash_bytes > 0.0) {
        held_against(out, "chip-too-small", program.flash_bytes, chip.flash_bytes,
                     fmt::format("it needs about {:.0f} bytes of flash, this chip has {:.0f}",
                                 rounded(program.flash_bytes), chip.flash_bytes),
                     cure);
    }
    if (chip.memory_bytes > 0.0 && static_cast<double>(program.memory_bytes) > chip.memory_bytes) { // it is counted
        out.add_whole("chip-too-small",
                      fmt::format("it remembers {} bytes, this chip has memory for {:.0f}", program.memory_bytes,
                                  chip.memory_bytes),
                      cure);
    }
}

} // namespace

void check_chip(Collector& out, const Scene* scene) {
    try {
        std::optional<Course> lane;
        std::optional<Scene> straight;
        if (scene == nullptr) {
            lane = straight_lane(nullptr, usual_line_mm);
            lane->starts = {{"lane", {{160.0, 0.5 * lane->height_mm}, 0.0}}};
            straight.emplace(*lane, *out.robot());
        }
        const Metered all = metered(out, scene != nullptr ? *scene : *straight);
        time_of_looks(out, all);
        room_of_program(out, all.program);
    } catch (const InputError& problem) {
        out.undecided(fmt::format("what it costs on the chip: {}", problem.problems().front().message));
    }
}

} // namespace vast_turn::vetting
