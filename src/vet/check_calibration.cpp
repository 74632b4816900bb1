#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "plan/check/check_types.hpp"
#include "vet/collector.hpp"

namespace vast_turn::vetting {

namespace {

using lang::Op;

/// Whether the plan asks this sensor (from 0) for anything.
bool asks(const Collector& out, std::size_t sensor) {
    bool found = false;
    lang::for_each_expression(out.text(), [&](const lang::Expr& whole) {
        found = found || lang::any_part(whole, [&](const lang::Expr& part) {
                    if (const auto* pattern = part.as<lang::PatternMarks>()) {
                        return ((pattern->mask >> sensor) & 1) != 0;
                    }
                    return lang::reads_sensor(part, static_cast<int>(sensor)) || is_input(part, Op::offset) ||
                           is_input(part, Op::seen) || is_input(part, Op::last_side);
                });
    });
    return found;
}

} // namespace

void check_calibration(Collector& out) {
    for (std::size_t i = 0; i < out.calibration()->sensors.size(); ++i) {
        const SensorLevels& levels = out.calibration()->sensors[i];
        const double contrast = std::abs(levels.line_counts - levels.floor_counts);
        const double least = 0.02 * std::max({levels.line_counts, levels.floor_counts, 1.0});
        if (contrast < least) {
            if (asks(out, i)) {
                out.add_whole(
                    "sensor-dead",
                    fmt::format("sensor {} reads {:g} over line and {:g} over floor: it tells nothing, and the plan "
                                "asks it",
                                i + 1, levels.line_counts, levels.floor_counts),
                    "look at its cable and its lamp, then calibrate again");
            }
            continue;
        }
        if (out.robot() == nullptr) {
            continue;
        }
        const double noise = out.robot()->sensors[i].noise;
        constexpr double deviations = 3.0;
        for (const auto& [what, level] : {std::pair{"floor", 0.0}, {"line", 1.0}}) {
            const double away = std::abs(level - levels.threshold) * contrast;
            if (noise > 0.0 && away < deviations * noise) {
                out.add_whole("level-in-noise",
                              fmt::format("sensor {}: {} is {:.0f} counts from the threshold, its noise is {:g}", i + 1,
                                          what, away, noise),
                              "calibrate again; more light or a sensor nearer to the floor gives more contrast");
            }
        }
    }
}

} // namespace vast_turn::vetting
